package dev.purser.core.board;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What a person can do to a run. */
public enum Action {
  /** Keep it from starting. */
  HOLD(
      "it will not start until it is released; what waits for it waits on",
      RunState.PLANNED,
      RunState.WAITING),
  /** Let it start again. */
  RELEASE(
      "it starts as soon as it is due and nothing is missing", RunState.PLANNED, RunState.WAITING),
  /** Leave it out; what follows goes on as if it had succeeded. */
  SKIP(
      "it is left out, and what waits for its success goes on",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.FAILED,
      RunState.CANCELLED),
  /** End it; what waits for its success keeps waiting. */
  CANCEL(
      "it ends here, a running process is asked to stop and then forced; what waits for its success"
          + " keeps waiting",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.STARTING,
      RunState.RUNNING),
  /** Do it again as a further attempt. */
  RERUN(
      "it starts again as a new attempt as soon as nothing is missing",
      RunState.SUCCEEDED,
      RunState.FAILED,
      RunState.CANCELLED,
      RunState.SKIPPED),
  /** Say yes to an approval. */
  APPROVE("it succeeds, and what waits for it goes on", RunState.WAITING),
  /** Say no to an approval. */
  REFUSE("it fails, and what waits for its success keeps waiting", RunState.WAITING);

  private final String effect;
  private final int states;

  Action(String effect, RunState... states) {
    this.effect = effect;
    this.states = Arrays.stream(states).mapToInt(state -> 1 << state.ordinal()).sum();
  }

  /** What will happen, as the end of a sentence that begins with the run. */
  public String effect() {
    return effect;
  }

  /** Whether the action makes sense for a run in a state. */
  public boolean fits(RunState state) {
    return (states & 1 << state.ordinal()) != 0;
  }

  /** The word for people and the API. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The action of a word. */
  public static Optional<Action> of(String word) {
    return Arrays.stream(values()).filter(action -> action.word().equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(Action::word).toList();
  }
}

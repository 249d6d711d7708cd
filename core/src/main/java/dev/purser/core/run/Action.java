package dev.purser.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What a person can do to a run. */
public enum Action {
  /** Keep it from starting; a step that runs starts nothing more. */
  HOLD(
      "it will not start until it is released; what waits for it waits on",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.RUNNING),
  /** Let it start again. */
  RELEASE(
      "it starts as soon as it is due and nothing is missing",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.RUNNING),
  /** Start it at once, whatever it waits for. */
  START(
      "it starts at once, whatever it waits for; capacities, overlap and hosts still count",
      RunState.PLANNED,
      RunState.WAITING),
  /** Leave it out; what follows goes on as if it had succeeded. */
  SKIP(
      "it is left out, and what waits for its success goes on",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.FAILED,
      RunState.CANCELLED),
  /** End it, and all below it; what waits for its success keeps waiting. */
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
  /** Do it again, and all that follows it and has ended. */
  RERUN_FROM(
      "it starts again, and so does all that follows it and has ended, each when what it waits for"
          + " is there again",
      RunState.SUCCEEDED,
      RunState.FAILED,
      RunState.CANCELLED,
      RunState.SKIPPED),
  /** End it as succeeded, by a person's word. */
  SUCCEED(
      "it counts as succeeded, and what waits for that goes on; a running process is stopped",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.STARTING,
      RunState.RUNNING,
      RunState.FAILED,
      RunState.CANCELLED,
      RunState.SKIPPED),
  /** End it as failed, by a person's word. */
  FAIL(
      "it counts as failed, and what waits for its success keeps waiting; a running process is"
          + " stopped",
      RunState.PLANNED,
      RunState.WAITING,
      RunState.STARTING,
      RunState.RUNNING,
      RunState.SUCCEEDED,
      RunState.CANCELLED,
      RunState.SKIPPED),
  /** Let it come sooner or later where capacity is short. */
  PRIORITY(
      "where capacity is short it comes sooner or later than it would have",
      RunState.PLANNED,
      RunState.WAITING),
  /** Let it start at another time. */
  START_AT("it does not start before that time", RunState.PLANNED, RunState.WAITING),
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
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** What has been done, as in "held by ada". */
  public String done() {
    return switch (this) {
      case HOLD -> "held";
      case RELEASE -> "released";
      case START -> "started at once";
      case SKIP -> "skipped";
      case CANCEL -> "cancelled";
      case RERUN -> "rerun";
      case RERUN_FROM -> "rerun with all that follows";
      case SUCCEED -> "marked as succeeded";
      case FAIL -> "marked as failed";
      case PRIORITY -> "given another priority";
      case START_AT -> "given another start time";
      case APPROVE -> "approved";
      case REFUSE -> "refused";
    };
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

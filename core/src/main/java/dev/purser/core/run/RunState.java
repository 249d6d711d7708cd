package dev.purser.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The states of a run. Held is a mark on top of a state, not a state. */
public enum RunState {
  /** Not due yet. */
  PLANNED,
  /** Due, but something is missing. */
  WAITING,
  /** Sent to its host. */
  STARTING,
  /** At work on its host. */
  RUNNING,
  /** Ended well. */
  SUCCEEDED,
  /** Ended badly, with no retry left. */
  FAILED,
  /** Ended by a person. */
  CANCELLED,
  /** Not done, by a person's word or because it was not needed. */
  SKIPPED;

  private static final RunState[] ALL = values();

  /** The state at a place in the order of all, from 0. */
  public static RunState of(int ordinal) {
    return ALL[ordinal];
  }

  /** The state of a word. */
  public static Optional<RunState> of(String word) {
    return Arrays.stream(ALL).filter(state -> state.word().equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(ALL).map(RunState::word).toList();
  }

  /** The word for people, files and the API. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Whether nothing more happens to the run by itself. */
  public boolean isEnded() {
    return compareTo(SUCCEEDED) >= 0;
  }

  /** Whether it has ended so that a person has no more to do with it: well, or left out. */
  public boolean isOver() {
    return this == SUCCEEDED || this == SKIPPED;
  }

  /** Whether an attempt is out on a host. */
  public boolean isActive() {
    return this == STARTING || this == RUNNING;
  }
}

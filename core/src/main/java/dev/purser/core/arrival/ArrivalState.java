package dev.purser.core.arrival;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What has become of a file that was found. */
public enum ArrivalState {
  /** It is there, and something else than rest is missing. */
  SEEN,
  /** It still changes, or has not rested long enough. */
  SETTLING,
  /** It is whole, and nobody has taken it yet. */
  READY,
  /** A run has it. */
  TAKEN,
  /** A run has used it, or a person says that it is dealt with. */
  USED,
  /** It was taken, or should have been, and was not processed; a person decides. */
  UNPROCESSED,
  /** It can not be used as it is; a person decides. */
  REJECTED,
  /** It is left alone. */
  IGNORED;

  /** The word in the API and on screens. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Whether nothing more becomes of it by itself. */
  public boolean isOver() {
    return this == USED || this == IGNORED || this == REJECTED;
  }

  /** Whether it has not been given to anybody yet. */
  public boolean isOpen() {
    return this == SEEN || this == SETTLING || this == READY;
  }

  /** The state of a word. */
  public static Optional<ArrivalState> of(String word) {
    return Arrays.stream(values()).filter(state -> state.word().equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(ArrivalState::word).toList();
  }
}

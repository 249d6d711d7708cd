package dev.purser.core.prerequisite;

/**
 * What a prerequisite says at the moment. The order is that of {@code and} (the least) and {@code
 * or} (the greatest), after Kleene's logic with one more value.
 */
public enum Answer {
  /** It can no longer be met: the run is not needed. */
  NO,
  /** Not met, and nothing in progress will change that: a person must act, such as rerun. */
  STUCK,
  /** Not met yet. */
  OPEN,
  /** Met. */
  YES;

  /** Both. */
  public Answer and(Answer other) {
    return compareTo(other) <= 0 ? this : other;
  }

  /** Either. */
  public Answer or(Answer other) {
    return compareTo(other) >= 0 ? this : other;
  }

  /** The opposite: only what is settled can be turned round. */
  public Answer not() {
    return switch (this) {
      case NO, STUCK -> YES;
      case OPEN -> OPEN;
      case YES -> NO;
    };
  }
}

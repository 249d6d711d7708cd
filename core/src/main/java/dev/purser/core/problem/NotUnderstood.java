package dev.purser.core.problem;

/**
 * What somebody has asked for cannot be understood, or is not there: the message says what is wrong
 * and what would be right. Anything else that is illegal is a fault of ours.
 */
public final class NotUnderstood extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** With a message for people, as a sentence without a full stop. */
  public NotUnderstood(String message) {
    super(message);
  }

  /** The same, with what it was found by. */
  public NotUnderstood(String message, Throwable cause) {
    super(message, cause);
  }
}

package dev.purser.service.active;

/** This cannot be done now, and nothing of it was: asked again in a moment, it may be. */
public final class NotNow extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** With a message for people, as a sentence without a full stop. */
  public NotNow(String message) {
    super(message);
  }
}

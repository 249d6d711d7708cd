package dev.purser.core.fill;

/** Why an attempt cannot be started: what of its texts cannot be filled in, for people. */
public final class Unfillable extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** Says what is missing, and where it should come from. */
  public Unfillable(String message) {
    super(message);
  }
}

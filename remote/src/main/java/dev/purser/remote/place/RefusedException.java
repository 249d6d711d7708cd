package dev.purser.remote.place;

import java.io.IOException;

/** The other side has said no: asked again, it says the same. The text is for people. */
public final class RefusedException extends IOException {
  private static final long serialVersionUID = 1;

  /** Saying what was refused. */
  public RefusedException(String message) {
    super(message);
  }

  /** Saying what was refused. */
  public RefusedException(String message, Throwable cause) {
    super(message, cause);
  }
}

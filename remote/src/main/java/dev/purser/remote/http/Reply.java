package dev.purser.remote.http;

import java.time.Duration;
import java.util.Optional;

/**
 * What became of a request. The cases differ in whether the other side can have done what was
 * asked. Texts are for people, and hold no secret.
 */
public sealed interface Reply {
  /** Why there is no answer; empty where there is one. */
  default String why() {
    return "";
  }

  /**
   * It answered.
   *
   * @param code of HTTP
   * @param body as text, at most as long as was asked for
   * @param whole whether that is all of it
   * @param comeBackAfter for how long it asks to be left alone (Retry-After)
   */
  record Answered(int code, String body, boolean whole, Optional<Duration> comeBackAfter)
      implements Reply {
    /** Whether it took what was asked. */
    public boolean isGood() {
      return code / 100 == 2;
    }
  }

  /** Nothing was sent: it cannot be reached, or its certificate is not trusted. */
  record NotReached(String why) implements Reply {}

  /** Something may have been sent, and no answer came. */
  record NoAnswer(String why) implements Reply {}

  /** Nothing was sent: this site may not be called, or signing in was refused. */
  record NotAllowed(String why) implements Reply {}
}

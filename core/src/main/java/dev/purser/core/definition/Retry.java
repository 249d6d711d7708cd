package dev.purser.core.definition;

import java.time.Duration;

/**
 * How a failed attempt is tried again.
 *
 * @param times further attempts after the first, 0 to 99
 * @param pause between the end of one attempt and the start of the next
 * @param onStopAfter whether an attempt that was stopped for running too long is tried again too
 */
public record Retry(int times, Duration pause, boolean onStopAfter) {
  /** No further attempt. */
  public static final Retry NEVER = new Retry(0, Duration.ZERO, false);
}

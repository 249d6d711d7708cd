package dev.purser.core.job;

import dev.purser.core.prerequisite.ExitCodes;
import java.time.Duration;
import java.util.Optional;

/**
 * How a failed attempt is tried again.
 *
 * @param times further attempts after the first, 0 to 99
 * @param pause between the end of the first attempt and the start of the second
 * @param growingTo where given, each further pause is twice the one before, up to this
 * @param on the exit codes after which it is tried again; an attempt that could not be started
 *     always is
 * @param onStopAfter whether an attempt that was stopped for running too long is tried again too
 */
public record Retry(
    int times, Duration pause, Optional<Duration> growingTo, ExitCodes on, boolean onStopAfter) {
  /** No further attempt. */
  public static final Retry NEVER =
      new Retry(0, Duration.ZERO, Optional.empty(), ExitCodes.ANY, false);

  /**
   * The pause after an attempt.
   *
   * @param tried how many attempts there have been since the run was started or rerun, from 1
   */
  public Duration pauseAfter(int tried) {
    if (growingTo.isEmpty()) {
      return pause;
    }
    Duration grown = pause;
    for (int i = 1; i < tried && grown.compareTo(growingTo.get()) < 0; i++) {
      grown = grown.multipliedBy(2);
    }
    return grown.compareTo(growingTo.get()) > 0 ? growingTo.get() : grown;
  }
}

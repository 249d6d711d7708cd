package dev.purser.service.active;

import java.time.Duration;
import org.springframework.util.backoff.BackOffExecution;
import org.springframework.util.backoff.ExponentialBackOff;

/** Waits between tries that are made again: each is twice the one before, up to the longest. */
public final class GrowingWait {
  private final ExponentialBackOff waits;

  /** From the first wait to the longest. */
  public GrowingWait(Duration first, Duration longest) {
    waits = new ExponentialBackOff(first.toMillis(), 2);
    waits.setMaxInterval(longest.toMillis());
  }

  /** One wait after the other, each asked for once. */
  public BackOffExecution begin() {
    return waits.start();
  }

  /**
   * The wait after so many tries that were in vain before.
   *
   * @param before 0 for the first wait
   */
  public Duration after(int before) {
    BackOffExecution some = begin();
    long wait = some.nextBackOff();
    for (int i = 0; i < before && wait < waits.getMaxInterval(); i++) {
      wait = some.nextBackOff();
    }
    return Duration.ofMillis(wait);
  }
}

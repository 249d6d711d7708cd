package dev.purser.core.learning;

import dev.purser.core.forecast.Outcomes;
import dev.purser.core.schedule.Durations;
import java.time.Duration;

/** Durations that are assumed where nothing is known. */
final class Guess {
  static final long UNKNOWN = Outcomes.UNKNOWN_DURATION;

  private Guess() {}

  /** From a part of a duration to as many times as long. */
  static Durations.Range range(long millis, double times) {
    return new Durations.Range(
        Duration.ofMillis((long) (millis / times)), Duration.ofMillis((long) (millis * times)));
  }
}

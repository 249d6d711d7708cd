package dev.purser.core.arrival;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.Optional;

/**
 * When the files of a watch have come, by the clock on the wall: who sends them goes by that, so a
 * date on which the clocks change is like any other.
 *
 * @param zone of that clock
 * @param afterMidnight milliseconds that the clock is after 00:00 of the business date, sorted, at
 *     least one; negative on the day before
 */
public record FileTimes(ZoneId zone, long[] afterMidnight) {
  /** Sorts a copy. */
  public FileTimes {
    afterMidnight = afterMidnight.clone();
    Arrays.sort(afterMidnight);
  }

  /**
   * The time of a business date by which a part of its files has come, as earlier dates say.
   *
   * @param part 0 for the earliest, 0.5 for the median, 1 for the latest
   */
  public Instant at(LocalDate date, double part) {
    int place = (int) Math.min(afterMidnight.length - 1, part * afterMidnight.length);
    return instant(date, afterMidnight[place]);
  }

  /** How long the clock of a zone is after 00:00 of a business date at an instant. */
  public static long afterMidnight(LocalDate date, Instant at, ZoneId zone) {
    return Duration.between(date.atStartOfDay(), at.atZone(zone).toLocalDateTime()).toMillis();
  }

  /**
   * When a file is expected that has not come yet: one of the known times that are still to come.
   *
   * @param part which of those times is meant, 0 to 1
   * @param now epoch milliseconds
   * @return epoch milliseconds; empty where it always came earlier: nobody can say then
   */
  public Optional<Long> expected(LocalDate date, double part, long now) {
    long clock = afterMidnight(date, Instant.ofEpochMilli(now), zone);
    int first = 0;
    while (first < afterMidnight.length && afterMidnight[first] <= clock) {
      first++;
    }
    int left = afterMidnight.length - first;
    if (left == 0) {
      return Optional.empty();
    }
    int place = first + (int) Math.min(left - 1.0, part * left);
    return Optional.of(instant(date, afterMidnight[place]).toEpochMilli());
  }

  private Instant instant(LocalDate date, long millis) {
    return date.atStartOfDay().plus(Duration.ofMillis(millis)).atZone(zone).toInstant();
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof FileTimes them
        && zone.equals(them.zone)
        && Arrays.equals(afterMidnight, them.afterMidnight);
  }

  @Override
  public int hashCode() {
    return 31 * zone.hashCode() + Arrays.hashCode(afterMidnight);
  }

  @Override
  public String toString() {
    return afterMidnight.length + " times in " + zone;
  }
}

package dev.purser.core.arrival;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Arrays;

/**
 * When the files of a watch have come, by the clock on the wall: who sends them goes by that, so a
 * date on which the clocks change is like any other.
 *
 * @param zone of that clock
 * @param afterMidnight milliseconds that the clock is after 00:00 of the business date, sorted, at
 *     least one; negative on the day before
 */
public record FileTimes(ZoneId zone, long[] afterMidnight) {
  private static final long LEAST_WAIT_MILLIS = 5 * 60_000;

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
    return date.atStartOfDay()
        .plus(Duration.ofMillis(afterMidnight[place]))
        .atZone(zone)
        .toInstant();
  }

  /** How long the clock of a zone is after 00:00 of a business date at an instant. */
  public static long afterMidnight(LocalDate date, Instant at, ZoneId zone) {
    return Duration.between(date.atStartOfDay(), at.atZone(zone).toLocalDateTime()).toMillis();
  }

  /**
   * When a file is expected that has not come yet.
   *
   * @param part which of the known times is meant, 0 to 1
   * @param now epoch milliseconds; a file that is late already is expected after as long again as
   *     half of that, and not before five minutes
   */
  public long expected(LocalDate date, double part, long now) {
    long usual = at(date, part).toEpochMilli();
    return usual > now ? usual : now + Math.max(LEAST_WAIT_MILLIS, (now - usual) / 2);
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

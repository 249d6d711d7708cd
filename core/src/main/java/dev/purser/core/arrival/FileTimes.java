package dev.purser.core.arrival;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Arrays;

/**
 * When the files of a watch have come, counted from the beginning of their business dates.
 *
 * @param zone in which business dates begin at midnight
 * @param afterMidnight milliseconds, sorted, at least one; negative on the day before
 */
public record FileTimes(ZoneId zone, long[] afterMidnight) {
  private static final long LEAST_WAIT_MILLIS = 5 * 60_000;

  /** Sorts a copy. */
  public FileTimes {
    afterMidnight = afterMidnight.clone();
    Arrays.sort(afterMidnight);
  }

  /** The time of a business date by which a part of its files has come, 0 to 1. */
  public Instant at(LocalDate date, double part) {
    int place = (int) Math.min(afterMidnight.length - 1, part * afterMidnight.length);
    return date.atStartOfDay(zone).toInstant().plusMillis(afterMidnight[place]);
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

package dev.purser.core.schedule;

import dev.purser.core.calendar.DayRule;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;

/**
 * On which days and at which local times a stream starts.
 *
 * @param days the business dates
 * @param at local start times, in order; each gives the date one more set of runs
 * @param zone the zone of the times
 */
public record Schedule(DayRule days, List<LocalTime> at, ZoneId zone) {
  /** Sorts and copies the times. */
  public Schedule {
    at = at.stream().sorted().toList();
  }
}

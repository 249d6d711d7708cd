package dev.purser.core.schedule;

import dev.purser.core.calendar.DayRule;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;

/**
 * One entry of a stream's schedule.
 *
 * @param days the business dates
 * @param times when on each of them
 * @param zone the zone of the times
 * @param from the first business date; empty for no bound
 * @param to the last business date; empty for no bound
 * @param parameters values for placeholders that hold for this entry's runs
 * @param dayBegins when a business date begins: a time before it belongs to the next calendar day
 * @param ifMissed what becomes of start times that were missed
 * @param startBy after this time of day, the first after the start, a missed start is not made up
 */
public record Schedule(
    DayRule days,
    Times times,
    ZoneId zone,
    Optional<LocalDate> from,
    Optional<LocalDate> to,
    Map<String, String> parameters,
    LocalTime dayBegins,
    IfMissed ifMissed,
    Optional<LocalTime> startBy) {
  /** Copies the map. */
  public Schedule {
    parameters = Map.copyOf(parameters);
  }

  /** Whether the schedule cuts time into windows. */
  public boolean hasWindows() {
    return times instanceof Times.Windows;
  }

  /** In one phrase, as for a list of streams. */
  @Override
  public String toString() {
    String when = hasWindows() ? times.toString() : days + ", " + times;
    return when
        + " "
        + zone
        + from.map(day -> ", from " + day).orElse("")
        + to.map(day -> ", to " + day).orElse("");
  }
}

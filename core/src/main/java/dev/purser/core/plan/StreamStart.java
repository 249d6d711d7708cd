package dev.purser.core.plan;

import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import java.time.Instant;
import java.time.LocalDate;

/**
 * A start of a stream on a business date.
 *
 * @param number which of the date's starts, from 1, in the order of time
 * @param start when, and what it is about
 * @param entry the entry of the schedule that it comes from
 * @param own whether the entry's own days pick the date; else only jobs with days of their own
 *     start
 * @param guess whether the date lies after what the calendars are known to
 */
public record StreamStart(
    LocalDate date,
    int number,
    StartTimes.Start start,
    Schedule entry,
    boolean own,
    boolean guess) {
  /** When it happens. */
  public Instant at() {
    return start.at();
  }
}

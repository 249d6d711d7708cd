package dev.purser.core.schedule;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.zone.ZoneOffsetTransition;

/** Turns a local time of a day into the one instant at which it happens. */
public final class StartTimes {
  private StartTimes() {}

  /** What a clock change did to a start time. */
  public enum Shift {
    /** Nothing. */
    NONE,
    /** The clock skipped the time: it happens at the first instant after the gap. */
    SKIPPED,
    /** The clock showed the time twice: it happens the first time. */
    TWICE
  }

  /**
   * A start.
   *
   * @param at when it happens
   * @param shift what a clock change did to it
   */
  public record Start(Instant at, Shift shift) {}

  /** When a local time of a day happens in a zone, by section 5 of the design. */
  public static Start of(LocalDate day, LocalTime time, ZoneId zone) {
    LocalDateTime local = day.atTime(time);
    ZoneOffsetTransition change = zone.getRules().getTransition(local);
    if (change == null) {
      return new Start(local.atZone(zone).toInstant(), Shift.NONE);
    }
    if (change.isGap()) {
      return new Start(change.getInstant(), Shift.SKIPPED);
    }
    ZonedDateTime first = local.atZone(zone).withEarlierOffsetAtOverlap();
    return new Start(first.toInstant(), Shift.TWICE);
  }

  /** When a local time happens for the first time after an instant. */
  public static Instant firstAfter(Instant after, LocalTime time, ZoneId zone) {
    LocalDate day = after.atZone(zone).toLocalDate();
    Instant today = of(day, time, zone).at();
    return today.isAfter(after) ? today : of(day.plusDays(1), time, zone).at();
  }
}

package dev.purser.core.schedule;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Turns the times of a schedule's business date into the instants at which they happen. Section 5
 * of the design settles clock changes: here and nowhere else.
 */
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
   * @param window what it is about, where the schedule cuts time into windows
   */
  public record Start(Instant at, Shift shift, Optional<Window> window) {
    /** A start that is about no window. */
    public Start(Instant at, Shift shift) {
      this(at, shift, Optional.empty());
    }
  }

  /**
   * When a local time of a day happens in a zone. A time that a clock change skips happens when the
   * clock is put forward; of one that comes twice, the first is meant; the start says which it was.
   */
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

  /**
   * When a local time happens for the first time after an instant; at the instant itself does not
   * count.
   */
  public static Instant firstAfter(Instant after, LocalTime time, ZoneId zone) {
    LocalDate day = after.atZone(zone).toLocalDate();
    Instant today = of(day, time, zone).at();
    return today.isAfter(after) ? today : of(day.plusDays(1), time, zone).at();
  }

  /** When a time of a business date happens: before the day's beginning, it is the next morning. */
  public static Start onDate(Schedule schedule, LocalDate date, LocalTime time) {
    return onDate(schedule.zone(), schedule.dayBegins(), date, time);
  }

  private static Start onDate(ZoneId zone, LocalTime dayBegins, LocalDate date, LocalTime time) {
    return of(time.isBefore(dayBegins) ? date.plusDays(1) : date, time, zone);
  }

  /** The same on the clock of a schedule. */
  public static Instant notBefore(
      Schedule schedule, LocalDate date, Instant start, LocalTime time) {
    return notBefore(schedule.zone(), schedule.dayBegins(), date, start, time);
  }

  /**
   * The instant before which a job must not start: the given time on the start's business date
   * where that comes after the start; else the nearest to the start of those before and after it.
   * Where that is one before it, the start itself.
   */
  public static Instant notBefore(
      ZoneId zone, LocalTime dayBegins, LocalDate date, Instant start, LocalTime time) {
    Instant own = onDate(zone, dayBegins, date, time).at();
    if (own.isAfter(start)) {
      return own;
    }
    Instant next = firstAfter(start, time, zone);
    Instant last = next.atZone(zone).minusDays(1).toInstant();
    boolean isPast = Duration.between(last, start).compareTo(Duration.between(start, next)) <= 0;
    return isPast ? start : next;
  }

  /**
   * All starts of a business date, in order.
   *
   * @return empty where the schedule's days do not pick the date
   */
  public static List<Start> of(Schedule schedule, LocalDate date, Calendars calendars) {
    Times times = schedule.times();
    if (times instanceof Times.At at) {
      List<Start> starts = new ArrayList<>(at.times().size());
      for (LocalTime time : at.times()) {
        starts.add(onDate(schedule, date, time));
      }
      return starts;
    }
    return times instanceof Times.Every every
        ? every(schedule, date, every)
        : windows(schedule, date, (Times.Windows) times, calendars);
  }

  private static List<Start> every(Schedule schedule, LocalDate date, Times.Every every) {
    Start first = onDate(schedule, date, every.first());
    boolean wholeDay = every.first().equals(every.last());
    LocalDate firstDay = first.at().atZone(schedule.zone()).toLocalDate();
    boolean across = every.last().isBefore(every.first());
    Instant last =
        wholeDay
            ? of(firstDay.plusDays(1), every.last(), schedule.zone()).at().minusMillis(1)
            : of(across ? firstDay.plusDays(1) : firstDay, every.last(), schedule.zone()).at();
    List<Start> starts = new ArrayList<>();
    for (Instant at = first.at(); !at.isAfter(last); at = at.plus(every.step())) {
      starts.add(new Start(at, starts.isEmpty() ? first.shift() : Shift.NONE));
    }
    return starts;
  }

  private static List<Start> windows(
      Schedule schedule, LocalDate date, Times.Windows windows, Calendars calendars) {
    List<Instant> cuts = cuts(schedule, date, windows, calendars);
    List<Start> starts = new ArrayList<>();
    for (int i = 0; i + 1 < cuts.size(); i++) {
      int number = i + 1;
      int atATime = windows.atATime();
      Window window =
          new Window(
              cuts.get(i),
              cuts.get(i + 1),
              back(schedule, date, number - atATime, windows, calendars),
              atATime == 1
                  ? Optional.empty()
                  : back(schedule, date, number - 1, windows, calendars));
      starts.add(new Start(cuts.get(i + 1), Shift.NONE, Optional.of(window)));
    }
    return starts;
  }

  /** The bounds of a date's windows. Each day is cut anew: its last window ends with the day. */
  private static List<Instant> cuts(
      Schedule schedule, LocalDate date, Times.Windows windows, Calendars calendars) {
    LocalDate nextDate =
        windows.businessDay() ? calendars.businessDay("", date, 1) : date.plusDays(1);
    Instant end = of(nextDate, schedule.dayBegins(), schedule.zone()).at();
    Instant start = of(date, schedule.dayBegins(), schedule.zone()).at();
    List<Instant> cuts = new ArrayList<>(List.of(start));
    if (!windows.businessDay()) {
      for (Instant at = start.plus(windows.length());
          at.isBefore(end);
          at = at.plus(windows.length())) {
        cuts.add(at);
      }
    }
    cuts.add(end);
    return cuts;
  }

  /** The window of a number, where a number below 1 means one of the dates before. */
  private static Optional<Window.Place> back(
      Schedule schedule, LocalDate date, int number, Times.Windows windows, Calendars calendars) {
    int wanted = number;
    LocalDate day = date;
    while (wanted < 1) {
      day = windows.businessDay() ? calendars.businessDay("", day, -1) : day.minusDays(1);
      if (schedule.from().filter(day::isBefore).isPresent()) {
        return Optional.empty();
      }
      wanted += cuts(schedule, day, windows, calendars).size() - 1;
    }
    return Optional.of(new Window.Place(day, wanted));
  }

  /**
   * The business dates of a span that a schedule's own days pick, within its first and last.
   *
   * @param to included
   */
  public static DaySet dates(Schedule schedule, LocalDate from, LocalDate to, Calendars calendars) {
    return within(schedule, schedule.days(), from, to, calendars);
  }

  /** The dates of a rule, within a schedule's bounds. */
  public static DaySet within(
      Schedule schedule, DayRule rule, LocalDate from, LocalDate to, Calendars calendars) {
    LocalDate first = schedule.from().filter(from::isBefore).orElse(from);
    LocalDate last = schedule.to().filter(to::isAfter).orElse(to);
    DaySet picked = rule.pick(first, last, calendars);
    return first.equals(from) && last.equals(to) ? picked : picked.over(from, to);
  }
}

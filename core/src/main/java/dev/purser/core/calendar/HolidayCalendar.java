package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Days on which something is closed, each with the name that people know it by.
 *
 * @param name the calendar's name
 * @param title what people call it
 * @param holidays the closed days
 * @param with names of holiday calendars whose days are closed here too
 * @param observance where holidays are kept that fall on certain weekdays
 * @param good how far it is good
 * @param source where its days are fetched from; empty for one whose days are written down
 */
public record HolidayCalendar(
    String name,
    String title,
    List<Holiday> holidays,
    List<String> with,
    Observance observance,
    Good good,
    Optional<CalendarSource> source) {

  /** Copies the lists. */
  public HolidayCalendar {
    holidays = List.copyOf(holidays);
    with = List.copyOf(with);
  }

  /**
   * A closed day, range of days or yearly day.
   *
   * @param days which days, as a day rule
   * @param name what people call it; empty where nobody named it
   * @param observed whether the calendar's observance holds for it
   */
  public record Holiday(DayRule days, String name, boolean observed) {}

  /** The closed days of a span with their names; a day with several names has them all. */
  TreeMap<LocalDate, String> closed(LocalDate from, LocalDate to, Calendars calendars) {
    LocalDate first = from.minusDays(Observance.FURTHEST);
    LocalDate last = to.plusDays(Observance.FURTHEST);
    TreeMap<LocalDate, String> named = new TreeMap<>();
    TreeMap<LocalDate, String> movable = new TreeMap<>();
    for (Holiday holiday : holidays) {
      for (LocalDate day : holiday.days().pick(first, last, calendars).days()) {
        named.merge(day, holiday.name(), HolidayCalendar::joined);
        if (holiday.observed()) {
          movable.merge(day, holiday.name(), HolidayCalendar::joined);
        }
      }
    }
    observance.observe(named, movable);
    for (String other : with) {
      calendars
          .closedDays(other, from, to)
          .forEach((d, n) -> named.merge(d, n, HolidayCalendar::joined));
    }
    return new TreeMap<>(named.subMap(from, true, to, true));
  }

  private static String joined(String a, String b) {
    return a.isEmpty() || a.equals(b) ? b : b.isEmpty() ? a : a + ", " + b;
  }
}

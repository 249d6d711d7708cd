package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;

/**
 * The days on which a business works: working weekdays, minus holidays, plus extra working days.
 *
 * @param name the calendar's name
 * @param title what people call it
 * @param working the weekdays that are worked
 * @param without names of the holiday calendars whose days are closed
 * @param extra days that are worked although a weekday or holiday says otherwise
 */
public record BusinessCalendar(
    String name,
    String title,
    Set<DayOfWeek> working,
    List<String> without,
    List<LocalDate> extra) {

  /** Monday to Friday with no holidays: what a rule means where no calendar is named. */
  public static final BusinessCalendar MONDAY_TO_FRIDAY =
      new BusinessCalendar(
          "monday-to-friday",
          "Monday to Friday",
          EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY),
          List.of(),
          List.of());

  /** Copies the collections. */
  public BusinessCalendar {
    working = Set.copyOf(working);
    without = List.copyOf(without);
    extra = List.copyOf(extra);
  }
}

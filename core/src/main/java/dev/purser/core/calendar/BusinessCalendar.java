package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.util.EnumSet;
import java.util.List;

/**
 * The days on which a business works: working days, minus holidays, plus make-up days.
 *
 * @param name the calendar's name
 * @param title what people call it
 * @param working the days that are worked before holidays are taken out; weekdays as a rule, or the
 *     days of other calendars
 * @param without names of the holiday calendars whose days are closed
 * @param extra days that are worked although a weekday or holiday says otherwise
 * @param good how far it is good of itself; those that it is built on may be good for less
 */
public record BusinessCalendar(
    String name,
    String title,
    DayRule working,
    List<String> without,
    List<DayRule> extra,
    Good good) {

  /** Monday to Friday with no holidays: what a rule means where no calendar is named. */
  public static final BusinessCalendar MONDAY_TO_FRIDAY =
      new BusinessCalendar(
          "monday-to-friday",
          "Monday to Friday",
          new DayRule.OnWeekdays(EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY)),
          List.of(),
          List.of(),
          Good.FOR_EVER);

  /** Copies the lists. */
  public BusinessCalendar {
    without = List.copyOf(without);
    extra = List.copyOf(extra);
  }
}

package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.Set;

/**
 * Every nth day, business day, week or month, counted from an anchor; nothing before it.
 *
 * @param n at least 1
 * @param weekdays of weeks, the days; empty for the anchor's own weekday, and for other units
 * @param calendar of business days, whose; empty for the stream's calendar
 * @param anchor the first date that can be picked
 */
public record Repeated(int n, Unit unit, Set<DayOfWeek> weekdays, String calendar, LocalDate anchor)
    implements DayRule {
  /** Copies the set. */
  public Repeated {
    weekdays = Set.copyOf(weekdays);
  }

  /** What is counted. */
  public enum Unit {
    /** Calendar days. */
    DAY,
    /** Business days; the first on or after the anchor is the first that is picked. */
    BUSINESS_DAY,
    /** Weeks from Monday; the anchor's own week is the first. */
    WEEK,
    /** Calendar months, on the day of the month of the anchor; months without it are left out. */
    MONTH;

    /** The word in a rule. */
    String word() {
      return DayRule.lower(this).replace('_', ' ');
    }
  }

  @Override
  public Set<String> calendars() {
    return DayRule.named(calendar);
  }

  @Override
  public boolean looksAtStandard() {
    return unit == Unit.BUSINESS_DAY && calendar.isEmpty();
  }

  @Override
  public void pickInto(DaySet days, Calendars calendars) {
    long start = days.indexOf(anchor);
    switch (unit) {
      case DAY -> everyNth(start, n, days);
      case WEEK -> weeks(start, days);
      case MONTH -> months(days);
      case BUSINESS_DAY -> businessDays(days, calendars);
    }
  }

  private static void everyNth(long start, long step, DaySet days) {
    long first = start >= 0 ? start : start + (-start + step - 1) / step * step;
    for (long at = first; at < days.length(); at += step) {
      days.addAt(at);
    }
  }

  private void weeks(long start, DaySet days) {
    Set<DayOfWeek> on = weekdays.isEmpty() ? Set.of(anchor.getDayOfWeek()) : weekdays;
    long monday = start - (anchor.getDayOfWeek().getValue() - 1);
    for (DayOfWeek weekday : on) {
      long first = monday + weekday.getValue() - 1;
      everyNth(first < start ? first + 7L * n : first, 7L * n, days);
    }
  }

  private void months(DaySet days) {
    LocalDate from = days.from().isAfter(anchor) ? days.from() : anchor;
    long back =
        (from.getYear() - anchor.getYear()) * 12L + from.getMonthValue() - anchor.getMonthValue();
    LocalDate month = anchor.withDayOfMonth(1).plusMonths(back / n * n);
    while (!month.isAfter(days.to())) {
      if (anchor.getDayOfMonth() <= month.lengthOfMonth()) {
        days.add(month.withDayOfMonth(anchor.getDayOfMonth()));
      }
      month = month.plusMonths(n);
    }
  }

  private void businessDays(DaySet days, Calendars calendars) {
    if (anchor.isAfter(days.to())) {
      return;
    }
    DaySet worked = new OfCalendar(false, calendar).pick(anchor, days.to(), calendars);
    int count = 0;
    for (int at : worked.indexes().toArray()) {
      if (count % n == 0) {
        days.add(anchor.plusDays(at));
      }
      count++;
    }
  }

  @Override
  public String toString() {
    return "every "
        + n
        + " "
        + unit.word()
        + (n == 1 ? "" : "s")
        + (weekdays.isEmpty() ? "" : " on " + OnWeekdays.list(weekdays))
        + (calendar.isEmpty() ? "" : " of " + calendar)
        + " from "
        + anchor;
  }
}

package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.List;
import java.util.Set;

/**
 * The days of a rule, each of them that is no business day moved to one.
 *
 * @param calendar whose business days; empty for the stream's calendar
 * @param withinMonth whether a move must not leave the month: then it goes the other way
 */
public record Moved(DayRule rule, Towards towards, String calendar, boolean withinMonth)
    implements DayRule {

  /** Where a day is moved. */
  public enum Towards {
    /** To the first business day after it. */
    NEXT,
    /** To the last business day before it. */
    PREVIOUS,
    /** To the nearer of the two; of two equally near, the later. */
    NEAREST
  }

  @Override
  public List<DayRule> parts() {
    return List.of(rule);
  }

  @Override
  public Set<String> calendars() {
    return DayRule.both(rule.calendars(), DayRule.named(calendar));
  }

  @Override
  public boolean looksAtStandard() {
    return calendar.isEmpty() || rule.looksAtStandard();
  }

  @Override
  public void pickInto(DaySet days, Calendars calendars) {
    // Whatever lands in the span comes from within the closed days on either side of it.
    LocalDate first = calendars.reach(calendar, days.from(), -1);
    LocalDate last = calendars.reach(calendar, days.to(), 1);
    DaySet picked = rule.pick(first, last, calendars);
    DaySet worked = new OfCalendar(false, calendar).pick(first, last, calendars);
    for (int at : picked.indexes().toArray()) {
      LocalDate day = first.plusDays(at);
      days.add(worked.at(at) ? day : target(day, calendars));
    }
  }

  /** Where a day that is no business day goes. */
  LocalDate target(LocalDate day, Calendars calendars) {
    LocalDate next = calendars.businessDay(calendar, day, 1);
    LocalDate previous = calendars.businessDay(calendar, day, -1);
    boolean later =
        switch (towards) {
          case NEXT -> true;
          case PREVIOUS -> false;
          case NEAREST ->
              next.toEpochDay() - day.toEpochDay() <= day.toEpochDay() - previous.toEpochDay();
        };
    LocalDate wanted = later ? next : previous;
    boolean leaves = withinMonth && !isSameMonth(wanted, day);
    return leaves ? later ? previous : next : wanted;
  }

  private static boolean isSameMonth(LocalDate a, LocalDate b) {
    return a.getMonth() == b.getMonth() && a.getYear() == b.getYear();
  }

  @Override
  public String toString() {
    return (rule instanceof Joined ? "(" + rule + ")" : rule) + " " + howFar();
  }

  /** The words after the rule. */
  String howFar() {
    return "moved to "
        + DayRule.lower(towards)
        + " business day"
        + (calendar.isEmpty() ? "" : " of " + calendar)
        + (withinMonth ? " within month" : "");
  }
}

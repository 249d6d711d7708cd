package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.List;
import java.util.Set;

/**
 * So many days or business days before or after the days of a rule. A business day is counted from
 * the day itself, which need not be one: 1 business day after a Saturday is the Monday.
 *
 * @param by how many, at least 1
 * @param businessDays whether business days are counted; else calendar days
 * @param calendar of business days, whose; empty for the stream's calendar
 * @param before whether earlier; else later
 */
public record Shifted(int by, boolean businessDays, String calendar, boolean before, DayRule rule)
    implements DayRule {

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
    return (businessDays && calendar.isEmpty()) || rule.looksAtStandard();
  }

  @Override
  public void pickInto(DaySet days, Calendars calendars) {
    if (!businessDays) {
      int shift = before ? -by : by;
      DaySet picked =
          rule.pick(days.from().minusDays(shift), days.to().minusDays(shift), calendars);
      picked.indexes().forEach(days::addAt);
      return;
    }
    // A day that lands in the span lies within `by` business days of it: only those are looked at.
    LocalDate first = before ? days.from() : calendars.reach(calendar, days.from(), -by);
    LocalDate last = before ? calendars.reach(calendar, days.to(), by) : days.to();
    for (LocalDate day : rule.pick(first, last, calendars).days()) {
      days.add(target(day, calendars));
    }
  }

  /** Where a day of the rule lands. */
  LocalDate target(LocalDate day, Calendars calendars) {
    int shift = before ? -by : by;
    return businessDays ? calendars.businessDay(calendar, day, shift) : day.plusDays(shift);
  }

  @Override
  public String toString() {
    boolean bracket = rule instanceof Joined || rule instanceof Moved;
    return howFar() + (bracket ? " (" + rule + ")" : " " + rule);
  }

  /** The words before the rule. */
  String howFar() {
    return by
        + (businessDays ? " business day" : " day")
        + (by == 1 ? "" : "s")
        + (calendar.isEmpty() ? "" : " of " + calendar)
        + (before ? " before" : " after");
  }
}

package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import org.dmfs.rfc5545.DateTime;
import org.dmfs.rfc5545.recur.Freq;
import org.dmfs.rfc5545.recur.InvalidRecurrenceRuleException;
import org.dmfs.rfc5545.recur.RecurrenceRule;
import org.dmfs.rfc5545.recur.RecurrenceRuleIterator;

/**
 * A recurrence rule of RFC 5545, section 3.3.10, over whole days.
 *
 * @param text the rule, without {@code RRULE:}
 * @param anchor where it begins: the first date that it can pick. Empty only for rules that pick
 *     the same days wherever they begin
 */
public record Recurrence(String text, Optional<LocalDate> anchor) implements DayRule {
  private static final int MOST_COUNTED = 100_000;
  private static final int LAST_YEAR = 9999;
  private static final Set<Freq> OF_DAYS =
      EnumSet.of(Freq.YEARLY, Freq.MONTHLY, Freq.WEEKLY, Freq.DAILY);

  /**
   * Checks the rule.
   *
   * @throws IllegalArgumentException where it is none, is not of whole days, or needs an anchor
   */
  public Recurrence {
    RecurrenceRule rule = parse(text);
    if (!OF_DAYS.contains(rule.getFreq())
        || rule.hasPart(RecurrenceRule.Part.BYHOUR)
        || rule.hasPart(RecurrenceRule.Part.BYMINUTE)
        || rule.hasPart(RecurrenceRule.Part.BYSECOND)) {
      throw new IllegalArgumentException(
          "a day rule picks whole days: FREQ must be DAILY, WEEKLY, MONTHLY or YEARLY, without hours");
    }
    if (anchor.isEmpty() && needsAnchor(rule)) {
      throw new IllegalArgumentException(
          "it says no days of its own (or counts with INTERVAL or COUNT): add where it begins, such"
              + " as from 2027-01-01");
    }
    text = text.toUpperCase(java.util.Locale.ROOT);
  }

  private static RecurrenceRule parse(String text) {
    try {
      return new RecurrenceRule(text, RecurrenceRule.RfcMode.RFC5545_STRICT);
    } catch (InvalidRecurrenceRuleException e) {
      throw new IllegalArgumentException(
          "this is not an RFC 5545 rule; expected one such as"
              + " FREQ=MONTHLY;BYDAY=MO;BYSETPOS=1",
          e);
    }
  }

  private static boolean needsAnchor(RecurrenceRule rule) {
    boolean counts = rule.getInterval() > 1 || rule.getCount() != null;
    boolean saysDays =
        switch (rule.getFreq()) {
          case DAILY -> true;
          case WEEKLY -> rule.hasPart(RecurrenceRule.Part.BYDAY);
          case MONTHLY ->
              rule.hasPart(RecurrenceRule.Part.BYDAY)
                  || rule.hasPart(RecurrenceRule.Part.BYMONTHDAY);
          default ->
              rule.hasPart(RecurrenceRule.Part.BYDAY)
                  || rule.hasPart(RecurrenceRule.Part.BYYEARDAY)
                  || (rule.hasPart(RecurrenceRule.Part.BYMONTHDAY)
                      && rule.hasPart(RecurrenceRule.Part.BYMONTH));
        };
    return counts || !saysDays;
  }

  @Override
  public void pickInto(DaySet days, Calendars calendars) {
    // Without an anchor any beginning gives the same days: the year before is early enough.
    LocalDate start = anchor.orElse(LocalDate.of(days.from().getYear() - 1, 1, 1));
    RecurrenceRule rule = parse(text);
    RecurrenceRuleIterator found = rule.iterator(dateTime(start));
    if (start.isBefore(days.from())) {
      found.fastForward(dateTime(days.from()));
    }
    while (found.hasNext()) {
      DateTime next = found.nextDateTime();
      LocalDate day = LocalDate.of(next.getYear(), next.getMonth() + 1, next.getDayOfMonth());
      if (day.isAfter(days.to())) {
        return;
      }
      days.add(day);
    }
  }

  private static DateTime dateTime(LocalDate day) {
    return new DateTime(day.getYear(), day.getMonthValue() - 1, day.getDayOfMonth());
  }

  /** The last day that it can pick; empty where it has no end, or one beyond all counting. */
  public Optional<LocalDate> last() {
    RecurrenceRule rule = parse(text);
    if (rule.isInfinite()) {
      return Optional.empty();
    }
    LocalDate start = anchor.orElse(LocalDate.of(1970, 1, 1));
    LocalDate last = start;
    RecurrenceRuleIterator found = rule.iterator(dateTime(start));
    for (int counted = 0; found.hasNext(); counted++) {
      DateTime next = found.nextDateTime();
      if (counted == MOST_COUNTED || next.getYear() > LAST_YEAR) {
        return Optional.empty();
      }
      last = LocalDate.of(next.getYear(), next.getMonth() + 1, next.getDayOfMonth());
    }
    return Optional.of(last);
  }

  @Override
  public String toString() {
    return "rrule \"" + text + "\"" + anchor.map(day -> " from " + day).orElse("");
  }
}

package dev.purser.core.check;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Times;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Looks at the dates that definitions mean: rules that never pick, windows that change. */
final class DayCheck {
  private static final int YEARS_AHEAD = 2;
  private static final int YEARS_FAR = 60;

  private final Definitions all;
  private final LocalDate today;
  private final List<Problem> problems;
  private final UnmetCheck unmet;

  /** Many streams have one rule: it is asked once whether it picks a day. */
  private final Map<Asked, Boolean> picks = new HashMap<>();

  private record Asked(DayRule rule, String calendar) {}

  DayCheck(Definitions all, LocalDate today, List<Problem> problems) {
    this.all = all;
    this.today = today;
    this.problems = problems;
    this.unmet = new UnmetCheck(all, today);
  }

  /** Windows of another length begin with the next date: what has begun stays as it is. */
  void windows(Document document, Definitions existing) {
    if (!(document.value() instanceof Stream stream) || !stream.hasWindows()) {
      return;
    }
    Optional<Stream> old = existing.stream(stream.path()).filter(Stream::hasWindows);
    Times now = stream.schedule().get(0).times();
    old.map(was -> was.schedule().get(0).times())
        .filter(was -> !was.toString().equals(now.toString()))
        .ifPresent(
            was ->
                problems.add(
                    document.warning(
                        stream.path()
                            + " has "
                            + now
                            + " now, not "
                            + was
                            + ": up to "
                            + today
                            + " they stay as they were, from "
                            + today.plusDays(1)
                            + " on they are the new ones")));
  }

  /** Rules that never pick, and prerequisites that can never be met. */
  void days(Document document) {
    if (document.value() instanceof Stream stream) {
      Calendars calendars = all.calendarsOf(stream);
      stream.dayRules().stream()
          .filter(
              rule ->
                  !picks.computeIfAbsent(
                      new Asked(rule, stream.calendar()), asked -> picks(rule, calendars)))
          .forEach(rule -> picksSomething(document, rule, calendars));
      problems.addAll(unmet.of(document, stream));
    } else if (document.value() instanceof HolidayCalendar calendar) {
      for (HolidayCalendar.Holiday holiday : calendar.holidays()) {
        picksSomething(document, holiday.days(), all.calendars());
      }
    } else if (document.value() instanceof BusinessCalendar calendar) {
      picksSomething(document, calendar.working(), all.calendars());
    } else if (document.value() instanceof NamedPeriod period) {
      picksSomething(document, period.starts(), all.calendars());
    }
  }

  private boolean picks(DayRule rule, Calendars calendars) {
    return rule.pick(today, today.plusYears(YEARS_AHEAD), calendars).size() > 0;
  }

  /** A rule that never picks is a warning, with its reason. */
  private void picksSomething(Document document, DayRule rule, Calendars calendars) {
    if (picks(rule, calendars)) {
      return;
    }
    boolean ever =
        rule.pick(today.minusYears(YEARS_FAR), today.plusYears(YEARS_FAR), calendars).size() > 0;
    String reason = ever ? past(rule, calendars) : never(rule, calendars);
    problems.add(
        document.warning(
            "the day rule \""
                + rule
                + "\" picks no day in the next "
                + YEARS_AHEAD
                + " years: "
                + reason));
  }

  private String past(DayRule rule, Calendars calendars) {
    List<LocalDate> before = rule.pick(today.minusYears(YEARS_FAR), today, calendars).days();
    if (!before.isEmpty()) {
      return "the last day it picks is " + before.get(before.size() - 1);
    }
    List<LocalDate> after = rule.pick(today, today.plusYears(YEARS_FAR), calendars).days();
    return "the first day it picks is " + after.get(0);
  }

  private String never(DayRule rule, Calendars calendars) {
    for (DayRule part : rule.parts()) {
      boolean empty =
          part.pick(today.minusYears(YEARS_FAR), today.plusYears(YEARS_FAR), calendars).size() == 0;
      if (empty) {
        return part.parts().isEmpty()
            ? "there is no \"" + part + "\" in any year"
            : never(part, calendars);
      }
    }
    if (rule instanceof DayRule.Joined joined && joined.joint() == DayRule.Joint.AND) {
      return "no day is picked by both \"" + joined.left() + "\" and \"" + joined.right() + "\"";
    }
    return rule instanceof DayRule.Joined joined
        ? "\"" + joined.right() + "\" takes every day out of \"" + joined.left() + "\""
        : "there is no \"" + rule + "\" in any year";
  }
}

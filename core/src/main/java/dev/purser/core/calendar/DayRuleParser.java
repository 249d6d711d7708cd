package dev.purser.core.calendar;

import dev.purser.core.phrase.PhraseException;
import dev.purser.core.phrase.Words;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.Month;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads day rules; the grammar is in {@code docs/day-rules.md}. */
public final class DayRuleParser {
  private static final Pattern ORDINAL = Pattern.compile("(\\d{1,3})(st|nd|rd|th)");
  private static final Pattern DATE = Pattern.compile("\\d{4}-\\d{2}-\\d{2}");
  private static final Pattern NUMBER = Pattern.compile("\\d{1,2}");

  private final Words words;

  private DayRuleParser(String text) {
    this.words = new Words(text);
  }

  /**
   * Reads a rule.
   *
   * @throws PhraseException where it cannot be read: the column, and what could stand there
   */
  public static DayRule parse(String text) {
    DayRuleParser parser = new DayRuleParser(text);
    DayRule rule = parser.either();
    if (!parser.words.atEnd()) {
      throw parser.words.unexpected(List.of("and", "or", "except"));
    }
    return rule;
  }

  private DayRule either() {
    DayRule rule = narrowed();
    while (words.takeIf("or")) {
      rule = new DayRule.Joined(rule, DayRule.Joint.OR, narrowed());
    }
    return rule;
  }

  private DayRule narrowed() {
    DayRule rule = simple();
    while (true) {
      if (words.takeIf("and")) {
        rule = new DayRule.Joined(rule, DayRule.Joint.AND, simple());
      } else if (words.takeIf("except")) {
        rule = new DayRule.Joined(rule, DayRule.Joint.EXCEPT, simple());
      } else {
        return rule;
      }
    }
  }

  private DayRule simple() {
    String word = words.peek();
    if (word.equals("(")) {
      words.open();
      DayRule rule = either();
      words.close();
      return rule;
    }
    if (words.takeIf("every")) {
      words.expect("day");
      return new DayRule.EveryDay();
    }
    if (words.takeIf("weekdays")) {
      return new DayRule.OnWeekdays(EnumSet.range(DayOfWeek.MONDAY, DayOfWeek.FRIDAY));
    }
    if (words.takeIf("weekends")) {
      return new DayRule.OnWeekdays(EnumSet.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY));
    }
    if (words.takeIf("business", "days")) {
      return new DayRule.OfCalendar(false, words.takeIf("of") ? calendarName() : "");
    }
    if (words.takeIf("days")) {
      words.expect("of");
      return new DayRule.OfCalendar(false, calendarName());
    }
    if (words.takeIf("holidays")) {
      return new DayRule.OfCalendar(true, words.takeIf("of") ? calendarName() : "");
    }
    if (weekday(word).isPresent()) {
      return weekdays();
    }
    if (word.equals("last") || ORDINAL.matcher(word).matches()) {
      return nth();
    }
    if (DATE.matcher(word).matches()) {
      return dates();
    }
    if (NUMBER.matcher(word).matches()) {
      return yearly();
    }
    throw words.unexpected(simpleStarts());
  }

  private static List<String> simpleStarts() {
    List<String> starts =
        new ArrayList<>(
            List.of("every day", "weekdays", "weekends", "business days", "days of", "holidays"));
    for (DayOfWeek day : DayOfWeek.values()) {
      starts.add(day.name().toLowerCase(Locale.ROOT));
    }
    starts.addAll(List.of("1st … of month", "last … of month", "a date", "a day of a month", "("));
    return starts;
  }

  private String calendarName() {
    if (words.atEnd() || words.peek().equals("(") || words.peek().equals(")")) {
      throw words.unexpected(List.of("a calendar's name"));
    }
    return words.take();
  }

  private DayRule weekdays() {
    Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
    do {
      days.add(weekday(words.peek()).orElseThrow(() -> words.unexpected(weekdayNames())));
      words.take();
    } while (words.takeIf(","));
    return new DayRule.OnWeekdays(days);
  }

  private static Optional<DayOfWeek> weekday(String word) {
    return Arrays.stream(DayOfWeek.values())
        .filter(day -> day.name().equalsIgnoreCase(word))
        .findFirst();
  }

  private static List<String> weekdayNames() {
    return Arrays.stream(DayOfWeek.values()).map(d -> d.name().toLowerCase(Locale.ROOT)).toList();
  }

  private DayRule nth() {
    int nth = 1;
    Matcher ordinal = ORDINAL.matcher(words.peek());
    if (ordinal.matches()) {
      nth = Integer.parseInt(ordinal.group(1));
      if (nth == 0) {
        throw new PhraseException(words.column(), "counting starts at 1st");
      }
      words.take();
    }
    if (words.takeIf("last")) {
      nth = -nth;
    }
    DayRule.Counted counted = counted();
    words.expect("of");
    int month = monthNames().indexOf(words.peek()) + 1;
    if (month == 0) {
      return new DayRule.NthOf(nth, counted, period());
    }
    words.take();
    DayRule inMonth =
        new DayRule.Yearly(MonthDay.of(month, 1), MonthDay.of(month, Month.of(month).maxLength()));
    DayRule nthOfMonth = new DayRule.NthOf(nth, counted, DayRule.Period.MONTH);
    return new DayRule.Joined(nthOfMonth, DayRule.Joint.AND, inMonth);
  }

  private static List<String> monthNames() {
    return Arrays.stream(Month.values()).map(m -> m.name().toLowerCase(Locale.ROOT)).toList();
  }

  private DayRule.Counted counted() {
    if (words.takeIf("day")) {
      return new DayRule.Counted.AnyDay();
    }
    if (words.takeIf("business", "day")) {
      return new DayRule.Counted.BusinessDay();
    }
    Optional<DayOfWeek> day = weekday(words.peek());
    if (day.isPresent()) {
      words.take();
      return new DayRule.Counted.Weekday(day.get());
    }
    List<String> expected = new ArrayList<>(List.of("day", "business day", "last"));
    expected.addAll(weekdayNames());
    throw words.unexpected(expected);
  }

  private DayRule.Period period() {
    for (DayRule.Period period : DayRule.Period.values()) {
      if (words.takeIf(period.name().toLowerCase(Locale.ROOT))) {
        return period;
      }
    }
    throw words.unexpected(List.of("week", "month", "quarter", "year", "a month's name"));
  }

  private DayRule dates() {
    DayRule rule = dateOrRange();
    while (words.takeIf(",")) {
      rule = new DayRule.Joined(rule, DayRule.Joint.OR, dateOrRange());
    }
    return rule;
  }

  private DayRule dateOrRange() {
    int column = words.column();
    LocalDate first = date();
    if (!words.takeIf("to")) {
      return new DayRule.Dates(first, first);
    }
    LocalDate last = date();
    if (last.isBefore(first)) {
      throw new PhraseException(column, "the range ends (" + last + ") before it begins");
    }
    return new DayRule.Dates(first, last);
  }

  private LocalDate date() {
    if (!DATE.matcher(words.peek()).matches()) {
      throw words.unexpected(List.of("a date such as 2027-12-24"));
    }
    try {
      LocalDate date = LocalDate.parse(words.peek());
      words.take();
      return date;
    } catch (DateTimeException e) {
      throw noSuchDay(e);
    }
  }

  private DayRule yearly() {
    DayRule rule = dayOrSeason();
    while (words.takeIf(",")) {
      rule = new DayRule.Joined(rule, DayRule.Joint.OR, dayOrSeason());
    }
    return rule;
  }

  private DayRule dayOrSeason() {
    MonthDay first = monthDay();
    return new DayRule.Yearly(first, words.takeIf("to") ? monthDay() : first);
  }

  private MonthDay monthDay() {
    if (!NUMBER.matcher(words.peek()).matches()) {
      throw words.unexpected(List.of("a day such as 24 december"));
    }
    int day = Integer.parseInt(words.peek());
    List<String> names = monthNames();
    int month = names.indexOf(words.peek(1)) + 1;
    if (month == 0) {
      words.take();
      throw words.unexpected(names);
    }
    try {
      MonthDay found = MonthDay.of(month, day);
      words.take();
      words.take();
      return found;
    } catch (DateTimeException e) {
      throw noSuchDay(e);
    }
  }

  private PhraseException noSuchDay(DateTimeException cause) {
    PhraseException problem =
        new PhraseException(words.column(), "there is no such day: " + cause.getMessage());
    problem.initCause(cause);
    return problem;
  }
}

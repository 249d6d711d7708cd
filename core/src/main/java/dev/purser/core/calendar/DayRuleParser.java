package dev.purser.core.calendar;

import dev.purser.core.phrase.PhraseException;
import dev.purser.core.phrase.Words;
import dev.purser.core.problem.Nearest;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.Month;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads day rules; the grammar is in {@code docs/day-rules.md}. */
public final class DayRuleParser {
  private static final Pattern ORDINAL = Pattern.compile("(\\d{1,3})(st|nd|rd|th)");
  private static final Pattern DATE = Pattern.compile("\\d{4}-\\d{2}-\\d{2}");
  private static final Pattern NUMBER = Pattern.compile("\\d{1,4}");
  private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9._-]{0,99}");
  private static final Pattern PERIOD = Pattern.compile("[a-z][a-z0-9._-]{0,99}");
  private static final List<String> UNITS = List.of("week", "month", "quarter", "year");

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
      throw parser.words.unexpected(List.of("and", "or", "except", "moved to"));
    }
    return rule;
  }

  /** Whether a name is so like a word of the language that a period must not have it. */
  public static boolean isTooLikeAWord(String name) {
    return !PERIOD.matcher(name).matches()
        || Nearest.to(name, UNITS).isPresent()
        || Nearest.to(name, monthNames()).isPresent();
  }

  private DayRule either() {
    DayRule rule = narrowed();
    while (words.takeIf("or")) {
      rule = new DayRule.Joined(rule, DayRule.Joint.OR, narrowed());
    }
    return rule;
  }

  private DayRule narrowed() {
    DayRule rule = moved();
    while (true) {
      if (words.takeIf("and")) {
        rule = new DayRule.Joined(rule, DayRule.Joint.AND, moved());
      } else if (words.takeIf("except")) {
        rule = new DayRule.Joined(rule, DayRule.Joint.EXCEPT, moved());
      } else {
        return rule;
      }
    }
  }

  private DayRule moved() {
    DayRule rule = simple();
    int count = 0;
    while (words.takeIf("moved")) {
      words.expect("to");
      Moved.Towards towards = towards();
      words.expect("business");
      words.expect("day");
      String calendar = words.takeIf("of") ? calendarName() : "";
      boolean within = words.takeIf("within");
      if (within) {
        words.expect("month");
      }
      words.deeper("days are moved more often than ");
      count++;
      rule = new Moved(rule, towards, calendar, within);
    }
    for (; count > 0; count--) {
      words.back();
    }
    return rule;
  }

  private Moved.Towards towards() {
    for (Moved.Towards towards : Moved.Towards.values()) {
      if (words.takeIf(DayRule.lower(towards))) {
        return towards;
      }
    }
    throw words.unexpected(List.of("next", "previous", "nearest"));
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
      return every();
    }
    if (words.takeIf("weekdays")) {
      return new DayRule.OnWeekdays(DayRule.OnWeekdays.WEEK);
    }
    if (words.takeIf("weekends")) {
      return new DayRule.OnWeekdays(DayRule.OnWeekdays.WEEKEND);
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
    if (words.takeIf("easter")) {
      return new DayRule.Easter();
    }
    if (word.equals("rrule")) {
      return recurrence();
    }
    if (weekday(word).isPresent()) {
      return new DayRule.OnWeekdays(weekdays());
    }
    if (word.equals("last") || ORDINAL.matcher(word).matches()) {
      return nth();
    }
    if (DATE.matcher(word).matches()) {
      return new DayRule.Dates(list(this::span));
    }
    if (NUMBER.matcher(word).matches()) {
      return isOffset() ? shifted() : new DayRule.Yearly(list(this::season));
    }
    throw words.unexpected(simpleStarts());
  }

  private static List<String> simpleStarts() {
    List<String> starts =
        new ArrayList<>(
            List.of("every day", "weekdays", "weekends", "business days", "days of", "holidays"));
    starts.addAll(weekdayNames());
    starts.addAll(
        List.of(
            "1st … of month",
            "last … of month",
            "3 days before",
            "easter",
            "a date",
            "a day of a month",
            "rrule",
            "("));
    return starts;
  }

  private String calendarName() {
    if (words.atEnd() || !NAME.matcher(words.peek()).matches()) {
      throw words.unexpected(List.of("a calendar's name"));
    }
    return words.take();
  }

  private <T> List<T> list(Supplier<T> one) {
    List<T> all = new ArrayList<>();
    do {
      all.add(one.get());
    } while (words.takeIf(","));
    return all;
  }

  // ---- every

  private DayRule every() {
    if (words.takeIf("day")) {
      return new DayRule.EveryDay();
    }
    if (words.takeIf("weekday")) {
      return new DayRule.OnWeekdays(DayRule.OnWeekdays.WEEK);
    }
    if (words.takeIf("business", "day")) {
      return new DayRule.OfCalendar(false, words.takeIf("of") ? calendarName() : "");
    }
    if (weekday(words.peek()).isPresent()) {
      return new DayRule.OnWeekdays(weekdays());
    }
    if (!NUMBER.matcher(words.peek()).matches()) {
      List<String> expected =
          new ArrayList<>(List.of("day", "weekday", "business day", "a number"));
      expected.addAll(weekdayNames());
      throw words.unexpected(expected);
    }
    int n = number("every");
    Repeated.Unit unit = unit();
    Set<DayOfWeek> on = Set.of();
    if (unit == Repeated.Unit.WEEK && words.takeIf("on")) {
      on = weekdays();
    }
    String calendar =
        unit == Repeated.Unit.BUSINESS_DAY && words.takeIf("of") ? calendarName() : "";
    words.expect("from");
    return new Repeated(n, unit, on, calendar, date());
  }

  private int number(String before) {
    int column = words.column();
    int n = Integer.parseInt(words.take());
    if (n == 0) {
      throw new PhraseException(column, "\"" + before + " 0\" means nothing; the least is 1");
    }
    return n;
  }

  private Repeated.Unit unit() {
    if (words.takeIf("business")) {
      if (!words.takeIf("days")) {
        words.expect("day");
      }
      return Repeated.Unit.BUSINESS_DAY;
    }
    for (Repeated.Unit unit : Repeated.Unit.values()) {
      if (words.takeIf(unit.word()) || words.takeIf(unit.word() + "s")) {
        return unit;
      }
    }
    throw words.unexpected(List.of("days", "business days", "weeks", "months"));
  }

  // ---- offsets

  private boolean isOffset() {
    return Set.of("day", "days", "business").contains(words.peek(1));
  }

  private DayRule shifted() {
    int by = number("by");
    boolean business = words.takeIf("business");
    if (!words.takeIf("days")) {
      words.expect("day");
    }
    String calendar = business && words.takeIf("of") ? calendarName() : "";
    boolean before = words.takeIf("before");
    if (!before && !words.takeIf("after")) {
      throw words.unexpected(List.of("before", "after"));
    }
    words.deeper("offsets are nested deeper than ");
    DayRule rule = simple();
    words.back();
    return new Shifted(by, business, calendar, before, rule);
  }

  // ---- RFC 5545

  private DayRule recurrence() {
    words.expect("rrule");
    String quoted = words.peek();
    int column = words.column();
    if (quoted.length() < 3 || !quoted.startsWith("\"")) {
      throw words.unexpected(List.of("an RFC 5545 rule in double quotes"));
    }
    words.take();
    Optional<LocalDate> anchor = words.takeIf("from") ? Optional.of(date()) : Optional.empty();
    try {
      return new Recurrence(quoted.substring(1, quoted.length() - 1), anchor);
    } catch (IllegalArgumentException e) {
      PhraseException problem = new PhraseException(column, e.getMessage());
      problem.initCause(e);
      throw problem;
    }
  }

  // ---- weekdays

  private Set<DayOfWeek> weekdays() {
    Set<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
    do {
      days.add(weekday(words.peek()).orElseThrow(() -> words.unexpected(weekdayNames())));
      words.take();
    } while (words.takeIf(","));
    return days;
  }

  /** The weekday of a word, which may be a plural. */
  static Optional<DayOfWeek> weekday(String word) {
    return Arrays.stream(DayOfWeek.values())
        .filter(day -> word.equalsIgnoreCase(day.name()) || word.equalsIgnoreCase(day + "s"))
        .findFirst();
  }

  private static List<String> weekdayNames() {
    return Arrays.stream(DayOfWeek.values()).map(DayRule::lower).toList();
  }

  // ---- the nth of a period

  private DayRule nth() {
    List<Integer> nths = list(this::ordinal);
    NthOf.Counted counted = counted();
    words.expect("of");
    int month = monthNames().indexOf(words.peek()) + 1;
    if (month == 0) {
      return new NthOf(nths, counted, within());
    }
    words.take();
    DayRule inMonth = DayRule.Yearly.of(List.of(Month.of(month)));
    return new DayRule.Joined(
        new NthOf(nths, counted, NthOf.Unit.MONTH), DayRule.Joint.AND, inMonth);
  }

  private int ordinal() {
    int nth = 1;
    Matcher ordinal = ORDINAL.matcher(words.peek());
    boolean numbered = ordinal.matches();
    if (numbered) {
      nth = Integer.parseInt(ordinal.group(1));
      if (nth == 0) {
        throw new PhraseException(words.column(), "counting starts at 1st");
      }
      words.take();
    }
    if (words.takeIf("last")) {
      return -nth;
    }
    if (!numbered) {
      throw words.unexpected(List.of("1st", "2nd", "last"));
    }
    return nth;
  }

  private static List<String> monthNames() {
    return Arrays.stream(Month.values()).map(DayRule::lower).toList();
  }

  private NthOf.Counted counted() {
    if (words.takeIf("day")) {
      return new NthOf.Counted.AnyDay();
    }
    if (words.takeIf("weekday")) {
      return new NthOf.Counted.AnyWeekday();
    }
    if (words.takeIf("business", "day")) {
      boolean named = words.peek().equals("of") && words.peek(2).equals("of");
      if (named) {
        words.expect("of");
      }
      return new NthOf.Counted.BusinessDay(named ? calendarName() : "");
    }
    Optional<DayOfWeek> day = weekday(words.peek());
    if (day.isPresent()) {
      words.take();
      return new NthOf.Counted.Weekday(day.get());
    }
    List<String> expected = new ArrayList<>(List.of("day", "business day", "weekday", "last"));
    expected.addAll(weekdayNames());
    throw words.unexpected(expected);
  }

  /** A unit, or the name of a period; what is nearly a unit is taken for a slip. */
  private NthOf.Within within() {
    for (NthOf.Unit unit : NthOf.Unit.values()) {
      if (words.takeIf(unit.toString())) {
        return unit;
      }
    }
    String word = words.peek();
    List<String> known = new ArrayList<>(UNITS);
    known.addAll(monthNames());
    if (!PERIOD.matcher(word).matches() || Nearest.to(word, known).isPresent()) {
      List<String> expected = new ArrayList<>(UNITS);
      expected.addAll(monthNames());
      expected.add("a period's name");
      throw words.unexpected(expected);
    }
    return new NthOf.Named(words.take());
  }

  // ---- dates

  private DayRule.Span span() {
    int column = words.column();
    LocalDate first = date();
    LocalDate last = words.takeIf("to") ? date() : first;
    if (last.isBefore(first)) {
      throw new PhraseException(column, "the range ends (" + last + ") before it begins");
    }
    return new DayRule.Span(first, last);
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

  private DayRule.Season season() {
    MonthDay first = monthDay();
    return new DayRule.Season(first, words.takeIf("to") ? monthDay() : first);
  }

  private MonthDay monthDay() {
    if (!NUMBER.matcher(words.peek()).matches()) {
      throw words.unexpected(List.of("a day such as 24 december"));
    }
    List<String> names = monthNames();
    int month = names.indexOf(words.peek(1)) + 1;
    if (month == 0) {
      words.take();
      List<String> expected = new ArrayList<>(names);
      expected.addAll(List.of("days before", "business days after"));
      throw words.unexpected(expected);
    }
    try {
      MonthDay found = MonthDay.of(month, Integer.parseInt(words.peek()));
      words.take();
      words.take();
      return found;
    } catch (DateTimeException e) {
      throw noSuchDay(e);
    }
  }

  private PhraseException noSuchDay(DateTimeException cause) {
    PhraseException problem =
        new PhraseException(
            words.column(), "there is no such day: look at the month, and how many days it has");
    problem.initCause(cause);
    return problem;
  }
}

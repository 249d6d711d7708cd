package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.Month;
import java.time.MonthDay;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * An expression that picks days. {@code docs/day-rules.md} says what each form means; {@link
 * #toString()} prints the canonical form, which parses back to an equal rule.
 *
 * <p>A rule is its own compiled form: it fills a {@link DaySet} by arithmetic on periods and by
 * whole machine words, never a day at a time through the clock.
 */
public sealed interface DayRule
    permits DayRule.EveryDay,
        DayRule.OnWeekdays,
        DayRule.OfCalendar,
        DayRule.Dates,
        DayRule.Yearly,
        DayRule.Easter,
        DayRule.Joined,
        NthOf,
        Repeated,
        Shifted,
        Moved,
        Recurrence {

  /** Adds the days of the set's span that the rule picks. */
  void pickInto(DaySet days, Calendars calendars);

  /** The rules that this one is made of. */
  default List<DayRule> parts() {
    return List.of();
  }

  /** Every calendar that the rule names, at any depth. */
  default Set<String> calendars() {
    return fromParts(parts().stream().map(DayRule::calendars).toList());
  }

  /** Every named period that the rule counts in, at any depth. */
  default Set<String> periods() {
    return fromParts(parts().stream().map(DayRule::periods).toList());
  }

  /** Whether the rule looks at the calendar that is meant where none is named. */
  default boolean looksAtStandard() {
    return parts().stream().anyMatch(DayRule::looksAtStandard);
  }

  /**
   * Picks days.
   *
   * @param from the first date looked at
   * @param to the last date looked at
   * @throws IllegalArgumentException where the rule names an unknown calendar or period
   */
  default DaySet pick(LocalDate from, LocalDate to, Calendars calendars) {
    DaySet days = DaySet.empty(from, to);
    if (!to.isBefore(from)) {
      pickInto(days, calendars);
    }
    return days;
  }

  private static Set<String> fromParts(Collection<Set<String>> all) {
    return all.stream().flatMap(Set::stream).collect(Collectors.toCollection(TreeSet::new));
  }

  /** Names that may be empty, as a set. */
  static Set<String> named(String calendar) {
    return calendar.isEmpty() ? Set.of() : Set.of(calendar);
  }

  /** Names of two sets, in order. */
  static Set<String> both(Set<String> a, Set<String> b) {
    return fromParts(List.of(a, b));
  }

  /** All days. */
  record EveryDay() implements DayRule {
    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      days.addAll();
    }

    @Override
    public String toString() {
      return "every day";
    }
  }

  /** Days of the week. */
  record OnWeekdays(Set<DayOfWeek> weekdays) implements DayRule {
    static final Set<DayOfWeek> WEEK =
        Set.of(
            DayOfWeek.MONDAY,
            DayOfWeek.TUESDAY,
            DayOfWeek.WEDNESDAY,
            DayOfWeek.THURSDAY,
            DayOfWeek.FRIDAY);
    static final Set<DayOfWeek> WEEKEND = Set.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY);

    /** Copies the set. */
    public OnWeekdays {
      weekdays = Set.copyOf(weekdays);
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      int first = days.from().getDayOfWeek().getValue();
      for (DayOfWeek weekday : weekdays) {
        for (int at = (weekday.getValue() - first + 7) % 7; at < days.length(); at += 7) {
          days.addAt(at);
        }
      }
    }

    @Override
    public String toString() {
      if (weekdays.equals(WEEK)) {
        return "weekdays";
      }
      if (weekdays.equals(WEEKEND)) {
        return "weekends";
      }
      return list(weekdays);
    }

    static String list(Set<DayOfWeek> weekdays) {
      return new TreeSet<>(weekdays).stream().map(DayRule::lower).collect(Collectors.joining(", "));
    }
  }

  /** Working days, or holidays, of a calendar; an empty name means the stream's calendar. */
  record OfCalendar(boolean holidays, String calendar) implements DayRule {
    @Override
    public Set<String> calendars() {
      return named(calendar);
    }

    @Override
    public boolean looksAtStandard() {
      return calendar.isEmpty();
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      if (holidays) {
        calendars.holidaysInto(calendar, days);
      } else {
        calendars.businessDaysInto(calendar, days);
      }
    }

    @Override
    public String toString() {
      return (holidays ? "holidays" : "business days")
          + (calendar.isEmpty() ? "" : " of " + calendar);
    }
  }

  /**
   * The dates from the first to the last, both included.
   *
   * @param first not after {@code last}
   */
  record Span(LocalDate first, LocalDate last) {
    boolean contains(LocalDate day) {
      return !day.isBefore(first) && !day.isAfter(last);
    }

    @Override
    public String toString() {
      return first.equals(last) ? first.toString() : first + " to " + last;
    }
  }

  /** Dates and ranges of dates. */
  record Dates(List<Span> spans) implements DayRule {
    /** Copies the list. */
    public Dates {
      spans = List.copyOf(spans);
    }

    /** One date. */
    public static Dates of(LocalDate day) {
      return new Dates(List.of(new Span(day, day)));
    }

    /** A list of dates. */
    public static Dates of(Collection<LocalDate> days) {
      return new Dates(days.stream().map(day -> new Span(day, day)).toList());
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (Span span : spans) {
        days.addRange(days.indexOf(span.first()), days.indexOf(span.last()));
      }
    }

    @Override
    public String toString() {
      return spans.stream().map(Span::toString).collect(Collectors.joining(", "));
    }
  }

  /** From a day of the year to another, across the year's end where the last is earlier. */
  record Season(MonthDay first, MonthDay last) {
    @Override
    public String toString() {
      return first.equals(last) ? print(first) : print(first) + " to " + print(last);
    }

    private static String print(MonthDay day) {
      return day.getDayOfMonth() + " " + lower(day.getMonth());
    }

    private static Season of(Month month) {
      return new Season(MonthDay.of(month, 1), MonthDay.of(month, month.maxLength()));
    }
  }

  /** Days and seasons of every year. */
  record Yearly(List<Season> seasons) implements DayRule {
    /** Copies the list. */
    public Yearly {
      seasons = List.copyOf(seasons);
    }

    /** The whole of some months. */
    public static Yearly of(Collection<Month> months) {
      return new Yearly(months.stream().map(Season::of).toList());
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (int year = days.from().getYear() - 1; year <= days.to().getYear(); year++) {
        for (Season season : seasons) {
          season(season, year, days);
        }
      }
    }

    /** The season that begins in a year; 29 February is the day after 28 where there is none. */
    private static void season(Season season, int year, DaySet days) {
      boolean across = season.last().isBefore(season.first());
      int lastYear = across ? year + 1 : year;
      LocalDate first = season.first().atYear(year);
      LocalDate last = season.last().atYear(lastYear);
      boolean noFirst = !season.first().isValidYear(year);
      long start = days.indexOf(first) + (noFirst ? 1 : 0);
      days.addRange(start, days.indexOf(last));
    }

    @Override
    public String toString() {
      return seasons.stream().map(Season::toString).collect(Collectors.joining(", "));
    }
  }

  /** Easter Sunday of the Gregorian calendar. */
  record Easter() implements DayRule {
    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (int year = days.from().getYear(); year <= days.to().getYear(); year++) {
        days.add(of(year));
      }
    }

    /** The anonymous Gregorian algorithm (J. Meeus, Astronomical Algorithms, chapter 8). */
    static LocalDate of(int year) {
      int a = year % 19;
      int b = year / 100;
      int c = year % 100;
      int d = (19 * a + b - b / 4 - (b - (b + 8) / 25 + 1) / 3 + 15) % 30;
      int e = (32 + 2 * (b % 4) + 2 * (c / 4) - d - c % 4) % 7;
      int f = d + e - 7 * ((a + 11 * d + 22 * e) / 451) + 114;
      return LocalDate.of(year, f / 31, f % 31 + 1);
    }

    @Override
    public String toString() {
      return "easter";
    }
  }

  /** How two rules are combined. */
  enum Joint {
    /** Days that both pick. */
    AND,
    /** Days that either picks. */
    OR,
    /** Days that the first picks and the second does not. */
    EXCEPT
  }

  /** Two rules combined. */
  record Joined(DayRule left, Joint joint, DayRule right) implements DayRule {
    @Override
    public List<DayRule> parts() {
      return List.of(left, right);
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      DaySet picked = left.pick(days.from(), days.to(), calendars);
      DaySet other = right.pick(days.from(), days.to(), calendars);
      days.or(
          switch (joint) {
            case AND -> picked.and(other);
            case OR -> picked.or(other);
            case EXCEPT -> picked.except(other);
          });
    }

    @Override
    public String toString() {
      return bracketed(left, false) + " " + lower(joint) + " " + bracketed(right, true);
    }

    /** The right side of any joint, and an {@code or} inside {@code and}, needs brackets. */
    private String bracketed(DayRule rule, boolean isRight) {
      if (!(rule instanceof Joined inner)) {
        return rule.toString();
      }
      boolean bindsLooser = inner.joint == Joint.OR && joint != Joint.OR;
      boolean rightOfSame = isRight && (joint != Joint.OR || inner.joint == Joint.OR);
      return bindsLooser || rightOfSame ? "(" + inner + ")" : inner.toString();
    }
  }

  /** A constant's name as it stands in a rule. */
  static String lower(Enum<?> value) {
    return value.name().toLowerCase(Locale.ROOT);
  }
}

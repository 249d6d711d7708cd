package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.MonthDay;
import java.time.temporal.ChronoUnit;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * An expression that picks days. {@code docs/day-rules.md} says what each form means; {@link
 * #toString()} prints the canonical form, which parses back to an equal rule.
 */
public sealed interface DayRule {

  /** Every calendar name that the rule mentions. */
  Set<String> calendars();

  /** Adds the days of the set's span that the rule picks. */
  void pickInto(DaySet days, Calendars calendars);

  /**
   * Picks days.
   *
   * @param from the first date looked at
   * @param to the last date looked at
   * @throws IllegalArgumentException where the rule names an unknown calendar
   */
  default DaySet pick(LocalDate from, LocalDate to, Calendars calendars) {
    DaySet days = DaySet.empty(from, to);
    pickInto(days, calendars);
    return days;
  }

  /** All days. */
  record EveryDay() implements DayRule {
    @Override
    public Set<String> calendars() {
      return Set.of();
    }

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
    private static final Set<DayOfWeek> WEEK =
        Set.of(
            DayOfWeek.MONDAY,
            DayOfWeek.TUESDAY,
            DayOfWeek.WEDNESDAY,
            DayOfWeek.THURSDAY,
            DayOfWeek.FRIDAY);
    private static final Set<DayOfWeek> WEEKEND = Set.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY);

    /** Copies the set. */
    public OnWeekdays {
      weekdays = Set.copyOf(weekdays);
    }

    @Override
    public Set<String> calendars() {
      return Set.of();
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (LocalDate day = days.from(); !day.isAfter(days.to()); day = day.plusDays(1)) {
        if (weekdays.contains(day.getDayOfWeek())) {
          days.add(day);
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
      return new TreeSet<>(weekdays).stream().map(DayRule::lower).collect(Collectors.joining(", "));
    }
  }

  /** Working days, or holidays, of a calendar; an empty name means the stream's calendar. */
  record OfCalendar(boolean holidays, String calendar) implements DayRule {
    @Override
    public Set<String> calendars() {
      return calendar.isEmpty() ? Set.of() : Set.of(calendar);
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (LocalDate day = days.from(); !day.isAfter(days.to()); day = day.plusDays(1)) {
        if (holidays
            ? calendars.isHoliday(calendar, day)
            : calendars.isBusinessDay(calendar, day)) {
          days.add(day);
        }
      }
    }

    @Override
    public String toString() {
      return (holidays ? "holidays" : "business days")
          + (calendar.isEmpty() ? "" : " of " + calendar);
    }
  }

  /** The dates from the first to the last, both included; one date where they are the same. */
  record Dates(LocalDate first, LocalDate last) implements DayRule {
    @Override
    public Set<String> calendars() {
      return Set.of();
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      LocalDate start = first.isBefore(days.from()) ? days.from() : first;
      LocalDate end = last.isAfter(days.to()) ? days.to() : last;
      for (LocalDate day = start; !day.isAfter(end); day = day.plusDays(1)) {
        days.add(day);
      }
    }

    @Override
    public String toString() {
      return first.equals(last) ? first.toString() : first + " to " + last;
    }
  }

  /** Days of every year from the first to the last, across the year's end where last is earlier. */
  record Yearly(MonthDay first, MonthDay last) implements DayRule {
    @Override
    public Set<String> calendars() {
      return Set.of();
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      for (LocalDate day = days.from(); !day.isAfter(days.to()); day = day.plusDays(1)) {
        MonthDay now = MonthDay.from(day);
        boolean afterFirst = now.compareTo(first) >= 0;
        boolean beforeLast = now.compareTo(last) <= 0;
        if (first.compareTo(last) <= 0 ? afterFirst && beforeLast : afterFirst || beforeLast) {
          days.add(day);
        }
      }
    }

    @Override
    public String toString() {
      return first.equals(last) ? print(first) : print(first) + " to " + print(last);
    }

    private static String print(MonthDay day) {
      return day.getDayOfMonth() + " " + lower(day.getMonth());
    }
  }

  /** What an ordinal counts within a period. */
  sealed interface Counted {
    /** Whether the day is one that counts. */
    boolean counts(LocalDate day, Calendars calendars);

    /** Days of any kind. */
    record AnyDay() implements Counted {
      @Override
      public boolean counts(LocalDate day, Calendars calendars) {
        return true;
      }

      @Override
      public String toString() {
        return "day";
      }
    }

    /** Business days of the calendar that is meant. */
    record BusinessDay() implements Counted {
      @Override
      public boolean counts(LocalDate day, Calendars calendars) {
        return calendars.isBusinessDay("", day);
      }

      @Override
      public String toString() {
        return "business day";
      }
    }

    /** A day of the week. */
    record Weekday(DayOfWeek weekday) implements Counted {
      @Override
      public boolean counts(LocalDate day, Calendars calendars) {
        return day.getDayOfWeek() == weekday;
      }

      @Override
      public String toString() {
        return lower(weekday);
      }
    }
  }

  /** A period in which days are counted. */
  enum Period {
    /** Monday to Sunday (ISO 8601). */
    WEEK,
    /** A calendar month. */
    MONTH,
    /** Three months from January, April, July or October. */
    QUARTER,
    /** A calendar year. */
    YEAR;

    LocalDate startOf(LocalDate day) {
      return switch (this) {
        case WEEK -> day.minusDays(day.getDayOfWeek().getValue() - 1L);
        case MONTH -> day.withDayOfMonth(1);
        case QUARTER -> LocalDate.of(day.getYear(), day.getMonth().firstMonthOfQuarter(), 1);
        case YEAR -> day.withDayOfYear(1);
      };
    }

    LocalDate next(LocalDate start) {
      return switch (this) {
        case WEEK -> start.plusWeeks(1);
        case MONTH -> start.plusMonths(1);
        case QUARTER -> start.plusMonths(3);
        case YEAR -> start.plusYears(1);
      };
    }
  }

  /**
   * The nth day of each period, from its start ({@code nth > 0}) or from its end ({@code nth < 0}:
   * -1 is the last). A period with too few such days picks nothing.
   */
  record NthOf(int nth, Counted counted, Period period) implements DayRule {
    @Override
    public Set<String> calendars() {
      return Set.of();
    }

    @Override
    public void pickInto(DaySet days, Calendars calendars) {
      LocalDate start = period.startOf(days.from());
      while (!start.isAfter(days.to())) {
        LocalDate next = period.next(start);
        pickIn(start, next.minusDays(1), days, calendars);
        start = next;
      }
    }

    private void pickIn(LocalDate first, LocalDate last, DaySet days, Calendars calendars) {
      int left = Math.abs(nth);
      long length = ChronoUnit.DAYS.between(first, last) + 1;
      for (long i = 0; i < length; i++) {
        LocalDate day = nth > 0 ? first.plusDays(i) : last.minusDays(i);
        if (counted.counts(day, calendars) && --left == 0) {
          days.add(day);
          return;
        }
      }
    }

    @Override
    public String toString() {
      String ordinal = nth == -1 ? "last" : nth < 0 ? ordinal(-nth) + " last" : ordinal(nth);
      return ordinal + " " + counted + " of " + lower(period);
    }

    private static String ordinal(int n) {
      String ending =
          switch (n % 100 / 10 == 1 ? 0 : n % 10) {
            case 1 -> "st";
            case 2 -> "nd";
            case 3 -> "rd";
            default -> "th";
          };
      return n + ending;
    }
  }

  /** How two rules combine. */
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
    public Set<String> calendars() {
      Set<String> all = new TreeSet<>(left.calendars());
      all.addAll(right.calendars());
      return all;
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

  private static String lower(Enum<?> value) {
    return value.name().toLowerCase(Locale.ROOT);
  }
}

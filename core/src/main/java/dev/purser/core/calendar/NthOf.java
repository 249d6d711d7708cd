package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The nth days of each period, from its start ({@code nth > 0}) or from its end ({@code nth < 0}:
 * -1 is the last). A period with too few such days picks nothing.
 *
 * @param nths none is 0
 */
public record NthOf(List<Integer> nths, Counted counted, Within within) implements DayRule {
  /** Copies the list. */
  public NthOf {
    nths = List.copyOf(nths);
  }

  /** What an ordinal counts within a period. */
  public sealed interface Counted {

    /** Days of any kind. */
    record AnyDay() implements Counted {
      @Override
      public String toString() {
        return "day";
      }
    }

    /** Business days of a calendar; an empty name means the stream's calendar. */
    record BusinessDay(String calendar) implements Counted {
      @Override
      public String toString() {
        return "business day" + (calendar.isEmpty() ? "" : " of " + calendar);
      }
    }

    /** Monday to Friday, whatever a calendar says. */
    record AnyWeekday() implements Counted {
      @Override
      public String toString() {
        return "weekday";
      }
    }

    /** A day of the week. */
    record Weekday(DayOfWeek weekday) implements Counted {
      @Override
      public String toString() {
        return DayRule.lower(weekday);
      }
    }

    /** The days that are counted, as a rule. */
    default DayRule asRule() {
      if (this instanceof BusinessDay business) {
        return new DayRule.OfCalendar(false, business.calendar());
      }
      if (this instanceof Weekday on) {
        return new DayRule.OnWeekdays(Set.of(on.weekday()));
      }
      return this instanceof AnyDay
          ? new DayRule.EveryDay()
          : new DayRule.OnWeekdays(DayRule.OnWeekdays.WEEK);
    }
  }

  /** A period in which days are counted. */
  public sealed interface Within permits Unit, Named {
    /** The periods that touch a span of dates, in order. */
    List<DayRule.Span> touching(LocalDate from, LocalDate to, Calendars calendars);
  }

  /** A period of the common calendar. */
  public enum Unit implements Within {
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

    @Override
    public List<DayRule.Span> touching(LocalDate from, LocalDate to, Calendars calendars) {
      List<DayRule.Span> periods = new java.util.ArrayList<>();
      LocalDate start = startOf(from);
      while (!start.isAfter(to)) {
        LocalDate next = next(start);
        periods.add(new DayRule.Span(start, next.minusDays(1)));
        start = next;
      }
      return periods;
    }

    @Override
    public String toString() {
      return DayRule.lower(this);
    }
  }

  /** A period that is defined by a name, such as a trading month. */
  public record Named(String name) implements Within {
    @Override
    public List<DayRule.Span> touching(LocalDate from, LocalDate to, Calendars calendars) {
      return calendars
          .period(name)
          .orElseThrow(() -> new IllegalArgumentException("there is no period " + name))
          .touching(from, to, calendars);
    }

    @Override
    public String toString() {
      return name;
    }
  }

  @Override
  public Set<String> calendars() {
    return counted.asRule().calendars();
  }

  @Override
  public Set<String> periods() {
    return within instanceof Named named ? Set.of(named.name()) : Set.of();
  }

  @Override
  public boolean looksAtStandard() {
    return counted.asRule().looksAtStandard();
  }

  @Override
  public void pickInto(DaySet days, Calendars calendars) {
    List<DayRule.Span> periods = within.touching(days.from(), days.to(), calendars);
    if (counted instanceof Counted.AnyDay) {
      periods.forEach(period -> pickAnyDay(period, days));
    } else if (counted instanceof Counted.Weekday on) {
      periods.forEach(period -> pickWeekday(period, on.weekday(), days));
    } else if (!periods.isEmpty()) {
      LocalDate first = periods.get(0).first();
      LocalDate last = periods.get(periods.size() - 1).last();
      DaySet candidates = counted.asRule().pick(first, last, calendars);
      periods.forEach(period -> pickFrom(candidates, period, days));
    }
  }

  private void pickAnyDay(DayRule.Span period, DaySet days) {
    long length = period.last().toEpochDay() - period.first().toEpochDay() + 1;
    for (int nth : nths) {
      if (Math.abs(nth) <= length) {
        days.addAt(
            nth > 0
                ? days.indexOf(period.first()) + nth - 1
                : days.indexOf(period.last()) + nth + 1);
      }
    }
  }

  private void pickWeekday(DayRule.Span period, DayOfWeek weekday, DaySet days) {
    for (int nth : nths) {
      LocalDate edge = nth > 0 ? period.first() : period.last();
      int gap = weekday.getValue() - edge.getDayOfWeek().getValue();
      LocalDate day =
          nth > 0
              ? edge.plusDays((gap + 7) % 7 + 7L * (nth - 1))
              : edge.minusDays((7 - gap) % 7 + 7L * (-nth - 1));
      if (period.contains(day)) {
        days.add(day);
      }
    }
  }

  private void pickFrom(DaySet candidates, DayRule.Span period, DaySet days) {
    int first = (int) candidates.indexOf(period.first());
    int last = (int) candidates.indexOf(period.last());
    for (int nth : nths) {
      int at = candidates.nthBetween(first, last, nth);
      if (at >= 0) {
        days.addAt(at + shift(candidates, days));
      }
    }
  }

  /** What turns an index of one set into that of another. */
  private static long shift(DaySet candidates, DaySet days) {
    return days.indexOf(candidates.from());
  }

  @Override
  public String toString() {
    return nths.stream().map(NthOf::ordinal).collect(Collectors.joining(", "))
        + " "
        + counted
        + " of "
        + within;
  }

  /** An ordinal in words: 2nd, last, 3rd last. */
  static String ordinal(int nth) {
    return nth == -1 ? "last" : nth < 0 ? fromStart(-nth) + " last" : fromStart(nth);
  }

  private static String fromStart(int n) {
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

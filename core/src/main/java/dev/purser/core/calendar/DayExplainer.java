package dev.purser.core.calendar;

import java.time.LocalDate;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** Says why a rule picks a day or does not, as a tree. */
public final class DayExplainer {
  private final Calendars calendars;
  private final LocalDate day;

  private DayExplainer(Calendars calendars, LocalDate day) {
    this.calendars = calendars;
    this.day = day;
  }

  /**
   * A reason.
   *
   * @param picked whether this part of the rule picks the day
   * @param rule the part, in canonical form
   * @param text why, in words
   * @param below the reasons of the parts of this part
   */
  public record Reason(boolean picked, String rule, String text, List<Reason> below) {
    /** Copies the list. */
    public Reason {
      below = List.copyOf(below);
    }
  }

  /**
   * Explains why a rule picks a day, or does not.
   *
   * @return a tree in the shape of the rule; its root says whether the day is picked
   * @throws IllegalArgumentException where the rule names a calendar that is not there
   */
  public static Reason explain(DayRule rule, LocalDate day, Calendars calendars) {
    return new DayExplainer(calendars, day).explain(rule);
  }

  /** The reason in one line: that of the part that decides. */
  public static String inOneLine(Reason reason) {
    Reason part = reason;
    while (true) {
      boolean picked = part.picked();
      Optional<Reason> decides =
          part.below().stream().filter(below -> below.picked() == picked).findFirst();
      if (part.below().size() < 2 || decides.isEmpty()) {
        return part.text();
      }
      part = decides.get();
    }
  }

  private Reason explain(DayRule rule) {
    boolean picked = rule.pick(day, day, calendars).contains(day);
    List<Reason> below = new ArrayList<>();
    if (rule instanceof DayRule.Joined joined) {
      below.add(explain(joined.left()));
      below.add(explain(joined.right()));
    }
    return new Reason(picked, rule.toString(), text(rule, picked, below), below);
  }

  private String text(DayRule rule, boolean picked, List<Reason> below) {
    if (rule instanceof DayRule.Joined joined) {
      return joined(joined, picked, below);
    }
    if (rule instanceof DayRule.OfCalendar of) {
      return of.holidays() ? holiday(of.calendar(), picked) : businessDay(of.calendar());
    }
    if (rule instanceof NthOf nth) {
      return nthOf(nth, picked);
    }
    if (rule instanceof Moved moved) {
      return moved(moved, picked);
    }
    if (rule instanceof Shifted shifted) {
      return shifted(shifted, picked);
    }
    if (rule instanceof DayRule.OnWeekdays) {
      return "it is a " + weekday(day);
    }
    if (rule instanceof DayRule.EveryDay) {
      return "every day is picked";
    }
    if (rule instanceof DayRule.Easter) {
      return "Easter Sunday is " + DayRule.Easter.of(day.getYear());
    }
    return nearest(rule, picked);
  }

  private static String joined(DayRule.Joined joined, boolean picked, List<Reason> below) {
    boolean left = below.get(0).picked();
    boolean right = below.get(1).picked();
    return switch (joined.joint()) {
      case AND ->
          picked
              ? "both parts pick it"
              : !left && !right ? "neither part picks it" : "only one of both parts picks it";
      case OR ->
          !picked
              ? "neither part picks it"
              : left && right ? "both parts pick it" : "one part picks it";
      case EXCEPT ->
          picked
              ? "it is picked, and not excepted"
              : left ? "excepted: " + inOneLine(below.get(1)) : "the first part does not pick it";
    };
  }

  private String businessDay(String calendar) {
    String name = calendar.isEmpty() ? calendars.standard() : calendar;
    boolean worked = calendars.isBusinessDay(name, day);
    Optional<String> holiday = calendars.isHoliday(name, day) ? holidayOf(name) : Optional.empty();
    boolean usual =
        calendars
            .business(name)
            .map(found -> found.working().pick(day, day, calendars.meaning("monday-to-friday")))
            .filter(days -> days.contains(day))
            .isPresent();
    String which = "a " + weekday(day) + (holiday.isPresent() ? ", " + holiday.get() : "");
    if (worked) {
      return usual && holiday.isEmpty()
          ? "it is a business day of " + name + " (" + weekday(day) + ")"
          : "it is " + which + ", but a working day all the same in " + name;
    }
    return holiday.isPresent()
        ? "it is " + holiday.get() + ", closed in " + name
        : "it is a " + weekday(day) + ", on which " + name + " does not work";
  }

  /** The holiday's name, and the calendar that it comes from. */
  private Optional<String> holidayOf(String calendar) {
    String from =
        calendars.withAllBelow(calendar).stream()
            .filter(name -> calendars.holidayNames().contains(name))
            .filter(name -> calendars.isHoliday(name, day))
            .findFirst()
            .orElse(calendar);
    String name = calendars.holidayName(calendar, day).orElse("");
    return Optional.of((name.isEmpty() ? "a holiday" : name) + " (" + from + ")");
  }

  private String holiday(String calendar, boolean picked) {
    String name = calendar.isEmpty() ? calendars.standard() : calendar;
    return picked
        ? "it is " + holidayOf(name).orElse("a holiday")
        : "it is not a holiday of " + name;
  }

  private String nthOf(NthOf rule, boolean picked) {
    List<DayRule.Span> periods = rule.within().touching(day, day, calendars);
    if (periods.isEmpty()) {
      return "no " + rule.within() + " is known there";
    }
    DayRule.Span period = periods.get(0);
    String in = " of the " + rule.within() + " " + period;
    if (picked) {
      return "it is the " + ordinal(rule, period) + " " + rule.counted() + in;
    }
    String which =
        rule.nths().stream().map(NthOf::ordinal).collect(Collectors.joining(", "))
            + " "
            + rule.counted();
    List<LocalDate> days = rule.pick(period.first(), period.last(), calendars).days();
    String there =
        days.isEmpty()
            ? "there is no " + which + in
            : "the "
                + which
                + in
                + (days.size() == 1 ? " is " : " are ")
                + days.stream().map(LocalDate::toString).collect(Collectors.joining(", "));
    boolean counts = rule.counted().asRule().pick(day, day, calendars).contains(day);
    return counts
        ? there
        : there + "; this is not a " + rule.counted() + ": " + reasonAgainst(rule.counted());
  }

  /** Which of several ordinals picks the day. */
  private String ordinal(NthOf rule, DayRule.Span period) {
    return rule.nths().stream()
        .filter(
            nth ->
                new NthOf(List.of(nth), rule.counted(), rule.within())
                    .pick(period.first(), period.last(), calendars)
                    .contains(day))
        .map(NthOf::ordinal)
        .findFirst()
        .orElse("");
  }

  private String reasonAgainst(NthOf.Counted counted) {
    return counted instanceof NthOf.Counted.BusinessDay business
        ? businessDay(business.calendar())
        : "it is a " + weekday(day);
  }

  private String moved(Moved rule, boolean picked) {
    LocalDate first = calendars.reach(rule.calendar(), day, -1);
    LocalDate last = calendars.reach(rule.calendar(), day, 1);
    List<LocalDate> origins = rule.rule().pick(first, last, calendars).days();
    if (picked) {
      List<String> from =
          origins.stream()
              .filter(origin -> !calendars.isBusinessDay(rule.calendar(), origin))
              .filter(origin -> rule.target(origin, calendars).equals(day))
              .map(origin -> origin + " (" + whyClosed(rule.calendar(), origin) + ")")
              .toList();
      return from.isEmpty()
          ? "picked by \"" + rule.rule() + "\", and a business day, so it stays"
          : "moved here from " + String.join(" and ", from);
    }
    return origins.contains(day)
        ? "picked by \""
            + rule.rule()
            + "\", but moved to "
            + rule.target(day, calendars)
            + ": "
            + businessDay(rule.calendar())
        : nearest(rule, false);
  }

  private String whyClosed(String calendar, LocalDate origin) {
    return new DayExplainer(calendars, origin).businessDay(calendar).replaceFirst("^it is ", "");
  }

  private String shifted(Shifted rule, boolean picked) {
    if (!picked) {
      return nearest(rule, false);
    }
    int days = rule.by() * (rule.businessDays() ? 40 : 1) + 40;
    return rule.rule().pick(day.minusDays(days), day.plusDays(days), calendars).days().stream()
        .filter(origin -> rule.target(origin, calendars).equals(day))
        .findFirst()
        .map(origin -> rule.howFar() + " " + origin + " (" + weekday(origin) + ")")
        .orElse("picked");
  }

  /** What is picked around a day. */
  private String nearest(DayRule rule, boolean picked) {
    if (picked) {
      return "it is one of the days";
    }
    DaySet around = rule.pick(day.minusYears(2), day.plusYears(2), calendars);
    List<LocalDate> days = around.days();
    List<LocalDate> before = days.stream().filter(d -> d.isBefore(day)).toList();
    Optional<LocalDate> after = days.stream().filter(d -> d.isAfter(day)).findFirst();
    if (days.isEmpty()) {
      return "it picks no day within two years of it";
    }
    return "it is not one of the days"
        + (before.isEmpty() ? "" : "; the one before is " + before.get(before.size() - 1))
        + after.map(next -> "; the next is " + next).orElse("");
  }

  private static String weekday(LocalDate date) {
    return date.getDayOfWeek().getDisplayName(TextStyle.FULL, Locale.ENGLISH);
  }
}

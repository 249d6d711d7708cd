package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;

/**
 * All calendars and named periods by name, and the days of each: worked out once for sixteen years
 * at a time, and kept.
 */
public final class Calendars {
  /** No calendar but Monday to Friday. */
  public static final Calendars NONE = new Calendars(Map.of(), Map.of(), Map.of());

  /** Stands for a business day that a calendar does not have. */
  public static final LocalDate NONE_AFTER = LocalDate.of(9999, 12, 31);

  /** Stands for a business day that a calendar does not have. */
  public static final LocalDate NONE_BEFORE = LocalDate.of(1, 1, 1);

  private static final int YEARS_SHIFT = 4; // a block is 16 years
  private static final int FURTHEST_DAYS = 15_000; // where no business day is found any more

  private final Map<String, HolidayCalendar> holidayCalendars;
  private final Map<String, BusinessCalendar> businessCalendars;
  private final Map<String, NamedPeriod> periods;
  private final String standard;
  private final Map<Key, Block> blocks;

  /** A calendar's days of sixteen years. */
  private record Key(boolean holidays, String name, int block) {}

  /** The days, and for holidays their names. */
  private record Block(DaySet days, Map<LocalDate, String> names) {}

  /**
   * Takes the calendars and periods by name.
   *
   * @param holidayCalendars by their names; a name may be in the second too, which a check refuses
   * @param businessCalendars by their names
   * @param periods by their names, without those that are always there (week, month, quarter, year)
   */
  public Calendars(
      Map<String, HolidayCalendar> holidayCalendars,
      Map<String, BusinessCalendar> businessCalendars,
      Map<String, NamedPeriod> periods) {
    this(
        Map.copyOf(holidayCalendars),
        withStandard(businessCalendars),
        Map.copyOf(periods),
        BusinessCalendar.MONDAY_TO_FRIDAY.name(),
        new ConcurrentHashMap<>());
  }

  private Calendars(
      Map<String, HolidayCalendar> holidayCalendars,
      Map<String, BusinessCalendar> businessCalendars,
      Map<String, NamedPeriod> periods,
      String standard,
      Map<Key, Block> blocks) {
    this.holidayCalendars = holidayCalendars;
    this.businessCalendars = businessCalendars;
    this.periods = periods;
    this.standard = standard;
    this.blocks = blocks;
  }

  private static Map<String, BusinessCalendar> withStandard(Map<String, BusinessCalendar> given) {
    Map<String, BusinessCalendar> all = new HashMap<>(given);
    all.putIfAbsent(BusinessCalendar.MONDAY_TO_FRIDAY.name(), BusinessCalendar.MONDAY_TO_FRIDAY);
    return Map.copyOf(all);
  }

  /** The same calendars, where a rule that names none means {@code calendar}. */
  public Calendars meaning(String calendar) {
    return calendar.equals(standard)
        ? this
        : new Calendars(holidayCalendars, businessCalendars, periods, calendar, blocks);
  }

  /** The calendar that a rule means that names none. */
  public String standard() {
    return standard;
  }

  /** Names of the holiday calendars. */
  public Set<String> holidayNames() {
    return holidayCalendars.keySet();
  }

  /** Names of the business calendars, Monday to Friday among them. */
  public Set<String> businessNames() {
    return businessCalendars.keySet();
  }

  /** Names of both kinds, in order. */
  public Set<String> names() {
    Set<String> both = new TreeSet<>(businessNames());
    both.addAll(holidayNames());
    return both;
  }

  /** Names of the periods. */
  public Set<String> periodNames() {
    return periods.keySet();
  }

  /** The holiday calendar of a name. */
  public Optional<HolidayCalendar> holidays(String name) {
    return Optional.ofNullable(holidayCalendars.get(name));
  }

  /** The business calendar of a name. */
  public Optional<BusinessCalendar> business(String name) {
    return Optional.ofNullable(businessCalendars.get(name));
  }

  /** The period of a name. */
  public Optional<NamedPeriod> period(String name) {
    return Optional.ofNullable(periods.get(name));
  }

  /**
   * Whether a day is worked.
   *
   * @param calendar a business calendar's name; empty for the one that is meant where none is named
   * @throws IllegalArgumentException where there is no such calendar
   */
  public boolean isBusinessDay(String calendar, LocalDate day) {
    return block(false, orStandard(calendar), blockOf(day)).days().contains(day);
  }

  /**
   * Whether a day is a holiday of a holiday calendar, or of those that a business calendar leaves
   * out.
   *
   * @throws IllegalArgumentException where there is no such calendar
   */
  public boolean isHoliday(String calendar, LocalDate day) {
    return block(true, orStandard(calendar), blockOf(day)).days().contains(day);
  }

  /**
   * The name of the holiday on a day.
   *
   * @param calendar a holiday or business calendar
   * @return empty where the day is none
   * @throws IllegalArgumentException where there is no such calendar
   */
  public Optional<String> holidayName(String calendar, LocalDate day) {
    return Optional.ofNullable(block(true, orStandard(calendar), blockOf(day)).names().get(day));
  }

  /**
   * The nth business day after a day, or before it.
   *
   * @param n counted from the day, which does not count itself; negative for earlier ones
   * @return {@link #NONE_AFTER} or {@link #NONE_BEFORE} where the calendar has too few
   */
  public LocalDate businessDay(String calendar, LocalDate day, int n) {
    String name = orStandard(calendar);
    LocalDate from = day.plusDays(Integer.signum(n));
    int left = Math.abs(n);
    while (Math.abs(from.toEpochDay() - day.toEpochDay()) < FURTHEST_DAYS) {
      DaySet days = block(false, name, blockOf(from)).days();
      int start = (int) days.indexOf(from);
      int first = n > 0 ? start : 0;
      int last = n > 0 ? days.length() - 1 : start;
      int at = days.nthBetween(first, last, n > 0 ? left : -left);
      if (at >= 0) {
        return days.from().plusDays(at);
      }
      left -= days.over(days.from().plusDays(first), days.from().plusDays(last)).size();
      from = n > 0 ? days.to().plusDays(1) : days.from().minusDays(1);
    }
    return n > 0 ? NONE_AFTER : NONE_BEFORE;
  }

  /** The same, but never further away than rules look for a business day. */
  LocalDate reach(String calendar, LocalDate day, int n) {
    LocalDate found = businessDay(calendar, day, n);
    LocalDate first = day.minusDays(FURTHEST_DAYS);
    LocalDate last = day.plusDays(FURTHEST_DAYS);
    return found.isBefore(first) ? first : found.isAfter(last) ? last : found;
  }

  void businessDaysInto(String calendar, DaySet days) {
    into(false, orStandard(calendar), days);
  }

  void holidaysInto(String calendar, DaySet days) {
    into(true, orStandard(calendar), days);
  }

  /**
   * The closed days of a holiday or business calendar with their names, in order.
   *
   * @param from the first day looked at
   * @param to the last, included
   * @throws IllegalArgumentException where there is no such calendar
   */
  public NavigableMap<LocalDate, String> closedDays(String calendar, LocalDate from, LocalDate to) {
    TreeMap<LocalDate, String> all = new TreeMap<>();
    for (int block = blockOf(from); block <= blockOf(to); block++) {
      all.putAll(block(true, orStandard(calendar), block).names());
    }
    return new TreeMap<>(all.subMap(from, true, to, true));
  }

  private void into(boolean holidays, String name, DaySet days) {
    for (int block = blockOf(days.from()); block <= blockOf(days.to()); block++) {
      days.orWithin(block(holidays, name, block).days());
    }
  }

  private String orStandard(String calendar) {
    return calendar.isEmpty() ? standard : calendar;
  }

  private static int blockOf(LocalDate day) {
    return day.getYear() >> YEARS_SHIFT;
  }

  /** Not computeIfAbsent: a calendar that is built on another comes back here for that one. */
  private Block block(boolean holidays, String name, int number) {
    Key key = new Key(holidays, name, number);
    Block known = blocks.get(key);
    if (known == null) {
      LocalDate from = LocalDate.of(number << YEARS_SHIFT, 1, 1);
      LocalDate to = LocalDate.of(((number + 1) << YEARS_SHIFT) - 1, 12, 31);
      Calendars inside = meaning(BusinessCalendar.MONDAY_TO_FRIDAY.name());
      known = holidays ? inside.closed(name, from, to) : inside.worked(name, from, to);
      blocks.put(key, known);
    }
    return known;
  }

  private Block worked(String name, LocalDate from, LocalDate to) {
    BusinessCalendar calendar =
        business(name).orElseThrow(() -> new IllegalArgumentException("no calendar " + name));
    DaySet days = calendar.working().pick(from, to, this);
    for (String holidays : calendar.without()) {
      days.except(new DayRule.OfCalendar(true, holidays).pick(from, to, this));
    }
    for (DayRule extra : calendar.extra()) {
      days.or(extra.pick(from, to, this));
    }
    return new Block(days, Map.of());
  }

  private Block closed(String name, LocalDate from, LocalDate to) {
    TreeMap<LocalDate, String> named = new TreeMap<>();
    HolidayCalendar direct = holidayCalendars.get(name);
    if (direct != null) {
      named.putAll(direct.closed(from, to, this));
    } else {
      BusinessCalendar calendar =
          business(name).orElseThrow(() -> new IllegalArgumentException("no calendar " + name));
      for (String holidays : calendar.without()) {
        closedDays(holidays, from, to).forEach(named::putIfAbsent);
      }
      for (String base : calendar.working().calendars()) {
        closedDays(base, from, to).forEach(named::putIfAbsent);
      }
    }
    DaySet days = DaySet.empty(from, to);
    named.keySet().forEach(days::add);
    return new Block(days, named);
  }

  /** The calendars that one is built on directly, by name. */
  public Set<String> builtOn(String name) {
    Set<String> on = new TreeSet<>();
    business(name)
        .ifPresent(
            calendar -> {
              on.addAll(calendar.without());
              on.addAll(calendar.working().calendars());
              calendar.extra().forEach(extra -> on.addAll(extra.calendars()));
            });
    holidays(name)
        .ifPresent(
            calendar -> {
              on.addAll(calendar.with());
              calendar.holidays().forEach(holiday -> on.addAll(holiday.days().calendars()));
            });
    return on;
  }

  /** The named periods that a calendar counts in. */
  public Set<String> periodsOf(String name) {
    Set<String> found = new TreeSet<>();
    business(name)
        .ifPresent(
            calendar -> {
              found.addAll(calendar.working().periods());
              calendar.extra().forEach(extra -> found.addAll(extra.periods()));
            });
    holidays(name)
        .ifPresent(
            calendar -> calendar.holidays().forEach(day -> found.addAll(day.days().periods())));
    return found;
  }

  /** What a calendar, or a period written as {@code period NAME}, is built on, in the same form. */
  public Set<String> leansOn(String node) {
    Set<String> on = new TreeSet<>();
    Set<String> inPeriods = new TreeSet<>();
    if (node.startsWith("period ")) {
      Optional<NamedPeriod> period = period(node.substring("period ".length()));
      period.ifPresent(found -> on.addAll(found.starts().calendars()));
      period.ifPresent(found -> inPeriods.addAll(found.starts().periods()));
    } else {
      on.addAll(builtOn(node));
      inPeriods.addAll(periodsOf(node));
    }
    inPeriods.forEach(name -> on.add("period " + name));
    return on;
  }

  /** A calendar, and all that it is built on, at any depth. */
  public Set<String> withAllBelow(String name) {
    Set<String> all = new TreeSet<>();
    Deque<String> open = new ArrayDeque<>(List.of(name));
    while (!open.isEmpty()) {
      String next = open.remove();
      if (all.add(next)) {
        open.addAll(builtOn(next));
      }
    }
    return all;
  }

  /** How far a calendar and all that it is built on are good; empty where that has no end. */
  public Optional<LocalDate> knownTo(String name) {
    Set<LocalDate> ends = new HashSet<>();
    for (String one : withAllBelow(name)) {
      business(one).flatMap(calendar -> calendar.good().knownTo()).ifPresent(ends::add);
      holidays(one).flatMap(calendar -> calendar.good().knownTo()).ifPresent(ends::add);
      periodsOf(one)
          .forEach(period -> period(period).flatMap(p -> p.good().knownTo()).ifPresent(ends::add));
    }
    return ends.stream().min(LocalDate::compareTo);
  }

  /** Every calendar that a rule looks at, directly or through another, as it is meant here. */
  public Set<String> lookedAtBy(DayRule rule) {
    Set<String> all = new TreeSet<>();
    for (String name : rule.calendars()) {
      all.addAll(withAllBelow(name));
    }
    if (rule.looksAtStandard()) {
      all.addAll(withAllBelow(standard));
    }
    return all;
  }

  /** How far the days of a rule are known; what lies after is a guess. Empty where without end. */
  public Optional<LocalDate> knownTo(DayRule rule) {
    Set<LocalDate> ends = new HashSet<>();
    for (String name : rule.calendars()) {
      knownTo(name).ifPresent(ends::add);
    }
    if (rule.looksAtStandard()) {
      knownTo(standard).ifPresent(ends::add);
    }
    for (String name : rule.periods()) {
      period(name).flatMap(period -> period.good().knownTo()).ifPresent(ends::add);
    }
    return ends.stream().min(LocalDate::compareTo);
  }
}

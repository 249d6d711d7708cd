package dev.purser.core.calendar;

import java.time.LocalDate;
import java.time.Year;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** All calendars by name, and the days of each, worked out once a year and kept. */
public final class Calendars {
  /** No calendar but Monday to Friday. */
  public static final Calendars NONE = new Calendars(Map.of(), Map.of());

  private final Map<String, HolidayCalendar> holidayCalendars;
  private final Map<String, BusinessCalendar> businessCalendars;
  private final String standard;
  private final Map<String, DaySet> years;

  /** Takes the calendars by name. */
  public Calendars(
      Map<String, HolidayCalendar> holidayCalendars,
      Map<String, BusinessCalendar> businessCalendars) {
    this(Map.copyOf(holidayCalendars), withStandard(businessCalendars), standardName(), newCache());
  }

  private Calendars(
      Map<String, HolidayCalendar> holidayCalendars,
      Map<String, BusinessCalendar> businessCalendars,
      String standard,
      Map<String, DaySet> years) {
    this.holidayCalendars = holidayCalendars;
    this.businessCalendars = businessCalendars;
    this.standard = standard;
    this.years = years;
  }

  private static String standardName() {
    return BusinessCalendar.MONDAY_TO_FRIDAY.name();
  }

  private static Map<String, DaySet> newCache() {
    return new ConcurrentHashMap<>();
  }

  private static Map<String, BusinessCalendar> withStandard(Map<String, BusinessCalendar> given) {
    Map<String, BusinessCalendar> all = new HashMap<>(given);
    all.putIfAbsent(standardName(), BusinessCalendar.MONDAY_TO_FRIDAY);
    return Map.copyOf(all);
  }

  /** The same calendars, where a rule that names none means {@code calendar}. */
  public Calendars meaning(String calendar) {
    return new Calendars(holidayCalendars, businessCalendars, calendar, years);
  }

  /** Names of the holiday calendars. */
  public Set<String> holidayNames() {
    return holidayCalendars.keySet();
  }

  /** Names of the business calendars, Monday to Friday among them. */
  public Set<String> businessNames() {
    return businessCalendars.keySet();
  }

  /** The holiday calendar of a name. */
  public Optional<HolidayCalendar> holidays(String name) {
    return Optional.ofNullable(holidayCalendars.get(name));
  }

  /** The business calendar of a name. */
  public Optional<BusinessCalendar> business(String name) {
    return Optional.ofNullable(businessCalendars.get(name));
  }

  /**
   * Whether a day is worked.
   *
   * @param calendar a business calendar's name; empty for the one that is meant where none is named
   * @throws IllegalArgumentException where there is no such calendar
   */
  public boolean isBusinessDay(String calendar, LocalDate day) {
    String name = calendar.isEmpty() ? standard : calendar;
    return years
        .computeIfAbsent("business " + name + " " + day.getYear(), key -> workedIn(name, day))
        .contains(day);
  }

  /**
   * Whether a day is a holiday of a holiday calendar, or of those that a business calendar leaves
   * out.
   *
   * @throws IllegalArgumentException where there is no such calendar
   */
  public boolean isHoliday(String calendar, LocalDate day) {
    String name = calendar.isEmpty() ? standard : calendar;
    return years
        .computeIfAbsent("holidays " + name + " " + day.getYear(), key -> closedIn(name, day))
        .contains(day);
  }

  /** The name of the holiday on a day, by a holiday or business calendar; empty if it is none. */
  public Optional<String> holidayName(String calendar, LocalDate day) {
    HolidayCalendar direct = holidayCalendars.get(calendar);
    if (direct != null) {
      return direct.holidayOn(day);
    }
    return business(calendar).stream()
        .flatMap(found -> found.without().stream())
        .flatMap(name -> holidays(name).stream())
        .flatMap(found -> found.holidayOn(day).stream())
        .findFirst();
  }

  private DaySet workedIn(String name, LocalDate day) {
    BusinessCalendar calendar =
        business(name).orElseThrow(() -> new IllegalArgumentException("no calendar " + name));
    Year year = Year.from(day);
    DaySet days = DaySet.empty(year.atDay(1), year.atDay(year.length()));
    for (LocalDate d = days.from(); !d.isAfter(days.to()); d = d.plusDays(1)) {
      if (calendar.working().contains(d.getDayOfWeek())) {
        days.add(d);
      }
    }
    for (String holidays : calendar.without()) {
      holidays(holidays).ifPresent(found -> days.except(found.closed(days.from(), days.to())));
    }
    calendar.extra().forEach(days::add);
    return days;
  }

  private DaySet closedIn(String name, LocalDate day) {
    Year year = Year.from(day);
    DaySet days = DaySet.empty(year.atDay(1), year.atDay(year.length()));
    HolidayCalendar direct = holidayCalendars.get(name);
    if (direct != null) {
      return days.or(direct.closed(days.from(), days.to()));
    }
    BusinessCalendar calendar =
        business(name).orElseThrow(() -> new IllegalArgumentException("no calendar " + name));
    for (String holidays : calendar.without()) {
      holidays(holidays).ifPresent(found -> days.or(found.closed(days.from(), days.to())));
    }
    return days;
  }
}

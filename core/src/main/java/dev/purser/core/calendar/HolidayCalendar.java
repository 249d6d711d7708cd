package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;

/**
 * Days on which something is closed, each with the name that people know it by.
 *
 * @param name the calendar's name
 * @param title what people call it
 * @param holidays the closed days
 */
public record HolidayCalendar(String name, String title, List<Holiday> holidays) {

  /** Copies the list. */
  public HolidayCalendar {
    holidays = List.copyOf(holidays);
  }

  /**
   * A closed day, range of days or yearly day.
   *
   * @param days which days, as a day rule over dates
   * @param name what people call it; empty where nobody named it
   */
  public record Holiday(DayRule days, String name) {}

  /** The name of the holiday on a day; empty text for one without a name. */
  public Optional<String> holidayOn(LocalDate day) {
    return holidays.stream()
        .filter(holiday -> holiday.days().pick(day, day, Calendars.NONE).contains(day))
        .map(Holiday::name)
        .findFirst();
  }

  DaySet closed(LocalDate from, LocalDate to) {
    DaySet days = DaySet.empty(from, to);
    for (Holiday holiday : holidays) {
      days.or(holiday.days().pick(from, to, Calendars.NONE));
    }
    return days;
  }
}

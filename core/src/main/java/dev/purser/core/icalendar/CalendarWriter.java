package dev.purser.core.icalendar;

import biweekly.Biweekly;
import biweekly.ICalendar;
import biweekly.component.VEvent;
import biweekly.property.DateEnd;
import biweekly.property.DateStart;
import biweekly.property.RecurrenceDates;
import biweekly.property.RecurrenceRule;
import biweekly.util.DateTimeComponents;
import biweekly.util.Frequency;
import biweekly.util.ICalDate;
import biweekly.util.Recurrence;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.HolidayCalendar;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Date;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.UUID;

/** Writes calendars and runs as iCalendar (RFC 5545). */
public final class CalendarWriter {
  private static final String PRODUCT = "-//Purser//Purser 0.1//EN";

  private CalendarWriter() {}

  /**
   * The closed days of a calendar. What comes every year on the same days is one event that comes
   * again; all else is written out for the span.
   *
   * @param calendar the name of a holiday or business calendar
   * @param stamp when it is written
   * @throws IllegalArgumentException where there is no such calendar
   */
  public static String closedDays(
      String calendar, Calendars calendars, LocalDate from, LocalDate to, Instant stamp) {
    ICalendar file = file(calendar);
    HolidayCalendar own = calendars.holidays(calendar).orElse(null);
    NavigableMap<LocalDate, String> rest = calendars.closedDays(calendar, from, to);
    if (own != null) {
      for (HolidayCalendar.Holiday holiday : own.holidays()) {
        List<LocalDate> days = holiday.days().pick(from, to, calendars).days();
        if (!days.isEmpty() && holiday.days().calendars().isEmpty()) {
          file.addEvent(event(calendar, holiday, days, from, stamp));
          days.forEach(rest::remove);
        }
      }
    }
    for (Map.Entry<LocalDate, String> day : rest.entrySet()) {
      VEvent event = plain(calendar + day.getKey(), day.getValue(), stamp);
      span(event, day.getKey(), day.getKey());
      file.addEvent(event);
    }
    return Biweekly.write(file).go();
  }

  private static ICalendar file(String name) {
    ICalendar file = new ICalendar();
    file.setProductId(PRODUCT);
    file.setExperimentalProperty("X-WR-CALNAME", name);
    return file;
  }

  private static VEvent plain(String identity, String summary, Instant stamp) {
    VEvent event = new VEvent();
    event.setUid(UUID.nameUUIDFromBytes(identity.getBytes(StandardCharsets.UTF_8)) + "@purser");
    event.setDateTimeStamp(Date.from(stamp));
    event.setSummary(summary);
    return event;
  }

  private static VEvent event(
      String calendar,
      HolidayCalendar.Holiday holiday,
      List<LocalDate> days,
      LocalDate from,
      Instant stamp) {
    VEvent event = plain(calendar + holiday.days() + holiday.name(), holiday.name(), stamp);
    event.setExperimentalProperty(HolidayFile.DAYS, holiday.days().toString());
    if (holiday.days() instanceof DayRule.Yearly yearly
        && yearly.seasons().size() == 1
        && comesEveryYear(yearly.seasons().get(0))) {
      DayRule.Season season = yearly.seasons().get(0);
      LocalDate first = season.first().atYear(from.getYear());
      span(event, first, season.last().atYear(from.getYear()));
      event.setRecurrenceRule(new RecurrenceRule(new Recurrence.Builder(Frequency.YEARLY).build()));
      return event;
    }
    if (holiday.days() instanceof DayRule.Dates dates && dates.spans().size() == 1) {
      span(event, dates.spans().get(0).first(), dates.spans().get(0).last());
      return event;
    }
    span(event, days.get(0), days.get(0));
    if (days.size() > 1) {
      RecurrenceDates more = new RecurrenceDates();
      days.stream().skip(1).forEach(day -> more.getDates().add(date(day)));
      event.addRecurrenceDates(more);
    }
    return event;
  }

  private static boolean comesEveryYear(DayRule.Season season) {
    return !season.last().isBefore(season.first())
        && season.first().isValidYear(2027)
        && season.last().isValidYear(2027);
  }

  private static void span(VEvent event, LocalDate first, LocalDate last) {
    event.setDateStart(new DateStart(date(first)));
    event.setDateEnd(new DateEnd(date(last.plusDays(1))));
  }

  private static ICalDate date(LocalDate day) {
    DateTimeComponents parts =
        new DateTimeComponents(day.getYear(), day.getMonthValue(), day.getDayOfMonth());
    return new ICalDate(parts, false);
  }

  /**
   * A run in a feed.
   *
   * @param reference what people call it; also its identity from one fetch to the next
   * @param end not before {@code start}
   */
  public record Entry(
      String reference, String title, Instant start, Instant end, String description) {}

  /** Runs as events, so that people see them in calendar programs of their own. */
  public static String runs(String name, List<Entry> entries, Instant stamp) {
    ICalendar file = file(name);
    for (Entry entry : entries) {
      VEvent event = plain(entry.reference(), entry.title(), stamp);
      event.setDateStart(Date.from(entry.start()), true);
      event.setDateEnd(Date.from(entry.end()), true);
      event.setDescription(entry.description());
      file.addEvent(event);
    }
    return Biweekly.write(file).go();
  }
}

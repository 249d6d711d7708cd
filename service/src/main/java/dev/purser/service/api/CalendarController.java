package dev.purser.service.api;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Nearest;
import dev.purser.service.board.Engine;
import dev.purser.wire.api.Views;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Calendars and day rules. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class CalendarController {
  private static final int MOST_YEARS = 20;

  private final Engine engine;

  CalendarController(Engine engine) {
    this.engine = engine;
  }

  /** All calendars. */
  @GetMapping("/calendars")
  List<Views.CalendarView> list() {
    Calendars calendars = engine.definitions().calendars();
    List<Views.CalendarView> found = new ArrayList<>();
    for (String name : new TreeSet<>(calendars.businessNames())) {
      BusinessCalendar calendar = calendars.business(name).orElseThrow();
      found.add(new Views.CalendarView(name, "business", calendar.title(), calendar.without()));
    }
    for (String name : new TreeSet<>(calendars.holidayNames())) {
      HolidayCalendar calendar = calendars.holidays(name).orElseThrow();
      found.add(new Views.CalendarView(name, "holiday", calendar.title(), List.of()));
    }
    return found;
  }

  /** Every day of a calendar's year, with the names of its holidays. */
  @GetMapping("/calendars/{name}/years/{year}")
  Views.YearView year(@PathVariable String name, @PathVariable int year) {
    if (year < 1900 || year > 2999) {
      throw new IllegalArgumentException("the year must be 1900 to 2999, not " + year);
    }
    Calendars calendars = engine.definitions().calendars();
    boolean holiday = calendars.holidayNames().contains(name);
    if (!holiday && !calendars.businessNames().contains(name)) {
      Set<String> all = new TreeSet<>(calendars.businessNames());
      all.addAll(calendars.holidayNames());
      throw new Problems.NotFound(
          "there is no calendar \"" + name + "\"" + Nearest.hint(name, all));
    }
    List<Views.DayView> days = new ArrayList<>();
    LocalDate first = LocalDate.of(year, 1, 1);
    for (LocalDate day = first; day.getYear() == year; day = day.plusDays(1)) {
      boolean open = holiday ? !calendars.isHoliday(name, day) : calendars.isBusinessDay(name, day);
      days.add(new Views.DayView(day, open, calendars.holidayName(name, day).orElse("")));
    }
    return new Views.YearView(name, holiday ? "holiday" : "business", year, days);
  }

  /** The days that a rule picks, both ends included. */
  @GetMapping("/days")
  Views.DaysView days(
      @RequestParam String rule,
      @RequestParam LocalDate from,
      @RequestParam LocalDate to,
      @RequestParam(defaultValue = "") String calendar) {
    if (to.isBefore(from) || from.plusYears(MOST_YEARS).isBefore(to)) {
      throw new IllegalArgumentException(
          "from " + from + " to " + to + " is no span of at most " + MOST_YEARS + " years");
    }
    Calendars calendars = engine.definitions().calendars();
    try {
      DayRule parsed = DayRuleParser.parse(rule);
      Calendars meant = calendar.isEmpty() ? calendars : calendars.meaning(calendar);
      return new Views.DaysView(parsed.toString(), parsed.pick(from, to, meant).days());
    } catch (PhraseException e) {
      throw new IllegalArgumentException("column " + e.column() + ": " + e.getMessage(), e);
    }
  }
}

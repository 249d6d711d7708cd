package dev.purser.service.api;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.CalendarSource;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.definition.Definitions;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.icalendar.HolidayFile;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.ProblemViews;
import dev.purser.service.board.Engine;
import dev.purser.service.calendar.CalendarFetchRow;
import dev.purser.service.calendar.CalendarFetcher;
import dev.purser.service.calendar.CalendarWatch;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Calendars and day rules. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class CalendarController {
  private static final int MOST_YEARS = 20;

  private final Engine engine;
  private final Publisher publisher;
  private final CalendarFetcher fetcher;
  private final PlanKeeper plan;
  private final Clock clock;

  CalendarController(
      Engine engine, Publisher publisher, CalendarFetcher fetcher, PlanKeeper plan, Clock clock) {
    this.engine = engine;
    this.publisher = publisher;
    this.fetcher = fetcher;
    this.plan = plan;
    this.clock = clock;
  }

  /** All calendars. */
  @GetMapping("/calendars")
  @Paged(by = {"kind", "name"})
  List<ScheduleViews.CalendarView> list() {
    Definitions definitions = engine.definitions();
    Calendars calendars = definitions.calendars();
    Map<String, Set<String>> users = CalendarWatch.inUse(definitions);
    Map<String, CalendarFetchRow> fetches = fetcher.fetches();
    List<ScheduleViews.CalendarView> found = new ArrayList<>();
    for (String name : new TreeSet<>(calendars.businessNames())) {
      BusinessCalendar calendar = calendars.business(name).orElseThrow();
      found.add(view(name, "business", calendar.title(), calendars, users, Optional.empty(), null));
    }
    for (String name : new TreeSet<>(calendars.holidayNames())) {
      HolidayCalendar calendar = calendars.holidays(name).orElseThrow();
      found.add(
          view(
              name,
              "holiday",
              calendar.title(),
              calendars,
              users,
              calendar.source(),
              fetches.get(name)));
    }
    return found;
  }

  private static ScheduleViews.CalendarView view(
      String name,
      String kind,
      String title,
      Calendars calendars,
      Map<String, Set<String>> users,
      Optional<CalendarSource> source,
      CalendarFetchRow fetch) {
    return new ScheduleViews.CalendarView(
        name,
        kind,
        title,
        List.copyOf(new TreeSet<>(calendars.builtOn(name))),
        calendars.knownTo(name).orElse(null),
        List.copyOf(users.getOrDefault(name, Set.of())),
        source.map(from -> from.connection() + " " + from.path()).orElse(""),
        fetch == null ? null : fetch.fetched,
        fetch == null ? "" : fetch.error);
  }

  /** Every day of a calendar's year, with the names of its holidays. */
  @GetMapping("/calendars/{name}/years/{year}")
  ScheduleViews.YearView year(
      @PathVariable @Size(max = Limits.NAME) String name,
      @PathVariable @Min(1900) @Max(2999) int year) {
    return year(name, year, known(name, engine.definitions()));
  }

  /** The same as files would make it; nothing is changed. */
  @PostMapping("/calendars/{name}/years/{year}")
  ScheduleViews.YearView year(
      @PathVariable @Size(max = Limits.NAME) String name,
      @PathVariable @Min(1900) @Max(2999) int year,
      @Valid @RequestBody Views.PublishRequest request) {
    List<SourceFile> files =
        request.files().stream().map(file -> new SourceFile(file.name(), file.text())).toList();
    return year(name, year, known(name, publisher.sketch(files).after()));
  }

  private static ScheduleViews.YearView year(String name, int year, Calendars calendars) {
    boolean holiday = calendars.holidayNames().contains(name);
    LocalDate first = LocalDate.of(year, 1, 1);
    LocalDate last = LocalDate.of(year, 12, 31);
    DayRule rule = new DayRule.OfCalendar(holiday, name);
    DaySet picked = rule.pick(first, last, calendars);
    NavigableMap<LocalDate, String> names = calendars.closedDays(name, first, last);
    Optional<LocalDate> knownTo = calendars.knownTo(name);
    List<ScheduleViews.DayView> days = new ArrayList<>();
    for (LocalDate day = first; !day.isAfter(last); day = day.plusDays(1)) {
      days.add(
          new ScheduleViews.DayView(
              day,
              holiday != picked.contains(day),
              names.getOrDefault(day, ""),
              DayExplainer.inOneLine(DayExplainer.explain(rule, day, calendars)),
              knownTo.filter(day::isAfter).isPresent()));
    }
    return new ScheduleViews.YearView(
        name, holiday ? "holiday" : "business", year, knownTo.orElse(null), days);
  }

  private static Calendars known(String name, Definitions definitions) {
    Calendars calendars = definitions.calendars();
    if (!calendars.names().contains(name)) {
      throw new Problems.NotFound(
          "there is no calendar \"" + name + "\"" + Nearest.hint(name, calendars.names()));
    }
    return calendars;
  }

  /** The closed days of a calendar as iCalendar. */
  @GetMapping(path = "/calendars/{name}/export", produces = "text/calendar")
  ResponseEntity<String> export(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(required = false) LocalDate from,
      @RequestParam(required = false) LocalDate to) {
    Calendars calendars = known(name, engine.definitions());
    LocalDate first = from == null ? plan.today().withDayOfYear(1) : from;
    LocalDate last =
        to == null ? calendars.knownTo(name).orElse(first.plusYears(3).minusDays(1)) : to;
    span(first, last);
    return ResponseEntity.ok()
        .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + ".ics\"")
        .body(CalendarWriter.closedDays(name, calendars, first, last, clock.instant()));
  }

  /** Makes the definition of a holiday calendar from an iCalendar file; publishes nothing. */
  @PostMapping("/calendars/import")
  ScheduleViews.Imported importFile(@Valid @RequestBody ScheduleViews.CalendarFile file) {
    if (file.name() == null || !file.name().matches("[a-z0-9][a-z0-9._-]{0,99}")) {
      throw new NotUnderstood("the calendar needs a name of lower-case letters, digits and dashes");
    }
    HolidayFile.Imported imported =
        HolidayFile.read(
            file.name() + ".ics", file.text() == null ? "" : file.text(), plan.today());
    String title = file.title() == null ? "" : file.title();
    String yaml = imported.isSound() ? imported.definition(file.name(), title) : "";
    return new ScheduleViews.Imported(
        yaml,
        yaml.isEmpty() ? 0 : 1,
        imported.problems().stream().map(ProblemViews::view).toList());
  }

  /** The days of a rule, both ends included; with {@code all} those too that it does not pick. */
  @GetMapping("/days")
  ScheduleViews.RuleDays days(
      @RequestParam @Size(max = Limits.REASON) String rule,
      @RequestParam LocalDate from,
      @RequestParam LocalDate to,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String calendar,
      @RequestParam(defaultValue = "false") boolean all) {
    span(from, to);
    if (all && from.plusYears(2).isBefore(to)) {
      throw new NotUnderstood(
          "all days can be listed for at most two years at once; take a shorter span");
    }
    Calendars calendars = meaning(calendar);
    DayRule parsed = parse(rule, calendars);
    DaySet picked = parsed.pick(from, to, calendars);
    Optional<LocalDate> knownTo = calendars.knownTo(parsed);
    Set<String> looked = calendars.lookedAtBy(parsed);
    List<ScheduleViews.RuleDay> days = new ArrayList<>();
    for (LocalDate day = from; !day.isAfter(to); day = day.plusDays(1)) {
      if (all || picked.contains(day)) {
        days.add(
            new ScheduleViews.RuleDay(
                day,
                picked.contains(day),
                all ? DayExplainer.inOneLine(DayExplainer.explain(parsed, day, calendars)) : "",
                holiday(day, calendars, looked),
                knownTo.filter(day::isAfter).isPresent()));
      }
    }
    return new ScheduleViews.RuleDays(parsed.toString(), knownTo.orElse(null), picked.size(), days);
  }

  /** Why a rule picks a day or not, as a tree. */
  @GetMapping("/days/explain")
  ScheduleViews.Explained explain(
      @RequestParam @Size(max = Limits.REASON) String rule,
      @RequestParam LocalDate date,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String calendar) {
    Calendars calendars = meaning(calendar);
    DayRule parsed = parse(rule, calendars);
    DayExplainer.Reason reason = DayExplainer.explain(parsed, date, calendars);
    return new ScheduleViews.Explained(
        date,
        reason.picked(),
        calendars.knownTo(parsed).filter(date::isAfter).isPresent(),
        view(reason));
  }

  private static ScheduleViews.RuleReason view(DayExplainer.Reason reason) {
    return new ScheduleViews.RuleReason(
        reason.picked(),
        reason.rule(),
        reason.text(),
        reason.below().stream().map(CalendarController::view).toList());
  }

  static String holiday(LocalDate day, Calendars calendars, Set<String> looked) {
    return looked.stream()
        .filter(name -> calendars.holidayNames().contains(name))
        .filter(name -> calendars.isHoliday(name, day))
        .map(name -> calendars.holidayName(name, day).orElse("") + " (" + name + ")")
        .findFirst()
        .orElse("");
  }

  private static void span(LocalDate from, LocalDate to) {
    if (to.isBefore(from) || from.plusYears(MOST_YEARS).isBefore(to)) {
      throw new NotUnderstood(
          "from " + from + " to " + to + " is not a span of at most " + MOST_YEARS + " years");
    }
  }

  private Calendars meaning(String calendar) {
    Calendars calendars = engine.definitions().calendars();
    if (!calendar.isEmpty() && !calendars.businessNames().contains(calendar)) {
      throw new NotUnderstood(
          "unknown business calendar \""
              + calendar
              + "\""
              + Nearest.hint(calendar, calendars.businessNames()));
    }
    return calendar.isEmpty() ? calendars : calendars.meaning(calendar);
  }

  private static DayRule parse(String rule, Calendars calendars) {
    try {
      DayRule parsed = DayRuleParser.parse(rule);
      refuseUnknown(parsed.calendars(), calendars.names(), "calendar");
      refuseUnknown(parsed.periods(), calendars.periodNames(), "period");
      return parsed;
    } catch (PhraseException e) {
      throw new NotUnderstood("column " + e.column() + ": " + e.getMessage(), e);
    }
  }

  private static void refuseUnknown(Set<String> named, Set<String> known, String what) {
    for (String name : named) {
      if (!known.contains(name)) {
        throw new NotUnderstood(
            "unknown " + what + " \"" + name + "\"" + Nearest.hint(name, known));
      }
    }
  }
}

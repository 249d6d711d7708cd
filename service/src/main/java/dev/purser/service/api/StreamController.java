package dev.purser.service.api;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.definition.Stream;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.StreamStart;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.Window;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.RunViews;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.PromiseFeed;
import dev.purser.service.live.Live;
import dev.purser.service.plan.PauseRow;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.plan.Windows;
import dev.purser.service.publish.Publisher;
import dev.purser.service.run.RunRecords;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.ScheduleViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Streams: their schedules, coming starts, pauses and windows. */
@RestController
@RequestMapping(path = "/api/v1/streams", produces = MediaType.APPLICATION_JSON_VALUE)
class StreamController {
  private static final int[] LOOKS_AHEAD = {40, 160, 800};
  private static final int LONGEST_WINDOW_DAYS = 20;
  private static final int MOST_STARTS = 1_000;
  private static final int MOST_DAYS = 400;
  private static final int MOST_CELLS = 500_000;

  private final Engine engine;
  private final Publisher publisher;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final PromiseFeed promises;
  private final Windows windows;
  private final RunRecords runs;
  private final Live live;
  private final Clock clock;

  StreamController(
      Engine engine,
      Publisher publisher,
      PlanKeeper plan,
      Pauses pauses,
      PromiseFeed promises,
      Windows windows,
      RunRecords runs,
      Live live,
      Clock clock) {
    this.engine = engine;
    this.publisher = publisher;
    this.plan = plan;
    this.pauses = pauses;
    this.promises = promises;
    this.windows = windows;
    this.runs = runs;
    this.live = live;
    this.clock = clock;
  }

  /** All streams by name. */
  @GetMapping
  @Paged(by = "stream")
  List<ScheduleViews.StreamView> list(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String text) {
    Definitions definitions = engine.definitions();
    String wanted = text.toLowerCase(Locale.ROOT);
    return definitions.streams().stream()
        .filter(stream -> !Stream.isTrial(stream.path()))
        .filter(
            stream ->
                stream.path().contains(wanted)
                    || stream.title().toLowerCase(Locale.ROOT).contains(wanted)
                    || stream.department().toLowerCase(Locale.ROOT).contains(wanted))
        .map(stream -> view(stream, definitions))
        .toList();
  }

  /** One stream. */
  @GetMapping("/one")
  ScheduleViews.StreamView one(@RequestParam @Size(max = Limits.NAME) String stream) {
    Definitions definitions = engine.definitions();
    return view(found(stream, definitions), definitions);
  }

  private static Stream found(String path, Definitions definitions) {
    return definitions.stream(path)
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    "there is no stream \""
                        + path
                        + "\""
                        + Nearest.hint(
                            path, definitions.streams().stream().map(Stream::path).toList())));
  }

  private ScheduleViews.StreamView view(Stream stream, Definitions definitions) {
    PauseRow pause = pauses.all().get(stream.path());
    Optional<StreamStart> next = next(stream, new Planner(definitions), 1).stream().findFirst();
    return new ScheduleViews.StreamView(
        stream.path(),
        stream.title(),
        stream.about(),
        stream.department(),
        stream.calendar(),
        stream.schedule().stream().map(Schedule::toString).toList(),
        stream.startsOn().map(StartsOn::watch).orElse(""),
        pause == null
            ? null
            : new ScheduleViews.PauseView(pause.since, pause.until, pause.who, pause.reason),
        stream.hasWindows(),
        stream.jobs().size(),
        next.map(StreamStart::at).orElse(null),
        stream.schedule().stream().map(one -> one.zone().getId()).findFirst().orElse(""));
  }

  /** The next starts from now on; looks further and further ahead, for at most two years. */
  private List<StreamStart> next(Stream stream, Planner planner, int count) {
    Instant now = clock.instant();
    LocalDate first = plan.today().minusDays(LONGEST_WINDOW_DAYS);
    List<StreamStart> coming = List.of();
    for (int days : LOOKS_AHEAD) {
      if (coming.size() >= count) {
        break;
      }
      LocalDate last = first.plusDays(days);
      coming =
          planner.starts(stream, first, last).stream()
              .filter(start -> start.at().isAfter(now))
              .limit(count)
              .toList();
    }
    return coming;
  }

  /** The next starts of a stream, each with the reason for its date. */
  @GetMapping("/next")
  List<ScheduleViews.StartView> next(
      @RequestParam @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "20") @Min(1) @Max(MOST_STARTS) int count) {
    Definitions definitions = engine.definitions();
    Stream found = found(stream, definitions);
    Planner planner = new Planner(definitions);
    return next(found, planner, count).stream().map(start -> view(found, start, planner)).toList();
  }

  /** The next starts that files would give a stream that is not live yet, or not so. */
  @PostMapping("/next")
  List<ScheduleViews.StartView> next(@Valid @RequestBody ScheduleViews.NextRequest request) {
    Publisher.Sketch sketch =
        publisher.sketch(
            request.files().stream()
                .map(file -> new SourceFile(file.name(), file.text()))
                .toList());
    Planner planner = new Planner(sketch.after());
    return sketch.after().stream(request.stream()).stream()
        .flatMap(
            found ->
                next(found, planner, request.count()).stream()
                    .map(start -> view(found, start, planner)))
        .toList();
  }

  private ScheduleViews.StartView view(Stream stream, StreamStart start, Planner planner) {
    Optional<Window> window = start.start().window();
    Calendars calendars = planner.definitions().calendarsOf(stream);
    return new ScheduleViews.StartView(
        stream.path(),
        start.date(),
        start.number(),
        start.at(),
        start.entry().zone().getId(),
        RunViews.word(start.start().shift()),
        planner.runsOf(stream, start),
        start.guess(),
        DayExplainer.inOneLine(DayExplainer.explain(start.entry().days(), start.date(), calendars)),
        window.map(Window::start).orElse(null),
        window.map(Window::end).orElse(null),
        pauses.isPausedOn(stream.path(), start.date()));
  }

  /** Streams with a schedule down, days across. */
  @GetMapping("/month")
  ScheduleViews.MonthView month(
      @RequestParam(required = false) LocalDate from,
      @RequestParam(defaultValue = "31") @Min(1) @Max(MOST_DAYS) int days,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String text) {
    LocalDate first = from == null ? plan.today().withDayOfMonth(1) : from;
    Definitions definitions = engine.definitions();
    long scheduled = definitions.streams().stream().filter(s -> !s.schedule().isEmpty()).count();
    if (days * scheduled > MOST_CELLS) {
      throw new NotUnderstood(
          "days must be at most "
              + MOST_CELLS / scheduled
              + ", since "
              + scheduled
              + " streams have a schedule");
    }
    String wanted = text.toLowerCase(Locale.ROOT);
    List<ScheduleViews.MonthRow> rows = new ArrayList<>();
    for (Stream stream : definitions.streams()) {
      boolean isWanted =
          stream.path().contains(wanted)
              || stream.title().toLowerCase(Locale.ROOT).contains(wanted);
      if (!stream.schedule().isEmpty() && isWanted) {
        rows.add(row(stream, first, days, definitions));
      }
    }
    return new ScheduleViews.MonthView(first, days, rows);
  }

  private ScheduleViews.MonthRow row(
      Stream stream, LocalDate first, int days, Definitions definitions) {
    Map<LocalDate, Integer> starts = new HashMap<>();
    Map<LocalDate, Boolean> guesses = new HashMap<>();
    for (StreamStart start :
        new Planner(definitions).starts(stream, first, first.plusDays(days - 1L))) {
      starts.merge(start.date(), 1, Integer::sum);
      guesses.put(start.date(), start.guess());
    }
    Calendars calendars = definitions.calendarsOf(stream);
    DayRule rule = stream.schedule().get(0).days();
    Set<String> looked = calendars.withAllBelow(calendars.standard());
    List<ScheduleViews.MonthCell> cells = new ArrayList<>();
    for (int i = 0; i < days; i++) {
      LocalDate date = first.plusDays(i);
      cells.add(
          new ScheduleViews.MonthCell(
              date,
              starts.getOrDefault(date, 0),
              !calendars.isBusinessDay("", date),
              CalendarController.holiday(date, calendars, looked),
              DayExplainer.inOneLine(DayExplainer.explain(rule, date, calendars)),
              guesses.getOrDefault(date, false),
              starts.containsKey(date) && pauses.isPausedOn(stream.path(), date)));
    }
    return new ScheduleViews.MonthRow(
        stream.path(),
        stream.title(),
        stream.department(),
        stream.calendar(),
        pauses.all().containsKey(stream.path()),
        cells);
  }

  /** Pauses a stream. */
  @PostMapping("/pause")
  ScheduleViews.PauseResult pause(
      @Valid @RequestBody ScheduleViews.PauseRequest request,
      Authentication who,
      HttpServletRequest http) {
    String stream = named(request.stream());
    pauses.pause(
        stream,
        Optional.ofNullable(request.until()),
        Asking.actor(who, http),
        Asking.reason(request.reason()));
    live.definitionsChanged();
    return new ScheduleViews.PauseResult(one(stream), 0);
  }

  /** Lets a stream go on. */
  @PostMapping("/resume")
  ScheduleViews.PauseResult resume(
      @Valid @RequestBody ScheduleViews.ResumeRequest request,
      Authentication who,
      HttpServletRequest http) {
    String stream = named(request.stream());
    int planned = pauses.resume(stream, Asking.actor(who, http), Asking.reason(request.reason()));
    live.definitionsChanged();
    return new ScheduleViews.PauseResult(one(stream), planned);
  }

  private String named(String stream) {
    if (stream == null || stream.isBlank()) {
      throw new NotUnderstood("which stream is meant?");
    }
    return found(stream, engine.definitions()).path();
  }

  /** The windows of a stream, newest first. */
  @GetMapping("/windows")
  List<ScheduleViews.WindowView> windows(
      @RequestParam @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST_STARTS) int limit) {
    found(stream, engine.definitions());
    return windows.of(stream, limit).stream()
        .map(
            window ->
                new ScheduleViews.WindowView(
                    window.date(),
                    window.number(),
                    window.start(),
                    window.end(),
                    window.state(),
                    window.runs().stream()
                        .map(run -> new ScheduleViews.WindowRun(run.id, run.reference(), run.state))
                        .toList()))
        .toList();
  }

  /** Fills in the windows from a date on that are not on record. */
  @PostMapping("/windows/fill")
  ScheduleViews.Filled fill(
      @Valid @RequestBody ScheduleViews.FillRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.from() == null) {
      throw new NotUnderstood("from which date are windows to be filled in?");
    }
    String stream = named(request.stream());
    int count =
        windows.fill(
            stream, request.from(), Asking.actor(who, http), Asking.reason(request.reason()));
    return new ScheduleViews.Filled(stream, count);
  }

  /**
   * The coming starts of a stream as iCalendar, for people's own calendar programs, which sign in
   * with a person's name and a token as the password. How long a start takes is what it took
   * lately. Or what a commitment promises: from its likely end to the time that is promised.
   */
  @GetMapping(path = "/feed", produces = "text/calendar")
  String feed(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String commitment,
      @RequestParam(defaultValue = "35") @Min(1) @Max(MOST_DAYS) int days) {
    Definitions definitions = engine.definitions();
    if (stream.isEmpty() == commitment.isEmpty()) {
      throw new NotUnderstood(
          "a feed is of a stream or of a commitment: say stream= or commitment=");
    }
    if (!commitment.isEmpty()) {
      Commitment promising =
          definitions
              .commitment(commitment)
              .orElseThrow(() -> new Problems.NotFound("there is no commitment " + commitment));
      return CalendarWriter.runs(
          promising.title(), promises.entries(promising, days), clock.instant());
    }
    Stream found = found(stream, definitions);
    Planner planner = new Planner(definitions);
    Duration usual = runs.usualSpan(stream, clock.instant().minus(Duration.ofDays(60)));
    List<CalendarWriter.Entry> entries = new ArrayList<>();
    LocalDate today = plan.today();
    for (StreamStart start : planner.starts(found, today, today.plusDays(days - 1L))) {
      entries.add(
          new CalendarWriter.Entry(
              stream + "@" + start.date() + "#" + start.number(),
              found.title() + (pauses.isPausedOn(stream, start.date()) ? " (paused)" : ""),
              start.at(),
              start.at().plus(usual),
              "Business date "
                  + start.date()
                  + ", "
                  + planner.runsOf(found, start)
                  + " jobs; as long as it took lately."
                  + (start.guess() ? " A guess: the calendar is not known so far ahead." : "")));
    }
    return CalendarWriter.runs(found.title(), entries, clock.instant());
  }
}

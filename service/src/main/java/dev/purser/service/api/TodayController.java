package dev.purser.service.api;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.view.Need;
import dev.purser.service.api.view.OutlookViews;
import dev.purser.service.api.view.RunViews;
import dev.purser.service.api.view.StreamStates;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.outlook.OutlookKeeper;
import dev.purser.service.people.Pass;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** A business date at a glance, the days ahead, and live changes. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class TodayController {
  private static final Alerts.Filter HEADS =
      new Alerts.Filter(false, true, 0, List.of(), List.of(), null, "", null, null, null);

  private static final int MOST_RUNS = 60_000;
  private final RunRecords runs;
  private final RunViews views;
  private final Alerts alerts;
  private final OutlookKeeper outlooks;
  private final PlanKeeper plan;
  private final Live live;
  private final Engine engine;
  private final Settings settings;
  private final Clock clock;

  TodayController(
      RunRecords runs,
      RunViews views,
      Alerts alerts,
      OutlookKeeper outlooks,
      PlanKeeper plan,
      Live live,
      Engine engine,
      Settings settings,
      Clock clock) {
    this.settings = settings;
    this.runs = runs;
    this.views = views;
    this.alerts = alerts;
    this.outlooks = outlooks;
    this.plan = plan;
    this.live = live;
    this.engine = engine;
    this.clock = clock;
  }

  /** What needs a person, and all streams of a business date with their runs. */
  @GetMapping("/today")
  Views.TodayView today(@RequestParam(required = false) LocalDate date) {
    LocalDate wanted = date == null ? plan.today() : date;
    List<RunRow> rows = runs.list(RunRecords.Filter.of(wanted), "", MOST_RUNS);
    List<RunView> all = views.views(rows);
    Map<String, Integer> counts = new LinkedHashMap<>();
    RunState.words().forEach(word -> counts.put(word, 0));
    all.forEach(run -> counts.merge(run.state(), 1, Integer::sum));
    List<RunView> earlier = wanted.equals(plan.today()) ? stillOpen(wanted) : List.of();
    List<RunView> both = new ArrayList<>(earlier);
    both.addAll(all);
    return new Views.TodayView(wanted, clock.instant(), counts, needs(both), streams(both));
  }

  /** What needs a person now, the most urgent first: of today, and what is open of before. */
  @GetMapping("/needs")
  @Paged(by = "reference")
  List<Views.NeedView> needs() {
    LocalDate today = plan.today();
    List<RunView> all = new ArrayList<>(stillOpen(today));
    all.addAll(views.views(runs.list(RunRecords.Filter.of(today), "", MOST_RUNS)));
    return needs(all);
  }

  /** Starts of earlier dates of which something is open: just after midnight, last night's work. */
  private List<RunView> stillOpen(LocalDate today) {
    Set<LocalDate> dates = new TreeSet<>();
    Set<String> starts = new HashSet<>();
    engine.look(
        board -> {
          for (RunSpec spec : board.runs()) {
            RunReference run = spec.run().reference();
            boolean isOpen =
                run.date().isBefore(today) && !board.state(spec.id()).orElseThrow().isEnded();
            if (isOpen) {
              dates.add(run.date());
              starts.add(startOf(run.stream(), run.date(), run.number()));
            }
          }
          return true;
        });
    List<RunView> open = new ArrayList<>();
    for (LocalDate date : dates) {
      List<RunRow> rows = runs.list(RunRecords.Filter.of(date), "", MOST_RUNS);
      open.addAll(
          views.views(
              rows.stream()
                  .filter(row -> starts.contains(startOf(row.stream, row.businessDate, row.number)))
                  .toList()));
    }
    return open;
  }

  /** A start by the top stream that it is of. */
  private String startOf(String stream, LocalDate date, int number) {
    return topOf(stream) + "@" + date + "#" + number;
  }

  private String topOf(String stream) {
    return engine.definitions().topOf(stream).map(Stream::path).orElse(stream);
  }

  private List<Views.NeedView> needs(List<RunView> all) {
    Instant now = clock.instant();
    List<Need> needs = new ArrayList<>();
    Set<Long> asked =
        all.stream().filter(Need::isAsked).map(RunView::id).collect(Collectors.toSet());
    for (AlertRow alert : alerts.list(HEADS, Long.MAX_VALUE, 200)) {
      Need need = Need.of(alert);
      // A question that is open anyway is told once.
      boolean told = need.kind().equals(Need.Kind.APPROVAL) && asked.contains(alert.run);
      if (alert.state(now).equals("open") && !told) {
        needs.add(need);
      }
    }
    for (RunView run : all) {
      Need.of(run).ifPresent(needs::add);
    }
    Map<Long, String> zones = new HashMap<>();
    all.forEach(run -> zones.put(run.id(), run.zone()));
    String site = settings.zone().getId();
    return needs.stream()
        .sorted()
        .map(need -> need.view(zones.getOrDefault(need.run(), site)))
        .toList();
  }

  /** Runs below a step belong to the stream that the step is in. */
  private List<Views.StreamDay> streams(List<RunView> all) {
    Definitions definitions = engine.definitions();
    Map<String, List<RunView>> byStart = new LinkedHashMap<>();
    for (RunView run : all) {
      String start = startOf(run.stream(), run.date(), run.number());
      byStart.computeIfAbsent(start, key -> new ArrayList<>()).add(run);
    }
    List<Views.StreamDay> days = new ArrayList<>();
    byStart.values().forEach(own -> days.add(stream(topOf(own.get(0).stream()), own, definitions)));
    days.sort(Comparator.comparing(Views.StreamDay::due).thenComparing(Views.StreamDay::stream));
    return days;
  }

  private static Views.StreamDay stream(String path, List<RunView> runs, Definitions definitions) {
    RunView first =
        runs.stream().filter(run -> run.stream().equals(path)).findFirst().orElse(runs.get(0));
    boolean ended = runs.stream().allMatch(run -> run.ended() != null);
    return new Views.StreamDay(
        path,
        first.streamTitle(),
        first.department(),
        first.date(),
        first.number(),
        StreamStates.state(path, runs, definitions),
        StreamStates.isStalled(runs),
        runs.stream().map(RunView::due).min(Comparator.naturalOrder()).orElseThrow(),
        runs.stream()
            .map(RunView::started)
            .filter(Objects::nonNull)
            .min(Comparator.naturalOrder())
            .orElse(null),
        ended ? latest(runs.stream().map(RunView::ended).toList()) : null,
        ended
            ? null
            : latest(
                runs.stream().map(r -> r.ended() != null ? r.ended() : r.expectedEnd()).toList()),
        runs);
  }

  private static Instant latest(List<Instant> instants) {
    return instants.contains(null)
        ? null
        : instants.stream().max(Comparator.naturalOrder()).orElse(null);
  }

  /** The runs of a business date in the order in which they are due. */
  @GetMapping("/plan")
  @Paged(by = "id")
  List<RunView> plan(@RequestParam(required = false) LocalDate date) {
    LocalDate wanted = date == null ? plan.today() : date;
    return views.views(runs.list(RunRecords.Filter.of(wanted), "", MOST_RUNS));
  }

  /** Likely starts and ends of the runs of some days. */
  @GetMapping("/outlook")
  @Paged(by = "reference")
  List<Views.OutlookView> outlook(
      @RequestParam(required = false) LocalDate from,
      @RequestParam(defaultValue = "2") @Min(1) @Max(400) int days,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream) {
    Planner planner = new Planner(engine.definitions());
    return outlooks.days(from == null ? plan.today() : from, days).stream()
        .filter(outlook -> outlook.run().run().reference().isOf(stream))
        .map(outlook -> OutlookViews.view(outlook, planner))
        .toList();
  }

  /**
   * Live changes, as Server-Sent Events named {@code changes}. Whoever comes back with the id of
   * the last one is told at once what was missed.
   */
  @GetMapping(path = "/changes", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter changes(
      @RequestHeader(name = "Last-Event-ID", defaultValue = "") @Size(max = Limits.NAME)
          String lastHeard,
      Authentication who,
      HttpServletRequest http) {
    return live.listen(Pass.of(who, http), lastHeard);
  }
}

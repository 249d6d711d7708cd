package dev.purser.service.api;

import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.arrival.Checklist;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.agent.Trials;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.arrival.ArrivalActions;
import dev.purser.service.arrival.ArrivalRecords;
import dev.purser.service.arrival.ArrivalRow;
import dev.purser.service.arrival.FileDay;
import dev.purser.service.arrival.Lookouts;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.wire.api.FileViews;
import dev.purser.wire.api.Limits;
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
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** File watches and arrivals. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class FileController {
  private static final int MOST = 1_000;
  private static final Duration LATELY = Duration.ofDays(1);

  private final Engine engine;
  private final PlanKeeper plan;
  private final FileDay day;
  private final ArrivalRecords records;
  private final ArrivalActions actions;
  private final RunRecords runs;
  private final Trials trials;
  private final Clock clock;

  FileController(
      Engine engine,
      PlanKeeper plan,
      FileDay day,
      ArrivalRecords records,
      ArrivalActions actions,
      RunRecords runs,
      Trials trials,
      Clock clock) {
    this.engine = engine;
    this.plan = plan;
    this.day = day;
    this.records = records;
    this.actions = actions;
    this.runs = runs;
    this.trials = trials;
    this.clock = clock;
  }

  // ---- watches

  /** All file watches, and how they stand on a business date; today where none is given. */
  @GetMapping("/watches")
  @Paged(by = "name")
  List<FileViews.WatchView> watches(@RequestParam Optional<LocalDate> date) {
    Definitions definitions = engine.definitions();
    Map<String, Map<ArrivalState, Long>> counts = records.counts(clock.instant().minus(LATELY));
    Map<String, Map<String, String>> troubles = actions.troubles();
    return day.of(definitions, date.orElseGet(plan::today)).stream()
        .map(
            entry ->
                view(
                    entry,
                    counts.getOrDefault(entry.watch().name(), Map.of()),
                    troubles.getOrDefault(entry.watch().name(), Map.of()),
                    definitions))
        .toList();
  }

  private static FileViews.WatchView view(
      Checklist.Entry entry,
      Map<ArrivalState, Long> counts,
      Map<String, String> troubles,
      Definitions definitions) {
    FileWatch watch = entry.watch();
    Map<String, Long> states = new TreeMap<>();
    counts.forEach((state, count) -> states.put(state.word(), count));
    List<String> wrong = new ArrayList<>();
    troubles.forEach((place, text) -> wrong.add(place + ": " + text));
    return new FileViews.WatchView(
        watch.name(),
        watch.title(),
        watch.where(),
        watch.path(),
        entry.date(),
        watch.expected().map(FileController::inWords).orElse(""),
        entry.standing().word(),
        entry.by().orElse(null),
        entry.usually().orElse(null),
        entry.usuallyBy().orElse(null),
        entry.came().orElse(null),
        entry.count(),
        watch.whole().setOf(),
        states,
        wrong,
        usedBy(watch.name(), definitions));
  }

  private static String inWords(FileWatch.Expected expected) {
    return expected.days()
        + ", "
        + expected.from()
        + " to "
        + expected.by()
        + " "
        + expected.zone().getId();
  }

  private static List<String> usedBy(String watch, Definitions definitions) {
    Set<String> users = new TreeSet<>();
    for (Stream stream : definitions.streams()) {
      if (stream.startsOn().filter(on -> on.watch().equals(watch)).isPresent()) {
        users.add(stream.path());
      }
      for (Job job : stream.jobs()) {
        boolean waits =
            job.waitsFor().stream()
                .flatMap(asks -> asks.files().stream())
                .anyMatch(file -> file.watch().equals(watch));
        if (waits) {
          users.add(stream.pathOf(job));
        }
      }
    }
    return List.copyOf(users);
  }

  /** What a watch would find now, wherever it looks; nothing is taken. */
  @PostMapping("/watches/{name}/try")
  List<FileViews.TrialView> tryOut(@PathVariable @Size(max = Limits.NAME) String name) {
    Definitions definitions = engine.definitions();
    FileWatch watch =
        definitions
            .fileWatch(name)
            .orElseThrow(
                () ->
                    new Problems.NotFound(
                        "there is no file watch \""
                            + name
                            + "\""
                            + Nearest.hint(
                                name,
                                definitions.fileWatches().stream().map(FileWatch::name).toList())));
    return trials.of(watch).stream().map(FileController::view).toList();
  }

  private static FileViews.TrialView view(Lookouts.Trial trial) {
    return new FileViews.TrialView(
        trial.place(),
        trial.problem(),
        trial.found().stream()
            .flatMap(found -> found.files().stream())
            .map(
                file ->
                    new FileViews.TriedFile(
                        file.directory(),
                        file.name(),
                        file.size(),
                        Instant.ofEpochMilli(file.modified()),
                        file.state(),
                        file.note()))
            .toList(),
        trial.found().map(found -> found.more()).orElse(0L),
        trial.found().map(found -> found.troubles()).orElse(List.of()),
        trial.found().map(found -> found.notified()).orElse(false));
  }

  // ---- arrivals

  /**
   * Arrivals, newest first.
   *
   * @param state one or several, with commas; {@code open} for those that nothing has become of yet
   * @param changedSince only those that came into their state after this
   * @param before the number from which the page goes down; 0 for the first page
   */
  @GetMapping("/arrivals")
  FileViews.ArrivalPage arrivals(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String watch,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String state,
      @RequestParam Optional<LocalDate> date,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String place,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String text,
      @RequestParam(defaultValue = "0") long run,
      @RequestParam(defaultValue = "0") long before,
      @RequestParam Optional<Instant> changedSince,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST) int limit) {
    if (!watch.isEmpty() && engine.definitions().fileWatch(watch).isEmpty()) {
      List<String> names =
          engine.definitions().fileWatches().stream().map(FileWatch::name).toList();
      throw new NotUnderstood(
          "there is no file watch \"" + watch + "\"" + Nearest.hint(watch, names));
    }
    ArrivalRecords.Filter filter =
        new ArrivalRecords.Filter(
            watch, states(state), date, place, text, run, before, changedSince);
    int most = limit;
    List<ArrivalRow> rows = records.list(filter, most + 1);
    List<ArrivalRow> page = rows.subList(0, Math.min(most, rows.size()));
    return new FileViews.ArrivalPage(
        views(page),
        rows.size() > most ? page.get(page.size() - 1).id : 0,
        before == 0 ? records.count(filter) : -1);
  }

  private static List<String> states(String given) {
    List<String> states = new ArrayList<>();
    for (String one : given.split(",")) {
      String word = one.strip();
      if (word.equals("open")) {
        states.addAll(List.of("seen", "settling", "ready", "taken", "unprocessed"));
      } else if (!word.isEmpty()) {
        states.add(
            ArrivalState.of(word)
                .orElseThrow(
                    () ->
                        new NotUnderstood(
                            "unknown state \""
                                + word
                                + "\""
                                + Nearest.hint(word, ArrivalState.words())))
                .word());
      }
    }
    return states;
  }

  /** One arrival. */
  @GetMapping("/arrivals/{id}")
  FileViews.ArrivalView arrival(@PathVariable long id) {
    ArrivalRow row =
        records.byId(id).orElseThrow(() -> new Problems.NotFound("there is no arrival " + id));
    return views(List.of(row)).get(0);
  }

  private List<FileViews.ArrivalView> views(List<ArrivalRow> rows) {
    Map<Long, String> references =
        runs.references(rows.stream().map(row -> row.run).filter(id -> id != 0).toList());
    return rows.stream().map(row -> view(row, references.getOrDefault(row.run, ""))).toList();
  }

  private static FileViews.ArrivalView view(ArrivalRow row, String reference) {
    return new FileViews.ArrivalView(
        row.id,
        row.watch,
        row.place,
        row.path,
        row.path.substring(row.path.lastIndexOf('/') + 1),
        row.businessDate,
        row.size,
        row.modified,
        row.checksum,
        row.found,
        row.ready,
        row.state,
        row.since,
        row.run,
        reference,
        row.repeats,
        row.note,
        row.tidy.equals("pending") ? "is being moved or removed" : row.tidyNote);
  }

  /** Decides on arrivals: to try again, to put aside, to mark as done. */
  @PostMapping("/arrivals/actions")
  List<FileViews.DecisionView> decide(
      @Valid @RequestBody FileViews.DecisionRequest request,
      Authentication who,
      HttpServletRequest http) {
    String word = request.action() == null ? "" : request.action();
    ArrivalActions.Decision decision =
        ArrivalActions.Decision.of(word)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown action \""
                            + word
                            + "\""
                            + Nearest.hint(word, ArrivalActions.Decision.words())));
    List<Long> ids = request.arrivals() == null ? List.of() : request.arrivals();
    if (ids.isEmpty() || ids.size() > MOST) {
      throw new NotUnderstood(
          "1 to " + MOST + " arrivals can be decided on at once, not " + ids.size());
    }
    return actions
        .decide(ids, decision, Asking.actor(who, http), Asking.reason(request.reason()))
        .stream()
        .map(
            one ->
                new FileViews.DecisionView(
                    one.id(),
                    one.path(),
                    one.now(),
                    one.refusal().isEmpty(),
                    one.refusal(),
                    one.effect()))
        .toList();
  }
}

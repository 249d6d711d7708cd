package dev.purser.service.plan;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Window;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Keeps the plan of today and tomorrow on the board, and makes up for dates that were missed. */
@Component
public class PlanKeeper {
  private static final Logger LOG = LoggerFactory.getLogger(PlanKeeper.class);

  private final Engine engine;
  private final EntityManager rows;
  private final Pauses pauses;
  private final PlannedRuns plannedRuns;
  private final Settings settings;
  private final Clock clock;
  private final Set<LocalDate> planned = ConcurrentHashMap.newKeySet();
  private volatile boolean ready;

  PlanKeeper(
      Engine engine,
      EntityManager rows,
      Pauses pauses,
      PlannedRuns plannedRuns,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.rows = rows;
    this.pauses = pauses;
    this.plannedRuns = plannedRuns;
    this.settings = settings;
    this.clock = clock;
  }

  /** How many runs a change of definitions added to and took from the plan. */
  public record Replanned(int added, int withdrawn) {}

  /** Today, where the service is. */
  public LocalDate today() {
    return LocalDate.ofInstant(clock.instant(), settings.zone());
  }

  @EventListener(ApplicationReadyEvent.class)
  void begin() {
    ready = true;
    keep();
  }

  @EventListener
  void takenUp(Engine.TakenUp event) {
    pauses.forget();
  }

  @EventListener
  void steppedDown(Engine.SteppedDown event) {
    planned.clear();
  }

  /** Plans what is not planned yet, and lets go of what is past. */
  @Scheduled(fixedDelayString = "PT5S", initialDelayString = "PT5S")
  void keep() {
    if (!ready || !engine.isActive()) {
      return;
    }
    try {
      LocalDate today = today();
      if (planned.isEmpty()) {
        catchUp(today);
      }
      for (LocalDate date : List.of(today, today.plusDays(1))) {
        if (!planned.contains(date)) {
          planIfMissing(date);
          planned.add(date);
          engine.tell(now -> new BoardEvent.DatesClosed(now, today.minusDays(1))).join();
        }
      }
      pauses.keep();
    } catch (RuntimeException e) {
      LOG.warn("cannot make the plan yet, trying again: {}", e.getMessage());
    }
  }

  /**
   * Plans the dates that passed while the service was away, and judges what was missed. A start
   * that was planned in time is on the board already and is left to it.
   */
  private void catchUp(LocalDate today) {
    LocalDate last =
        rows.createQuery("select max(p.businessDate) from PlannedDateRow p", LocalDate.class)
            .getSingleResult();
    if (last == null || !last.isBefore(today)) {
      return;
    }
    Instant since = last.plusDays(1).atStartOfDay(settings.zone()).toInstant().minusMillis(1);
    int count =
        engine
            .ask(
                turn -> {
                  Map<String, Map<RunReference, PlannedRuns.There>> there =
                      plannedRuns.onBoard(turn);
                  List<PlannedRun> runs = new ArrayList<>();
                  for (Stream stream : turn.definitions().streams()) {
                    if (!pauses.isPaused(stream.path())) {
                      runs.addAll(pauses.dueSince(turn, stream, since, there));
                    }
                  }
                  turn.plan(runs, turn.now());
                  for (LocalDate date : List.of(today, today.plusDays(1))) {
                    markPlanned(date, turn);
                  }
                  return runs.size();
                })
            .join();
    LOG.info("the service was away since {}; planned {} runs from there on", last, count);
  }

  private void planIfMissing(LocalDate date) {
    if (rows.find(PlannedDateRow.class, date) != null) {
      return;
    }
    int count =
        engine
            .ask(
                turn -> {
                  Planner planner = new Planner(turn.definitions());
                  Map<String, Map<RunReference, PlannedRuns.There>> there =
                      plannedRuns.onBoard(turn);
                  List<PlannedRun> runs = new ArrayList<>();
                  for (Stream stream : turn.definitions().streams()) {
                    if (!pauses.isPaused(stream.path())) {
                      runs.addAll(
                          plannedRuns.fresh(
                              turn, stream.path(), planner.plan(stream, date), there, false));
                    }
                  }
                  turn.plan(runs);
                  markPlanned(date, turn);
                  return runs.size();
                })
            .join();
    LOG.info("planned {} with {} runs", date, count);
  }

  private void markPlanned(LocalDate date, Turn turn) {
    PlannedDateRow row = new PlannedDateRow();
    row.businessDate = date;
    row.plannedAt = clock.instant();
    turn.also(session -> session.insert(row));
  }

  /**
   * Brings the plan into line with definitions that have just come into force: what has not begun
   * and would now be planned otherwise is planned anew; start times that are past are left alone.
   */
  public Replanned replan(Turn turn) {
    Definitions definitions = turn.definitions();
    Planner planner = new Planner(definitions);
    Map<String, List<RunSpec>> onBoard = new HashMap<>();
    Set<LocalDate> dates = new TreeSet<>();
    planned.stream().filter(date -> !date.isBefore(today())).forEach(dates::add);
    for (RunSpec run : turn.board().runs()) {
      onBoard
          .computeIfAbsent(PlannedRuns.top(turn, run.run().reference()), path -> new ArrayList<>())
          .add(run);
      if (isNotBegun(turn, run)) {
        dates.add(run.run().reference().date());
      }
    }
    Set<String> streams = new TreeSet<>(onBoard.keySet());
    definitions.streams().forEach(stream -> streams.add(stream.path()));
    Map<String, Map<RunReference, PlannedRuns.There>> there = plannedRuns.onBoard(turn);
    Map<String, Change> changes = new LinkedHashMap<>();
    for (String path : streams) {
      changes.put(path, change(turn, planner, path, dates, onBoard.getOrDefault(path, List.of())));
    }
    // All at once: the board ties its runs together anew with each of these.
    List<Long> gone = changes.values().stream().flatMap(one -> one.gone().stream()).toList();
    turn.withdraw(gone);
    List<PlannedRun> fresh = new ArrayList<>();
    changes.forEach(
        (path, change) ->
            fresh.addAll(plannedRuns.fresh(turn, path, change.wanted(), there, false)));
    turn.plan(fresh);
    return new Replanned(fresh.size(), gone.size());
  }

  /** What goes off the plan and what is to be on it instead. */
  private record Change(List<Long> gone, List<PlannedRun> wanted) {}

  /** What a person has moved stays as they said. */
  private static boolean isNotBegun(Turn turn, RunSpec run) {
    RunStatus status = turn.board().status(run.id()).orElseThrow();
    return status.state() == RunState.PLANNED && status.due() == 0;
  }

  private static boolean isMoved(Turn turn, PlannedRun wanted, List<RunSpec> there) {
    return there.stream()
        .filter(run -> run.run().reference().equals(wanted.reference()))
        .anyMatch(run -> turn.board().status(run.id()).orElseThrow().due() != 0);
  }

  private Change change(
      Turn turn, Planner planner, String path, Set<LocalDate> dates, List<RunSpec> onBoard) {
    List<Long> gone = new ArrayList<>();
    List<PlannedRun> all = new ArrayList<>();
    Instant now = Instant.ofEpochMilli(turn.now());
    for (LocalDate date : dates) {
      List<RunSpec> there =
          onBoard.stream().filter(run -> run.run().reference().date().equals(date)).toList();
      List<RunSpec> open = there.stream().filter(run -> isNotBegun(turn, run)).toList();
      List<PlannedRun> wanted =
          pauses.isPaused(path)
              ? List.of()
              : turn.definitions().stream(path)
                  .map(stream -> planner.plan(stream, date))
                  .orElse(List.of())
                  .stream()
                  .filter(run -> run.due().isAfter(now) && !isMoved(turn, run, there))
                  .map(run -> afterOldWindows(run, onBoard))
                  .toList();
      boolean oldWindows = !date.isAfter(today()) && haveOtherWindows(there, wanted);
      if (!oldWindows && !open.stream().map(RunSpec::run).toList().equals(wanted)) {
        open.forEach(run -> gone.add(run.id()));
        all.addAll(wanted);
      }
    }
    return new Change(gone, all);
  }

  /** Whether windows of another length have been planned on a date: they stay as they are. */
  private static boolean haveOtherWindows(List<RunSpec> there, List<PlannedRun> wanted) {
    return there.stream().anyMatch(run -> run.run().start().window().isPresent())
        && wanted.stream()
            .flatMap(run -> run.start().window().stream())
            .anyMatch(window -> isOther(window, there));
  }

  private static boolean isOther(Window wanted, List<RunSpec> there) {
    return there.stream()
        .flatMap(run -> run.run().start().window().stream())
        .noneMatch(w -> w.start().equals(wanted.start()) && w.end().equals(wanted.end()));
  }

  /** Whether a run is one of the windows in line; those by hand come after none. */
  private static boolean isInLine(PlannedRun run) {
    return run.start().window().flatMap(Window::after).isPresent();
  }

  /** The first windows of a new length come after the last ones of the old. */
  private static PlannedRun afterOldWindows(PlannedRun run, List<RunSpec> onBoard) {
    Optional<Window.Place> after = run.start().window().flatMap(Window::after);
    if (after.isEmpty() || after.get().date().equals(run.reference().date())) {
      return run;
    }
    int last =
        onBoard.stream()
            .filter(one -> one.run().reference().date().equals(after.get().date()))
            .filter(one -> isInLine(one.run()))
            .mapToInt(one -> one.run().reference().number())
            .max()
            .orElse(0);
    return last > after.get().number()
        ? run.after(new Window.Place(after.get().date(), last))
        : run;
  }
}

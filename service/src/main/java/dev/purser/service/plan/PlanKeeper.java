package dev.purser.service.plan;

import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
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

  /**
   * How many runs a change of definitions added to the plan, took from it, and made others of.
   *
   * @param taken how many of those that had begun take it where they stand
   * @param stopped of how many the attempt is stopped for that
   */
  public record Replanned(int added, int withdrawn, int changed, int taken, int stopped) {
    /** Nothing. */
    public static final Replanned NOTHING = new Replanned(0, 0, 0, 0, 0);
  }

  /** Today, where the service is. */
  public LocalDate today() {
    return LocalDate.ofInstant(clock.instant(), settings.zone());
  }

  /** Whether the plan of a date has been made. */
  public boolean isPlanned(LocalDate date) {
    return planned.contains(date);
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
   * Brings the plan into line with definitions that have just come into force, run by run; see
   * {@link Replan}.
   *
   * @param before those that were in force until now
   * @param concerned whose plan may be another
   * @param holds from when they hold
   * @param note which they are and by whom, for the history of runs that have begun
   */
  public Replanned replan(
      Turn turn, Definitions before, Predicate<String> concerned, Holds holds, String note) {
    Map<String, Replan.Change> changes =
        new Replan(
                turn.board(),
                turn.definitions(),
                pauses::isPaused,
                holds,
                today(),
                Instant.ofEpochMilli(turn.now()))
            .all(planned, concerned);
    // All at once: the board ties its runs together anew with each of these.
    Map<String, Map<RunReference, PlannedRuns.There>> there = plannedRuns.onBoard(turn, concerned);
    List<Long> gone = new ArrayList<>();
    Map<RunReference, RunStatus.Said> said = new HashMap<>();
    int replaced = 0;
    int withdrawn = 0;
    for (Replan.Change change : changes.values()) {
      change.gone().forEach(run -> gone.add(run.id()));
      withdrawn += change.gone().size();
      replaced += change.replaced().size();
      for (Replan.Replaced one : change.replaced()) {
        gone.add(one.before().id());
        said.put(one.after().reference(), one.stays());
      }
    }
    turn.withdraw(gone);
    List<PlannedRun> runs = new ArrayList<>();
    int added = 0;
    for (Map.Entry<String, Replan.Change> one : changes.entrySet()) {
      one.getValue().replaced().forEach(pair -> runs.add(pair.after()));
      List<PlannedRun> fresh =
          plannedRuns.fresh(turn, one.getKey(), one.getValue().fresh(), there, false);
      added += fresh.size();
      runs.addAll(fresh);
    }
    turn.plan(runs, 0, said);
    if (holds.isPlain()) {
      return new Replanned(added, withdrawn, replaced, 0, 0);
    }
    OpenRuns open = new OpenRuns(turn.board(), before, turn.definitions());
    List<PlannedRun> joining = open.joining(holds, Instant.ofEpochMilli(turn.now()));
    turn.plan(joining);
    List<OpenRun> all = open.all(holds, concerned);
    int taken = turn.redefine(runsOf(all, OpenRun.What.TAKES), open::renewed, "takes " + note);
    List<Long> stopped = runsOf(all, OpenRun.What.REPLACED).stream().map(RunSpec::id).toList();
    if (!stopped.isEmpty()) {
      turn.apply(new BoardEvent.AttemptsReplaced(turn.now(), stopped, "stopped, to take " + note));
    }
    return new Replanned(added + joining.size(), withdrawn, replaced, taken, stopped.size());
  }

  private static List<RunSpec> runsOf(List<OpenRun> all, OpenRun.What what) {
    return all.stream()
        .filter(one -> one.what() == what && one.state() != RunState.PLANNED)
        .map(OpenRun::run)
        .toList();
  }

  /**
   * What a change would make of the runs that are there and not over.
   *
   * @param concerned whose plan may be another
   */
  public List<OpenRun> open(
      BoardView board,
      Definitions before,
      Definitions definitions,
      Predicate<String> concerned,
      Holds holds) {
    return new OpenRuns(board, before, definitions).all(holds, concerned);
  }

  /**
   * What of the plan of today and tomorrow other definitions would take off it or make another, of
   * what people have said something.
   *
   * @param concerned whose plan may be another
   * @param wouldPause whether a stream would be paused
   */
  public List<Touched> touched(
      BoardView board,
      Definitions definitions,
      Predicate<String> concerned,
      Predicate<String> wouldPause,
      Holds holds) {
    List<Touched> all = new ArrayList<>();
    new Replan(board, definitions, wouldPause, holds, today(), clock.instant())
        .all(planned, concerned)
        .values()
        .forEach(
            change -> {
              for (RunSpec run : change.gone()) {
                RunStatus.Said said = RunStatus.Said.of(run, board.status(run.id()).orElseThrow());
                Touched.of(run, said, RunStatus.Said.NOTHING, true).ifPresent(all::add);
              }
              change
                  .replaced()
                  .forEach(
                      one ->
                          Touched.of(one.before(), one.said(), one.stays(), false)
                              .ifPresent(all::add));
            });
    return all;
  }
}

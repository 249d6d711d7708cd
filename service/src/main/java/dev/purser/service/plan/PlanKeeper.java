package dev.purser.service.plan;

import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunState;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Keeps the plan of today and tomorrow on the board. */
@Component
public class PlanKeeper {
  private static final Logger LOG = LoggerFactory.getLogger(PlanKeeper.class);

  private final Engine engine;
  private final EntityManager rows;
  private final Settings settings;
  private final Clock clock;
  private final Set<LocalDate> planned = new HashSet<>();
  private volatile boolean ready;

  PlanKeeper(Engine engine, EntityManager rows, Settings settings, Clock clock) {
    this.engine = engine;
    this.rows = rows;
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

  /** Plans what is not planned yet, and lets go of what is past. */
  @Scheduled(fixedDelayString = "PT5S", initialDelayString = "PT5S")
  void keep() {
    if (!ready) {
      return;
    }
    try {
      LocalDate today = today();
      for (LocalDate date : List.of(today, today.plusDays(1))) {
        if (!planned.contains(date)) {
          planIfMissing(date);
          planned.add(date);
          engine.tell(now -> new BoardEvent.DatesClosed(now, today.minusDays(1))).join();
        }
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot make the plan yet, trying again: {}", e.getMessage());
    }
  }

  private void planIfMissing(LocalDate date) {
    if (rows.find(PlannedDateRow.class, date) != null) {
      return;
    }
    int count =
        engine
            .ask(
                turn -> {
                  List<PlannedRun> runs = new Planner(turn.definitions()).plan(date);
                  turn.plan(notOnBoard(runs, turn));
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

  private static List<PlannedRun> notOnBoard(List<PlannedRun> runs, Turn turn) {
    Set<String> there = new HashSet<>();
    turn.board().runs().forEach(run -> there.add(run.run().reference().toString()));
    return runs.stream().filter(run -> !there.contains(run.reference().toString())).toList();
  }

  /**
   * Brings the plan into line with definitions that have just come into force: what has not begun
   * and would now be planned otherwise is planned anew; start times that are past are left alone.
   */
  public Replanned replan(Turn turn) {
    Definitions definitions = turn.definitions();
    Planner planner = new Planner(definitions);
    List<Long> gone = new ArrayList<>();
    List<PlannedRun> fresh = new ArrayList<>();
    for (LocalDate date : new TreeSet<>(planned)) {
      if (!date.isBefore(today())) {
        Set<String> streams = new TreeSet<>();
        definitions.streams().forEach(stream -> streams.add(stream.path()));
        onBoard(turn, date).forEach(run -> streams.add(run.run().reference().stream()));
        for (String path : streams) {
          List<PlannedRun> wanted =
              definitions.stream(path)
                  .map(stream -> plan(planner, stream, date, turn))
                  .orElse(List.of());
          replan(path, date, wanted, turn, gone, fresh);
        }
      }
    }
    turn.withdraw(gone);
    List<PlannedRun> added = notOnBoard(fresh, turn);
    turn.plan(added);
    return new Replanned(added.size(), gone.size());
  }

  private static List<PlannedRun> plan(Planner planner, Stream stream, LocalDate date, Turn turn) {
    Instant now = Instant.ofEpochMilli(turn.now());
    return planner.plan(stream, date).stream().filter(run -> run.due().isAfter(now)).toList();
  }

  private static List<RunSpec> onBoard(Turn turn, LocalDate date) {
    return turn.board().runs().stream()
        .filter(run -> run.run().reference().date().equals(date))
        .toList();
  }

  private static void replan(
      String stream,
      LocalDate date,
      List<PlannedRun> wanted,
      Turn turn,
      List<Long> gone,
      List<PlannedRun> fresh) {
    List<RunSpec> open =
        onBoard(turn, date).stream()
            .filter(run -> run.run().reference().stream().equals(stream))
            .filter(run -> turn.board().status(run.id()).orElseThrow().state() == RunState.PLANNED)
            .toList();
    if (!open.stream().map(RunSpec::run).toList().equals(wanted)) {
      open.forEach(run -> gone.add(run.id()));
      fresh.addAll(wanted);
    }
  }
}

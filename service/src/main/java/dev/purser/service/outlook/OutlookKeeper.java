package dev.purser.service.outlook;

import dev.purser.core.board.Board;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Keeps an outlook of what is on the board, and makes one of further days when asked. */
@Component
public class OutlookKeeper {
  private static final Logger LOG = LoggerFactory.getLogger(OutlookKeeper.class);
  private static final int SAMPLES = 40;
  private static final long SEED = 20_270_304;
  private static final long RUNS_A_SECOND_ROUGHLY = 200_000;

  private final Engine engine;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final DurationHistory history;
  private final Known known;
  private final Clock clock;
  private volatile Map<Long, RunOutlook> current = Map.of();
  private volatile boolean stale = true;
  private volatile long next;

  OutlookKeeper(
      Engine engine,
      PlanKeeper plan,
      Pauses pauses,
      DurationHistory history,
      Known known,
      Clock clock) {
    this.engine = engine;
    this.plan = plan;
    this.pauses = pauses;
    this.history = history;
    this.known = known;
    this.clock = clock;
  }

  /** The outlook of every open run on the board, by id, as of a few seconds ago at the most. */
  public Map<Long, RunOutlook> current() {
    return current;
  }

  @EventListener
  void committed(Engine.Committed committed) {
    stale = true;
  }

  /** What is known of durations is put on record, now and then. */
  @Scheduled(fixedDelayString = "PT10M", initialDelayString = "PT2M")
  void keepHistory() {
    if (engine.isActive()) {
      history.keep();
    }
  }

  /**
   * Plays anew when something has changed, or time has moved on, but not more often than it costs.
   */
  @Scheduled(fixedDelay = 1_000)
  void keep() {
    long now = clock.millis();
    if (!engine.isActive() || now < next || (!stale && now < next + 15_000)) {
      return;
    }
    stale = false;
    try {
      Board copy = engine.look(Board::new);
      Map<Long, RunOutlook> fresh = new HashMap<>();
      play(copy, List.of(), Duration.ofDays(2))
          .forEach(outlook -> fresh.put(outlook.run().id(), outlook));
      current = fresh;
      long cost = clock.millis() - now;
      next = clock.millis() + Math.max(2_000, cost * 8);
    } catch (RuntimeException e) {
      LOG.warn("cannot make an outlook: {}", e.toString());
      next = clock.millis() + 10_000;
    }
  }

  /** The outlook of all runs of some days from a date on, whether they are on the board or not. */
  public List<RunOutlook> days(LocalDate from, int days) {
    Board copy = engine.look(Board::new);
    Set<RunReference> there = new HashSet<>();
    copy.runs().forEach(run -> there.add(run.run().reference()));
    Planner planner = new Planner(engine.definitions());
    List<RunSpec> more = new ArrayList<>();
    long id = -1;
    for (int i = 0; i < days; i++) {
      LocalDate date = from.plusDays(i);
      if (date.isAfter(plan.today().plusDays(1))) {
        for (PlannedRun run : planner.plan(date)) {
          boolean paused = isPaused(run, planner);
          if (!paused && !there.contains(run.reference())) {
            more.add(new RunSpec(id--, run, 0));
          }
        }
      }
    }
    return play(copy, more, Duration.ofDays(days + 3L)).stream()
        .filter(outlook -> isBetween(outlook.run().run().reference().date(), from, days))
        .toList();
  }

  private boolean isPaused(PlannedRun run, Planner planner) {
    return planner
        .definitions()
        .topOf(run.reference().stream())
        .filter(stream -> pauses.all().containsKey(stream.path()))
        .isPresent();
  }

  private static boolean isBetween(LocalDate date, LocalDate from, int days) {
    return !date.isBefore(from) && date.isBefore(from.plusDays(days));
  }

  private List<RunOutlook> play(Board board, List<RunSpec> more, Duration ahead) {
    long size = (long) board.size() + more.size();
    int samples = (int) Math.max(5, Math.min(SAMPLES, RUNS_A_SECOND_ROUGHLY * 5L / (size + 1)));
    return new Outlook(board, new UsualOutcomes(known.now()), SEED)
        .play(more, samples, clock.millis() + ahead.toMillis());
  }
}

package dev.purser.service.outlook;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.plan.RunReference;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * On large sites an outlook of all takes many seconds. What has changed for a promise is seen
 * within one: only what bears on the promises that it reaches is played.
 */
@Component
class PromisesTouched {
  private static final Logger LOG = LoggerFactory.getLogger(PromisesTouched.class);

  /** Smaller boards are played as a whole as quickly. */
  private static final int SMALL = 2_000;

  /** Where more has changed, all is played anyhow. */
  private static final int MOST_CHANGED = 20_000;

  /** So many times as long as it took, nothing is played after it. */
  private static final int REST = 2;

  private final Engine engine;
  private final OutlookKeeper outlooks;
  private final Clock clock;
  private final Set<Long> changed = ConcurrentHashMap.newKeySet();
  private volatile long next;

  PromisesTouched(Engine engine, OutlookKeeper outlooks, Clock clock) {
    this.engine = engine;
    this.outlooks = outlooks;
    this.clock = clock;
  }

  @EventListener
  void committed(Engine.Committed committed) {
    if (changed.size() < MOST_CHANGED) {
      committed.changes().forEach(change -> changed.add(change.run()));
    }
  }

  @Scheduled(fixedDelay = 200)
  void look() {
    long now = clock.millis();
    if (!engine.isActive() || now < next || changed.isEmpty()) {
      return;
    }
    Set<Long> some = Set.copyOf(changed);
    changed.removeAll(some);
    if (some.size() >= MOST_CHANGED || engine.look(BoardView::size) < SMALL) {
      return;
    }
    try {
      outlooks.bringUpToDate((board, promises) -> reached(board, promises, some));
    } catch (RuntimeException e) {
      LOG.warn("cannot bring promises up to date: {}", e.toString());
    }
    next = clock.millis() + (clock.millis() - now) * REST;
  }

  /** The open promises on whose end runs a change has an effect. */
  static List<Promised> reached(Board board, List<PromiseOutlook> promises, Set<Long> changed) {
    Set<RunReference> after = new HashSet<>();
    for (long id : board.after(changed)) {
      board.run(id).ifPresent(run -> after.add(run.run().reference()));
    }
    List<Promised> found = new ArrayList<>();
    for (PromiseOutlook promise : promises) {
      boolean open =
          promise.standing() != PromiseOutlook.Standing.KEPT
              && promise.standing() != PromiseOutlook.Standing.MISSED;
      if (open && promise.promised().ends().stream().anyMatch(after::contains)) {
        found.add(promise.promised());
      }
    }
    return found;
  }
}

package dev.purser.service.handover;

import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunState;
import dev.purser.service.board.Engine;
import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The notes of shifts. */
@Component
@Transactional
public class Handovers {
  private final EntityManager rows;
  private final Engine engine;
  private final Clock clock;

  Handovers(EntityManager rows, Engine engine, Clock clock) {
    this.rows = rows;
    this.engine = engine;
    this.clock = clock;
  }

  /** The last ones, newest first. */
  @Transactional(readOnly = true)
  public List<HandoverRow> last(long before, int most) {
    return rows.createQuery(
            "from HandoverRow h where h.id < :before order by h.id desc", HandoverRow.class)
        .setParameter("before", before)
        .setMaxResults(most)
        .getResultList();
  }

  /** Writes one, with how things stand now. */
  public HandoverRow write(String who, String text) {
    HandoverRow row = new HandoverRow();
    row.written = clock.instant();
    row.who = who;
    row.text = text;
    row.standing = Shorten.text(standing(), 500);
    row.takenBy = "";
    rows.persist(row);
    return row;
  }

  private String standing() {
    long alerts =
        rows.createQuery("select count(a) from AlertRow a where a.closed is null", Long.class)
            .getSingleResult();
    long nobody =
        rows.createQuery(
                "select count(a) from AlertRow a where a.closed is null and a.acknowledged is null",
                Long.class)
            .getSingleResult();
    int[] counts = new int[3];
    List<String> drained = new ArrayList<>();
    engine.look(
        board -> {
          board
              .runs()
              .forEach(
                  run -> {
                    RunState state = board.state(run.id()).orElse(RunState.PLANNED);
                    counts[0] += state == RunState.RUNNING || state == RunState.STARTING ? 1 : 0;
                    counts[1] += state == RunState.FAILED ? 1 : 0;
                    boolean held = !state.isEnded() && !board.heldBy(run.id()).isEmpty();
                    counts[2] += held ? 1 : 0;
                  });
          drained.addAll(board.drainedHosts().keySet());
          return true;
        });
    return alerts
        + (alerts == 1 ? " alert open, " : " alerts open, ")
        + nobody
        + " of them taken on by nobody; "
        + counts[0]
        + (counts[0] == 1 ? " run at work, " : " runs at work, ")
        + counts[1]
        + " failed, "
        + counts[2]
        + " held"
        + (drained.isEmpty() ? "" : "; drained: " + String.join(", ", drained));
  }

  /**
   * Somebody takes over.
   *
   * @return empty where there is no such note
   * @throws IllegalStateException where somebody has before
   */
  public Optional<HandoverRow> take(long id, String who) {
    HandoverRow row = rows.find(HandoverRow.class, id, LockModeType.PESSIMISTIC_WRITE);
    if (row != null && row.taken != null) {
      throw new IllegalStateException(row.takenBy + " has taken over already");
    }
    if (row != null) {
      row.taken = clock.instant();
      row.takenBy = who;
    }
    return Optional.ofNullable(row);
  }
}

package dev.purser.service.audit;

import dev.purser.core.problem.Shorten;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Writes and reads the audit trail. */
@Component
public class AuditTrail {
  private final EntityManager rows;
  private final Clock clock;

  AuditTrail(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Who does something, and from where. */
  public record Actor(String name, String address) {}

  /**
   * An entry, to be written in the transaction of what it is about. What is too long is cut.
   *
   * @param what was done, in a word or two
   * @param about what: a reference, a path, a name
   * @param reason null for none
   */
  public AuditRow entry(Actor actor, String what, String about, String reason) {
    AuditRow row = new AuditRow();
    row.at = clock.instant();
    row.who = actor.name();
    row.address = actor.address();
    row.what = what;
    row.about = Shorten.text(about, 500);
    row.reason = Shorten.text(reason == null ? "" : reason, 1_000);
    return row;
  }

  /** Writes an entry of its own, for what no turn of the engine does. */
  @Transactional
  public void write(Actor actor, String what, String about, String reason) {
    rows.persist(entry(actor, what, about, reason));
  }

  /**
   * Entries, newest first.
   *
   * @param about with this in what they are about; empty for all
   * @param before only entries with a smaller id: {@link Long#MAX_VALUE} for the newest
   * @param most rows at most
   */
  @Transactional(readOnly = true)
  public List<AuditRow> list(String about, long before, int most) {
    return rows.createQuery(
            "from AuditRow a where a.id < :before and a.about like :about order by a.id desc",
            AuditRow.class)
        .setParameter("before", before)
        .setParameter("about", "%" + about + "%")
        .setMaxResults(most)
        .getResultList();
  }
}

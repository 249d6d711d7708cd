package dev.purser.service.audit;

import dev.purser.core.problem.Shorten;
import dev.purser.service.masking.SecretMask;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Writes and reads the audit trail. */
@Component
public class AuditTrail {
  private static final Instant END = Instant.parse("9999-12-31T00:00:00Z");

  private final EntityManager rows;
  private final SecretMask mask;
  private final Clock clock;

  AuditTrail(EntityManager rows, SecretMask mask, Clock clock) {
    this.mask = mask;
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
    row.reason = Shorten.text(reason == null ? "" : mask.of(reason), 1_000);
    return row;
  }

  /** Writes an entry of its own, for what no turn of the engine does. */
  @Transactional
  public void write(Actor actor, String what, String about, String reason) {
    rows.persist(entry(actor, what, about, reason));
  }

  /**
   * What of the trail is asked for.
   *
   * @param about a piece of what it was done to; empty for anything
   * @param who did it, by name; empty for anybody
   * @param what was done, by its word; empty for anything
   * @param from not before; null for no limit
   * @param to before; null for no limit
   */
  public record Filter(String about, String who, String what, Instant from, Instant to) {}

  /** Entries about something, newest first. */
  @Transactional(readOnly = true)
  public List<AuditRow> list(String about, long before, int most) {
    return list(new Filter(about, "", "", null, null), before, most);
  }

  /**
   * Entries, newest first.
   *
   * @param before only entries with a smaller id: {@link Long#MAX_VALUE} for the newest
   * @param most rows at most
   */
  @Transactional(readOnly = true)
  public List<AuditRow> list(Filter filter, long before, int most) {
    return rows.createQuery(
            "from AuditRow a where a.id < :before and a.about like :about"
                + " and (:who = '' or a.who = :who) and (:what = '' or a.what = :what)"
                + " and a.at >= :from and a.at < :to order by a.id desc",
            AuditRow.class)
        .setParameter("before", before)
        .setParameter("about", "%" + filter.about() + "%")
        .setParameter("who", filter.who())
        .setParameter("what", filter.what())
        .setParameter("from", filter.from() == null ? Instant.EPOCH : filter.from())
        .setParameter("to", filter.to() == null ? END : filter.to())
        .setMaxResults(most)
        .getResultList();
  }
}

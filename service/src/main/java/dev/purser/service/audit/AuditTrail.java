package dev.purser.service.audit;

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

  /** An entry, to be written in the transaction of what it is about. */
  public AuditRow entry(Actor actor, String what, String about, String reason) {
    AuditRow row = new AuditRow();
    row.at = clock.instant();
    row.who = actor.name();
    row.address = actor.address();
    row.what = what;
    row.about = cut(about, 500);
    row.reason = cut(reason == null ? "" : reason, 1_000);
    return row;
  }

  private static String cut(String text, int most) {
    return text.length() <= most ? text : text.substring(0, most - 1) + "…";
  }

  /** Writes an entry of its own. */
  @Transactional
  public void write(Actor actor, String what, String about, String reason) {
    rows.persist(entry(actor, what, about, reason));
  }

  /** Entries about something (any part of it; empty for all), newest first. */
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

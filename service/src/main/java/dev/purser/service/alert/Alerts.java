package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Alerts as people see and answer them. */
@Component
@Transactional(readOnly = true)
public class Alerts {
  private final EntityManager rows;

  Alerts(EntityManager rows) {
    this.rows = rows;
  }

  /**
   * Alerts, newest first.
   *
   * @param closed whether closed ones are wanted too
   */
  public List<AlertRow> list(boolean closed, long before, int most) {
    return rows.createQuery(
            "from AlertRow a where a.id < :before"
                + (closed ? "" : " and a.closed is null")
                + " order by a.id desc",
            AlertRow.class)
        .setParameter("before", before)
        .setMaxResults(most)
        .getResultList();
  }

  /** Open alerts of some kinds that are not about runs. */
  public List<AlertRow> openAbout(Collection<AlertKind> kinds) {
    return rows.createQuery(
            "from AlertRow a where a.closed is null and a.kind in :kinds and a.about <> 'run' order"
                + " by a.id",
            AlertRow.class)
        .setParameter("kinds", kinds.stream().map(AlertKind::word).toList())
        .getResultList();
  }

  /** The alert of an id. */
  public Optional<AlertRow> byId(long id) {
    return Optional.ofNullable(rows.find(AlertRow.class, id));
  }

  /** The deliveries of alerts, by alert. */
  public Map<Long, List<DeliveryRow>> deliveries(List<Long> alerts) {
    if (alerts.isEmpty()) {
      return Map.of();
    }
    return rows
        .createQuery("from DeliveryRow d where d.alert in :alerts order by d.id", DeliveryRow.class)
        .setParameter("alerts", alerts)
        .getResultList()
        .stream()
        .collect(Collectors.groupingBy(delivery -> delivery.alert));
  }

  /** What has become of alerts, step by step, by alert. */
  public Map<Long, List<AlertStepRow>> steps(List<Long> alerts) {
    if (alerts.isEmpty()) {
      return Map.of();
    }
    return rows
        .createQuery(
            "from AlertStepRow s where s.alert in :alerts order by s.id", AlertStepRow.class)
        .setParameter("alerts", alerts)
        .getResultList()
        .stream()
        .collect(Collectors.groupingBy(step -> step.alert));
  }

  /**
   * Notes that somebody has taken an alert on.
   *
   * @return false where it was taken on or closed before: by whom is on record then
   */
  @Transactional
  public boolean acknowledge(long id, String who, Instant at) {
    AlertRow alert = rows.find(AlertRow.class, id);
    if (alert == null || alert.acknowledged != null || alert.closed != null) {
      return false;
    }
    alert.acknowledged = at;
    alert.acknowledgedBy = who;
    rows.persist(AlertStepRow.of(alert, "acknowledged", who, "", at));
    return true;
  }

  /**
   * Puts an alert off: nobody need look at it before a time, when it is open again.
   *
   * @param said until when and why, for people
   * @return false where it was closed before
   */
  @Transactional
  public boolean putOff(long id, String who, Instant until, String said, Instant at) {
    AlertRow alert = rows.find(AlertRow.class, id);
    if (alert == null || alert.closed != null) {
      return false;
    }
    alert.putOffUntil = until;
    rows.persist(AlertStepRow.of(alert, "put off", who, said, at));
    return true;
  }

  /**
   * Adds what somebody says to the record of an alert, open or closed.
   *
   * @return false where there is no such alert
   */
  @Transactional
  public boolean comment(long id, String who, String text, Instant at) {
    AlertRow alert = rows.find(AlertRow.class, id);
    if (alert == null) {
      return false;
    }
    rows.persist(AlertStepRow.of(alert, "commented", who, text, at));
    return true;
  }

  /**
   * Closes an alert.
   *
   * @param who by whom; empty where its reason is gone
   * @param because for people
   * @return false where it was closed before
   */
  @Transactional
  public boolean close(long id, String who, String because, Instant at) {
    AlertRow alert = rows.find(AlertRow.class, id);
    if (alert == null || alert.closed != null) {
      return false;
    }
    alert.closed = at;
    alert.closedBecause = because;
    rows.persist(AlertStepRow.of(alert, "closed", who, because, at));
    return true;
  }

  /** How many deliveries have been tried in vain and are tried again. */
  public long undelivered() {
    return rows.createQuery(
            "select count(d) from DeliveryRow d where d.state = 'pending' and d.tries > 0",
            Long.class)
        .getSingleResult();
  }
}

package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import jakarta.persistence.EntityManager;
import jakarta.persistence.TypedQuery;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
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
   * Which alerts are wanted; nothing said of something is any.
   *
   * @param closed whether closed ones are wanted too
   * @param heads only those that are part of no other that is open
   * @param partOf only the parts of this one; 0 for all
   * @param kinds words of kinds
   * @param urgencies words of urgencies
   * @param belongsTo whose alerts, where that matters; null for any
   * @param text in the title, the text or the reference
   * @param from opened then or later; null for any time
   * @param to opened before; null for any time
   * @param told names of those who were told; null for any
   */
  public record Filter(
      boolean closed,
      boolean heads,
      long partOf,
      List<String> kinds,
      List<String> urgencies,
      Belongs belongsTo,
      String text,
      Instant from,
      Instant to,
      Collection<String> told) {
    /**
     * What alerts belong to: one of these is enough.
     *
     * @param streams paths of streams and steps, as they stand in alerts
     * @param promises names of commitments
     */
    public record Belongs(Collection<String> streams, Collection<String> promises) {}

    /** All that are open. */
    public static final Filter OPEN =
        new Filter(false, false, 0, List.of(), List.of(), null, "", null, null, null);

    /** All that there are. */
    public static final Filter ALL =
        new Filter(true, false, 0, List.of(), List.of(), null, "", null, null, null);
  }

  /** Alerts, newest first. */
  public List<AlertRow> list(Filter filter, long before, int most) {
    StringBuilder query = new StringBuilder("from AlertRow a where a.id < :before");
    Map<String, Object> values = new LinkedHashMap<>();
    if (!filter.closed()) {
      query.append(" and a.closed is null");
    }
    if (filter.heads()) {
      query.append(
          " and not exists (select 1 from TellingRow t join AlertRow h on h.id = t.partOf"
              + " where t.alert = a.id and h.closed is null)");
    }
    if (filter.partOf() != 0) {
      query.append(
          " and exists (select 1 from TellingRow t where t.alert = a.id and t.partOf = :partOf)");
      values.put("partOf", filter.partOf());
    }
    isIn(query, values, "kind", filter.kinds());
    isIn(query, values, "urgency", filter.urgencies());
    belongs(query, values, filter.belongsTo());
    if (!filter.text().isEmpty()) {
      query.append(
          " and (locate(:text, a.title) > 0 or locate(:text, a.text) > 0"
              + " or locate(:text, a.reference) > 0)");
      values.put("text", filter.text());
    }
    if (filter.from() != null) {
      query.append(" and a.opened >= :from");
      values.put("from", filter.from());
    }
    if (filter.to() != null) {
      query.append(" and a.opened < :to");
      values.put("to", filter.to());
    }
    if (filter.told() != null) {
      query.append(
          " and exists (select 1 from NoticeRow n where n.alert = a.id and n.name in :told)");
      values.put("told", filter.told().isEmpty() ? List.of("") : filter.told());
    }
    TypedQuery<AlertRow> asked =
        rows.createQuery(query + " order by a.id desc", AlertRow.class)
            .setParameter("before", before)
            .setMaxResults(most);
    values.forEach(asked::setParameter);
    return asked.getResultList();
  }

  private static void belongs(
      StringBuilder query, Map<String, Object> values, Filter.Belongs belongs) {
    if (belongs == null) {
      return;
    }
    List<String> any = new ArrayList<>();
    if (!belongs.streams().isEmpty()) {
      any.add("a.stream in :streams");
      values.put("streams", belongs.streams());
    }
    if (!belongs.promises().isEmpty()) {
      any.add(
          "(a.about = 'commitment' and substring(a.reference, 1, locate('@', a.reference) - 1) in"
              + " :promises)");
      values.put("promises", belongs.promises());
    }
    query.append(" and (").append(any.isEmpty() ? "1 = 0" : String.join(" or ", any)).append(")");
  }

  /** The paths of streams and steps of which there are alerts. */
  public List<String> streams() {
    return rows.createQuery(
            "select distinct a.stream from AlertRow a where a.stream <> ''", String.class)
        .getResultList();
  }

  private static void isIn(
      StringBuilder query, Map<String, Object> values, String what, List<String> words) {
    if (!words.isEmpty()) {
      query.append(" and a.").append(what).append(" in :").append(what);
      values.put(what, words);
    }
  }

  /** The alerts that are part of one, oldest first. */
  public List<AlertRow> partsOf(long head, int most) {
    return rows.createQuery(
            "select a from AlertRow a join TellingRow t on t.alert = a.id where t.partOf = :head"
                + " order by a.id",
            AlertRow.class)
        .setParameter("head", head)
        .setMaxResults(most)
        .getResultList();
  }

  /** How far the telling of alerts has come, by alert. */
  public Map<Long, TellingRow> tellings(List<Long> alerts) {
    return alerts.isEmpty()
        ? Map.of()
        : rows
            .createQuery("from TellingRow t where t.alert in :alerts", TellingRow.class)
            .setParameter("alerts", alerts)
            .getResultList()
            .stream()
            .collect(Collectors.toMap(row -> row.alert, Function.identity()));
  }

  /** Who is, was or will be told of alerts, by alert. */
  public Map<Long, List<NoticeRow>> notices(List<Long> alerts) {
    return alerts.isEmpty()
        ? Map.of()
        : rows
            .createQuery("from NoticeRow n where n.alert in :alerts order by n.id", NoticeRow.class)
            .setParameter("alerts", alerts)
            .getResultList()
            .stream()
            .collect(Collectors.groupingBy(notice -> notice.alert));
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

  /** The open parts of an alert. */
  @Transactional(readOnly = true)
  public List<Long> openPartsOf(long id) {
    return rows.createQuery(
            "select a.id from AlertRow a join TellingRow t on t.alert = a.id where t.partOf = :id"
                + " and a.closed is null order by a.id",
            Long.class)
        .setParameter("id", id)
        .getResultList();
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
}

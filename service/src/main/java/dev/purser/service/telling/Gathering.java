package dev.purser.service.telling;

import dev.purser.core.alert.AlertSubject;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.TellingRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.hibernate.StatelessSession;

/**
 * Puts alerts together that come of one thing, or that are one storm: one of them has the others as
 * its parts. There are two levels and no more.
 */
final class Gathering {
  /** More than so many of one stream and kind within a minute are a storm. */
  static final int STORM = 10;

  private static final Duration WITHIN = Duration.ofMinutes(1);

  private final StatelessSession session;
  private final Instant now;
  private final Map<Long, TellingRow> grouped = new LinkedHashMap<>();
  private final Set<Long> changed = new LinkedHashSet<>();

  Gathering(StatelessSession session, Instant now) {
    this.session = session;
    this.now = now;
  }

  /** Looks at the alerts that are to be told, and at those that come of them. */
  void gather(List<NoticeRow> due) {
    Set<Long> ids =
        due.stream()
            .filter(notice -> notice.why.equals("rule"))
            .map(notice -> notice.alert)
            .collect(Collectors.toCollection(LinkedHashSet::new));
    if (ids.isEmpty()) {
      return;
    }
    List<AlertRow> fresh = byIds(ids);
    read(ids);
    Map<String, Optional<Long>> heads = new HashMap<>();
    for (AlertRow alert : fresh) {
      if (!alert.cause.isEmpty() && alert.closed == null) {
        heads.computeIfAbsent(alert.cause, this::open).ifPresent(head -> join(alert.id, head));
      }
    }
    orphans(fresh);
    storms(fresh);
    write();
  }

  /** The parts of one alert at once. */
  private void write() {
    Map<Long, List<Long>> parts = new LinkedHashMap<>();
    for (long id : changed) {
      TellingRow row = grouped.get(id);
      if (row.partOf == 0) {
        session.update(row);
      } else {
        parts.computeIfAbsent(row.partOf, any -> new ArrayList<>()).add(id);
      }
    }
    parts.forEach(
        (head, ids) ->
            session
                .createMutationQuery(
                    "update TellingRow t set t.partOf = :head, t.parts = 0 where t.alert in :ids")
                .setParameter("head", head)
                .setParameter("ids", ids)
                .executeUpdate());
  }

  /** Reads at once what is needed of many: a storm would be thousands of questions. */
  private void read(Collection<Long> ids) {
    List<Long> unknown = ids.stream().filter(id -> !grouped.containsKey(id)).toList();
    if (!unknown.isEmpty()) {
      session
          .createSelectionQuery("from TellingRow t where t.alert in :ids", TellingRow.class)
          .setParameter("ids", unknown)
          .getResultList()
          .forEach(row -> grouped.put(row.alert, row));
    }
  }

  private TellingRow row(long alert) {
    return grouped.computeIfAbsent(alert, any -> session.get(TellingRow.class, any));
  }

  private List<AlertRow> byIds(Collection<Long> ids) {
    return session
        .createSelectionQuery("from AlertRow a where a.id in :ids order by a.id", AlertRow.class)
        .setParameter("ids", ids)
        .getResultList();
  }

  /** The open alert about a thing itself: of a run, that it failed before all else. */
  private Optional<Long> open(String key) {
    return session
        .createSelectionQuery(
            "select a.id from AlertRow a where a.closed is null and a.ownKey = :key"
                + " order by case when a.kind = 'failed' then 0 else 1 end, a.id",
            Long.class)
        .setParameter("key", key)
        .setMaxResults(1)
        .getResultList()
        .stream()
        .findFirst();
  }

  /** Those that were told, or are to be told, before what they come of was known. */
  private void orphans(List<AlertRow> fresh) {
    Map<String, Long> heads = new HashMap<>();
    fresh.stream()
        .filter(head -> head.closed == null)
        .forEach(head -> heads.putIfAbsent(head.ownKey, head.id));
    if (heads.isEmpty()) {
      return;
    }
    for (Object[] orphan :
        session
            .createSelectionQuery(
                "select a.id, a.cause from AlertRow a where a.closed is null and a.cause in :keys"
                    + " order by a.id",
                Object[].class)
            .setParameter("keys", heads.keySet())
            .getResultList()) {
      join((Long) orphan[0], heads.get((String) orphan[1]));
    }
  }

  /** Makes one alert, with its parts, a part of what another stands for. */
  private void join(long part, long of) {
    TellingRow own = row(part);
    TellingRow head = row(of);
    if (head != null && head.partOf != 0) {
      head = row(head.partOf);
    }
    if (own == null || head == null || own.partOf != 0 || own.alert.equals(head.alert)) {
      return;
    }
    if (own.parts > 0) {
      for (TellingRow below : below(part)) {
        row(below.alert).partOf = head.alert;
        changed.add(below.alert);
      }
    }
    head.parts += 1 + own.parts;
    head.growLook = head.growLook == null ? now.plus(WITHIN) : head.growLook;
    own.parts = 0;
    own.partOf = head.alert;
    changed.add(head.alert);
    changed.add(part);
  }

  private List<TellingRow> below(long head) {
    List<TellingRow> all =
        new ArrayList<>(grouped.values().stream().filter(one -> one.partOf == head).toList());
    session
        .createSelectionQuery("from TellingRow t where t.partOf = :head", TellingRow.class)
        .setParameter("head", head)
        .getResultList()
        .stream()
        .filter(one -> !grouped.containsKey(one.alert))
        .forEach(all::add);
    return all;
  }

  // ---- storms

  private record Sort(String stream, String kind) {}

  private void storms(List<AlertRow> fresh) {
    fresh.stream()
        .filter(alert -> AlertSubject.RUN.word().equals(alert.about))
        .map(alert -> new Sort(alert.stream, alert.kind))
        .distinct()
        .forEach(this::storm);
  }

  /** All of a sort that stand by themselves become parts of the first of them. */
  private void storm(Sort sort) {
    List<Long> recent =
        session
            .createSelectionQuery(
                "select a.id from AlertRow a where a.stream = :stream and a.kind = :kind and"
                    + " a.opened > :since and a.about = 'run' order by a.id",
                Long.class)
            .setParameter("stream", sort.stream())
            .setParameter("kind", sort.kind())
            .setParameter("since", now.minus(WITHIN))
            .getResultList();
    if (recent.size() <= STORM) {
      return;
    }
    read(recent);
    List<TellingRow> alone =
        recent.stream().map(this::row).filter(row -> row != null && row.partOf == 0).toList();
    TellingRow head = alone.isEmpty() ? null : alone.get(0);
    for (TellingRow row : alone) {
      if (row.parts > head.parts) {
        head = row; // a storm goes on
      }
    }
    for (TellingRow row : alone) {
      join(row.alert, head.alert);
    }
  }
}

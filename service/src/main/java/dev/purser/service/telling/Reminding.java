package dev.purser.service.telling;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.problem.Shorten;
import dev.purser.core.schedule.Durations;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.NextLooks;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.TellingRow;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.hibernate.StatelessSession;

/**
 * Writes what is to be told again of alerts: the next step of an escalation, a reminder, that more
 * has come of it, that it is over.
 */
final class Reminding {
  /** No oftener is it told that more has come of an alert. */
  private static final Duration BETWEEN_UPDATES = Duration.ofMinutes(1);

  /** What was closed longer ago is not news any more. */
  private static final Duration NEWS = Duration.ofHours(24);

  private static final int MOST_NAMED = 10;

  /** Those are closed as they are opened. */
  private static final String TOLD_ONLY =
      Arrays.stream(AlertKind.values())
          .filter(AlertKind::isToldOnly)
          .map(kind -> "'" + kind.word() + "'")
          .collect(Collectors.joining(", "));

  private final StatelessSession session;
  private final Definitions definitions;
  private final Instant now;

  Reminding(StatelessSession session, Definitions definitions, Instant now) {
    this.session = session;
    this.definitions = definitions;
    this.now = now;
  }

  /** Whether anything was written. */
  boolean look(int most) {
    boolean any = false;
    for (TellingRow row : rows("t.nextLook <= :now order by t.nextLook", now, most)) {
      again(row);
      any = true;
    }
    String grown =
        "t.parts > 2 * t.partsTold and t.toldAt <= :now and exists"
            + " (select 1 from AlertRow a where a.id = t.alert and (a.closed is null or a.kind in ("
            + TOLD_ONLY
            + ")))";
    for (TellingRow row : rows(grown, now.minus(BETWEEN_UPDATES), most)) {
      grown(row);
      any = true;
    }
    String over =
        "t.overLooked = false and exists"
            + " (select 1 from AlertRow a where a.id = t.alert and a.closed <= :now)";
    for (TellingRow row : rows(over, now, most)) {
      over(row);
      any = true;
    }
    return any;
  }

  private List<TellingRow> rows(String which, Instant at, int most) {
    return session
        .createSelectionQuery("from TellingRow t where " + which, TellingRow.class)
        .setParameter("now", at)
        .setMaxResults(most)
        .getResultList();
  }

  private void again(TellingRow row) {
    AlertRow alert = session.get(AlertRow.class, row.alert);
    if (alert == null || alert.closed != null || alert.acknowledged != null) {
      row.nextLook = null;
      session.update(row);
      return;
    }
    NextLooks looks = NextLooks.of(alert.plan);
    if (row.partOf != 0 && isOpen(row.partOf)) {
      row.nextLook = looks.next(alert.opened, row.looks, now).map(any -> later()).orElse(null);
    } else if (alert.putOffUntil != null && now.isBefore(alert.putOffUntil)) {
      row.nextLook = alert.putOffUntil;
    } else {
      Optional<NextLooks.Step> step = looks.due(alert.opened, row.looks, now);
      String open =
          "open for "
              + Durations.print(
                  Duration.ofSeconds(Duration.between(alert.opened, now).toSeconds()));
      if (step.isPresent()) {
        row.looks++;
        String text =
            "nobody has taken it on, " + open + ": " + String.join(", ", step.get().tell());
        write(alert, "escalated", text, new LinkedHashSet<>(step.get().tell()), "escalation");
      } else {
        write(alert, "reminded", "nobody has taken it on, " + open, told(alert), "reminder");
      }
      row.nextLook = looks.next(alert.opened, row.looks, now).orElse(null);
    }
    session.update(row);
  }

  private boolean isOpen(long alert) {
    AlertRow row = session.get(AlertRow.class, alert);
    return row != null && row.closed == null;
  }

  /** What is part of another is that one's matter; it is looked at again should it be alone. */
  private Instant later() {
    return now.plus(BETWEEN_UPDATES);
  }

  private void grown(TellingRow row) {
    AlertRow alert = session.get(AlertRow.class, row.alert);
    List<String> parts =
        session
            .createSelectionQuery(
                "select a.title from AlertRow a join TellingRow t on t.alert = a.id where t.partOf = :id"
                    + " order by a.id",
                String.class)
            .setParameter("id", row.alert)
            .setMaxResults(MOST_NAMED)
            .getResultList();
    int more = row.parts - parts.size();
    String text =
        row.parts
            + (row.parts == 1 ? " other alert is" : " other alerts are")
            + " part of it now: "
            + String.join("; ", parts)
            + (more > 0 ? "; and " + more + " more" : "");
    write(alert, "grew", text, told(alert), "update");
    row.partsTold = row.parts;
    row.toldAt = now;
    session.update(row);
  }

  private void over(TellingRow row) {
    row.overLooked = true;
    row.nextLook = null;
    session.update(row);
    AlertRow alert = session.get(AlertRow.class, row.alert);
    if (alert.closed.isBefore(now.minus(NEWS))) {
      return;
    }
    Set<String> names = new LinkedHashSet<>();
    for (String name : told(alert)) {
      if (definitions.recipient(name).filter(Recipient::whenOver).isPresent()) {
        names.add(name);
      }
    }
    if (!names.isEmpty()) {
      AlertStepRow closed =
          session
              .createSelectionQuery(
                  "from AlertStepRow s where s.alert = :id and s.what = 'closed' order by s.id desc",
                  AlertStepRow.class)
              .setParameter("id", alert.id)
              .setMaxResults(1)
              .getSingleResultOrNull();
      if (closed != null) {
        for (String name : names) {
          session.insert(notice(closed, name, "over", Urgency.NOTE.word()));
        }
      }
    }
  }

  /** Those who were told by themselves, and not because it was over. */
  private Set<String> told(AlertRow alert) {
    return new LinkedHashSet<>(
        session
            .createSelectionQuery(
                "select n.name from NoticeRow n where n.alert = :id and n.why <> 'over'"
                    + " and n.state in ('told', 'waits') order by n.id",
                String.class)
            .setParameter("id", alert.id)
            .getResultList());
  }

  private void write(AlertRow alert, String what, String text, Set<String> names, String why) {
    AlertStepRow step = AlertStepRow.of(alert, what, "", Shorten.text(text, 2_000), now);
    session.insert(step);
    names.forEach(name -> session.insert(notice(step, name, why, alert.urgency)));
  }

  private NoticeRow notice(AlertStepRow step, String name, String why, String urgency) {
    NoticeRow notice = NoticeRow.of(step, name, why, urgency);
    notice.at = now;
    notice.due = now;
    return notice;
  }
}

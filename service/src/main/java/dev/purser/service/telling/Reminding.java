package dev.purser.service.telling;

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
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.hibernate.LockMode;
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

  private final StatelessSession session;
  private final Definitions definitions;
  private final Instant now;

  Reminding(StatelessSession session, Definitions definitions, Instant now) {
    this.session = session;
    this.definitions = definitions;
    this.now = now;
  }

  /** What is to be looked at: an alert, and why. */
  record Task(long alert, Why why) {}

  /** Why an alert is looked at again. */
  enum Why {
    /** Nobody has taken it on for so long that somebody is told again, or besides. */
    AGAIN("t.nextLook <= :now", "nextLook = null"),
    /** More has come of it. */
    GROWN("t.growLook <= :now", "growLook = null"),
    /** It is closed. */
    OVER(
        "t.overLooked = false and exists (select 1 from AlertRow a where a.id = t.alert and a.closed"
            + " <= :now and a.closed > :news)",
        "overLooked = true");

    private final String due;
    private final String done;

    Why(String due, String done) {
      this.due = due;
      this.done = done;
    }
  }

  /** All that is due, so many of each at the most. */
  static List<Task> due(StatelessSession session, Instant now, int most) {
    List<Task> all = new ArrayList<>();
    for (Why why : Why.values()) {
      var query =
          session
              .createSelectionQuery(
                  "select t.alert from TellingRow t where " + why.due + " order by t.alert",
                  Long.class)
              .setParameter("now", now)
              .setMaxResults(most);
      if (why == Why.OVER) {
        query.setParameter("news", now.minus(NEWS));
      }
      query.getResultList().forEach(alert -> all.add(new Task(alert, why)));
    }
    return all;
  }

  /** Puts something aside that cannot be looked at. */
  static void putAside(StatelessSession session, Task task) {
    session
        .createMutationQuery(
            "update TellingRow t set t." + task.why().done + " where t.alert = :id")
        .setParameter("id", task.alert())
        .executeUpdate();
  }

  /** Looks at one. */
  void look(Task task) {
    TellingRow row = session.get(TellingRow.class, task.alert(), LockMode.PESSIMISTIC_WRITE);
    if (row == null || !isStillDue(row, task.why())) {
      return; // another service has become the active one, and has looked
    }
    AlertRow alert = session.get(AlertRow.class, task.alert());
    switch (task.why()) {
      case AGAIN -> again(row, alert);
      case GROWN -> grown(row, alert);
      case OVER -> over(row, alert);
    }
  }

  private boolean isStillDue(TellingRow row, Why why) {
    return switch (why) {
      case AGAIN -> row.nextLook != null && !row.nextLook.isAfter(now);
      case GROWN -> row.growLook != null && !row.growLook.isAfter(now);
      case OVER -> !row.overLooked;
    };
  }

  private void again(TellingRow row, AlertRow alert) {
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

  /** Told again where twice as many are part of it as when it was told. */
  private void grown(TellingRow row, AlertRow alert) {
    boolean isOver = alert.closed != null && !Dispatch.isToldOnly(alert);
    boolean isNews = row.toldAt != null && row.parts > 2 * row.partsTold && !isOver;
    row.growLook = null;
    if (isNews) {
      row.partsTold = row.parts;
      row.toldAt = now;
    }
    session.update(row);
    if (isNews) {
      tellGrown(row, alert);
    }
  }

  private void tellGrown(TellingRow row, AlertRow alert) {
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
  }

  private void over(TellingRow row, AlertRow alert) {
    row.overLooked = true;
    row.nextLook = null;
    session.update(row);
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

package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.audit.AuditTrail;
import dev.purser.wire.api.AlertViews;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** What people do to alerts, one or many. */
@Component
class AlertActs {
  private static final Duration LONGEST_PUT_OFF = Duration.ofDays(30);
  private static final DateTimeFormatter HH_MM =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm zzz", Locale.ROOT);

  private final Alerts alerts;
  private final AuditTrail audit;
  private final Settings settings;
  private final Clock clock;

  AlertActs(Alerts alerts, AuditTrail audit, Settings settings, Clock clock) {
    this.alerts = alerts;
    this.audit = audit;
    this.settings = settings;
    this.clock = clock;
  }

  /**
   * What is asked for, and makes sense.
   *
   * @param until for {@code put-off}; else null
   */
  record Asked(String action, String reason, Instant until) {}

  /**
   * Looks whether it makes sense.
   *
   * @throws NotUnderstood where it does not
   */
  Asked asked(String action, String reason, Instant until) {
    String said = reason == null ? "" : reason.strip();
    switch (action == null ? "" : action) {
      case "acknowledge", "close" -> {} // they need nothing more
      case "comment" -> {
        if (said.isEmpty()) {
          throw new NotUnderstood("a comment needs a text, as the reason");
        }
      }
      case "put-off" -> {
        if (said.isEmpty()) {
          throw new NotUnderstood(
              "to put an alert off needs a reason: whoever comes next reads it");
        }
        Instant now = clock.instant();
        if (until == null || !until.isAfter(now) || until.isAfter(now.plus(LONGEST_PUT_OFF))) {
          throw new NotUnderstood(
              "an alert is put off until a time that lies ahead, "
                  + LONGEST_PUT_OFF.toDays()
                  + " days at the most");
        }
      }
      default ->
          throw new NotUnderstood(
              "unknown action \""
                  + (action == null ? "" : action)
                  + "\"; there is acknowledge, put-off, comment, close");
    }
    return new Asked(action, said, until);
  }

  /** Does it; false where the alert is no more as it must be for that. */
  boolean act(long id, Asked asked, AuditTrail.Actor actor) {
    String name = actor.name();
    Instant now = clock.instant();
    boolean done =
        switch (asked.action()) {
          case "acknowledge" -> alerts.acknowledge(id, name, now);
          case "close" ->
              alerts.close(
                  id,
                  name,
                  "closed by " + name + (asked.reason().isEmpty() ? "" : ": " + asked.reason()),
                  now);
          case "put-off" -> {
            String until = HH_MM.format(asked.until().atZone(settings.zone()));
            String text = "until " + until + ": " + asked.reason();
            yield alerts.putOff(id, name, asked.until(), text, now);
          }
          default -> alerts.comment(id, name, asked.reason(), now);
        };
    if (done) {
      String about = alerts.byId(id).map(row -> row.reference).orElse("alert " + id);
      audit.write(actor, asked.action() + " alert", about, asked.reason());
    }
    return done;
  }

  /** Why nothing can be done to an alert any more. */
  static String already(AlertViews.AlertView now) {
    return already(now.state(), now.acknowledgedBy());
  }

  private static String already(String state, String by) {
    return "the alert is " + state + (by.isEmpty() ? "" : " by " + by) + " already";
  }

  /** Does it to many, each for itself, and says what became of each. */
  List<AlertViews.AlertDone> actOnAll(
      List<Long> ids, boolean withParts, Asked asked, AuditTrail.Actor actor) {
    Set<Long> all = new LinkedHashSet<>();
    for (long id : ids) {
      all.add(id);
      if (withParts) {
        all.addAll(alerts.openPartsOf(id));
      }
    }
    List<AlertViews.AlertDone> done = new ArrayList<>();
    for (long id : all) {
      boolean there = act(id, asked, actor);
      Optional<AlertRow> now = alerts.byId(id);
      String state = now.map(row -> row.state(clock.instant())).orElse("");
      String refusal =
          now.map(row -> there ? "" : already(state, row.acknowledgedBy))
              .orElse("there is no alert " + id);
      done.add(new AlertViews.AlertDone(id, now.map(row -> row.title).orElse(""), state, refusal));
    }
    return done;
  }
}

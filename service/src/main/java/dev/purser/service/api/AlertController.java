package dev.purser.service.api;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.alert.Alerts;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.AlertRuleViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Alerts and the audit trail. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class AlertController {
  private static final int MOST = 500;

  private final Alerts alerts;
  private final AuditTrail audit;
  private final Live live;
  private final Engine engine;

  private final AlertPages views;
  private final AlertActs acts;

  AlertController(
      Alerts alerts, AuditTrail audit, Live live, Engine engine, AlertPages views, AlertActs acts) {
    this.views = views;
    this.acts = acts;
    this.engine = engine;
    this.alerts = alerts;
    this.audit = audit;
    this.live = live;
  }

  /**
   * Alerts, newest first; nothing said of something is any.
   *
   * @param closed whether closed ones are wanted too
   * @param heads only those that are part of no other open one
   * @param partOf only the parts of this one
   * @param kind words of kinds, with commas
   * @param urgency words of urgencies, with commas
   * @param stream a stream's path: it, and what is below it
   * @param text in the title, the text or what it is about
   * @param from opened then or later
   * @param to opened before
   * @param mine only those of which whoever asks was told
   */
  @GetMapping("/alerts")
  @Paged(by = "id", newestFirst = true)
  List<AlertViews.AlertView> list(
      @RequestParam(defaultValue = "false") boolean closed,
      @RequestParam(defaultValue = "false") boolean heads,
      @RequestParam(defaultValue = "0") long partOf,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String urgency,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String department,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String text,
      @RequestParam(required = false) Instant from,
      @RequestParam(required = false) Instant to,
      @RequestParam(defaultValue = "false") boolean mine,
      @RequestParam(defaultValue = "9223372036854775807") long before,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST) int limit,
      Authentication who) {
    Alerts.Filter filter =
        new Alerts.Filter(
            closed,
            heads,
            partOf,
            words("kind", kind, AlertKind.words()),
            words("urgency", urgency, Urgency.words()),
            belonging(department, stream),
            text.strip(),
            from,
            to,
            mine ? names(who.getName()) : null);
    return views.of(alerts.list(filter, before, limit));
  }

  private static List<String> words(String name, String text, List<String> known) {
    List<String> all =
        Arrays.stream(text.split(",")).map(String::strip).filter(one -> !one.isEmpty()).toList();
    for (String one : all) {
      if (!known.contains(one)) {
        throw new NotUnderstood("unknown " + name + " \"" + one + "\"" + Nearest.hint(one, known));
      }
    }
    return all;
  }

  /** Alerts of steps belong to the stream that they are in; those of promises to a department. */
  private Alerts.Filter.Belongs belonging(String department, String stream) {
    if (department.isEmpty() && stream.isEmpty()) {
      return null;
    }
    Definitions definitions = engine.definitions();
    List<String> streams =
        alerts.streams().stream()
            .filter(
                path -> stream.isEmpty() || path.equals(stream) || path.startsWith(stream + "/"))
            .filter(
                path -> department.isEmpty() || definitions.departmentOf(path).equals(department))
            .toList();
    List<String> promises =
        definitions.commitments().stream()
            .filter(one -> stream.isEmpty() && one.department().equals(department))
            .map(Commitment::name)
            .toList();
    return new Alerts.Filter.Belongs(streams, promises);
  }

  /** Under which names somebody is told: their own, and of what they are a member. */
  private Set<String> names(String person) {
    Definitions definitions = engine.definitions();
    Set<String> all = new LinkedHashSet<>(List.of(Recipient.PERSON + person, person));
    boolean more = true;
    while (more) {
      more = false;
      for (Recipient recipient : definitions.recipients()) {
        boolean in = recipient.members().stream().anyMatch(all::contains);
        more |= in && all.add(recipient.name());
      }
    }
    return all;
  }

  /**
   * Which rules of alerts hold, kind by kind, and where they stand.
   *
   * @param of a job's or a stream's full path, or a commitment's name; nothing for the site
   */
  @GetMapping("/alert-rules")
  @Paged(by = {"kind", "condition"})
  List<AlertViews.AlertRuleView> rules(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String of) {
    return AlertRuleViews.of(engine.definitions(), of);
  }

  /** One alert with all that has become of it. */
  @GetMapping("/alerts/{id}")
  AlertViews.AlertView one(@PathVariable long id) {
    return alerts
        .byId(id)
        .map(row -> views.of(List.of(row)).get(0))
        .orElseThrow(() -> new Problems.NotFound("there is no alert " + id));
  }

  /** Takes an alert on, puts it off, comments on it, or closes it. */
  @PostMapping("/alerts/{id}/actions")
  AlertViews.AlertView act(
      @PathVariable long id,
      @Valid @RequestBody AlertViews.AlertActionRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (alerts.byId(id).isEmpty()) {
      throw new Problems.NotFound("there is no alert " + id);
    }
    AlertActs.Asked asked = acts.asked(request.action(), request.reason(), request.until());
    boolean done = acts.act(id, asked, Asking.actor(who, http));
    AlertViews.AlertView now = views.of(List.of(alerts.byId(id).orElseThrow())).get(0);
    if (!done) {
      throw new Problems.Conflict(AlertActs.already(now));
    }
    live.alertsChanged();
    return now;
  }

  /**
   * The same to many, each for itself; with their open parts, where that is asked for. One that is
   * refused keeps back no other.
   */
  @PostMapping("/alerts/actions")
  List<AlertViews.AlertDone> act(
      @Valid @RequestBody AlertViews.AlertsActionRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.ids() == null || request.ids().isEmpty()) {
      throw new NotUnderstood("name the alerts, by their ids");
    }
    AlertActs.Asked asked = acts.asked(request.action(), request.reason(), request.until());
    List<AlertViews.AlertDone> all =
        acts.actOnAll(
            request.ids(),
            Boolean.TRUE.equals(request.withParts()),
            asked,
            Asking.actor(who, http));
    live.alertsChanged();
    return all;
  }

  /** What people did, newest first. */
  @GetMapping("/audit")
  @Paged(by = "id", newestFirst = true)
  List<Views.AuditView> audit(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String about,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String who,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String what,
      @RequestParam(required = false) Instant from,
      @RequestParam(required = false) Instant to,
      @RequestParam(defaultValue = "9223372036854775807") long before,
      @RequestParam(defaultValue = "100") @Min(1) @Max(MOST) int limit) {
    return audit.list(new AuditTrail.Filter(about, who, what, from, to), before, limit).stream()
        .map(
            row ->
                new Views.AuditView(
                    row.id, row.at, row.who, row.address, row.what, row.about, row.reason))
        .toList();
  }
}

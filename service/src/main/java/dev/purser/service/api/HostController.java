package dev.purser.service.api;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Drain;
import dev.purser.service.action.TakeBack;
import dev.purser.service.action.Wish;
import dev.purser.service.agent.AgentLink;
import dev.purser.service.agent.HostRecords;
import dev.purser.service.agent.HostRow;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.maintenance.Maintenance;
import dev.purser.service.maintenance.MaintenanceRow;
import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Hosts. */
@RestController
@RequestMapping(produces = MediaType.APPLICATION_JSON_VALUE)
class HostController {
  private final Engine engine;
  private final AgentLink link;
  private final HostRecords records;
  private final AuditTrail audit;
  private static final DateTimeFormatter AT =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT);

  private final Actions actions;
  private final Maintenance maintenance;
  private final Settings settings;
  private final Live live;

  HostController(
      Engine engine,
      AgentLink link,
      HostRecords records,
      AuditTrail audit,
      Actions actions,
      Maintenance maintenance,
      Settings settings,
      Live live) {
    this.maintenance = maintenance;
    this.settings = settings;
    this.engine = engine;
    this.link = link;
    this.records = records;
    this.audit = audit;
    this.actions = actions;
    this.live = live;
  }

  /** All hosts, defined or enrolled. */
  @GetMapping("/api/v1/hosts")
  @Paged(by = "name")
  List<Views.HostView> list() {
    Definitions definitions = engine.definitions();
    Map<String, HostRow> rows = new HashMap<>();
    records.all().forEach(row -> rows.put(row.name, row));
    Map<String, Integer> running = new HashMap<>();
    engine.look(
        board -> {
          for (RunSpec run : board.runs()) {
            RunStatus status = board.status(run.id()).orElseThrow();
            if (status.state().isActive()) {
              status.where().host().ifPresent(host -> running.merge(host, 1, Integer::sum));
            }
          }
          return true;
        });
    Map<String, String> drained = engine.look(board -> Map.copyOf(board.drainedHosts()));
    Map<String, HostDefinition> defined = new HashMap<>();
    definitions.hosts().forEach(host -> defined.put(host.name(), host));
    Set<String> names = new TreeSet<>(rows.keySet());
    names.addAll(defined.keySet());
    return names.stream()
        .map(name -> view(name, defined.get(name), rows.get(name), running, drained, definitions))
        .toList();
  }

  private Views.HostView view(
      String name,
      HostDefinition defined,
      HostRow row,
      Map<String, Integer> running,
      Map<String, String> drained,
      Definitions definitions) {
    Optional<AgentLink.Presence> presence = link.presence(name);
    Set<String> labels = new TreeSet<>(defined == null ? Set.of() : defined.labels());
    List<String> groups =
        definitions.hostGroups().stream()
            .filter(group -> group.contains(name, labels))
            .map(HostGroup::name)
            .toList();
    return new Views.HostView(
        name,
        defined == null ? name : defined.title(),
        List.copyOf(labels),
        groups,
        row != null,
        presence.isPresent(),
        presence.map(AgentLink.Presence::since).orElse(null),
        presence.map(AgentLink.Presence::lastSeen).orElse(row == null ? null : row.lastSeen),
        row == null ? "" : row.version,
        presence
            .map(AgentLink.Presence::ahead)
            .orElse(row == null ? null : Long.valueOf(row.clockDifference)),
        running.getOrDefault(name, 0),
        defined == null ? 0 : defined.atMost(),
        drained.getOrDefault(name, ""),
        maintenance.drainOf(name).map(this::planned).orElse(""),
        machine(presence, row),
        settings.zone().getId());
  }

  private String planned(MaintenanceRow row) {
    return "to be drained from "
        + AT.format(row.begins.atZone(settings.zone()))
        + " to "
        + AT.format(row.ends.atZone(settings.zone()))
        + " by "
        + row.who
        + ": "
        + row.reason;
  }

  private static Views.MachineView machine(Optional<AgentLink.Presence> presence, HostRow row) {
    FromAgent.Machine machine =
        presence
            .map(AgentLink.Presence::machine)
            .orElse(row == null ? FromAgent.Machine.UNKNOWN : row.machine());
    return machine.cores() == 0
        ? null
        : new Views.MachineView(
            machine.cores(),
            machine.load(),
            machine.memoryFree(),
            machine.memory(),
            machine.diskFree(),
            machine.disk());
  }

  /** What is wanted of a host, by its word. */
  static Wish wish(String action, String host) {
    return switch (action == null ? "" : action) {
      case "drain" -> new Drain(host);
      case "return" -> new TakeBack(host);
      default ->
          throw new NotUnderstood("\"" + action + "\" cannot be done to a host; drain or return");
    };
  }

  /** Drains a host, or returns it. */
  @PostMapping("/api/v1/hosts/{name}/actions")
  Views.HostView act(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody Views.HostAction request,
      Authentication who,
      HttpServletRequest http) {
    boolean known = list().stream().anyMatch(host -> host.name().equals(name));
    if (!known) {
      throw new Problems.NotFound(
          "there is no host \""
              + name
              + "\""
              + Nearest.hint(name, list().stream().map(Views.HostView::name).toList()));
    }
    String reason = request.reason() == null ? "" : request.reason();
    actions.act(wish(request.action(), name), Asking.actor(who, http), reason);
    live.hostsChanged();
    return list().stream().filter(host -> host.name().equals(name)).findFirst().orElseThrow();
  }

  /** A token with which the agent of a host can be enrolled once. */
  @PostMapping("/api/v1/hosts/{name}/enrolment-token")
  Views.EnrolmentToken token(
      @PathVariable @Size(max = Limits.NAME) String name,
      Authentication who,
      HttpServletRequest http) {
    if (!name.matches("[a-z0-9][a-z0-9._-]{0,99}")) {
      throw new NotUnderstood("\"" + name + "\" is not a valid name for a host");
    }
    HostRecords.Token token = records.newToken(name);
    audit.write(Asking.actor(who, http), "enrolment token", "host " + name, "");
    return new Views.EnrolmentToken(name, token.token(), token.expires());
  }

  /** Ends the key of a host at once: its agent is cut off, and must be enrolled anew. */
  @DeleteMapping("/api/v1/hosts/{name}/key")
  ResponseEntity<Void> endKey(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String reason,
      Authentication who,
      HttpServletRequest http) {
    if (!records.endKey(name)) {
      throw new Problems.NotFound("host \"" + name + "\" has no key that could be ended");
    }
    link.drop(name, "the key of this host has been ended");
    audit.write(Asking.actor(who, http), "end key", "host " + name, Asking.reason(reason));
    return ResponseEntity.noContent().build();
  }

  /** Where agents enrol. */
  @PostMapping(Enrolment.PATH)
  ResponseEntity<Object> enrol(@Valid @RequestBody Enrolment.Request request) {
    try {
      String host = request.host() == null ? "" : request.host();
      String token = request.token() == null ? "" : request.token();
      String key = records.enrol(host, token);
      link.drop(host, "another agent was enrolled for this host");
      return ResponseEntity.ok(new Enrolment.Granted(key));
    } catch (NotUnderstood e) {
      return ResponseEntity.status(HttpStatus.FORBIDDEN)
          .body(ProblemDetail.forStatusAndDetail(HttpStatus.FORBIDDEN, e.getMessage()));
    }
  }
}

package dev.purser.service.api;

import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunStatus;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.service.agent.AgentLink;
import dev.purser.service.agent.HostRecords;
import dev.purser.service.agent.HostRow;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Hosts. */
@RestController
@RequestMapping(produces = MediaType.APPLICATION_JSON_VALUE)
class HostController {
  private final Engine engine;
  private final AgentLink link;
  private final HostRecords records;
  private final AuditTrail audit;

  HostController(Engine engine, AgentLink link, HostRecords records, AuditTrail audit) {
    this.engine = engine;
    this.link = link;
    this.records = records;
    this.audit = audit;
  }

  /** All hosts, defined or enrolled. */
  @GetMapping("/api/v1/hosts")
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
              running.merge(status.host(), 1, Integer::sum);
            }
          }
          return true;
        });
    Map<String, HostDefinition> defined = new HashMap<>();
    definitions.hosts().forEach(host -> defined.put(host.name(), host));
    Set<String> names = new TreeSet<>(rows.keySet());
    names.addAll(defined.keySet());
    return names.stream()
        .map(name -> view(name, defined.get(name), rows.get(name), running, definitions))
        .toList();
  }

  private Views.HostView view(
      String name,
      HostDefinition defined,
      HostRow row,
      Map<String, Integer> running,
      Definitions definitions) {
    Optional<AgentLink.Presence> presence = link.presence(name);
    Set<String> labels = new TreeSet<>(defined == null ? Set.of() : defined.labels());
    if (row != null) {
      Arrays.stream(row.labels.split(",")).filter(l -> !l.isEmpty()).forEach(labels::add);
    }
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
        row == null ? null : row.clockDifference,
        running.getOrDefault(name, 0));
  }

  /** A token with which the agent of a host can be enrolled once. */
  @PostMapping("/api/v1/hosts/{name}/enrolment-token")
  Views.EnrolmentToken token(
      @PathVariable String name, Authentication who, HttpServletRequest http) {
    if (!name.matches("[a-z0-9][a-z0-9._-]{0,99}")) {
      throw new IllegalArgumentException("\"" + name + "\" is no name for a host");
    }
    HostRecords.Token token = records.newToken(name);
    audit.write(Asking.actor(who, http), "enrolment token", "host " + name, "");
    return new Views.EnrolmentToken(name, token.token(), token.expires());
  }

  /** Where agents enrol. */
  @PostMapping(Enrolment.PATH)
  ResponseEntity<Object> enrol(@RequestBody Enrolment.Request request) {
    try {
      String host = request.host() == null ? "" : request.host();
      String token = request.token() == null ? "" : request.token();
      return ResponseEntity.ok(new Enrolment.Granted(records.enrol(host, token)));
    } catch (IllegalArgumentException e) {
      return ResponseEntity.status(HttpStatus.FORBIDDEN)
          .body(ProblemDetail.forStatusAndDetail(HttpStatus.FORBIDDEN, e.getMessage()));
    }
  }
}

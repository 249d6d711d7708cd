package dev.purser.service.api;

import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.RemoteViewMaker;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.call.CallDesk;
import dev.purser.service.call.CallWorker;
import dev.purser.service.connection.ConnectionTrial;
import dev.purser.service.connection.Connections;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.RemoteViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Connections, remote services, and what runs there for us. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class RemoteController {
  private final Connections connections;
  private final CallDesk calls;
  private final CallWorker worker;
  private final RunRecords runs;
  private final AuditTrail audit;
  private final Engine engine;

  RemoteController(
      Connections connections,
      CallDesk calls,
      CallWorker worker,
      RunRecords runs,
      AuditTrail audit,
      Engine engine) {
    this.engine = engine;
    this.connections = connections;
    this.calls = calls;
    this.worker = worker;
    this.runs = runs;
    this.audit = audit;
  }

  /** All connections; no secret is shown. */
  @GetMapping("/connections")
  @Paged(by = "name")
  List<RemoteViews.ConnectionView> connections() {
    Definitions all = engine.definitions();
    return all.connections().stream()
        .map(one -> RemoteViewMaker.view(one, connections.refused(one), all))
        .toList();
  }

  /** Tries a connection: signs in, looks, and changes nothing there. */
  @PostMapping("/connections/{name}/trial")
  RemoteViews.ReachedView tryOut(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody RemoteViews.ReachRequest request,
      Authentication who,
      HttpServletRequest http) {
    String path = request.path() == null ? "" : request.path().strip();
    if (!path.isEmpty() && !path.matches("/[!-~]*")) {
      throw new NotUnderstood("\"" + path + "\" is not a path; expected one such as /status");
    }
    ConnectionTrial.Outcome outcome =
        connections
            .tryOut(name, path)
            .orElseThrow(() -> new Problems.NotFound("there is no connection \"" + name + "\""));
    audit.write(Asking.actor(who, http), "try connection", name, path);
    return new RemoteViews.ReachedView(name, outcome.good(), outcome.steps());
  }

  /** All remote services, with what they can be asked for and the jobs that do. */
  @GetMapping("/remote-services")
  @Paged(by = "name")
  List<RemoteViews.ServiceView> services() {
    Definitions all = engine.definitions();
    return all.remoteServices().stream().map(one -> RemoteViewMaker.view(one, all)).toList();
  }

  /** The attempts of a run at a remote service; none where it calls none. */
  @GetMapping("/runs/{id}/remote")
  @Paged(by = "attempt")
  List<RemoteViews.CallView> remote(@PathVariable long id) {
    return calls.of(row(id).id).stream().map(RemoteViewMaker::view).toList();
  }

  /** Says of a call what nobody else knows: as what it runs there, or that it did not start. */
  @PostMapping("/runs/{id}/remote")
  List<RemoteViews.CallView> said(
      @PathVariable long id,
      @Valid @RequestBody RemoteViews.WordRequest request,
      Authentication who,
      HttpServletRequest http) {
    RunRow run = row(id);
    String remote = request.id() == null ? "" : request.id().strip();
    boolean runs = request.says().equals("runs-as");
    if (!runs && !request.says().equals("did-not-start")) {
      throw new NotUnderstood(
          "\"" + request.says() + "\" is not known; expected runs-as or did-not-start");
    }
    if (runs == remote.isEmpty()) {
      throw new NotUnderstood(
          runs ? "runs-as needs the id by which it runs there" : "did-not-start takes no id");
    }
    if (!worker.said(run.id, remote)) {
      throw new Problems.Conflict(
          run.reference()
              + " does not ask that: only a call of which nobody knows whether it has begun does");
    }
    audit.write(
        Asking.actor(who, http),
        runs ? "runs as " + remote : "did not start",
        run.reference(),
        Asking.reason(request.reason()));
    return calls.of(run.id).stream().map(RemoteViewMaker::view).toList();
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow(() -> new Problems.NotFound("there is no run " + id));
  }
}

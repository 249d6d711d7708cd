package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.maintenance.Maintenance;
import dev.purser.service.maintenance.MaintenanceRow;
import dev.purser.wire.api.AlertViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Times at which nobody is told of a scope, or a host is given no work. */
@RestController
@RequestMapping(path = "/api/v1/maintenance", produces = MediaType.APPLICATION_JSON_VALUE)
class MaintenanceController {
  private final Maintenance maintenance;
  private final AuditTrail audit;
  private final Settings settings;

  MaintenanceController(Maintenance maintenance, AuditTrail audit, Settings settings) {
    this.maintenance = maintenance;
    this.audit = audit;
    this.settings = settings;
  }

  /** All that is planned or on, and what was over in the last seven days. */
  @GetMapping
  @Paged(by = "id")
  List<AlertViews.MaintenanceView> list() {
    return maintenance.all().stream().map(this::view).toList();
  }

  /** Plans something, from now on where no beginning is said. */
  @PostMapping
  List<AlertViews.MaintenanceView> add(
      @Valid @RequestBody AlertViews.MaintenanceRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.what() == null || request.scope() == null) {
      throw new NotUnderstood("say what (mute or drain), and for which scope");
    }
    String name = request.name() == null ? "" : request.name();
    List<MaintenanceRow> rows =
        maintenance.add(
            request.what(),
            request.scope(),
            name,
            request.from(),
            request.until(),
            Asking.reason(request.reason()),
            who.getName());
    rows.forEach(
        row -> audit.write(Asking.actor(who, http), "plan " + row.what, row.about(), row.reason));
    return rows.stream().map(this::view).toList();
  }

  /** Ends one before its time, or takes it off the plan. */
  @DeleteMapping("/{id}")
  AlertViews.MaintenanceView end(
      @PathVariable long id, Authentication who, HttpServletRequest http) {
    MaintenanceRow row =
        maintenance
            .end(id, who.getName())
            .orElseThrow(
                () -> new Problems.NotFound("there is no maintenance " + id + " that goes on"));
    audit.write(Asking.actor(who, http), "end " + row.what, row.about(), "");
    return view(row);
  }

  private AlertViews.MaintenanceView view(MaintenanceRow row) {
    return new AlertViews.MaintenanceView(
        row.id,
        row.what,
        row.scope,
        row.name,
        row.begins,
        row.ends,
        row.reason,
        row.who,
        row.state,
        row.note,
        settings.zone().getId());
  }
}

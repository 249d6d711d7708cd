package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.handover.HandoverRow;
import dev.purser.service.handover.Handovers;
import dev.purser.wire.api.AlertViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What one shift tells the next. */
@RestController
@RequestMapping(path = "/api/v1/handovers", produces = MediaType.APPLICATION_JSON_VALUE)
class HandoverController {
  private static final int MOST = 100;

  private final Handovers handovers;
  private final AuditTrail audit;
  private final Settings settings;

  HandoverController(Handovers handovers, AuditTrail audit, Settings settings) {
    this.handovers = handovers;
    this.audit = audit;
    this.settings = settings;
  }

  /** The notes of shifts, newest first. */
  @GetMapping
  @Paged(by = "id", newestFirst = true)
  List<AlertViews.HandoverView> list(
      @RequestParam(defaultValue = "9223372036854775807") long before,
      @RequestParam(defaultValue = "10") @Min(1) @Max(MOST) int limit) {
    return handovers.last(before, limit).stream().map(this::view).toList();
  }

  /** Writes one; how things stand is added to it. */
  @PostMapping
  AlertViews.HandoverView write(
      @Valid @RequestBody AlertViews.HandoverRequest request,
      Authentication who,
      HttpServletRequest http) {
    String text = request.text() == null ? "" : request.text().strip();
    if (text.isEmpty()) {
      throw new NotUnderstood("a handover needs a text: what whoever comes next must know");
    }
    HandoverRow row = handovers.write(who.getName(), text);
    audit.write(Asking.actor(who, http), "hand over", "handover " + row.id, "");
    return view(row);
  }

  /** Signs for it: whoever asks has taken over. */
  @PostMapping("/{id}/taken")
  AlertViews.HandoverView take(@PathVariable long id, Authentication who, HttpServletRequest http) {
    HandoverRow row;
    try {
      row =
          handovers
              .take(id, who.getName())
              .orElseThrow(() -> new Problems.NotFound("there is no handover " + id));
    } catch (IllegalStateException e) {
      throw new Problems.Conflict(e.getMessage());
    }
    audit.write(Asking.actor(who, http), "take over", "handover " + id, "");
    return view(row);
  }

  private AlertViews.HandoverView view(HandoverRow row) {
    return new AlertViews.HandoverView(
        row.id,
        row.written,
        row.who,
        row.text,
        row.standing,
        row.taken,
        row.takenBy,
        settings.zone().getId());
  }
}

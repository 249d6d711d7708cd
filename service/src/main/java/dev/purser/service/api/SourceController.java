package dev.purser.service.api;

import dev.purser.core.preview.Preview;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.view.PreviewViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.plan.Pauses;
import dev.purser.service.publish.Publisher;
import dev.purser.service.source.GitSource;
import dev.purser.service.source.SourceRow;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.SourceViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.util.Comparator;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The repository that definitions come from: named, looked at, published, written back to. */
@RestController
@RequestMapping(path = "/api/v1/source", produces = MediaType.APPLICATION_JSON_VALUE)
class SourceController {
  private final GitSource source;
  private final Pauses pauses;
  private final Commitments commitments;
  private final AuditTrail audit;

  SourceController(GitSource source, Pauses pauses, Commitments commitments, AuditTrail audit) {
    this.source = source;
    this.pauses = pauses;
    this.commitments = commitments;
    this.audit = audit;
  }

  /** The repository, and how it stood at the last look. */
  @GetMapping
  SourceViews.SourceView one() {
    return source
        .named()
        .map(SourceController::view)
        .orElseGet(
            () -> new SourceViews.SourceView("", "", "", "", false, null, "", "", "", "", ""));
  }

  /** Names it. */
  @PutMapping
  SourceViews.SourceView name(
      @Valid @RequestBody SourceViews.SourceRequest request,
      Authentication who,
      HttpServletRequest http) {
    SourceRow row =
        source.name(
            request.address().strip(),
            request.branch().strip(),
            request.directory().strip(),
            request.account().strip(),
            request.byItself());
    audit.write(Asking.actor(who, http), "name repository", "source", row.address);
    return view(row);
  }

  /** Forgets it; what is live stays. */
  @DeleteMapping
  ResponseEntity<Void> forget(Authentication who, HttpServletRequest http) {
    source.forget();
    audit.write(Asking.actor(who, http), "forget repository", "source", "");
    return ResponseEntity.noContent().build();
  }

  /** Looks for new commits now. */
  @PostMapping("/look")
  SourceViews.SourceView look() {
    return view(source.look());
  }

  /** What publishing the commit that it has now would change. */
  @PostMapping("/preview")
  ScheduleViews.PreviewView preview() {
    return PreviewViews.view(source.preview(Preview.DAYS_AHEAD), pauses, commitments);
  }

  /** Publishes the commit that somebody has looked at. */
  @PostMapping("/publication")
  ResponseEntity<Views.PublishResult> publish(
      @Valid @RequestBody SourceViews.SourcePublication request,
      Authentication who,
      HttpServletRequest http) {
    Publisher.Outcome outcome =
        source.publish(request.commit(), Asking.actor(who, http), Asking.reason(request.reason()));
    return ResponseEntity.status(outcome.sound() ? 200 : 422)
        .body(DefinitionController.view(outcome));
  }

  /** What is live and not as the published commit has it. */
  @GetMapping("/drift")
  @Paged(by = {"kind", "name"})
  List<SourceViews.DriftView> drift() {
    return source.drift().stream()
        .map(one -> new SourceViews.DriftView(one.kind().word(), one.name(), one.how()))
        .sorted(
            Comparator.comparing(SourceViews.DriftView::kind)
                .thenComparing(SourceViews.DriftView::name))
        .toList();
  }

  /** Puts what drifts back, as a branch for people to look at there. */
  @PostMapping("/branch")
  SourceViews.WrittenBack writeBack(
      @Valid @RequestBody SourceViews.WriteBack request,
      Authentication who,
      HttpServletRequest http) {
    AuditTrail.Actor actor = Asking.actor(who, http);
    String commit = source.writeBack(request.branch(), actor, Asking.reason(request.reason()));
    audit.write(actor, "write back", "branch " + request.branch(), commit);
    return new SourceViews.WrittenBack(request.branch(), commit);
  }

  private static SourceViews.SourceView view(SourceRow row) {
    return new SourceViews.SourceView(
        row.address,
        row.branch,
        row.directory,
        row.account,
        row.byItself,
        row.looked,
        row.problem,
        row.head,
        row.headAuthor,
        row.headMessage,
        row.published);
  }
}

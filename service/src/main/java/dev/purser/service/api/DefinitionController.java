package dev.purser.service.api;

import dev.purser.core.check.Uses;
import dev.purser.core.crontab.Crontab;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.preview.Preview;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.SchemaWriter;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.PreviewViews;
import dev.purser.service.api.view.ProblemViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.draft.DraftRow;
import dev.purser.service.draft.Drafts;
import dev.purser.service.draft.DraftsToCome;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Withdrawing;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.time.LocalDate;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Definitions: look, check, publish, withdraw. The ETag of all of them is their revision. */
@RestController
@RequestMapping(path = "/api/v1/definitions", produces = MediaType.APPLICATION_JSON_VALUE)
class DefinitionController {

  private final Engine engine;
  private final DefinitionRecords records;
  private final Publisher publisher;
  private final Withdrawing withdrawing;
  private final Pauses pauses;
  private final Commitments commitments;
  private final Drafts drafts;
  private final DraftsToCome live;
  private final PlanKeeper plan;

  DefinitionController(
      Engine engine,
      DefinitionRecords records,
      Publisher publisher,
      Withdrawing withdrawing,
      Pauses pauses,
      Commitments commitments,
      Drafts drafts,
      DraftsToCome live,
      PlanKeeper plan) {
    this.engine = engine;
    this.records = records;
    this.publisher = publisher;
    this.withdrawing = withdrawing;
    this.pauses = pauses;
    this.commitments = commitments;
    this.drafts = drafts;
    this.live = live;
    this.plan = plan;
  }

  /**
   * All definitions in force.
   *
   * @param texts whether their YAML comes with them, else that is empty
   */
  @GetMapping
  @Paged(by = {"kind", "name"})
  ResponseEntity<List<Views.DefinitionView>> list(
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestParam(defaultValue = "true") boolean texts) {
    long revision = engine.revision();
    Definitions definitions = engine.definitions();
    Uses uses = Uses.in(definitions);
    Map<Long, String> origins = records.origins();
    List<Views.DefinitionView> found =
        records.inForceAt(revision).stream()
            .filter(row -> kind.isEmpty() || row.kind.equals(kind))
            .filter(row -> !Stream.isTrial(row.name))
            .sorted(
                Comparator.comparing((DefinitionRow row) -> row.kind).thenComparing(r -> r.name))
            .map(row -> view(row, definitions, uses, texts, origins.getOrDefault(row.revision, "")))
            .toList();
    return ResponseEntity.ok().eTag("\"" + revision + "\"").body(found);
  }

  private static Views.DefinitionView view(
      DefinitionRow row, Definitions definitions, Uses uses, boolean texts, String origin) {
    Kind kind = Kind.of(row.kind).orElseThrow();
    String title =
        definitions
            .document(kind, row.name)
            .map(Document::value)
            .filter(Stream.class::isInstance)
            .map(value -> ((Stream) value).title())
            .orElse(row.name);
    return new Views.DefinitionView(
        row.kind,
        row.name,
        title,
        texts ? row.text : "",
        row.revision,
        row.publishedAt,
        row.publishedBy,
        uses.of(new Named(kind, row.name)).stream().map(Uses.Use::where).distinct().toList(),
        kind == Kind.STREAM ? definitions.departmentOf(row.name) : "",
        definitions.document(kind, row.name).flatMap(TemplateController::made).orElse(null),
        origin);
  }

  /** The JSON Schema of a definition document. */
  @GetMapping("/schema")
  Map<String, Object> schema() {
    return SchemaWriter.schema();
  }

  /** Checks files together with what is in force; changes nothing. */
  @PostMapping("/check")
  Views.PublishResult check(@Valid @RequestBody Views.PublishRequest request) {
    return view(publisher.check(files(request)));
  }

  /** Publishes files, all or none. */
  @PostMapping
  ResponseEntity<Views.PublishResult> publish(
      @Valid @RequestBody Views.PublishRequest request,
      @RequestHeader(name = "If-Match", required = false) String seen,
      Authentication who,
      HttpServletRequest http) {
    Holds holds = holds(request.holds(), plan.today());
    String reason = request.reason() == null ? "" : request.reason();
    Optional<LocalDate> toCome = holds.toCome(plan.today());
    if (toCome.isPresent()) {
      return keepUntil(toCome.get(), request, Asking.actor(who, http), reason);
    }
    Publisher.Outcome outcome =
        publisher.publish(
            Publisher.Change.of(files(request)).from(holds),
            revision(seen),
            Asking.actor(who, http),
            reason);
    return ResponseEntity.status(outcome.sound() ? 200 : 422).body(view(outcome));
  }

  /** What goes live later is a draft until then. */
  private ResponseEntity<Views.PublishResult> keepUntil(
      LocalDate date, Views.PublishRequest request, AuditTrail.Actor actor, String reason) {
    Publisher.Outcome checked = publisher.check(files(request));
    if (!checked.sound()) {
      return ResponseEntity.status(422).body(view(checked));
    }
    if (checked.added().isEmpty() && checked.changed().isEmpty()) {
      return ResponseEntity.ok(view(checked)); // there is nothing to go live
    }
    String title = reason.isBlank() ? "goes live for " + date : Shorten.text(reason.strip(), 300);
    DraftRow draft = drafts.begin(title, files(request), actor.name());
    Publisher.Outcome outcome = live.goLive(draft, date, actor, reason);
    return ResponseEntity.ok(view(outcome, draft.id, Optional.of(date)));
  }

  /** From when a change is to hold. */
  static Holds holds(Views.HoldsRequest request, LocalDate today) {
    return request == null
        ? Holds.PLANNED
        : Holds.parse(request.from(), request.ofStreams(), today);
  }

  static Optional<Long> revision(String etag) {
    if (etag == null || etag.equals("*")) {
      return Optional.empty();
    }
    String text = etag.replace("W/", "").replace("\"", "");
    if (!text.matches("\\d{1,18}")) {
      throw new NotUnderstood("If-Match " + etag + " is not an ETag of the definitions");
    }
    return Optional.of(Long.valueOf(text));
  }

  static List<SourceFile> files(Views.PublishRequest request) {
    if (request.files() == null || request.files().isEmpty()) {
      throw new NotUnderstood("no file was given");
    }
    return request.files().stream().map(file -> new SourceFile(file.name(), file.text())).toList();
  }

  static Views.PublishResult view(Publisher.Outcome outcome) {
    return view(outcome, 0, Optional.empty());
  }

  /** The same of a draft, which may go live on a date to come. */
  static Views.PublishResult view(
      Publisher.Outcome outcome, long draft, Optional<LocalDate> toCome) {
    return new Views.PublishResult(
        outcome.sound(),
        outcome.revision(),
        outcome.added(),
        outcome.changed(),
        outcome.unchanged(),
        outcome.withdrawn(),
        outcome.replanned().added(),
        outcome.replanned().withdrawn(),
        outcome.replanned().changed(),
        outcome.replanned().taken(),
        outcome.replanned().stopped(),
        toCome.isPresent() && outcome.sound() ? draft : 0,
        toCome.filter(any -> outcome.sound()).orElse(null),
        outcome.problems().stream().map(ProblemViews::view).toList());
  }

  /** What publishing files would change: definitions by field, runs by stream and date. */
  @PostMapping("/preview")
  ScheduleViews.PreviewView preview(@Valid @RequestBody ScheduleViews.PreviewRequest request) {
    int days = request.days() == null ? Preview.DAYS_AHEAD : request.days();
    Views.PublishRequest files = new Views.PublishRequest(request.files(), "");
    Publisher.Change change =
        Publisher.Change.of(files(files)).from(holds(request.holds(), plan.today()));
    return PreviewViews.view(publisher.preview(change, days), pauses, commitments);
  }

  /** Makes definitions from a POSIX crontab; publishes nothing. */
  @PostMapping("/from-crontab")
  ScheduleViews.Imported fromCrontab(@Valid @RequestBody ScheduleViews.CrontabFile file) {
    if (file.host() == null || file.host().isBlank()) {
      throw new NotUnderstood("on which host do the commands run?");
    }
    Crontab.Imported imported;
    try {
      imported =
          Crontab.read(
              file.text() == null ? "" : file.text(),
              file.prefix() == null || file.prefix().isBlank() ? "imported" : file.prefix(),
              file.host(),
              file.zone() == null || file.zone().isBlank() ? "UTC" : file.zone());
    } catch (IllegalArgumentException e) {
      throw new NotUnderstood(e.getMessage());
    }
    return new ScheduleViews.Imported(
        imported.yaml(),
        imported.jobs(),
        imported.problems().stream()
            .map(
                p ->
                    new Views.ProblemView(
                        p.taken() ? "warning" : "error", "crontab", p.line(), 1, p.reason()))
            .toList());
  }

  /** Withdraws a definition that nothing uses. */
  @DeleteMapping("/{kind}")
  ResponseEntity<Void> withdraw(
      @PathVariable @Size(max = Limits.NAME) String kind,
      @RequestParam @Size(max = Limits.NAME) String name,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String reason,
      @RequestParam(defaultValue = "false") boolean anyway,
      Authentication who,
      HttpServletRequest http) {
    Kind known = VersionController.kind(kind);
    Collection<String> users =
        withdrawing.withdraw(known, name, anyway, Asking.actor(who, http), reason);
    if (!users.isEmpty()) {
      throw new Problems.Conflict(
          known.title() + " " + name + " is still used by " + String.join(", ", users));
    }
    return ResponseEntity.noContent().build();
  }
}

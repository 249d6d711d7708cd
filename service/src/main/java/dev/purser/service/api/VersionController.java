package dev.purser.service.api;

import dev.purser.core.definition.Kind;
import dev.purser.core.preview.FieldChanges;
import dev.purser.core.preview.Preview;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.PreviewViews;
import dev.purser.service.api.view.VersionTexts;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.definition.PublicationRow;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Reverting;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Definitions as they were: their versions, publications, and the way back. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class VersionController {
  private static final int MOST = 1_000;
  private static final int MOST_NAMED = 20;

  private final Engine engine;
  private final DefinitionRecords records;
  private final RunRecords runs;
  private final Publisher publisher;
  private final Reverting reverting;
  private final Pauses pauses;
  private final Commitments commitments;
  private final PlanKeeper plan;

  VersionController(
      Engine engine,
      DefinitionRecords records,
      RunRecords runs,
      Publisher publisher,
      Reverting reverting,
      Pauses pauses,
      Commitments commitments,
      PlanKeeper plan) {
    this.engine = engine;
    this.records = records;
    this.runs = runs;
    this.publisher = publisher;
    this.reverting = reverting;
    this.pauses = pauses;
    this.commitments = commitments;
    this.plan = plan;
  }

  /** The versions of a definition, the newest first; also of one that is withdrawn. */
  @GetMapping("/definitions/{kind}/versions")
  @Paged(by = "revision", newestFirst = true)
  List<VersionViews.VersionView> versions(
      @PathVariable @Size(max = Limits.NAME) String kind,
      @RequestParam @Size(max = Limits.NAME) String name,
      @RequestParam(defaultValue = "9223372036854775807") long before,
      @RequestParam(defaultValue = "100") @Min(1) @Max(MOST) int limit) {
    Kind known = kind(kind);
    List<DefinitionRow> rows = records.versions(known, name, before, limit + 1);
    if (rows.isEmpty() && before == Long.MAX_VALUE) {
      throw new Problems.NotFound(
          "there never was a "
              + known.title()
              + " "
              + name
              + Nearest.hint(name, engine.definitions().names(known)));
    }
    List<VersionViews.VersionView> views = views(known, name, rows, before);
    return views.subList(0, Math.min(limit, views.size()));
  }

  private List<VersionViews.VersionView> views(
      Kind kind, String name, List<DefinitionRow> rows, long before) {
    Map<Long, PublicationRow> publications =
        rows.isEmpty()
            ? Map.of()
            : records.publications(rows.stream().map(row -> row.revision).toList());
    NavigableMap<Long, Long> used = records.runsOf(kind == Kind.STREAM ? name : "");
    boolean first = before == Long.MAX_VALUE;
    List<VersionViews.VersionView> views = new ArrayList<>();
    for (int i = 0; i < rows.size(); i++) {
      DefinitionRow row = rows.get(i);
      DefinitionRow older = i + 1 < rows.size() ? rows.get(i + 1) : null;
      long until = i > 0 ? rows.get(i - 1).revision : before;
      long count =
          used.subMap(row.revision, true, until, false).values().stream()
              .mapToLong(Long::longValue)
              .sum();
      views.add(view(row, older, publications.get(row.revision), count, first && i == 0));
    }
    return views;
  }

  private static VersionViews.VersionView view(
      DefinitionRow row,
      DefinitionRow older,
      PublicationRow publication,
      long runs,
      boolean latest) {
    boolean was = older != null && !older.withdrawn;
    String action =
        row.withdrawn ? "withdrawn" : was ? "changed" : older == null ? "added" : "brought back";
    return new VersionViews.VersionView(
        row.kind,
        row.name,
        row.revision,
        row.publishedAt,
        row.publishedBy,
        publication == null ? "" : publication.reason,
        action,
        publication == null ? "" : publication.origin,
        row.madeBy,
        FieldChanges.ofTexts(VersionTexts.of(older), VersionTexts.of(row)).size(),
        runs,
        latest && !row.withdrawn);
  }

  /**
   * One version, whole, and what it changed.
   *
   * @param against another revision that it is held against; the version before it where not said
   */
  @GetMapping("/definitions/{kind}/version")
  VersionViews.VersionTextView version(
      @PathVariable @Size(max = Limits.NAME) String kind,
      @RequestParam @Size(max = Limits.NAME) String name,
      @RequestParam @Min(1) long revision,
      @RequestParam(required = false) Long against) {
    Kind known = kind(kind);
    DefinitionRow row =
        records
            .at(known, name, revision)
            .orElseThrow(
                () ->
                    new Problems.NotFound(
                        "there was no " + known.title() + " " + name + " at revision " + revision));
    Optional<DefinitionRow> other =
        records.at(known, name, against == null ? row.revision - 1 : against);
    List<DefinitionRow> around = records.versions(known, name, row.revision + 1, 2);
    boolean latest =
        records.at(known, name, Long.MAX_VALUE).map(one -> one.revision).orElse(0L) == row.revision;
    String before = VersionTexts.of(other.orElse(null));
    String text = VersionTexts.of(row);
    return new VersionViews.VersionTextView(
        view(
            row,
            around.size() > 1 ? around.get(1) : null,
            records.publication(row.revision).orElse(null),
            0,
            latest),
        text,
        other.map(one -> one.revision).orElse(0L),
        before,
        FieldChanges.ofTexts(before, text).stream()
            .map(one -> new ScheduleViews.FieldChange(one.field(), one.before(), one.after()))
            .toList());
  }

  /** What was in force once and is not now. */
  @GetMapping("/definitions/withdrawn")
  @Paged(by = {"kind", "name"})
  List<VersionViews.VersionView> withdrawn() {
    List<DefinitionRow> rows = records.withdrawn();
    Map<Long, PublicationRow> publications =
        rows.isEmpty()
            ? Map.of()
            : records.publications(rows.stream().map(row -> row.revision).distinct().toList());
    return rows.stream()
        .sorted(Comparator.comparing((DefinitionRow row) -> row.kind).thenComparing(r -> r.name))
        .map(row -> view(row, null, publications.get(row.revision), 0, true))
        .toList();
  }

  /** What was published, the newest first. */
  @GetMapping("/publications")
  @Paged(by = "revision", newestFirst = true)
  List<VersionViews.PublicationView> publications(
      @RequestParam(defaultValue = "9223372036854775807") long before,
      @RequestParam(defaultValue = "50") @Min(1) @Max(MOST) int limit) {
    return records.publications(before, limit).stream().map(this::view).toList();
  }

  private VersionViews.PublicationView view(PublicationRow row) {
    List<String> names =
        records.of(row.revision).stream()
            .map(one -> one.kind + " " + one.name + (one.withdrawn ? " (withdrawn)" : ""))
            .toList();
    return new VersionViews.PublicationView(
        row.revision,
        row.at,
        row.who,
        row.reason,
        row.origin,
        names.stream().limit(MOST_NAMED).toList(),
        Math.max(0, names.size() - MOST_NAMED));
  }

  /** What making something as it was would change; changes nothing. */
  @PostMapping("/definitions/revert-preview")
  ScheduleViews.PreviewView preview(@Valid @RequestBody VersionViews.RevertRequest request) {
    int days = request.days() == null ? Preview.DAYS_AHEAD : request.days();
    return PreviewViews.view(publisher.preview(change(request), days), pauses, commitments);
  }

  /** Makes a definition, or all that a publication changed, as it was: a publication of its own. */
  @PostMapping("/definitions/revert")
  ResponseEntity<Views.PublishResult> revert(
      @Valid @RequestBody VersionViews.RevertRequest request,
      @RequestHeader(name = "If-Match", required = false) String seen,
      Authentication who,
      HttpServletRequest http) {
    Publisher.Outcome outcome =
        publisher.publish(
            change(request),
            DefinitionController.revision(seen),
            Asking.actor(who, http),
            request.reason() == null ? "" : request.reason());
    return ResponseEntity.status(outcome.sound() ? 200 : 422)
        .body(DefinitionController.view(outcome));
  }

  private Publisher.Change change(VersionViews.RevertRequest request) {
    Holds holds = DefinitionController.holds(request.holds(), plan.today());
    return toBeAsItWas(request).from(holds);
  }

  private Publisher.Change toBeAsItWas(VersionViews.RevertRequest request) {
    try {
      return request.kind() == null || request.kind().isEmpty()
          ? reverting.undoing(request.revision(), request.anyway())
          : reverting.of(kind(request.kind()), request.name(), request.revision());
    } catch (Reverting.ChangedSince e) {
      throw new Problems.Conflict(e.getMessage());
    }
  }

  /** The definition by which a run was planned, as it was then. */
  @GetMapping("/runs/{id}/definition")
  VersionViews.DefinitionOfRunView ofRun(@PathVariable long id) {
    RunRow run =
        runs.byId(id).orElseThrow(() -> new Problems.NotFound("there is no run with id " + id));
    for (String path = run.stream; !path.isEmpty(); path = outer(path)) {
      Optional<DefinitionRow> row = records.at(Kind.STREAM, path, run.revision);
      if (row.filter(one -> !one.withdrawn).isPresent()) {
        boolean now =
            records.at(Kind.STREAM, path, Long.MAX_VALUE).orElseThrow().revision
                == row.get().revision;
        return new VersionViews.DefinitionOfRunView(path, row.get().revision, row.get().text, now);
      }
    }
    throw new Problems.NotFound("the definition of " + run.reference() + " is not on record");
  }

  private static String outer(String path) {
    return path.contains("/") ? path.substring(0, path.lastIndexOf('/')) : "";
  }

  static Kind kind(String word) {
    return Kind.of(word)
        .orElseThrow(
            () ->
                new NotUnderstood(
                    "unknown kind \"" + word + "\"" + Nearest.hint(word, Kind.words())));
  }
}

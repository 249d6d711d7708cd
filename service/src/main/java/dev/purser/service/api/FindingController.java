package dev.purser.service.api;

import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.edit.Copying;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.Fields;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.wire.api.FindingViews;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.TemplateViews;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.NotBlank;
import jakarta.validation.constraints.Size;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Where a definition is used, what is found in their texts, what is left over, and copies. */
@RestController
@RequestMapping(path = "/api/v1/definitions", produces = MediaType.APPLICATION_JSON_VALUE)
class FindingController {
  private static final int LONGEST_LINE = 300;

  private final Engine engine;
  private final DefinitionRecords records;

  FindingController(Engine engine, DefinitionRecords records) {
    this.engine = engine;
    this.records = records;
  }

  /** Where a definition is used. */
  @GetMapping("/uses")
  @Paged(by = {"kind", "name", "where"})
  List<FindingViews.UseView> uses(
      @RequestParam @Size(max = Limits.NAME) String kind,
      @RequestParam @Size(max = Limits.NAME) String name) {
    Definitions all = engine.definitions();
    Document found = document(all, kind, name);
    return Uses.in(all).of(Named.of(found)).stream()
        .map(use -> new FindingViews.UseView(use.by().kind().word(), use.by().name(), use.where()))
        .sorted(
            Comparator.comparing(FindingViews.UseView::kind)
                .thenComparing(FindingViews.UseView::name)
                .thenComparing(FindingViews.UseView::where))
        .toList();
  }

  private static Document document(Definitions all, String kind, String name) {
    Kind known = VersionController.kind(kind);
    return all.document(known, name)
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    "there is no "
                        + known.title()
                        + " "
                        + name
                        + Nearest.hint(name, all.names(known))));
  }

  /**
   * Lines of definitions in force that have a text in them, whatever its case.
   *
   * @param kind only of this kind; all where it is empty
   */
  @GetMapping("/search")
  List<FindingViews.FoundLine> search(
      @RequestParam @NotBlank @Size(max = Limits.NAME) String text,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestParam(defaultValue = "200") @Min(1) @Max(5_000) int limit) {
    String wanted = text.toLowerCase(Locale.ROOT);
    List<FindingViews.FoundLine> found = new ArrayList<>();
    for (Document document : engine.definitions().documents()) {
      boolean asked = kind.isEmpty() || document.kind().word().equals(kind);
      if (!asked || !document.text().toLowerCase(Locale.ROOT).contains(wanted)) {
        continue;
      }
      List<String> lines = document.text().lines().toList();
      for (int i = 0; i < lines.size() && found.size() < limit; i++) {
        String line = lines.get(i);
        if (line.toLowerCase(Locale.ROOT).contains(wanted)) {
          found.add(
              new FindingViews.FoundLine(
                  document.kind().word(),
                  document.name(),
                  i + 1,
                  line.length() > LONGEST_LINE ? line.substring(0, LONGEST_LINE) + "…" : line));
        }
      }
    }
    return found;
  }

  /** What is there to be used and is not, and what this version does not accept any more. */
  @GetMapping("/left-over")
  @Paged(by = {"kind", "name", "why"})
  List<FindingViews.LeftOverView> leftOver() {
    List<FindingViews.LeftOverView> all = new ArrayList<>();
    for (Named one : Uses.in(engine.definitions()).unused()) {
      all.add(
          new FindingViews.LeftOverView(
              one.kind().word(), one.name(), "unused", "nothing in force uses it"));
    }
    for (String refused : records.refusedAt(engine.revision())) {
      int colon = refused.indexOf(": ");
      all.add(
          new FindingViews.LeftOverView(
              "definition", refused.substring(0, colon), "broken", refused.substring(colon + 2)));
    }
    all.sort(
        Comparator.comparing(FindingViews.LeftOverView::kind)
            .thenComparing(FindingViews.LeftOverView::name)
            .thenComparing(FindingViews.LeftOverView::why));
    return all;
  }

  /** A copy of a definition, or of a job within its stream, as a text; publishes nothing. */
  @PostMapping("/copy")
  TemplateViews.DefinitionText copy(@Valid @RequestBody FindingViews.CopyRequest request) {
    Definitions all = engine.definitions();
    Document found = document(all, request.kind(), request.name());
    boolean ofJob = request.job() != null && !request.job().isEmpty();
    boolean path = found.kind() == Kind.STREAM && !ofJob;
    if (path ? !Fields.isPath(request.to()) : !Fields.isName(request.to())) {
      throw new NotUnderstood(
          "\""
              + request.to()
              + "\" is not a valid name; expected lower-case letters, digits and dashes"
              + (path ? ", joined by slashes" : ""));
    }
    if (!ofJob) {
      if (all.document(found.kind(), request.to()).isPresent()) {
        throw new Problems.Conflict(
            "there is a " + found.kind().title() + " " + request.to() + " already");
      }
      return new TemplateViews.DefinitionText(Copying.of(found, request.to()));
    }
    if (!(found.value() instanceof Stream stream)) {
      throw new NotUnderstood("only a stream has jobs");
    }
    List<String> jobs = stream.jobs().stream().map(Job::name).toList();
    if (!jobs.contains(request.job())) {
      throw new Problems.NotFound(
          request.name() + " has no job " + request.job() + Nearest.hint(request.job(), jobs));
    }
    if (jobs.contains(request.to())) {
      throw new Problems.Conflict(request.name() + " has a job " + request.to() + " already");
    }
    String text = Copying.ofJob(found, request.job(), request.to());
    if (text.equals(found.text())) {
      throw new Problems.Conflict(
          "the job "
              + request.job()
              + " stands in the template of "
              + request.name()
              + ", not in it");
    }
    return new TemplateViews.DefinitionText(text);
  }
}

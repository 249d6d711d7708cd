package dev.purser.service.api;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.Deviations;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.template.Template;
import dev.purser.core.template.TemplateMaker;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.TemplateViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Templates, what they make, and templates made of what there is. */
@RestController
@RequestMapping(path = "/api/v1/templates", produces = MediaType.APPLICATION_JSON_VALUE)
class TemplateController {
  private final Engine engine;
  private final Publisher publisher;

  TemplateController(Engine engine, Publisher publisher) {
    this.engine = engine;
    this.publisher = publisher;
  }

  /** All templates, each with the streams that hang on it. */
  @GetMapping
  @Paged(by = "name")
  List<TemplateViews.TemplateView> list() {
    Definitions all = engine.definitions();
    Map<String, List<TemplateViews.MadeView>> made = made(all);
    return all.templates().stream()
        .map(one -> view(one, made.getOrDefault(one.name(), List.of())))
        .toList();
  }

  /** One template, with the streams that hang on it. */
  @GetMapping("/{name}")
  TemplateViews.TemplateView one(@PathVariable @Size(max = Limits.NAME) String name) {
    Definitions all = engine.definitions();
    return all.template(name)
        .map(found -> view(found, made(all).getOrDefault(name, List.of())))
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    "there is no template " + name + Nearest.hint(name, all.names(Kind.TEMPLATE))));
  }

  private static Map<String, List<TemplateViews.MadeView>> made(Definitions all) {
    Map<String, List<TemplateViews.MadeView>> made = new HashMap<>();
    for (String stream : all.names(Kind.STREAM)) {
      all.document(Kind.STREAM, stream)
          .flatMap(TemplateController::made)
          .ifPresent(
              view ->
                  view.templates()
                      .forEach(
                          name -> made.computeIfAbsent(name, key -> new ArrayList<>()).add(view)));
    }
    return made;
  }

  /** Where a stream comes from; empty where no template has a part in it. */
  static Optional<TemplateViews.MadeView> made(Document stream) {
    return stream
        .made()
        .map(
            one ->
                new TemplateViews.MadeView(
                    stream.name(),
                    one.template(),
                    one.templates().stream().sorted().toList(),
                    one.by(),
                    one.row(),
                    one.values(),
                    one.deviations()));
  }

  private static TemplateViews.TemplateView view(
      Template template, List<TemplateViews.MadeView> made) {
    return new TemplateViews.TemplateView(
        template.name(),
        template.title(),
        template.about(),
        template.of().word(),
        template.parameters().values().stream()
            .map(
                one ->
                    new TemplateViews.TemplateParameterView(
                        one.name(),
                        one.type().word(),
                        one.standard().orElse(null),
                        one.allowed(),
                        one.help()))
            .toList(),
        made);
  }

  /** Streams of files as templates fill them, as far as they can be read; publishes nothing. */
  @PostMapping("/filled")
  List<TemplateViews.FilledView> filled(@Valid @RequestBody Views.PublishRequest request) {
    List<SourceFile> files = DefinitionController.files(request);
    List<String> names =
        DefinitionReader.read(files).unfilled().stream()
            .map(DefinitionReader.Unfilled::name)
            .distinct()
            .toList();
    Definitions after = publisher.sketch(files).after(); // also what is in force as it is
    return names.stream()
        .flatMap(name -> after.document(Kind.STREAM, name).stream())
        .flatMap(
            one ->
                one
                    .made()
                    .map(
                        made ->
                            new TemplateViews.FilledView(
                                one.name(), made.template(), one.whole(), made.deviations()))
                    .stream())
        .toList();
  }

  /** A template of streams that are alike, and the table that makes them; publishes nothing. */
  @PostMapping("/made-of")
  TemplateViews.DefinitionText madeOf(
      @Valid @RequestBody TemplateViews.MakeTemplateRequest request) {
    Definitions all = engine.definitions();
    List<String> texts = new ArrayList<>();
    for (String name : request.streams()) {
      texts.add(
          all.document(Kind.STREAM, name)
              .map(Document::whole)
              .orElseThrow(
                  () ->
                      new NotUnderstood(
                          "there is no stream "
                              + name
                              + Nearest.hint(name, all.names(Kind.STREAM)))));
    }
    return new TemplateViews.DefinitionText(TemplateMaker.of(request.name(), texts));
  }

  /** Publishes a stream as its template says, without the deviations that are named. */
  @PostMapping("/take-back")
  ResponseEntity<Views.PublishResult> takeBack(
      @Valid @RequestBody TemplateViews.TakeBackRequest request,
      Authentication who,
      HttpServletRequest http) {
    List<String> keys = request.keys() == null ? List.of() : request.keys();
    Publisher.Outcome outcome =
        publisher.publish(
            List.of(Deviations.takenBack(engine.definitions(), request.stream(), keys)),
            Optional.of(engine.revision()),
            Asking.actor(who, http),
            request.reason() == null ? "" : request.reason());
    return ResponseEntity.status(outcome.sound() ? 200 : 422)
        .body(DefinitionController.view(outcome));
  }
}

package dev.purser.service.api;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRehearsal;
import dev.purser.service.api.view.ProblemViews;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.AlertViews;
import jakarta.validation.Valid;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** How often rules of alerts would have come, before they are live. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class RehearsalController {
  private static final int USUAL_DAYS = 30;

  private final Publisher publisher;
  private final AlertRehearsal rehearsal;
  private final Settings settings;

  RehearsalController(Publisher publisher, AlertRehearsal rehearsal, Settings settings) {
    this.publisher = publisher;
    this.rehearsal = rehearsal;
    this.settings = settings;
  }

  /** How often the rules in files would have made alerts; publishes nothing. */
  @PostMapping("/alert-rehearsals")
  AlertViews.RehearsalView rehearse(@Valid @RequestBody AlertViews.RehearsalRequest request) {
    List<SourceFile> files =
        request.files() == null
            ? List.of()
            : request.files().stream()
                .map(file -> new SourceFile(file.name(), file.text()))
                .toList();
    Publisher.Sketch sketch = publisher.sketch(files);
    List<AlertViews.RehearsedRule> none = List.of();
    var problems = sketch.problems().stream().map(ProblemViews::view).toList();
    String zone = settings.zone().getId();
    if (!sketch.isSound()) {
      return new AlertViews.RehearsalView(false, null, null, 0, none, List.of(), problems, zone);
    }
    int days = request.days() == null ? USUAL_DAYS : request.days();
    AlertRehearsal.Outcome outcome =
        rehearsal.of(sketch.before(), sketch.after(), sketch.documents(), days);
    return new AlertViews.RehearsalView(
        true,
        outcome.from(),
        outcome.to(),
        outcome.runs(),
        outcome.rules().stream().map(RehearsalController::view).toList(),
        outcome.notes(),
        problems,
        zone);
  }

  private static AlertViews.RehearsedRule view(AlertRehearsal.Rehearsed one) {
    return new AlertViews.RehearsedRule(
        one.kind(),
        AlertKind.of(one.kind()).map(AlertKind::title).orElse(one.kind()),
        one.origin(),
        one.condition(),
        one.none(),
        one.urgency(),
        one.count(),
        one.before(),
        one.atNight(),
        one.mostOnDay(),
        List.copyOf(one.tell()),
        one.examples().stream()
            .map(e -> new AlertViews.ExampleView(e.reference(), e.at(), e.text()))
            .toList());
  }
}

package dev.purser.service.api;

import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.care.Care;
import dev.purser.service.run.Retention;
import dev.purser.wire.api.Views;
import java.util.ArrayList;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** How Purser itself is. */
@RestController
@RequestMapping(path = "/api/v1/health", produces = MediaType.APPLICATION_JSON_VALUE)
class HealthController {
  private final Care care;
  private final Engine engine;
  private final Retention retention;
  private final Settings settings;

  HealthController(Care care, Engine engine, Retention retention, Settings settings) {
    this.settings = settings;
    this.care = care;
    this.engine = engine;
    this.retention = retention;
  }

  /** What was found of all that Purser hangs on, worst first. */
  @GetMapping
  Views.HealthView health() {
    Care.Report report = care.report();
    List<Views.TableSize> tables = new ArrayList<>();
    retention
        .sizes()
        .forEach((name, size) -> tables.add(new Views.TableSize(name, size[0], size[1])));
    tables.sort((a, b) -> Long.compare(b.bytes(), a.bytes()));
    return new Views.HealthView(
        report.at(),
        "0.1.0",
        engine.epoch(),
        settings.clockOffset().toSeconds(),
        report.findings().stream()
            .map(
                one ->
                    new Views.FindingView(
                        one.about(), one.level().word(), one.text(), one.remedy()))
            .toList(),
        care.keeping(),
        tables);
  }
}

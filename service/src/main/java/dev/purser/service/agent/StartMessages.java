package dev.purser.service.agent;

import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunStatus;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Work;
import dev.purser.core.parameter.Template;
import dev.purser.core.plan.RunReference;
import dev.purser.service.Settings;
import dev.purser.wire.agent.ToAgent;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Fills in what an agent must know to start an attempt or to look for a file. */
@Component
class StartMessages {
  private static final Logger LOG = LoggerFactory.getLogger(StartMessages.class);

  private final Settings settings;

  StartMessages(Settings settings) {
    this.settings = settings;
  }

  /** The start of the run's current attempt; empty where its command cannot be filled in. */
  Optional<ToAgent.Start> start(Definitions definitions, RunSpec run, RunStatus status) {
    if (!(run.run().job().work() instanceof Work.Command command)) {
      return Optional.empty();
    }
    RunReference reference = run.run().reference();
    String calendar = run.run().calendar();
    Calendars calendars =
        definitions.calendars().businessNames().contains(calendar)
            ? definitions.calendars().meaning(calendar)
            : definitions.calendars();
    Map<String, String> values = new HashMap<>(run.run().parameters());
    values.put("run", reference.toString());
    values.put("stream", reference.stream());
    values.put("job", reference.job());
    values.put("attempt", String.valueOf(status.attempts()));
    values.put("host", status.host());
    run.run()
        .start()
        .window()
        .ifPresent(
            window -> {
              values.put("window.start", inZone(window.start(), run));
              values.put("window.end", inZone(window.end(), run));
            });
    try {
      Map<String, String> environment = new HashMap<>();
      values.forEach(
          (name, value) ->
              environment.put(
                  "PURSER_" + name.toUpperCase(java.util.Locale.ROOT).replaceAll("[^A-Z0-9]", "_"),
                  value));
      environment.put("PURSER_DATE", reference.date().toString());
      for (Map.Entry<String, String> entry : run.run().job().environment().entrySet()) {
        environment.put(
            entry.getKey(), Template.fill(entry.getValue(), reference.date(), calendars, values));
      }
      return Optional.of(
          new ToAgent.Start(
              run.id(),
              status.attempts(),
              Template.fill(command.line(), reference.date(), calendars, values),
              run.run().job().directory(),
              environment,
              settings.keepOutput()));
    } catch (Template.TemplateException e) {
      LOG.warn("cannot start {}: {}", reference, e.getMessage());
      return Optional.empty();
    }
  }

  /** ISO 8601 with the offset of the run's own zone, to the second. */
  private static String inZone(Instant instant, RunSpec run) {
    return DateTimeFormatter.ISO_OFFSET_DATE_TIME.format(instant.atZone(run.run().zone()));
  }

  static ToAgent.Watch watch(RunSpec run, FileWatch watch) {
    String path =
        Template.fill(watch.path(), run.run().reference().date(), Calendars.NONE, Map.of());
    return new ToAgent.Watch(
        run.id(), watch.name(), path, watch.stillFor().toMillis(), watch.minimumSize());
  }
}

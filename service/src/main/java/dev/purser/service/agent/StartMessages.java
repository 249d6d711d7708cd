package dev.purser.service.agent;

import dev.purser.core.board.BoardView;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.OnlyIf;
import dev.purser.core.definition.Work;
import dev.purser.core.parameter.ShellLine;
import dev.purser.core.parameter.Template;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.wire.agent.ToAgent;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
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

  /** Why an attempt cannot be started: what of its command cannot be filled in. */
  static final class Unfillable extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Unfillable(String message) {
      super(message);
    }
  }

  /**
   * The start of a run's current attempt.
   *
   * @param board where values are that other runs handed back
   * @param epoch of this service
   * @throws Unfillable where its command cannot be filled in
   */
  ToAgent.Start start(
      Definitions definitions, BoardView board, RunSpec run, RunStatus status, long epoch) {
    if (!(run.run().job().work() instanceof Work.Command command)) {
      throw new Unfillable("it is no command");
    }
    RunReference reference = run.run().reference();
    String calendar = run.run().calendar();
    Calendars calendars =
        definitions.calendars().businessNames().contains(calendar)
            ? definitions.calendars().meaning(calendar)
            : definitions.calendars();
    Map<String, String> values = new HashMap<>(run.run().parameters().values());
    values.put("run", reference.toString());
    values.put("stream", reference.stream());
    values.put("job", reference.job());
    values.put("attempt", String.valueOf(status.attempts()));
    values.put("host", status.host());
    arrived(run, status, values);
    Set<String> files = new TreeSet<>(values.keySet());
    files.removeIf(name -> !name.startsWith("file."));
    run.run()
        .start()
        .window()
        .ifPresent(
            window -> {
              values.put("window.start", inZone(window.start(), run));
              values.put("window.end", inZone(window.end(), run));
            });
    UnaryOperator<String> fill =
        text ->
            Template.fill(
                text,
                reference.date(),
                calendars,
                values,
                (name, job) -> board.handedBack(run.id(), job, name));
    try {
      Map<String, String> environment = new HashMap<>();
      values.forEach((name, value) -> export(name, value, fill, environment));
      environment.put("PURSER_DATE", reference.date().toString());
      for (Map.Entry<String, String> entry : run.run().job().environment().entrySet()) {
        environment.put(entry.getKey(), fill.apply(entry.getValue()));
      }
      return new ToAgent.Start(
          epoch,
          run.id(),
          status.attempts(),
          fill.apply(ShellLine.guard(command.line(), files)),
          status.startNow()
              ? ""
              : check(run).map(line -> ShellLine.guard(line, files)).map(fill).orElse(""),
          run.run().job().directory(),
          run.run().job().user(),
          environment,
          settings.keepOutput());
    } catch (Template.TemplateException e) {
      LOG.warn("cannot start {}: {}", reference, e.getMessage());
      throw new Unfillable(e.getMessage());
    }
  }

  /** The files that it has waited for; of a set the first is its path. */
  private static void arrived(RunSpec run, RunStatus status, Map<String, String> values) {
    int count = status.files().size();
    for (int i = 0; i < count; i++) {
      RunStatus.FileState state = status.files().get(i);
      if (state.sight() == FileSight.ARRIVED) {
        String all = state.path().replace("${", "$${");
        String path = all.split("\n", 2)[0];
        String name = path.substring(path.lastIndexOf('/') + 1);
        String watch = "file." + run.run().watches().get(i).name();
        values.put(watch + ".path", path);
        values.put(watch + ".name", name);
        values.put(watch + ".paths", all);
        if (count == 1) {
          values.putIfAbsent("file.path", path);
          values.putIfAbsent("file.name", name);
          values.putIfAbsent("file.paths", all);
        }
      }
    }
  }

  /** What cannot be filled in here, as a window of a stream without windows, is not given along. */
  private static void export(
      String name, String value, UnaryOperator<String> fill, Map<String, String> environment) {
    try {
      environment.put(ShellLine.variable(name), fill.apply(value));
    } catch (Template.TemplateException e) {
      LOG.debug("parameter {} is not given along: {}", name, e.getMessage());
    }
  }

  private static Optional<String> check(RunSpec run) {
    return run.run()
        .job()
        .onlyIf()
        .filter(OnlyIf.Command.class::isInstance)
        .map(check -> ((OnlyIf.Command) check).line());
  }

  /** ISO 8601 with the offset of the run's own zone, to the second. */
  private static String inZone(Instant instant, RunSpec run) {
    return DateTimeFormatter.ISO_OFFSET_DATE_TIME.format(instant.atZone(run.run().zone()));
  }
}

package dev.purser.core.fill;

import dev.purser.core.board.BoardView;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.parameter.ShellLine;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.Map;

/**
 * The values of one attempt, and its texts with these filled in. It looks at the board while it
 * fills in, so it must not outlive the look.
 */
public final class Filling {
  private final RunSpec run;
  private final BoardView board;
  private final Calendars calendars;
  private final Map<String, String> values;
  private final ShellLine shell;

  /**
   * For the attempt that a run is at.
   *
   * @param board where values are that other runs handed back
   */
  public Filling(Definitions definitions, BoardView board, RunSpec run, RunStatus status) {
    this.run = run;
    this.board = board;
    String calendar = run.run().calendar();
    this.calendars =
        definitions.calendars().businessNames().contains(calendar)
            ? definitions.calendars().meaning(calendar)
            : definitions.calendars();
    this.values = values(run, status);
    this.shell = new ShellLine(run.run().parameters(), values::containsKey);
  }

  private static Map<String, String> values(RunSpec run, RunStatus status) {
    Map<String, String> values = new HashMap<>(run.run().parameters().values());
    values.put("run", run.run().reference().toString());
    values.put("stream", run.run().reference().stream());
    values.put("job", run.run().reference().job());
    values.put("attempt", String.valueOf(status.attempts()));
    status.where().host().ifPresent(host -> values.put("host", host));
    arrived(run, status, values);
    run.run()
        .start()
        .window()
        .ifPresent(
            window -> {
              values.put("window.start", inZone(window.start(), run));
              values.put("window.end", inZone(window.end(), run));
            });
    return values;
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

  /** ISO 8601 with the offset of the run's own zone, to the second. */
  private static String inZone(Instant instant, RunSpec run) {
    return DateTimeFormatter.ISO_OFFSET_DATE_TIME.format(instant.atZone(run.run().zone()));
  }

  /**
   * A text that no shell reads.
   *
   * @throws Unfillable where a placeholder has no value
   */
  public String text(String text) {
    try {
      return fill(text);
    } catch (PlaceholderText.PlaceholderException e) {
      throw new Unfillable(e.getMessage());
    }
  }

  /**
   * A line that a shell reads: values stand in it as variables, so that none becomes a command. The
   * process needs {@link #environment()} of this same filling, asked for after its lines.
   *
   * @throws Unfillable where a placeholder has no value, or a value stands where none can
   */
  public String shellLine(String line) {
    try {
      return fill(shell.guard(line));
    } catch (PlaceholderText.PlaceholderException e) {
      throw new Unfillable(e.getMessage());
    }
  }

  /**
   * The environment variables of a process: every value that can be filled in, the business date,
   * those of the job's own, and those that its lines name.
   *
   * @throws Unfillable where one of them has a placeholder without a value, or holds the character
   *     NUL, which no variable can
   */
  public Map<String, String> environment() {
    Map<String, String> environment = new HashMap<>();
    values.forEach((name, value) -> export(name, value, environment));
    environment.put("PURSER_DATE", run.run().reference().date().toString());
    run.run().job().environment().forEach((name, value) -> environment.put(name, text(value)));
    shell.words().forEach((name, value) -> environment.put(name, text(value)));
    environment.forEach(Filling::refuseNul);
    return environment;
  }

  private static void refuseNul(String name, String value) {
    if (value.indexOf('\0') >= 0) {
      throw new Unfillable(
          "the value of " + name + " holds the character NUL, which no command can be given");
    }
  }

  /** What cannot be filled in here, as a window of a stream without windows, is not given along. */
  private void export(String name, String value, Map<String, String> environment) {
    try {
      environment.put(ShellLine.variable(name), fill(value));
    } catch (PlaceholderText.PlaceholderException e) {
      environment.remove(ShellLine.variable(name));
    }
  }

  private String fill(String text) {
    return PlaceholderText.fill(
        text,
        run.run().reference().date(),
        calendars,
        values,
        (name, job) -> board.handedBack(run.id(), job, name));
  }
}

package dev.purser.client;

import dev.purser.core.crontab.Crontab;
import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about changes before they are made: previews, and definitions from other files. */
final class ChangeCommands {
  private static final int SHOWN = 12;

  private ChangeCommands() {}

  /** {@code purser preview}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "preview",
      mixinStandardHelpOptions = true,
      description =
          "What publishing files would change: definitions by field, and runs gained, lost and moved.",
      footer = {
        "",
        "Marks: + gained, - lost, > moved, ? a guess (after what the calendars are known to).",
        "Example: purser preview demo/world/calendars.yaml",
        "Exit code 1 where the files are not sound."
      })
  static final class PreviewCommand implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        arity = "1..*",
        description = "Definition files, or directories of them.")
    private List<Path> files;

    @CommandLine.Option(
        names = "--days",
        defaultValue = "400",
        description = "How many days to look ahead; 400 by default.")
    private int days;

    @CommandLine.Option(names = "--full", description = "List every change of every stream.")
    private boolean full;

    @CommandLine.Mixin private HoldsOption holds = new HoldsOption();

    /** A change of a start, for CSV. */
    record Row(String stream, ScheduleViews.StartChange change) {}

    @Override
    public Integer call() {
      List<Views.FileText> texts =
          FileCommands.read(files).stream()
              .map(file -> new Views.FileText(file.name(), file.text()))
              .toList();
      ScheduleViews.PreviewView view =
          Service.loggedIn()
              .post(
                  ScheduleViews.PreviewView.class,
                  "/definitions/preview",
                  new ScheduleViews.PreviewRequest(texts, days, holds.request()));
      switch (output.form()) {
        case text, markdown -> {
          new PreviewText(output, full).print(view);
          if (view.sound() && !view.definitions().isEmpty()) {
            alerts(texts);
          }
        }
        case json -> output.one(view, () -> {});
        case csv -> csv(view);
      }
      return view.sound() ? 0 : 1;
    }

    /** Rules of alerts that would have come more or less often than those that hold now. */
    private void alerts(List<Views.FileText> texts) {
      AlertViews.RehearsalView view;
      try {
        view =
            Service.loggedIn()
                .post(
                    AlertViews.RehearsalView.class,
                    "/alert-rehearsals",
                    new AlertViews.RehearsalRequest(texts, null));
      } catch (Service.Refusal e) {
        return; // a service of before: it cannot say
      }
      view.rules().stream()
          .filter(rule -> rule.count() != rule.before())
          .limit(SHOWN)
          .forEach(rule -> output.line("alerts: " + inWords(rule)));
    }

    private static String inWords(AlertViews.RehearsedRule rule) {
      String what =
          rule.kind()
              + (rule.condition().isEmpty() ? "" : " (" + rule.condition() + ")")
              + " of "
              + rule.origin();
      String often =
          rule.none()
              ? ": no alerts any more; there were " + rule.before()
              : " would have come "
                  + rule.count()
                  + " times (as it is: "
                  + rule.before()
                  + "), "
                  + rule.atNight()
                  + " of them at night";
      String who = rule.tell().isEmpty() ? "" : ", to " + String.join(", ", rule.tell());
      return what + often + " in the last 30 days" + who;
    }

    private void csv(ScheduleViews.PreviewView view) {
      output.list(
          Row.class,
          view.streams().stream()
              .flatMap(stream -> stream.changes().stream().map(c -> new Row(stream.stream(), c)))
              .toList(),
          List.of(
              new Output.Column<>("stream", Row::stream),
              new Output.Column<>("what", row -> row.change().what()),
              new Output.Column<>("date", row -> row.change().date()),
              new Output.Column<>("at", row -> row.change().at()),
              new Output.Column<>("to date", row -> row.change().toDate()),
              new Output.Column<>("to at", row -> row.change().toAt()),
              new Output.Column<>("runs", row -> row.change().runs()),
              new Output.Column<>("guess", row -> row.change().guess()),
              new Output.Column<>("clock change", row -> row.change().shift()),
              new Output.Column<>("because", row -> row.change().reason())),
          "");
    }
  }

  /** {@code purser import}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Makes definitions from files of other kinds; publishes nothing.",
      synopsisSubcommandLabel = "KIND",
      subcommands = {FromCrontab.class})
  static final class Import implements Callable<Integer> {
    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    @Override
    public Integer call() {
      spec.commandLine().usage(spec.commandLine().getErr());
      return 2;
    }
  }

  /** {@code purser import crontab}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "crontab",
      mixinStandardHelpOptions = true,
      description = "A stream of one job for each line of a POSIX crontab, on standard output.",
      footer = {
        "",
        "Lines that cannot be taken are named on standard error, and the exit code is 1.",
        "Example: purser import crontab demo/crontab --host depot --zone Europe/Oslo > depot.yaml"
      })
  static final class FromCrontab implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "FILE", description = "The crontab.")
    private Path file;

    @CommandLine.Option(
        names = "--host",
        required = true,
        description = "The host on which the commands run.")
    private String host;

    @CommandLine.Option(
        names = "--zone",
        defaultValue = "UTC",
        description = "The time zone of its times; UTC by default.")
    private String zone;

    @CommandLine.Option(
        names = "--prefix",
        defaultValue = "imported",
        description = "What the streams' names begin with; imported by default.")
    private String prefix;

    @Override
    public Integer call() throws IOException {
      if (!Files.isRegularFile(file)) {
        throw new Service.Refusal(2, "there is no file " + file);
      }
      Crontab.Imported imported;
      try {
        imported = Crontab.read(Files.readString(file), prefix, host, zone);
      } catch (IllegalArgumentException e) {
        throw new Service.Refusal(2, e.getMessage());
      }
      long notTaken = imported.problems().stream().filter(p -> !p.taken()).count();
      output.one(imported, () -> output.line(imported.yaml().stripTrailing()));
      for (Crontab.Problem problem : imported.problems()) {
        output.warn(
            file
                + ":"
                + problem.line()
                + ": "
                + (problem.taken() ? "taken, but " : "not taken: ")
                + problem.reason());
        output.warn("    " + problem.text());
      }
      output.warn(
          FileCommands.Check.count(imported.jobs(), "job")
              + " made"
              + (notTaken == 0
                  ? ""
                  : ", " + FileCommands.Check.count(notTaken, "line") + " not taken"));
      return notTaken == 0 ? 0 : 1;
    }
  }
}

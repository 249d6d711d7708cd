package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.Views;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser alerts rehearse}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "rehearse",
    mixinStandardHelpOptions = true,
    description =
        "How often the rules in files would have made alerts, and whom they would have told;"
            + " publishes nothing.",
    footer = {
      "",
      "Example: purser alerts rehearse stores.yaml --days 30 --list",
      "Exit code 1 where the files are not sound."
    })
final class AlertRehearse implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "FILE",
      arity = "1..*",
      description = "Definition files, or directories of them.")
  private List<Path> files;

  @CommandLine.Option(
      names = "--days",
      defaultValue = "30",
      description = "How many dates back, today's included; 30 by default.")
  private int days;

  @CommandLine.Option(
      names = "--list",
      description = "The last alerts that each would have made, too.")
  private boolean list;

  @Override
  public Integer call() {
    List<Views.FileText> texts =
        FileCommands.read(files).stream()
            .map(file -> new Views.FileText(file.name(), file.text()))
            .toList();
    AlertViews.RehearsalView view =
        Service.loggedIn()
            .post(
                AlertViews.RehearsalView.class,
                "/alert-rehearsals",
                new AlertViews.RehearsalRequest(texts, days));
    output.byTheClockOf(List.of(view.zone()));
    if (!view.sound()) {
      output.one(
          view,
          () -> view.problems().forEach(problem -> output.line(SiteCommands.inWords(problem))));
      return 1;
    }
    if (output.form() == Output.Form.json) {
      output.one(view, () -> {});
      return 0;
    }
    output.list(
        AlertViews.RehearsedRule.class,
        view.rules(),
        List.of(
            new Output.Column<>("kind", AlertViews.RehearsedRule::kind),
            new Output.Column<>("rule", AlertViews.RehearsedRule::origin),
            new Output.Column<>("asks", AlertViews.RehearsedRule::condition),
            new Output.Column<>("alerts", one -> one.none() ? "none" : "" + one.count()),
            new Output.Column<>("as it is", AlertViews.RehearsedRule::before),
            new Output.Column<>("at night", AlertViews.RehearsedRule::atNight),
            new Output.Column<>("most on a day", AlertViews.RehearsedRule::mostOnDay),
            new Output.Column<>("tells", one -> String.join(", ", one.tell()))),
        "no rule of alerts stands in these files");
    if (output.isText() && !view.rules().isEmpty()) {
      aside(view);
    }
    return 0;
  }

  private void aside(AlertViews.RehearsalView view) {
    output.line("");
    output.line(
        "over "
            + days
            + " days up to now, from "
            + view.runs()
            + " runs; night is 22:00 to 06:00"
            + output.clockInWords());
    view.notes().forEach(output::line);
    if (list) {
      for (AlertViews.RehearsedRule rule : view.rules()) {
        for (AlertViews.ExampleView one : rule.examples()) {
          output.line(
              "  "
                  + output.at(one.at())
                  + "  "
                  + rule.kind()
                  + "  "
                  + one.reference()
                  + "  "
                  + one.text());
        }
      }
    }
  }
}

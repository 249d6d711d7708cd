package dev.purser.client;

import dev.purser.core.job.Where;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine;

/** {@code purser show}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "show",
    mixinStandardHelpOptions = true,
    description = "All about one run.",
    footer = {
      "",
      "Example: purser show night-manifest/file-manifest@2027-03-04",
      "Example: purser show night-manifest/file-manifest@2027-03-04 --definition"
    })
final class ShowCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, a tail of one, or an id.")
  private String reference;

  @CommandLine.Option(
      names = "--definition",
      description = "The definition by which it was planned, as it was then.")
  private boolean definition;

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    long id = RunCommands.find(service, reference).id();
    if (definition) {
      VersionViews.DefinitionOfRunView then =
          service.get(
              VersionViews.DefinitionOfRunView.class, "/runs/" + id + "/definition", Map.of());
      output.one(then, () -> print(then));
      return 0;
    }
    Views.RunDetail detail = service.get(Views.RunDetail.class, "/runs/" + id, Map.of());
    output.byTheClockOf(List.of(detail.run().zone()));
    output.one(detail, () -> print(detail));
    return 0;
  }

  private void print(VersionViews.DefinitionOfRunView then) {
    output.line(
        "# "
            + then.name()
            + ", revision "
            + then.revision()
            + (then.inForce() ? ", still in force" : "; another is in force by now"));
    then.text().lines().forEach(output::line);
  }

  private void print(Views.RunDetail detail) {
    RunView run = detail.run();
    output.line(run.reference() + "   " + new Output.State(run.state()));
    output.line(run.streamTitle() + ": " + run.title());
    output.line("");
    output.line(Output.sentence(detail.why().sentence()));
    output.line("");
    field("does", detail.command());
    field("only if", detail.onlyIf());
    field("waits for", detail.waitsFor());
    field("step", detail.above());
    field("tags", String.join(", ", run.tags()));
    field("priority", run.priority() == 50 ? "" : run.priority() + "");
    field("clock", output.clockInWords().replaceAll("[ ()]", ""));
    field(
        "due",
        output.at(run.due())
            + (run.shift().isEmpty() ? "" : " (clock change: " + run.shift() + ")"));
    field("start by", output.at(run.startBy()));
    field("finish by", output.at(run.finishBy()));
    field(
        "likely end",
        run.expectedEnd() == null
            ? ""
            : output.at(run.expectedEnd()) + (run.ifAnswered() ? " (if answered as usual)" : ""));
    field("late", RunCommands.late(run));
    field("alerts", String.join(", ", run.alerts()));
    field("can be done", String.join(", ", run.actions()));
    detail.files().forEach(f -> field("file " + f.watch(), f.sight() + " " + f.path()));
    for (ActionViews.ParameterView one : detail.parameters()) {
      field(one.name(), one.value() + "   (" + one.origin() + ")");
    }
    detail.values().stream()
        .filter(value -> value.run() == run.id())
        .forEach(value -> field("handed back " + value.name(), value.value()));
    for (RunView below : detail.below()) {
      field("below", below.job() + "   " + new Output.State(below.state()));
    }
    for (Views.AttemptView attempt : detail.attempts()) {
      field("attempt " + attempt.number(), attempt(attempt));
    }
    output.line("");
    for (Views.MomentView moment : detail.moments()) {
      output.line(
          "  %-20s  %-12s %s"
              .formatted(output.at(moment.at()), new Output.State(moment.state()), moment.note())
              .stripTrailing());
    }
    for (Views.AuditView done : detail.done()) {
      output.line(
          "  %-20s  %s by %s%s"
              .formatted(
                  output.at(done.at()),
                  done.what(),
                  done.who(),
                  done.reason().isEmpty() ? "" : ": " + done.reason()));
    }
  }

  private void field(String name, String value) {
    if (value != null && !value.isBlank()) {
      output.line("  %-18s %s".formatted(name, value.strip()));
    }
  }

  private String attempt(Views.AttemptView attempt) {
    StringBuilder when = new StringBuilder();
    if (attempt.started() != null) {
      when.append(output.at(attempt.started()));
    }
    if (attempt.ended() != null) {
      when.append(" to ").append(output.at(attempt.ended()));
    }
    if (attempt.started() != null && attempt.ended() != null) {
      Duration took = Duration.between(attempt.started(), attempt.ended());
      when.append(" (").append(dev.purser.core.schedule.Durations.print(took)).append(")");
    }
    String all =
        Stream.of(Where.of(attempt.host()).inWords(), when.toString().strip())
            .filter(part -> !part.isEmpty())
            .collect(Collectors.joining(", "));
    return all + (attempt.note().isEmpty() ? "" : ": " + attempt.note());
  }
}

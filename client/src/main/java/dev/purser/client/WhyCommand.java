package dev.purser.client;

import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine;

/** {@code purser why}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "why",
    mixinStandardHelpOptions = true,
    description = "Why a run is not running: what is missing, since when, who can change it.",
    footer = {
      "",
      "Example: purser why night-manifest/file-manifest@2027-03-04",
      "Example, of a promise: purser why --commitment night-manifest",
      "Example, of all runs of a stream that are open or have failed: purser why --stream night-manifest"
    })
final class WhyCommand implements Callable<Integer> {
  private static final int MOST = 500;
  private static final Set<String> DONE = Set.of("succeeded", "skipped", "cancelled");

  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "RUN",
      arity = "0..1",
      description = "A reference, a tail of one, or an id.")
  private String reference;

  @CommandLine.Option(
      names = "--stream",
      description = "Instead of one run: all runs of this stream that are open or have failed.")
  private String stream;

  @CommandLine.Option(
      names = "--commitment",
      description =
          "Instead of a run: why this commitment, or a promise of it as night-manifest@2027-03-04,"
              + " is likely to be late, and what would help.")
  private String commitment;

  @CommandLine.Option(
      names = "--date",
      description =
          "With --stream or --commitment: the business date; by default today, and for a stream"
              + " what is still open of earlier dates.")
  private LocalDate date;

  @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

  @Override
  public Integer call() {
    long said = Stream.of(reference, stream, commitment).filter(Objects::nonNull).count();
    if (said != 1) {
      throw new CommandLine.ParameterException(
          spec.commandLine(), "why expects a RUN, --stream STREAM or --commitment NAME");
    }
    Service service = Service.loggedIn();
    if (commitment != null) {
      CommitmentCommands.why(
          output, CommitmentCommands.detail(service, commitment, date, null, true));
      return 0;
    }
    return stream == null ? one(service) : all(service);
  }

  private int one(Service service) {
    RunView run = RunCommands.find(service, reference);
    Views.WhyView why = service.get(Views.WhyView.class, "/runs/" + run.id() + "/why", Map.of());
    output.byTheClockOf(List.of(run.zone()));
    output.one(
        why,
        () -> {
          output.line(
              why.reference() + "   " + new Output.State(why.state()) + output.clockInWords());
          output.line(Output.sentence(why.sentence()));
          tree(why.reasons(), "");
        });
    return 0;
  }

  private int all(Service service) {
    List<RunView> runs = new ArrayList<>();
    if (date == null) {
      runs.addAll(runs(service, Map.of("stream", stream, "state", "waiting,starting,running")));
    }
    Map<String, Object> day = new HashMap<>();
    day.put("date", date);
    Set<Long> there = runs.stream().map(RunView::id).collect(Collectors.toSet());
    service.list(RunView.class, "/plan", day).stream()
        .filter(run -> isOfStream(run) && !DONE.contains(run.state()) && !there.contains(run.id()))
        .forEach(runs::add);
    output.byTheClockOf(runs.stream().map(RunView::zone).toList());
    output.list(
        RunView.class,
        runs,
        List.of(
            new Output.Column<>("run", RunView::reference),
            new Output.Column<>("state", run -> new Output.State(run.state())),
            new Output.Column<>("why", RunView::sentence)),
        "no run of " + stream + " is open or has failed");
    return 0;
  }

  private List<RunView> runs(Service service, Map<String, Object> query) {
    Map<String, Object> all = new HashMap<>(query);
    all.put("limit", MOST);
    return service.get(Views.RunPage.class, "/runs", all).runs();
  }

  private boolean isOfStream(RunView run) {
    return ("/" + run.stream() + "/").contains("/" + stream + "/");
  }

  private void tree(List<Views.ReasonView> reasons, String indent) {
    for (int i = 0; i < reasons.size(); i++) {
      boolean last = i == reasons.size() - 1;
      Views.ReasonView reason = reasons.get(i);
      output.line(indent + (last ? "└─ " : "├─ ") + reason.text());
      String deeper = indent + (last ? "   " : "│  ");
      String facts = facts(reason);
      if (!facts.isEmpty()) {
        output.line(deeper + facts);
      }
      tree(reason.below(), deeper);
    }
  }

  private String facts(Views.ReasonView reason) {
    List<String> facts = new ArrayList<>();
    if (reason.since() != null) {
      facts.add("since " + output.at(reason.since()));
    }
    if (!reason.who().isEmpty()) {
      facts.add("can be changed by " + reason.who());
    }
    if (reason.expected() != null) {
      facts.add("likely done at " + output.at(reason.expected()));
    }
    return String.join(", ", facts);
  }
}

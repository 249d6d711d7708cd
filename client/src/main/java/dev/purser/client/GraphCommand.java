package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser graph}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "graph",
    mixinStandardHelpOptions = true,
    description = "A stream's jobs, what each waits for, and how their runs stand.",
    footer = {
      "",
      "Example: purser graph passenger/night-manifest",
      "Example: purser graph harbour/port-call/refuel      (the stream that a step runs)"
    })
final class GraphCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "STREAM", description = "A stream, or a step's path.")
  private String stream;

  @CommandLine.Option(names = "--date", description = "The business date; today by default.")
  private LocalDate date;

  @CommandLine.Option(
      names = "--number",
      defaultValue = "0",
      description = "Which start of the date; by default the last one that is due.")
  private int number;

  /** A job and what it asks for. */
  record Line(String state, String job, String kind, String title, String waitsFor) {}

  @Override
  public Integer call() {
    Map<String, Object> query = new HashMap<>();
    query.put("stream", stream);
    query.put("date", date);
    query.put("number", number);
    ActionViews.GraphView graph =
        Service.loggedIn().get(ActionViews.GraphView.class, "/graph", query);
    if (output.form() == Output.Form.csv) {
      output.list(ActionViews.NodeView.class, graph.nodes(), List.of(), "");
    } else {
      output.one(graph, () -> print(graph));
    }
    return 0;
  }

  private void print(ActionViews.GraphView graph) {
    output.line(
        graph.title()
            + " · "
            + graph.date()
            + (graph.number() == 0
                ? " · not planned"
                : " #" + graph.number() + " · " + graph.state())
            + (graph.stalled() ? ", stalled: nothing in it can move without a person" : ""));
    List<Line> lines = new ArrayList<>();
    for (ActionViews.NodeView node : graph.nodes()) {
      if (!node.kind().equals("other") && !node.kind().equals("file")) {
        lines.add(
            new Line(
                node.run() == null ? "" : node.run().state(),
                node.label(),
                node.kind(),
                node.title(),
                node.waitsFor()));
      }
    }
    output.list(
        Line.class,
        lines,
        List.of(
            new Output.Column<>("state", line -> new Output.State(line.state())),
            new Output.Column<>("job", Line::job),
            new Output.Column<>("kind", Line::kind),
            new Output.Column<>("title", Line::title),
            new Output.Column<>("waits for", Line::waitsFor)),
        "it has no jobs");
  }
}

package dev.purser.service.api.view;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Durations;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Makes the picture of a stream: its jobs, what they ask for, and how their runs stand. */
public final class GraphViews {
  private final Definitions definitions;
  private final Stream stream;
  private final Map<String, RunView> runs = new LinkedHashMap<>();
  private final Map<String, ActionViews.NodeView> nodes = new LinkedHashMap<>();
  private final List<ActionViews.EdgeView> edges = new ArrayList<>();

  private GraphViews(Definitions definitions, Stream stream, List<RunView> runs) {
    this.definitions = definitions;
    this.stream = stream;
    runs.forEach(run -> this.runs.put(run.stream() + "/" + run.job(), run));
  }

  /**
   * The picture.
   *
   * @param number which start of the date; 0 for none
   * @param runs those of the start, and what is below its steps
   */
  public static ActionViews.GraphView of(
      Definitions definitions,
      Stream stream,
      LocalDate date,
      int number,
      List<Integer> numbers,
      List<RunView> runs) {
    GraphViews views = new GraphViews(definitions, stream, runs);
    for (Job job : stream.jobs()) {
      views.node(stream.pathOf(job), job);
    }
    for (Job job : stream.jobs()) {
      for (Prerequisite asks : job.asks()) {
        asks.accept(views.new Arrows(stream.pathOf(job), true, false));
      }
    }
    String path = stream.path();
    boolean step = definitions.stream(path).isEmpty();
    return new ActionViews.GraphView(
        path,
        stream.title(),
        date,
        number,
        numbers,
        runs.isEmpty() ? "" : StreamStates.state(path, runs, definitions),
        StreamStates.isStalled(runs),
        stream.succeedsIf().toString(),
        step ? path.substring(0, path.lastIndexOf('/')) : "",
        List.copyOf(views.nodes.values()),
        views.edges);
  }

  private void node(String path, Job job) {
    nodes.put(
        path,
        new ActionViews.NodeView(
            path,
            job.name(),
            job.title(),
            job.work().kind(),
            job.waitsFor().map(Prerequisite::toString).orElse(""),
            runs.get(path),
            Optional.ofNullable(stream.places().get(job.name()))
                .map(spot -> new ActionViews.PlaceView(spot.x(), spot.y()))
                .orElse(null)));
  }

  /** The arrows to a job from what it asks for. */
  private final class Arrows implements Prerequisite.Visitor<Void> {
    private final String to;
    private final boolean wanted;
    private final boolean alternative;

    /**
     * To a job.
     *
     * @param wanted false within an odd number of opposites
     * @param alternative whether another arrow would do as well
     */
    Arrows(String to, boolean wanted, boolean alternative) {
      this.to = to;
      this.wanted = wanted;
      this.alternative = alternative;
    }

    @Override
    public Void visit(Prerequisite.OfRun run) {
      String label =
          run.outcome().word() + run.codes().map(codes -> " with code " + codes).orElse("");
      return from(other(run.target()), label + suffix(run.target()));
    }

    @Override
    public Void visit(Prerequisite.ValueIs value) {
      String label = value.name() + " " + value.comparison().sign() + " " + value.operand();
      return from(other(value.target()), label + suffix(value.target()));
    }

    @Override
    public Void visit(Prerequisite.FileArrived file) {
      String id = "file " + file.watch();
      nodes.putIfAbsent(
          id, new ActionViews.NodeView(id, file.watch(), "file watch", "file", "", null, null));
      return from(id, "arrived");
    }

    @Override
    public Void visit(Prerequisite.All all) {
      return parts(all.parts(), alternative || !wanted);
    }

    @Override
    public Void visit(Prerequisite.Any any) {
      return parts(any.parts(), alternative || wanted);
    }

    @Override
    public Void visit(Prerequisite.Not not) {
      return not.part().accept(new Arrows(to, !wanted, alternative));
    }

    private Void parts(List<Prerequisite> parts, boolean oneWillDo) {
      parts.forEach(part -> part.accept(new Arrows(to, wanted, oneWillDo)));
      return null;
    }

    private Void from(String node, String label) {
      edges.add(new ActionViews.EdgeView(node, to, (wanted ? "" : "not ") + label, alternative));
      return null;
    }
  }

  private static String suffix(Prerequisite.Target target) {
    return (target.previous() ? ", previous business date" : "")
        + target.within().map(span -> " within " + Durations.print(span)).orElse("")
        + (target.ifPlanned() ? ", if planned" : "");
  }

  /** The node of what is asked of; a job of another stream gets one of its own. */
  private String other(Prerequisite.Target target) {
    String path = Definitions.resolve(target.name(), stream.path());
    if (!nodes.containsKey(path)) {
      Optional<Job> job = definitions.job(path);
      String title =
          job.map(Job::title)
              .or(() -> definitions.stream(target.name()).map(Stream::title))
              .orElse(path);
      String id = job.isPresent() ? path : target.name();
      nodes.putIfAbsent(
          id, new ActionViews.NodeView(id, id, title, "other", "", runs.get(id), null));
      return id;
    }
    return path;
  }
}

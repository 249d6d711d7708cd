package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands that look at runs and start them. */
final class RunCommands {
  private static final int PAGE = 500;

  private RunCommands() {}

  /** The columns of every list of runs. */
  static List<Output.Column<RunView>> columns() {
    return List.of(
        new Output.Column<>("run", RunView::reference),
        new Output.Column<>("state", run -> new Output.State(run.state())),
        new Output.Column<>("", run -> run.hold().isEmpty() ? "" : "held"),
        new Output.Column<>("due", RunView::due),
        new Output.Column<>("start", RunCommands::start),
        new Output.Column<>("end", RunCommands::end),
        new Output.Column<>("host", RunView::host),
        new Output.Column<>("alerts", run -> String.join(" ", run.alerts())));
  }

  private static Object start(RunView run) {
    return run.started() != null ? run.started() : likely(run.expectedStart());
  }

  private static Object end(RunView run) {
    return run.ended() != null ? run.ended() : likely(run.expectedEnd());
  }

  /** A forecast is marked as one. */
  private static String likely(Instant instant) {
    return instant == null ? "" : "~" + Output.time(instant);
  }

  static RunView find(Service service, String reference) {
    return service.get(RunView.class, "/runs/find", Map.of("reference", reference));
  }

  /** {@code purser plan}. */
  @CommandLine.Command(
      name = "plan",
      mixinStandardHelpOptions = true,
      description = "All runs of a business date, with their state or likely times (~).",
      footer = {"", "Example: purser plan --date 2027-03-04"})
  static final class Plan implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(names = "--date", description = "The business date; today if not said.")
    private LocalDate date;

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      query.put("date", date);
      output.list(
          Service.loggedIn().list(RunView.class, "/plan", query),
          columns(),
          "nothing is planned on " + (date == null ? "this business date" : date));
      return 0;
    }
  }

  /** {@code purser runs}. */
  @CommandLine.Command(
      name = "runs",
      mixinStandardHelpOptions = true,
      description = "Runs, filtered.",
      footer = {"", "Example: purser runs --state failed --stream passenger/night-manifest"})
  static final class Runs implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(names = "--date", description = "Of this business date.")
    private LocalDate date;

    @CommandLine.Option(names = "--stream", defaultValue = "", description = "Of this stream.")
    private String stream;

    @CommandLine.Option(names = "--job", defaultValue = "", description = "Of this job.")
    private String job;

    @CommandLine.Option(names = "--state", defaultValue = "", description = "In this state.")
    private String state;

    @CommandLine.Option(names = "--host", defaultValue = "", description = "On this host.")
    private String host;

    @CommandLine.Option(
        names = "--text",
        defaultValue = "",
        description = "With this in the name or title; * for anything.")
    private String text;

    @CommandLine.Option(names = "--department", description = "Of this department.")
    private String department;

    @CommandLine.Option(names = "--tag", description = "With this tag.")
    private String tag;

    @CommandLine.Option(names = "--from", description = "Of this business date or later.")
    private LocalDate from;

    @CommandLine.Option(names = "--to", description = "Of this business date or earlier.")
    private LocalDate to;

    @CommandLine.Option(names = "--limit", defaultValue = "200", description = "At most; 200.")
    private int limit;

    @Override
    public Integer call() {
      if (limit < 1) {
        throw new Service.Refusal(2, "--limit must be at least 1");
      }
      Service service = Service.loggedIn();
      List<RunView> found = new ArrayList<>();
      String cursor = "";
      long total = 0;
      do {
        Map<String, Object> query = new HashMap<>();
        query.put("date", date);
        query.put("stream", stream);
        query.put("job", job);
        query.put("state", state);
        query.put("host", host);
        query.put("department", department);
        query.put("tag", tag);
        query.put("from", from);
        query.put("to", to);
        query.put("text", text);
        query.put("cursor", cursor);
        query.put("limit", Math.min(PAGE, limit - found.size()));
        Views.RunPage page = service.get(Views.RunPage.class, "/runs", query);
        found.addAll(page.runs());
        cursor = page.next();
        total = Math.max(total, page.total());
      } while (!cursor.isEmpty() && found.size() < limit);
      output.list(found, columns(), "no run is like that");
      if (total > found.size() && output.isText()) {
        output.warn(found.size() + " of " + total + " runs; more with --limit");
      }
      return found.isEmpty() ? 1 : 0;
    }
  }

  /** {@code purser show}. */
  @CommandLine.Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "All about one run.",
      footer = {"", "Example: purser show night-manifest/file-manifest@2027-03-04"})
  static final class Show implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, its tail, or an id.")
    private String reference;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      long id = find(service, reference).id();
      Views.RunDetail detail = service.get(Views.RunDetail.class, "/runs/" + id, Map.of());
      output.one(detail, () -> print(detail));
      return 0;
    }

    private void print(Views.RunDetail detail) {
      RunView run = detail.run();
      output.line(run.reference() + "   " + new Output.State(run.state()));
      output.line(run.streamTitle() + ": " + run.title());
      output.line("");
      output.line(detail.why().sentence() + ".");
      output.line("");
      field("does", detail.command());
      field("only if", detail.onlyIf());
      field("waits for", detail.waitsFor());
      field("step", detail.above());
      field("tags", String.join(", ", run.tags()));
      field("priority", run.priority() == 50 ? "" : run.priority() + "");
      field(
          "due",
          Output.time(run.due())
              + (run.shift().isEmpty() ? "" : " (clock change: " + run.shift() + ")"));
      field("start by", run.startBy() == null ? "" : Output.time(run.startBy()));
      field("finish by", run.finishBy() == null ? "" : Output.time(run.finishBy()));
      field("likely end", run.expectedEnd() == null ? "" : Output.time(run.expectedEnd()));
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
                .formatted(
                    Output.time(moment.at()), new Output.State(moment.state()), moment.note())
                .stripTrailing());
      }
      for (Views.AuditView done : detail.done()) {
        output.line(
            "  %-20s  %s by %s%s"
                .formatted(
                    Output.time(done.at()),
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

    private static String attempt(Views.AttemptView attempt) {
      StringBuilder out = new StringBuilder("on " + attempt.host());
      if (attempt.started() != null) {
        out.append(", ").append(Output.time(attempt.started()));
      }
      if (attempt.ended() != null) {
        out.append(" to ").append(Output.time(attempt.ended()));
      }
      if (attempt.started() != null && attempt.ended() != null) {
        Duration took = Duration.between(attempt.started(), attempt.ended());
        out.append(" (").append(dev.purser.core.schedule.Durations.print(took)).append(")");
      }
      return out.append(attempt.note().isEmpty() ? "" : ": " + attempt.note()).toString();
    }
  }

  /** {@code purser log}. */
  @CommandLine.Command(
      name = "log",
      mixinStandardHelpOptions = true,
      description = "The output of a run.",
      footer = {"", "Example: purser log --follow night-manifest/build-manifest@2027-03-04"})
  static final class Log implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, its tail, or an id.")
    private String reference;

    @CommandLine.Option(
        names = "--attempt",
        defaultValue = "0",
        description = "Of this attempt; the last one if not said.")
    private int attempt;

    @CommandLine.Option(names = "--follow", description = "Go on until the run has ended.")
    private boolean follow;

    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    @Override
    public Integer call() throws InterruptedException {
      Service service = Service.loggedIn();
      RunView run = find(service, reference);
      long offset = 0;
      while (true) {
        Views.OutputView piece =
            service.get(
                Views.OutputView.class,
                "/runs/" + run.id() + "/output",
                Map.of("attempt", attempt, "offset", offset));
        spec.commandLine().getOut().print(piece.text());
        spec.commandLine().getOut().flush();
        boolean more = piece.next() > offset;
        offset = piece.next();
        if (piece.complete() || (!follow && !more)) {
          return end(piece, offset, service, run.id());
        }
        if (!more) {
          Thread.sleep(400);
        }
      }
    }

    private int end(Views.OutputView piece, long offset, Service service, long id) {
      if (piece.total() > piece.kept() && piece.complete()) {
        output.warn(
            "[the first "
                + piece.kept()
                + " of "
                + piece.total()
                + " bytes are kept; the rest is not]");
      }
      if (offset == 0) {
        output.warn(
            service.get(Views.WhyView.class, "/runs/" + id + "/why", Map.of()).sentence() + ".");
      }
      return 0;
    }
  }

  /** {@code purser why}. */
  @CommandLine.Command(
      name = "why",
      mixinStandardHelpOptions = true,
      description = "Why a run is not running: what is missing, since when, who can change it.",
      footer = {"", "Example: purser why night-manifest/file-manifest@2027-03-04"})
  static final class WhyCommand implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, its tail, or an id.")
    private String reference;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      long id = find(service, reference).id();
      Views.WhyView why = service.get(Views.WhyView.class, "/runs/" + id + "/why", Map.of());
      output.one(
          why,
          () -> {
            output.line(why.reference() + "   " + new Output.State(why.state()));
            output.line(why.sentence() + ".");
            tree(why.reasons(), "");
          });
      return 0;
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

    private static String facts(Views.ReasonView reason) {
      List<String> facts = new ArrayList<>();
      if (reason.since() != null) {
        facts.add("since " + Output.time(reason.since()));
      }
      if (!reason.who().isEmpty()) {
        facts.add("can be changed by " + reason.who());
      }
      if (reason.expected() != null) {
        facts.add("likely done at " + Output.time(reason.expected()));
      }
      return String.join(", ", facts);
    }
  }

  /** {@code purser start}. */
  @CommandLine.Command(
      name = "start",
      mixinStandardHelpOptions = true,
      description = "Starts a stream by hand, or one job of it without waiting for prerequisites.",
      footer = {
        "",
        "Example: purser start fuel/stock-count --reason \"counted again\"",
        "Example: purser start passenger/night-manifest --from build-manifest --what-if",
        "Example: purser start harbour/port-call -p port=skerry"
      })
  static final class Start implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full path.")
    private String stream;

    @CommandLine.Option(names = "--job", defaultValue = "", description = "Only this job of it.")
    private String job;

    @CommandLine.Option(
        names = "--from",
        defaultValue = "",
        description = "This job of it and all that follow it; those before count as done.")
    private String from;

    @CommandLine.Option(names = "--date", description = "The business date; today if not said.")
    private LocalDate date;

    @CommandLine.Option(
        names = {"-p", "--parameter"},
        description = "A value for a parameter: name=value; stronger than all others.")
    private Map<String, String> parameters = new HashMap<>();

    @CommandLine.Option(names = "--reason", defaultValue = "", description = "For the audit trail.")
    private String reason;

    @CommandLine.Option(
        names = "--what-if",
        description = "Only say what it would do, by rehearsal from the present board.")
    private boolean whatIf;

    @CommandLine.Option(
        names = "--key",
        description = "The same key starts the same runs only once, however often it is said.")
    private String key;

    @Override
    public Integer call() {
      if (!job.isEmpty() && !from.isEmpty()) {
        throw new Service.Refusal(2, "either --job or --from, not both");
      }
      Views.StartRequest request =
          new Views.StartRequest(
              stream, from.isEmpty() ? job : from, !from.isEmpty(), date, parameters, reason);
      Service service = Service.loggedIn();
      if (whatIf) {
        return ActionCommands.printEffect(
            service,
            output,
            new ActionViews.ChangeRequest(null, null, null, null, reason, request, null, null));
      }
      String once = key == null ? UUID.randomUUID().toString() : key;
      Views.Started started =
          service.post(Views.Started.class, "/starts", request, Map.of("Idempotency-Key", once));
      output.list(started.runs(), columns(), "nothing was started");
      return 0;
    }
  }

  /** {@code purser values}. */
  @CommandLine.Command(
      name = "values",
      mixinStandardHelpOptions = true,
      description = "What a run and earlier runs of its job handed back, newest first.",
      footer = {"", "Example: purser values night-manifest/build-manifest@2027-03-04"})
  static final class Values implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, its tail, or an id.")
    private String reference;

    @CommandLine.Option(names = "--name", description = "Only the values of this name.")
    private String name;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      long id = find(service, reference).id();
      List<ActionViews.ValueView> values =
          service.get(Views.RunDetail.class, "/runs/" + id, Map.of()).values().stream()
              .filter(value -> name == null || value.name().equals(name))
              .toList();
      output.list(
          values,
          List.of(
              new Output.Column<>("date", ActionViews.ValueView::reference),
              new Output.Column<>("name", ActionViews.ValueView::name),
              new Output.Column<>("value", ActionViews.ValueView::value),
              new Output.Column<>("at", ActionViews.ValueView::at)),
          "it has handed back nothing");
      return values.isEmpty() ? 1 : 0;
    }
  }

  /** {@code purser graph}. */
  @CommandLine.Command(
      name = "graph",
      mixinStandardHelpOptions = true,
      description = "A stream's jobs, what each asks for, and how their runs stand.",
      footer = {
        "",
        "Example: purser graph passenger/night-manifest",
        "Example: purser graph harbour/port-call/refuel      (the stream that a step runs)"
      })
  static final class Graph implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "A stream, or a step's path.")
    private String stream;

    @CommandLine.Option(names = "--date", description = "The business date; today if not said.")
    private LocalDate date;

    @CommandLine.Option(
        names = "--number",
        defaultValue = "0",
        description = "Which start of the date; the last one that is due if not said.")
    private int number;

    /** A job and what it asks for. */
    record Line(String state, String job, String kind, String title, String asks) {}

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      query.put("stream", stream);
      query.put("date", date);
      query.put("number", number);
      ActionViews.GraphView graph =
          Service.loggedIn().get(ActionViews.GraphView.class, "/graph", query);
      output.one(graph, () -> print(graph));
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
                  asks(graph, node)));
        }
      }
      output.list(
          lines,
          List.of(
              new Output.Column<>("state", line -> new Output.State(line.state())),
              new Output.Column<>("job", Line::job),
              new Output.Column<>("kind", Line::kind),
              new Output.Column<>("title", Line::title),
              new Output.Column<>("asks for", Line::asks)),
          "it has no jobs");
    }

    private static String asks(ActionViews.GraphView graph, ActionViews.NodeView node) {
      return String.join(
          ", ",
          graph.edges().stream()
              .filter(edge -> edge.to().equals(node.id()))
              .map(
                  edge ->
                      (edge.alternative() ? "or " : "")
                          + label(graph, edge.from())
                          + " "
                          + edge.label())
              .toList());
    }

    private static String label(ActionViews.GraphView graph, String id) {
      return graph.nodes().stream()
          .filter(node -> node.id().equals(id))
          .map(ActionViews.NodeView::label)
          .findFirst()
          .orElse(id);
    }
  }

  /** {@code purser find}. */
  @CommandLine.Command(
      name = "find",
      mixinStandardHelpOptions = true,
      description = "Streams, jobs, today's runs, hosts, calendars by a few letters.",
      footer = {"", "Example: purser find manif"})
  static final class Find implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "TEXT", description = "Some letters of it, in order.")
    private String text;

    @Override
    public Integer call() {
      List<ActionViews.FoundView> found =
          Service.loggedIn().list(ActionViews.FoundView.class, "/find", Map.of("text", text));
      output.list(
          found,
          List.of(
              new Output.Column<>("what", ActionViews.FoundView::kind),
              new Output.Column<>("name", ActionViews.FoundView::name),
              new Output.Column<>("title", ActionViews.FoundView::title),
              new Output.Column<>("state", one -> one.state())),
          "nothing has these letters");
      return found.isEmpty() ? 1 : 0;
    }
  }
}

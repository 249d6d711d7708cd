package dev.purser.client;

import dev.purser.core.problem.Shorten;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands that look at runs and start them. */
final class RunCommands {
  private static final int LONGEST_WHY = 90;
  private static final int PAGE = 500;

  private RunCommands() {}

  /** The columns of every list of runs. */
  static List<Output.Column<RunView>> columns() {
    return List.of(
        new Output.Column<>("run", RunView::reference),
        new Output.Column<>("state", run -> new Output.State(run.state())),
        new Output.Column<>("", RunCommands::remarks),
        new Output.Column<>("due", RunView::due),
        new Output.Column<>("start", RunView::started),
        new Output.Column<>("end", RunView::ended),
        new Output.Column<>("likely end", RunView::expectedEnd),
        new Output.Column<>("finish by", RunView::finishBy),
        new Output.Column<>("late", RunCommands::late),
        new Output.Column<>("host", RunView::host),
        new Output.Column<>("alerts", run -> String.join(" ", run.alerts())),
        new Output.Column<>("why", RunCommands::why));
  }

  private static String remarks(RunView run) {
    List<String> remarks = new ArrayList<>();
    if (!run.hold().isEmpty()) {
      remarks.add("held");
    }
    if (run.ifAnswered()) {
      remarks.add("if answered");
    }
    return String.join(", ", remarks);
  }

  /** Whether it has missed its finish-by, or how likely that is; empty where it has none. */
  static String late(RunView run) {
    if (run.finishBy() == null) {
      return "";
    }
    boolean done = run.ended() != null && !run.state().equals("failed");
    Instant end = done ? run.ended() : Instant.now(Clock.systemUTC());
    if (end.isAfter(run.finishBy())) {
      return "late";
    }
    if (done) {
      return "";
    }
    return run.chanceLate() != null
        ? Math.round(run.chanceLate() * 100) + " %"
        : run.hangsOnPerson() ? "who knows" : "";
  }

  /** Why it is not done, in the few words that a table has room for. */
  private static String why(RunView run) {
    boolean says =
        run.state().equals("waiting") || run.state().equals("failed") || !run.hold().isEmpty();
    return says ? Shorten.text(run.sentence(), LONGEST_WHY) : "";
  }

  static RunView find(Service service, String reference) {
    return service.get(RunView.class, "/runs/find", Map.of("reference", reference));
  }

  /** {@code purser plan}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "plan",
      mixinStandardHelpOptions = true,
      description =
          "All runs of a business date, with their state, their likely ends and what they must be done by.",
      footer = {"", "Example: purser plan --date 2027-03-04"})
  static final class Plan implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(names = "--date", description = "The business date; today by default.")
    private LocalDate date;

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      query.put("date", date);
      List<RunView> runs = Service.loggedIn().list(RunView.class, "/plan", query);
      output.byTheClockOf(runs.stream().map(RunView::zone).toList());
      output.list(
          RunView.class,
          runs,
          columns(),
          "nothing is planned on " + (date == null ? "this business date" : date));
      return 0;
    }
  }

  /** {@code purser runs}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "runs",
      mixinStandardHelpOptions = true,
      description = "Runs, filtered, the newest first: what is late, held, and why it waits.",
      footer = {"", "Example: purser runs --state failed --stream passenger/night-manifest"})
  static final class Runs implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Mixin private RunFilter filter;

    @CommandLine.Option(names = "--from", description = "Only runs of this business date or later.")
    private LocalDate from;

    @CommandLine.Option(names = "--to", description = "Only runs of this business date or earlier.")
    private LocalDate to;

    @CommandLine.Option(
        names = "--oldest-first",
        description = "List the oldest first; by default the newest come first, up to now.")
    private boolean oldestFirst;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "200",
        description = "The most rows to show; 200 by default.")
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
        Map<String, Object> query = filter.query();
        query.put("from", from);
        query.put("to", to);
        query.put("order", oldestFirst ? "oldest" : "newest");
        query.put("cursor", cursor);
        query.put("limit", Math.min(PAGE, limit - found.size()));
        Views.RunPage page = service.get(Views.RunPage.class, "/runs", query);
        found.addAll(page.runs());
        cursor = page.next();
        total = Math.max(total, page.total());
      } while (!cursor.isEmpty() && found.size() < limit);
      output.byTheClockOf(found.stream().map(RunView::zone).toList());
      String none =
          total > 0
              ? "no run is due yet; purser plan lists what is to come"
              : "no run is like that";
      output.list(RunView.class, found, columns(), none);
      if (total > found.size() && found.size() >= limit && output.isText()) {
        output.warn(found.size() + " of " + total + " runs; more with --limit");
      }
      return total == 0 ? 1 : 0;
    }
  }

  /** {@code purser values}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "values",
      mixinStandardHelpOptions = true,
      description = "What a run and earlier runs of its job handed back, newest first.",
      footer = {"", "Example: purser values night-manifest/build-manifest@2027-03-04"})
  static final class Values implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "RUN",
        description = "A reference, a tail of one, or an id.")
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
          ActionViews.ValueView.class,
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

  /** {@code purser find}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "find",
      mixinStandardHelpOptions = true,
      description = "Finds streams, jobs, today's runs, hosts and calendars by a few letters.",
      footer = {"", "Example: purser find manif"})
  static final class Find implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "TEXT",
        description = "A few letters of its name or title, in order.")
    private String text;

    @Override
    public Integer call() {
      List<ActionViews.FoundView> found =
          Service.loggedIn().list(ActionViews.FoundView.class, "/find", Map.of("text", text));
      output.list(
          ActionViews.FoundView.class,
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

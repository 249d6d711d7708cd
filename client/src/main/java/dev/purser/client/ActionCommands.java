package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** What people do to runs: one command an action, all of one shape. */
abstract class ActionCommands implements Callable<Integer> {
  private static final int PAGE = 1_000;

  @CommandLine.Mixin protected Output output;

  @CommandLine.Parameters(
      paramLabel = "RUN",
      arity = "0..*",
      description = "References, their tails, or ids.")
  protected List<String> references = new ArrayList<>();

  @CommandLine.Option(
      names = "--reason",
      defaultValue = "",
      description = "Why; it is kept with the run and in the audit trail.")
  protected String reason;

  @CommandLine.Option(
      names = "--what-if",
      description = "Only say what it would do, by rehearsal from the present board.")
  protected boolean whatIf;

  @CommandLine.ArgGroup(
      exclusive = false,
      heading = "%nInstead of RUN, all runs that are like this:%n")
  private Like like;

  @CommandLine.Option(
      names = "--yes",
      description = "Do it to all runs that are like this, without a look at them first.")
  private boolean yes;

  /** Which runs are meant, where they are not named. */
  static final class Like {
    @CommandLine.Option(names = "--stream", description = "Of this stream, and what is in it.")
    String stream;

    @CommandLine.Option(names = "--state", description = "In this state, or one of several: a,b.")
    String state;

    @CommandLine.Option(names = "--date", description = "Of this business date.")
    LocalDate date;

    @CommandLine.Option(names = "--tag", description = "With this tag.")
    String tag;

    @CommandLine.Option(names = "--department", description = "Of this department.")
    String department;

    @CommandLine.Option(names = "--host", description = "On this host.")
    String host;

    @CommandLine.Option(names = "--text", description = "With this in the name or title.")
    String text;
  }

  abstract String action();

  Integer priority() {
    return null;
  }

  Instant startAt() {
    return null;
  }

  @Override
  public Integer call() {
    if (references.isEmpty() == (like == null)) {
      throw new Service.Refusal(
          2, "say which runs: either RUN, or --stream, --state, --date and the like");
    }
    Service service = Service.loggedIn();
    List<RunView> runs = new ArrayList<>();
    int code = 0;
    for (String reference : references) {
      try {
        runs.add(RunCommands.find(service, reference));
      } catch (Service.Refusal refusal) {
        output.warn(reference + ": " + refusal.getMessage());
        code = Math.max(code, refusal.code());
      }
    }
    if (like != null) {
      runs.addAll(alike(service));
      if (!whatIf && !yes) {
        runs.forEach(run -> output.warn("  " + run.reference() + "  " + run.state()));
        throw new Service.Refusal(
            1,
            (runs.size() == 1 ? "1 run is" : runs.size() + " runs are")
                + " like this; nothing was done. --what-if says what it would do, --yes"
                + " does it");
      }
    }
    return runs.isEmpty() ? Math.max(code, 1) : Math.max(code, act(service, runs));
  }

  private List<RunView> alike(Service service) {
    List<RunView> found = new ArrayList<>();
    String cursor = "";
    do {
      Map<String, Object> query = new HashMap<>();
      query.put("stream", like.stream);
      query.put("state", like.state);
      query.put("date", like.date);
      query.put("tag", like.tag);
      query.put("department", like.department);
      query.put("host", like.host);
      query.put("text", like.text);
      query.put("cursor", cursor);
      query.put("limit", PAGE);
      Views.RunPage page = service.get(Views.RunPage.class, "/runs", query);
      page.runs().stream().filter(run -> run.actions().contains(action())).forEach(found::add);
      cursor = page.next();
    } while (!cursor.isEmpty());
    if (found.isEmpty()) {
      output.warn("no run is like that and can be acted on so");
    }
    return found;
  }

  private int act(Service service, List<RunView> runs) {
    ActionViews.ChangeRequest request =
        new ActionViews.ChangeRequest(
            action(),
            runs.stream().map(RunView::id).toList(),
            priority(),
            startAt(),
            reason,
            null,
            null,
            null);
    if (whatIf) {
      return printEffect(service, output, request);
    }
    List<ActionViews.ActionResult> results =
        service.postForList(ActionViews.ActionResult.class, "/actions", request);
    int code = 0;
    for (ActionViews.ActionResult result : results) {
      if (result.done()) {
        RunView now = service.get(RunView.class, "/runs/find", Map.of("reference", result.run()));
        output.one(now, () -> output.line(now.reference() + ": " + now.sentence() + "."));
      } else {
        output.warn(result.reference() + ": " + result.refusal());
        code = 1;
      }
    }
    return code;
  }

  /** Prints what something would do. */
  static int printEffect(Service service, Output output, ActionViews.ChangeRequest request) {
    ActionViews.EffectView effect = service.post(ActionViews.EffectView.class, "/what-if", request);
    output.one(effect, () -> effect.sentences().forEach(output::line));
    return effect.refusals().isEmpty() ? 0 : 1;
  }

  /**
   * A time that a person types: {@code 21:30} (the next one), {@code 2027-03-04T21:30}, or with an
   * offset.
   */
  static Instant time(String text) {
    ZoneId zone = ZoneId.systemDefault();
    try {
      if (text.matches("\\d{1,2}:\\d{2}")) {
        LocalTime time = LocalTime.parse(text.length() == 4 ? "0" + text : text);
        ZonedDateTime at = ZonedDateTime.now(zone).with(time);
        return (at.toInstant().isBefore(Instant.now()) ? at.plusDays(1) : at).toInstant();
      }
      return text.matches(".*(Z|[+-]\\d\\d:\\d\\d)")
          ? OffsetDateTime.parse(text).toInstant()
          : LocalDateTime.parse(text).atZone(zone).toInstant();
    } catch (DateTimeParseException e) {
      throw new Service.Refusal(
          2, "\"" + text + "\" is no time; expected 21:30, or 2027-03-04T21:30");
    }
  }

  /** An action on runs, or on a whole job, stream or department until further notice. */
  abstract static class Holding extends ActionCommands {
    @CommandLine.Option(
        names = "--whole-stream",
        description = "A stream, with all its runs to come, until it is released.")
    private String stream;

    @CommandLine.Option(
        names = "--whole-job",
        description = "A job by its full path, with all its runs to come.")
    private String job;

    @CommandLine.Option(
        names = "--whole-department",
        description = "All streams of a department, with all their runs to come.")
    private String department;

    @Override
    public Integer call() {
      Map<String, String> scopes = new HashMap<>();
      scopes.put("stream", stream);
      scopes.put("job", job);
      scopes.put("department", department);
      scopes.values().removeIf(name -> name == null);
      if (scopes.isEmpty()) {
        return super.call();
      }
      if (scopes.size() > 1 || !references.isEmpty()) {
        throw new Service.Refusal(2, "one at a time: runs, a stream, a job or a department");
      }
      Map.Entry<String, String> one = scopes.entrySet().iterator().next();
      ActionViews.ChangeRequest request =
          new ActionViews.ChangeRequest(
              action(),
              null,
              null,
              null,
              reason,
              null,
              new ActionViews.Scope(one.getKey(), one.getValue()),
              null);
      Service service = Service.loggedIn();
      if (whatIf) {
        return printEffect(service, output, request);
      }
      printHolds(output, service.postForList(ActionViews.HoldView.class, "/holds", request));
      return 0;
    }
  }

  private static void printHolds(Output output, List<ActionViews.HoldView> holds) {
    output.list(
        holds,
        List.of(
            new Output.Column<>("what", ActionViews.HoldView::kind),
            new Output.Column<>("name", ActionViews.HoldView::name),
            new Output.Column<>("since", ActionViews.HoldView::since),
            new Output.Column<>("note", ActionViews.HoldView::note)),
        "no stream, job or department is held");
  }

  @CommandLine.Command(
      name = "hold",
      mixinStandardHelpOptions = true,
      description = "Keeps a run from starting until it is released; or a whole stream.",
      footer = {
        "",
        "Example: purser hold month-end/close-books@2027-03-31 --reason \"late invoices\"",
        "Example: purser hold --whole-stream catering/loads --what-if"
      })
  static final class Hold extends Holding {
    @Override
    String action() {
      return "hold";
    }
  }

  @CommandLine.Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Lets what is held start as soon as it is due and nothing is missing.",
      footer = {"", "Example: purser release month-end/close-books@2027-03-31"})
  static final class Release extends Holding {
    @Override
    String action() {
      return "release";
    }
  }

  @CommandLine.Command(
      name = "holds",
      mixinStandardHelpOptions = true,
      description = "Streams, jobs and departments that are held until they are released.",
      footer = {"", "Example: purser holds"})
  static final class Holds implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      printHolds(output, Service.loggedIn().list(ActionViews.HoldView.class, "/holds", Map.of()));
      return 0;
    }
  }

  @CommandLine.Command(
      name = "start-now",
      mixinStandardHelpOptions = true,
      description = "Starts a run at once, whatever it waits for.",
      footer = {"", "Example: purser start-now night-manifest/file-manifest@2027-03-04 --what-if"})
  static final class StartNow extends ActionCommands {
    @Override
    String action() {
      return "start";
    }
  }

  @CommandLine.Command(
      name = "skip",
      mixinStandardHelpOptions = true,
      description = "Leaves a run out; what waits for its success goes on.",
      footer = {
        "",
        "Example: purser skip catering/loads/print-labels@2027-03-04 --reason \"printer\""
      })
  static final class Skip extends ActionCommands {
    @Override
    String action() {
      return "skip";
    }
  }

  @CommandLine.Command(
      name = "cancel",
      mixinStandardHelpOptions = true,
      description =
          "Ends a run and all below it: a process is asked to stop, and forced after its grace"
              + " time.",
      footer = {"", "Example: purser cancel fuel/stock-count/count-tanks@2027-03-04"})
  static final class Cancel extends ActionCommands {
    @Override
    String action() {
      return "cancel";
    }
  }

  @CommandLine.Command(
      name = "rerun",
      mixinStandardHelpOptions = true,
      description = "Does a run again, as a further attempt.",
      footer = {"", "Example: purser rerun night-manifest/build-manifest@2027-03-04"})
  static final class Rerun extends ActionCommands {
    @CommandLine.Option(
        names = "--and-following",
        description = "With it all that follows it and has ended.")
    private boolean following;

    @Override
    String action() {
      return following ? "rerun-from" : "rerun";
    }
  }

  @CommandLine.Command(
      name = "mark",
      mixinStandardHelpOptions = true,
      description = "Ends a run as succeeded or failed, by your word.",
      footer = {
        "",
        "Example: purser mark --as succeeded tide/import/load-tides@2027-03-04 --reason \"by hand\""
      })
  static final class Mark extends ActionCommands {
    /** The outcomes. */
    enum Outcome {
      succeeded,
      failed
    }

    @CommandLine.Option(names = "--as", required = true, description = "${COMPLETION-CANDIDATES}.")
    private Outcome outcome;

    @Override
    String action() {
      return outcome == Outcome.succeeded ? "succeed" : "fail";
    }
  }

  @CommandLine.Command(
      name = "priority",
      mixinStandardHelpOptions = true,
      description = "Lets a run come sooner or later where capacity is short.",
      footer = {"", "Example: purser priority --to 80 month-end/load-ledger@2027-03-31"})
  static final class Priority extends ActionCommands {
    @CommandLine.Option(
        names = "--to",
        required = true,
        description = "0 to 100; a point is worth a minute of waiting.")
    private int priority;

    @Override
    String action() {
      return "priority";
    }

    @Override
    Integer priority() {
      return priority;
    }
  }

  @CommandLine.Command(
      name = "start-at",
      mixinStandardHelpOptions = true,
      description = "Lets a run start at another time: not before that.",
      footer = {
        "",
        "Example: purser start-at --time 22:15 night-manifest/file-manifest@2027-03-04"
      })
  static final class StartAt extends ActionCommands {
    @CommandLine.Option(
        names = "--time",
        required = true,
        description = "21:30 (the next one), or 2027-03-04T21:30.")
    private String time;

    @Override
    String action() {
      return "start-at";
    }

    @Override
    Instant startAt() {
      return time(time);
    }
  }

  @CommandLine.Command(
      name = "approve",
      mixinStandardHelpOptions = true,
      description = "Says yes to a run that waits for an answer.",
      footer = {"", "Example: purser approve month-end/approve-close@2027-03-31"})
  static final class Approve extends ActionCommands {
    @Override
    String action() {
      return "approve";
    }
  }

  @CommandLine.Command(
      name = "refuse",
      mixinStandardHelpOptions = true,
      description = "Says no to a run that waits for an answer.",
      footer = {
        "",
        "Example: purser refuse month-end/approve-close@2027-03-31 --reason \"totals\""
      })
  static final class Refuse extends ActionCommands {
    @Override
    String action() {
      return "refuse";
    }
  }

  /** {@code purser capacity}. */
  @CommandLine.Command(
      name = "capacity",
      mixinStandardHelpOptions = true,
      description = "Capacities: how much there is, who holds it, who stands in line; or a change.",
      footer = {
        "",
        "Example: purser capacity",
        "Example: purser capacity ledger-slots --units 1 --reason \"ledger is slow\"",
        "Example: purser capacity ledger-slots --as-defined"
      })
  static final class Capacity implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "NAME",
        arity = "0..1",
        description = "The capacity to look at, or to change.")
    private String name;

    @CommandLine.Option(names = "--units", description = "So many from now on.")
    private Integer units;

    @CommandLine.Option(names = "--as-defined", description = "As many as are defined again.")
    private boolean asDefined;

    @CommandLine.Option(names = "--reason", defaultValue = "", description = "Why.")
    private String reason;

    @CommandLine.Option(names = "--what-if", description = "Only say what it would do.")
    private boolean whatIf;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      boolean change = units != null || asDefined;
      if (change && (name == null || (units != null && asDefined))) {
        throw new Service.Refusal(
            2, "expected: purser capacity NAME with either --units N or --as-defined");
      }
      if (!change) {
        print(service.list(ActionViews.CapacityView.class, "/capacities", Map.of()));
        return 0;
      }
      ActionViews.ChangeRequest request =
          new ActionViews.ChangeRequest(
              null, null, null, null, reason, null, null, new ActionViews.Units(name, units));
      if (whatIf) {
        return printEffect(service, output, request);
      }
      print(service.postForList(ActionViews.CapacityView.class, "/capacities", request));
      return 0;
    }

    private void print(List<ActionViews.CapacityView> all) {
      List<ActionViews.CapacityView> wanted =
          all.stream().filter(one -> name == null || one.name().equals(name)).toList();
      if (name != null && wanted.isEmpty()) {
        throw new Service.Refusal(1, "there is no capacity \"" + name + "\"");
      }
      output.list(
          wanted,
          List.of(
              new Output.Column<>("capacity", ActionViews.CapacityView::name),
              new Output.Column<>("taken", one -> one.taken() + " of " + one.units()),
              new Output.Column<>("changed", Capacity::changed),
              new Output.Column<>("held by", one -> names(one.holders())),
              new Output.Column<>("in line", one -> names(one.line()))),
          "no capacity is defined");
    }

    private static String changed(ActionViews.CapacityView one) {
      return one.set() == null
          ? String.join(", ", one.spans())
          : "by " + one.setBy() + " from " + one.defined();
    }

    private static String names(List<ActionViews.UnitsView> runs) {
      return String.join(
          " ", runs.stream().map(run -> run.reference() + ":" + run.units()).toList());
    }
  }
}

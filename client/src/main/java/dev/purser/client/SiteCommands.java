package dev.purser.client;

import dev.purser.core.reading.SourceFile;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.Views;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about everything around runs: definitions, hosts, alerts, the trail. */
final class SiteCommands {
  private SiteCommands() {}

  /** A problem with its place. */
  static String inWords(Views.ProblemView problem) {
    return problem.file()
        + ":"
        + problem.line()
        + ":"
        + problem.column()
        + ": "
        + problem.severity()
        + ": "
        + problem.message();
  }

  /** {@code purser publish}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "publish",
      mixinStandardHelpOptions = true,
      description = "Puts definitions in force: all of the files, or none.",
      footer = {
        "",
        "Example: purser publish demo --reason \"new berth at quay-south\"",
        "Example: purser publish manifest.yaml --from now --reason \"mended for tonight\"",
        "Example: purser publish manifest.yaml --from 2027-04-01 --reason \"the new tariff\""
      })
  static final class Publish implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        arity = "1..*",
        description = "Definition files, or directories of them.")
    private List<Path> files;

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Option(
        names = "--if-revision",
        description = "Publish only if this revision is still in force.")
    private Long revision;

    @CommandLine.Mixin private HoldsOption holds = new HoldsOption();

    @Override
    public Integer call() {
      List<Views.FileText> texts =
          FileCommands.read(files).stream()
              .map((SourceFile file) -> new Views.FileText(file.name(), file.text()))
              .toList();
      Map<String, String> headers =
          revision == null ? Map.of() : Map.of("If-Match", "\"" + revision + "\"");
      Views.PublishResult result =
          Service.loggedIn()
              .post(
                  Views.PublishResult.class,
                  "/definitions",
                  new Views.PublishRequest(texts, reason.text(), holds.request()),
                  headers);
      output.one(result, () -> print(output, result));
      return result.sound() ? 0 : 1;
    }
  }

  /** What a publication came to. */
  static void print(Output output, Views.PublishResult result) {
    result.problems().forEach(problem -> output.line(inWords(problem)));
    result.added().forEach(name -> output.line("  added    " + name));
    result.changed().forEach(name -> output.line("  changed  " + name));
    result.withdrawn().forEach(name -> output.line("  withdrawn  " + name));
    if (!result.sound()) {
      output.line("not published: nothing was changed");
    } else if (result.goesLive() != null) {
      output.line(
          "kept as draft "
              + result.draft()
              + ": it goes live by itself, and holds from business date "
              + result.goesLive());
      output.line("purser draft " + result.draft() + " --stay keeps it from that");
    } else if (result.revision() == 0) {
      output.line("nothing to publish: all is in force as it is");
    } else {
      output.line(
          "published as revision "
              + result.revision()
              + "; runs of today and tomorrow: "
              + result.runsPlanned()
              + " planned, "
              + result.runsChanged()
              + " changed, "
              + result.runsWithdrawn()
              + " withdrawn"
              + begun(result));
      if (result.added().stream().anyMatch(name -> name.startsWith("stream "))) {
        output.line(
            "new streams are paused unless their file says paused: no; purser resume STREAM lets one"
                + " go");
      }
    }
  }

  /** What became of runs that had begun, where that was asked for. */
  private static String begun(Views.PublishResult result) {
    String taken =
        result.runsTaken() == 0
            ? ""
            : "; "
                + FileCommands.Check.count(result.runsTaken(), "run")
                + " that had begun "
                + (result.runsTaken() == 1 ? "takes it" : "take it");
    return result.runsStopped() == 0
        ? taken
        : taken
            + "; "
            + FileCommands.Check.count(result.runsStopped(), "attempt")
            + (result.runsStopped() == 1 ? " is" : " are")
            + " being stopped, and tried again with it";
  }

  /** {@code purser withdraw}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "withdraw",
      mixinStandardHelpOptions = true,
      description = "Takes a definition that nothing uses out of force.",
      footer = {"", "Example: purser withdraw stream fuel/stock-count --reason \"sold\""})
  static final class Withdraw implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        index = "0",
        paramLabel = "KIND",
        description = "Its kind, such as stream or host.")
    private String kind;

    @CommandLine.Parameters(index = "1", paramLabel = "NAME", description = "Its name.")
    private String name;

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Option(
        names = "--anyway",
        description = "Withdraw it even though runs of it are open; they go on as planned.")
    private boolean anyway;

    @Override
    public Integer call() {
      Service.loggedIn()
          .delete(
              "/definitions/" + Service.encode(kind),
              Map.of("name", name, "reason", reason.text(), "anyway", anyway));
      output.line("withdrawn: " + kind + " " + name);
      return 0;
    }
  }

  /** {@code purser hosts}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "hosts",
      mixinStandardHelpOptions = true,
      description = "Hosts and their agents.",
      footer = {
        "",
        "Example: purser hosts",
        "Example: purser hosts enrol quay-north",
        "Example: purser hosts drain quay-north"
      })
  static final class Hosts implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      List<Views.HostView> hosts =
          Service.loggedIn().list(Views.HostView.class, "/hosts", Map.of());
      output.byTheClockOf(hosts.stream().map(Views.HostView::zone).toList());
      output.list(
          Views.HostView.class,
          hosts,
          List.of(
              new Output.Column<>("host", Views.HostView::name),
              new Output.Column<>("agent", Hosts::presence),
              new Output.Column<>("work", Hosts::work),
              new Output.Column<>("load", Hosts::load),
              new Output.Column<>("memory free", h -> free(h, true)),
              new Output.Column<>("disk free", h -> free(h, false)),
              new Output.Column<>("clock", Hosts::clock),
              new Output.Column<>("last seen", Views.HostView::lastSeen),
              new Output.Column<>("groups", h -> String.join(" ", h.groups())),
              new Output.Column<>("version", Views.HostView::version)),
          "there are no hosts; define one in a file and publish it");
      return 0;
    }

    private static String presence(Views.HostView host) {
      String agent =
          host.connected() ? "connected" : host.enrolled() ? "not connected" : "not enrolled";
      String state = host.drained().isEmpty() ? agent : agent + ", " + host.drained();
      return host.planned().isEmpty() ? state : state + ", " + host.planned();
    }

    private static String work(Views.HostView host) {
      return host.atMost() == 0
          ? String.valueOf(host.running())
          : host.running() + " of " + host.atMost();
    }

    private static String load(Views.HostView host) {
      return host.machine() == null || host.machine().load() < 0
          ? ""
          : String.format(Locale.ROOT, "%.1f on %d", host.machine().load(), host.machine().cores());
    }

    private static String free(Views.HostView host, boolean memory) {
      if (host.machine() == null) {
        return "";
      }
      long free = memory ? host.machine().memoryFree() : host.machine().diskFree();
      long all = memory ? host.machine().memory() : host.machine().disk();
      return free < 0 || all <= 0
          ? ""
          : String.format(Locale.ROOT, "%.1f GB (%d %%)", free / 1e9, 100 * free / all);
    }

    private static String clock(Views.HostView host) {
      Long ahead = host.clockDifferenceMillis();
      if (ahead == null || Math.abs(ahead) < 1_000) {
        return ahead == null ? "" : "right";
      }
      return Math.abs(ahead) / 1_000 + " s " + (ahead > 0 ? "ahead" : "behind");
    }

    @CommandLine.Command(
        name = "drain",
        mixinStandardHelpOptions = true,
        description = "Gives a host no new work until it is returned; what runs on it goes on.",
        footer = {
          "",
          "Example: purser hosts drain quay-north --reason \"new disk\"",
          "Example: purser hosts drain quay-north --what-if"
        })
    Integer drain(
        @CommandLine.Parameters(paramLabel = "HOST", description = "The host's name.") String host,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason,
        @CommandLine.Option(
                names = "--what-if",
                description = "Only say what it would do; nothing is done.")
            boolean whatIf) {
      return whatIf ? wouldDo(host, "drain") : act(host, "drain", reason);
    }

    @CommandLine.Command(
        name = "return",
        mixinStandardHelpOptions = true,
        description = "Gives a drained host work again.",
        footer = {"", "Example: purser hosts return quay-north"})
    Integer giveBack(
        @CommandLine.Parameters(paramLabel = "HOST", description = "The host's name.") String host,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason,
        @CommandLine.Option(
                names = "--what-if",
                description = "Only say what it would do; nothing is done.")
            boolean whatIf) {
      return whatIf ? wouldDo(host, "return") : act(host, "return", reason);
    }

    private int wouldDo(String host, String action) {
      return ActionCommand.printEffect(
          Service.loggedIn(),
          output,
          new ActionViews.ChangeRequest(action, null, null, null, "", null, null, null, host));
    }

    private int act(String host, String action, String reason) {
      Views.HostView after =
          Service.loggedIn()
              .post(
                  Views.HostView.class,
                  "/hosts/" + Service.encode(host) + "/actions",
                  new Views.HostAction(action, reason));
      output.one(after, () -> output.line(inWords(after)));
      return 0;
    }

    private static String inWords(Views.HostView host) {
      String runs = host.running() == 1 ? "1 run is" : host.running() + " runs are";
      if (host.drained().isEmpty()) {
        return host.name() + " takes work again; " + runs + " on it";
      }
      String left =
          host.running() == 0 ? "; nothing is running on it" : "; " + runs + " still on it";
      return host.name() + " takes nothing new" + left;
    }

    @CommandLine.Command(
        name = "end-key",
        mixinStandardHelpOptions = true,
        description =
            "Ends the key of a host at once: its agent is cut off, and its work goes on unseen until"
                + " the agent is enrolled again.")
    Integer endKey(
        @CommandLine.Parameters(paramLabel = "HOST", description = "The host's name.") String host,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason) {
      Service.loggedIn()
          .delete("/hosts/" + Service.encode(host) + "/key", Map.of("reason", reason));
      output.line("the key of " + host + " has ended; purser hosts enrol " + host + " begins anew");
      return 0;
    }

    @CommandLine.Command(
        name = "enrol",
        mixinStandardHelpOptions = true,
        description = "Makes a token that enrols the agent of a host, once.")
    Integer enrol(
        @CommandLine.Parameters(paramLabel = "HOST", description = "The host's name.")
            String host) {
      Views.EnrolmentToken token =
          Service.loggedIn()
              .post(
                  Views.EnrolmentToken.class,
                  "/hosts/" + Service.encode(host) + "/enrolment-token",
                  Map.of());
      output.one(token, () -> output.line(token.token()));
      return 0;
    }
  }

  /** {@code purser audit}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "audit",
      mixinStandardHelpOptions = true,
      description = "What people did: who, when, from where, what, and why.",
      footer = {
        "",
        "Example: purser audit --about night-manifest",
        "Example: purser audit --by ida --what cancel --from 2027-03-04"
      })
  static final class Audit implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--about",
        defaultValue = "",
        description = "Only entries about something with this text in its name.")
    private String about;

    @CommandLine.Option(names = "--by", description = "Only what this person did.")
    private String by;

    @CommandLine.Option(names = "--what", description = "Only this act, such as cancel or publish.")
    private String what;

    @CommandLine.Option(
        names = "--from",
        description = "Only on this date or later, by this machine's clock.")
    private LocalDate from;

    @CommandLine.Option(
        names = "--to",
        description = "Only on this date or earlier, by this machine's clock.")
    private LocalDate to;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "50",
        description = "The most rows to show; 50 by default.")
    private int limit;

    private static Instant startOf(LocalDate date) {
      return date == null ? null : date.atStartOfDay(Here.zone()).toInstant();
    }

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>(Map.of("about", about, "limit", limit));
      query.put("who", by);
      query.put("what", what);
      query.put("from", startOf(from));
      query.put("to", to == null ? null : startOf(to.plusDays(1)));
      output.list(
          Views.AuditView.class,
          Service.loggedIn().list(Views.AuditView.class, "/audit", query),
          List.of(
              new Output.Column<>("when", Views.AuditView::at),
              new Output.Column<>("who", Views.AuditView::who),
              new Output.Column<>("from", Views.AuditView::from),
              new Output.Column<>("what", Views.AuditView::what),
              new Output.Column<>("about", Views.AuditView::about),
              new Output.Column<>("why", Views.AuditView::reason)),
          "nothing is on record");
      return 0;
    }
  }
}

package dev.purser.client;

import dev.purser.wire.api.CommitmentViews;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about what is promised to the business. */
final class CommitmentCommands {
  private CommitmentCommands() {}

  /** {@code purser commitments}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "commitments",
      mixinStandardHelpOptions = true,
      subcommands = Renew.class,
      description =
          "What is promised to the business and how it stands; with a NAME, its lineage and record.",
      footer = {
        "",
        "Example: purser commitments",
        "Example: purser commitments night-manifest@2027-03-04",
        "Example: purser commitments renew harbour-dues --reason \"a new machine\""
      })
  static final class Commitments implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "NAME",
        arity = "0..1",
        description =
            "A commitment, or a promise of it as night-manifest@2027-03-04; without it, all of the"
                + " date.")
    private String name;

    @CommandLine.Option(names = "--date", description = "The business date; today by default.")
    private LocalDate date;

    @CommandLine.Option(
        names = "--number",
        description = "With NAME: which of the date's starts; 1 by default.")
    private Integer number;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      if (name != null) {
        print(detail(service, name, date, number, false));
        return 0;
      }
      List<CommitmentViews.CommitmentView> all =
          service.list(
              CommitmentViews.CommitmentView.class, "/commitments", query(date, null, null));
      output.byTheClockOf(all.stream().map(CommitmentViews.CommitmentView::zone).toList());
      output.list(
          CommitmentViews.CommitmentView.class,
          all,
          List.of(
              new Output.Column<>("commitment", CommitmentViews.CommitmentView::reference),
              new Output.Column<>("stands", CommitmentViews.CommitmentView::standing),
              new Output.Column<>("promised", CommitmentViews.CommitmentView::by),
              new Output.Column<>("likely end", CommitmentViews.CommitmentView::end),
              new Output.Column<>("late", one -> percent(one.chanceLate())),
              new Output.Column<>("title", CommitmentViews.CommitmentView::title)),
          "nothing is promised of this date");
      return 0;
    }

    private void print(CommitmentViews.CommitmentDetail detail) {
      CommitmentViews.CommitmentView view = detail.commitment();
      output.byTheClockOf(List.of(view.zone()));
      output.one(
          detail,
          () -> {
            output.line(view.reference() + "   " + view.standing() + output.clockInWords());
            output.line(view.title() + ": " + Output.sentence(view.sentence()));
            output.line("promised: " + view.promise() + "; rests on " + view.restsOn());
            if (!detail.cutOff().isEmpty()) {
              output.line("left out: " + String.join(", ", detail.cutOff()));
            }
            record(detail.earlier());
            output.line("");
            output.list(
                CommitmentViews.LineageRun.class,
                detail.lineage(),
                List.of(
                    new Output.Column<>("", one -> one.decides() ? "*" : ""),
                    new Output.Column<>("run", CommitmentViews.LineageRun::reference),
                    new Output.Column<>("state", one -> new Output.State(one.state())),
                    new Output.Column<>("start", CommitmentViews.LineageRun::start),
                    new Output.Column<>("end", CommitmentViews.LineageRun::end),
                    new Output.Column<>("slack", Commitments::slack)),
                "its runs are no longer on the board");
            if (!detail.lineage().isEmpty()) {
              output.line("* decides when it is done");
            }
          });
    }

    private void record(List<CommitmentViews.KeptView> earlier) {
      long kept = earlier.stream().filter(CommitmentViews.KeptView::kept).count();
      if (!earlier.isEmpty()) {
        output.line("kept " + kept + " of the last " + earlier.size() + " times");
      }
    }

    private static String slack(CommitmentViews.LineageRun run) {
      return run.slackMinutes() == null || run.decides() ? "" : run.slackMinutes() + "m";
    }
  }

  /** {@code purser commitments renew}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "renew",
      mixinStandardHelpOptions = true,
      description = "Works out anew what is usual of a commitment that promises that.",
      footer = {"", "Example: purser commitments renew harbour-dues --reason \"a new machine\""})
  static final class Renew implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "NAME", description = "The commitment.")
    private String name;

    @CommandLine.Option(
        names = "--reason",
        defaultValue = "",
        description = "The reason; it is kept in the audit trail.")
    private String reason;

    @Override
    public Integer call() {
      CommitmentViews.UsualView usual =
          Service.loggedIn()
              .post(
                  CommitmentViews.UsualView.class,
                  "/commitments/" + Service.encode(name) + "/renewal",
                  new CommitmentViews.RenewalRequest(reason));
      output.one(
          usual,
          () ->
              output.line(
                  usual.name()
                      + ": nine of ten earlier ends were within "
                      + minutes(usual.afterMinutes())
                      + " of its beginning; that is promised from now on"));
      return 0;
    }
  }

  /** A commitment on a date. */
  static CommitmentViews.CommitmentDetail detail(
      Service service, String name, LocalDate date, Integer number, boolean helps) {
    Map<String, Object> query = query(date, number, helps);
    return service.get(
        CommitmentViews.CommitmentDetail.class, "/commitments/" + Service.encode(name), query);
  }

  private static Map<String, Object> query(LocalDate date, Integer number, Boolean helps) {
    Map<String, Object> query = new HashMap<>();
    query.put("date", date);
    query.put("number", number);
    query.put("helps", helps);
    return query;
  }

  /** Why a commitment is likely to be late, and what would help. */
  static void why(Output output, CommitmentViews.CommitmentDetail detail) {
    CommitmentViews.CommitmentView view = detail.commitment();
    output.byTheClockOf(List.of(view.zone()));
    output.one(
        detail,
        () -> {
          output.line(view.reference() + "   " + view.standing() + output.clockInWords());
          output.line(view.title() + ": " + Output.sentence(view.sentence()));
          if (view.usual() != null && view.end() != null && !detail.why().isEmpty()) {
            output.line("");
            output.line("It is usually done at " + output.at(view.usual()) + "; today:");
            detail
                .why()
                .forEach(
                    cause -> output.line("  " + signed(cause.minutes()) + "  " + cause.cause()));
          }
          if (!detail.helps().isEmpty()) {
            output.line("");
            output.line("What would help:");
            detail.helps().forEach(help -> output.line("  " + inWords(output, help)));
          }
        });
  }

  private static String inWords(Output output, CommitmentViews.HelpView help) {
    return help.text()
        + ": "
        + (help.end() == null ? "" : output.at(help.end()) + ", ")
        + "late in "
        + percent(help.chanceLate())
        + " of samples"
        + (help.cost().isEmpty() ? "" : "; but " + help.cost())
        + "\n    "
        + help.command();
  }

  private static String signed(double minutes) {
    String text = (minutes > 0 ? "+" : minutes < 0 ? "-" : "") + minutes(Math.abs(minutes));
    return " ".repeat(Math.max(0, 8 - text.length())) + text;
  }

  private static String minutes(double minutes) {
    return minutes >= 1 || minutes == 0
        ? Math.round(minutes * 10) / 10.0 + "m"
        : Math.round(minutes * 60) + "s";
  }

  static String percent(Double share) {
    return share == null ? "" : Math.round(share * 100) + " %";
  }
}

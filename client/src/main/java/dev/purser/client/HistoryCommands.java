package dev.purser.client;

import dev.purser.core.history.HistoryRows;
import dev.purser.core.history.PastRun;
import dev.purser.wire.api.HistoryViews;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser history}: what forecasts rest on, from elsewhere and to elsewhere. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "history",
    mixinStandardHelpOptions = true,
    subcommands = {HistoryCommands.Import.class, HistoryCommands.Export.class},
    description =
        "The history of runs that forecasts rest on: how much of it there is of the last 14 dates.",
    footer = {
      "",
      "Example: purser history export --from 2027-01-01 > history.csv",
      "Example: purser history import history.csv --try"
    })
final class HistoryCommands implements Callable<Integer> {
  private static final int DAYS = 14;

  @CommandLine.Mixin private Output output;

  /**
   * How much is known of a date.
   *
   * @param runs how many ended by themselves
   * @param failed how many of them failed
   */
  record DateView(LocalDate date, int runs, int failed) {}

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    LocalDate today = LocalDate.now(Here.zone());
    List<DateView> dates = new ArrayList<>();
    for (int back = 1; back <= DAYS; back++) {
      LocalDate date = today.minusDays(back);
      List<HistoryViews.PastRunView> runs = runs(service, date);
      long failed = runs.stream().filter(run -> run.outcome().equals("failed")).count();
      dates.add(new DateView(date, runs.size(), (int) failed));
    }
    output.list(
        DateView.class,
        dates,
        List.of(
            new Output.Column<>("date", DateView::date),
            new Output.Column<>("runs", DateView::runs),
            new Output.Column<>("failed", DateView::failed)),
        "nothing is known");
    return 0;
  }

  private static List<HistoryViews.PastRunView> runs(Service service, LocalDate date) {
    return service.list(HistoryViews.PastRunView.class, "/history/runs", Map.of("date", date));
  }

  /** {@code purser history import}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "import",
      mixinStandardHelpOptions = true,
      description = "Takes in runs from elsewhere: for forecasts, never among the runs.",
      footer = {"", "Example: purser history import history.csv --try"})
  static final class Import implements Callable<Integer> {
    private static final int SHOWN = 20;

    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        description =
            "CSV with a header row: job,date,start,end,outcome and optionally"
                + " number,due,exit-code,host,attempts.")
    private Path file;

    @CommandLine.Option(
        names = "--map",
        description = "CSV without a header: a name of a job in FILE, and its full name here.")
    private Path map;

    @CommandLine.Option(names = "--try", description = "Only say what would be taken.")
    private boolean tryOnly;

    private final List<HistoryViews.PastRunView> batch = new ArrayList<>();
    private Service service;
    private int taken;
    private int known;
    private int refused;

    @Override
    public Integer call() {
      service = Service.loggedIn();
      HistoryFile.read(
          file, names(), this::take, problem -> refuse(problem.toString(), problem.isError()));
      send();
      HistoryViews.ImportView all =
          new HistoryViews.ImportView(taken, known, List.of(refused + " rows"));
      output.one(
          all,
          () ->
              output.line(
                  (tryOnly ? "would take " : "took ")
                      + FileCommands.Check.count(taken, "run")
                      + "; "
                      + known
                      + " were known already; "
                      + refused
                      + " refused"));
      return refused == 0 ? 0 : 1;
    }

    private Map<String, String> names() {
      Map<String, String> names = new HashMap<>();
      if (map != null) {
        HistoryFile.rows(
            map,
            (line, cells) -> {
              if (cells.size() != 2) {
                throw new Service.Refusal(
                    2, map + " line " + line + ": expected a name in the file and one here");
              }
              names.put(cells.get(0).strip(), cells.get(1).strip());
              return true;
            });
      }
      return names;
    }

    private void refuse(String problem, boolean error) {
      refused += error ? 1 : 0;
      if (refused <= SHOWN) {
        output.warn(problem);
      }
    }

    private void take(PastRun run) {
      batch.add(HistoryFile.view(run));
      if (batch.size() == HistoryViews.MOST_ROWS) {
        send();
      }
    }

    private void send() {
      if (!batch.isEmpty()) {
        HistoryViews.ImportView answer =
            service.post(
                HistoryViews.ImportView.class,
                "/history/runs",
                new HistoryViews.ImportRequest(List.copyOf(batch), tryOnly));
        taken += answer.taken();
        known += answer.known();
        answer.refused().forEach(problem -> refuse(problem, true));
        batch.clear();
      }
    }
  }

  /** {@code purser history export}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "export",
      mixinStandardHelpOptions = true,
      description = "Prints the runs that forecasts rest on, in the form that import reads.",
      footer = {"", "Example: purser history export --from 2027-01-01 > history.csv"})
  static final class Export implements Callable<Integer> {
    private static final int USUAL_DAYS = 90;

    @CommandLine.Option(
        names = "--from",
        description = "The first business date; 90 days ago by default.")
    private LocalDate from;

    @CommandLine.Option(names = "--to", description = "The last one; yesterday by default.")
    private LocalDate to;

    @CommandLine.Mixin private Output output;

    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      LocalDate today = LocalDate.now(Here.zone());
      LocalDate first = from == null ? today.minusDays(USUAL_DAYS) : from;
      LocalDate last = to == null ? today.minusDays(1) : to;
      if (output.form() == Output.Form.json) {
        List<HistoryViews.PastRunView> all = new ArrayList<>();
        for (LocalDate date = first; !date.isAfter(last); date = date.plusDays(1)) {
          all.addAll(runs(service, date));
        }
        output.list(HistoryViews.PastRunView.class, all, List.of(), "");
        return 0;
      }
      Output.csv(spec.commandLine().getOut(), HistoryRows.columns());
      for (LocalDate date = first; !date.isAfter(last); date = date.plusDays(1)) {
        for (HistoryViews.PastRunView run : runs(service, date)) {
          Output.csv(spec.commandLine().getOut(), HistoryRows.cells(HistoryFile.run(run)));
        }
      }
      return 0;
    }
  }
}

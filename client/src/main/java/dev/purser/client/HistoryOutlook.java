package dev.purser.client;

import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.DaySoFar;
import dev.purser.core.learning.Learned;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.problem.Problem;
import dev.purser.wire.api.ForecastViews;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import picocli.CommandLine;

/** The outlook of one day, from definition files and a history of runs alone. */
final class HistoryOutlook {
  private static final int MOST_SAMPLES = 100_000;
  private static final int SHOWN_PROBLEMS = 20;

  @CommandLine.Option(
      names = "--history",
      description =
          "Runs of the past as CSV (docs/forecasts.md); the outlook of --date rests on them.")
  private Path history;

  @CommandLine.Option(
      names = "--date",
      description = "With --history: the business date that is looked at.")
  private LocalDate date;

  @CommandLine.Option(
      names = "--at",
      description =
          "With --history: the moment of the forecast, 2027-03-04T12:00:00+01:00; rows that begin"
              + " later are not looked at. Without it: the beginning of the date.")
  private String at;

  @CommandLine.Option(
      names = "--samples",
      defaultValue = "200",
      description = "With --history: how often the day is played; 200 by default.")
  private int samples;

  @CommandLine.Option(
      names = "--seed",
      defaultValue = "1",
      description = "With --history: the same seed gives the same answer; 1 by default.")
  private long seed;

  /** Whether it is asked for. */
  boolean isWanted() {
    if (history == null && (date != null || at != null)) {
      throw new Service.Refusal(2, "--date and --at go with --history; days ahead are --from");
    }
    return history != null;
  }

  void print(List<Path> files, Output output) {
    if (files.isEmpty() || date == null) {
      throw new Service.Refusal(2, "--history needs --files and --date");
    }
    if (samples < 1 || samples > MOST_SAMPLES) {
      throw new Service.Refusal(2, "--samples must be 1 to " + MOST_SAMPLES + ", not " + samples);
    }
    Definitions definitions = FileCommands.sound(files, output);
    List<PastRun> past = read(history, Map.of(), output);
    DaySoFar day = new DaySoFar(definitions, past, date, moment(definitions));
    Learned learned = day.learned();
    Promises promises = day.promises();
    Outlook.Result result = day.play(learned, day.promised(promises), samples, seed);
    print(view(result, learned, promises), output);
  }

  private Instant moment(Definitions definitions) {
    if (at == null) {
      return DaySoFar.beginning(definitions, date);
    }
    try {
      return OffsetDateTime.parse(at).toInstant();
    } catch (DateTimeException e) {
      throw new Service.Refusal(
          2, "\"" + at + "\" is not a moment; expected one such as 2027-03-04T12:00:00+01:00");
    }
  }

  /** Reads a file of history; wrong rows are told and left out. */
  static List<PastRun> read(Path file, Map<String, String> names, Output output) {
    List<PastRun> past = new ArrayList<>();
    List<Problem> problems = new ArrayList<>();
    HistoryFile.read(file, names, past::add, problems::add);
    problems.stream().limit(SHOWN_PROBLEMS).forEach(problem -> output.warn(problem.toString()));
    if (problems.size() > SHOWN_PROBLEMS) {
      output.warn((problems.size() - SHOWN_PROBLEMS) + " more rows are wrong");
    }
    if (past.isEmpty() && problems.stream().anyMatch(Problem::isError)) {
      throw new Service.Refusal(1, "no row of " + file + " can be used");
    }
    return past;
  }

  private ForecastViews.DayForecast view(
      Outlook.Result result, Learned learned, Promises promises) {
    return new ForecastViews.DayForecast(
        result.runs().stream()
            .filter(run -> !run.run().run().reference().date().isAfter(date))
            .map(run -> view(run, learned))
            .toList(),
        result.promises().stream().map(promise -> view(promise, learned, promises)).toList());
  }

  private static ForecastViews.RunForecast view(RunOutlook outlook, Learned learned) {
    PlannedRun run = outlook.run().run();
    boolean deadline = run.finishBy().isPresent();
    return new ForecastViews.RunForecast(
        run.reference().toString(),
        spread(outlook.earliestStart(), outlook.start(), outlook.latestStart()),
        spread(outlook.earliestEnd(), outlook.end(), outlook.latestEnd()),
        run.finishBy().orElse(null),
        deadline && !outlook.canSayLate() ? null : Double.valueOf(outlook.chanceLate()),
        outlook.chanceFailed(),
        outlook.hangsOn().word(),
        run.job().isStep()
            ? "the runs in it"
            : learned.restsOn(run.reference().path(), run.reference().date()));
  }

  private static ForecastViews.CommitmentForecast view(
      PromiseOutlook outlook, Learned learned, Promises promises) {
    Promised promised = outlook.promised();
    Lineage lineage = promises.lineage(promised.commitment());
    return new ForecastViews.CommitmentForecast(
        promised.commitment().name(),
        promised.number(),
        promised.by().orElse(null),
        outlook.standing().name().toLowerCase(Locale.ROOT),
        spread(outlook.earliestStart(), outlook.start(), outlook.latestStart()),
        spread(outlook.earliestEnd(), outlook.end(), outlook.latestEnd()),
        outlook.canSayLate() ? Double.valueOf(outlook.chanceLate()) : null,
        outlook.chanceFailed(),
        outlook.hangsOn().word(),
        learned.restsOn(lineage));
  }

  private static ForecastViews.Spread spread(long p10, long p50, long p90) {
    return new ForecastViews.Spread(instant(p10), instant(p50), instant(p90));
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  private static void print(ForecastViews.DayForecast forecast, Output output) {
    if (output.form() == Output.Form.csv) {
      output.list(ForecastViews.RunForecast.class, forecast.runs(), List.of(), "");
      return;
    }
    output.one(
        forecast,
        () -> {
          output.list(
              ForecastViews.CommitmentForecast.class,
              forecast.commitments(),
              List.of(
                  new Output.Column<>("commitment", ForecastViews.CommitmentForecast::commitment),
                  new Output.Column<>("promised", ForecastViews.CommitmentForecast::by),
                  new Output.Column<>("stands", ForecastViews.CommitmentForecast::standing),
                  new Output.Column<>("likely end", one -> one.end().p50()),
                  new Output.Column<>("latest end", one -> one.end().p90()),
                  new Output.Column<>("late", one -> percent(one.lateChance())),
                  new Output.Column<>("rests on", ForecastViews.CommitmentForecast::restsOn)),
              "nothing is promised of this date");
          output.line("");
          output.list(
              ForecastViews.RunForecast.class,
              forecast.runs(),
              List.of(
                  new Output.Column<>("run", ForecastViews.RunForecast::run),
                  new Output.Column<>("start", one -> one.start().p50()),
                  new Output.Column<>("likely end", one -> one.end().p50()),
                  new Output.Column<>("latest end", one -> one.end().p90()),
                  new Output.Column<>("fails", one -> percent(one.failChance())),
                  new Output.Column<>("rests on", ForecastViews.RunForecast::restsOn)),
              "every run of this date has ended");
        });
  }

  private static String percent(Double share) {
    return share == null ? "nobody can say" : Math.round(share * 100) + " %";
  }
}

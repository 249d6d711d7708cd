package dev.purser.client;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.StartTimes;
import dev.purser.wire.api.CommitmentViews;
import dev.purser.wire.api.Views;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser outlook}: of files, or of the service's own days. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "outlook",
    mixinStandardHelpOptions = true,
    description = "The coming runs with their likely start and end.",
    footer = {
      "",
      "Example, from files alone: purser outlook --files demo --from 2027-03-04 --days 2",
      "Example, of the service's own days: purser outlook --days 3"
    })
final class OutlookCommand implements Callable<Integer> {
  private static final int SAMPLES = 40;
  private static final int MOST_DAYS = 400;

  @CommandLine.Mixin private Output output;

  @CommandLine.Option(
      names = "--files",
      arity = "1..*",
      description = "Definition files or directories; without them the service is asked.")
  private List<Path> files = List.of();

  @CommandLine.Option(names = "--from", description = "The first business date; today by default.")
  private LocalDate from;

  @CommandLine.Option(
      names = "--days",
      defaultValue = "2",
      description = "How many days; 2 by default.")
  private int days;

  @CommandLine.Option(
      names = "--stream",
      description = "Only runs of this stream and of everything in it.")
  private String stream;

  @CommandLine.Option(
      names = "--ics",
      description =
          "As iCalendar, for calendar programs; see docs/api.md for a feed to subscribe to.")
  private boolean ics;

  @CommandLine.Option(
      names = "--kept",
      description = "How well was foretold over the last --days, held against what came.")
  private boolean kept;

  @CommandLine.Mixin private HistoryOutlook past;

  @Override
  public Integer call() {
    if (past.isWanted()) {
      past.print(files, output);
      return 0;
    }
    if (days < 1 || days > MOST_DAYS) {
      throw new Service.Refusal(2, "--days must be 1 to " + MOST_DAYS + ", not " + days);
    }
    if (kept) {
      printKept();
      return 0;
    }
    List<Views.OutlookView> rows =
        (files.isEmpty() ? asked() : played())
            .stream().sorted(Comparator.comparing(OutlookCommand::when)).toList();
    if (ics) {
      output.line(calendar(rows).stripTrailing());
      return 0;
    }
    output.byTheClockOf(rows.stream().map(Views.OutlookView::zone).toList());
    output.list(
        Views.OutlookView.class,
        rows,
        List.of(
            new Output.Column<>("run", Views.OutlookView::reference),
            new Output.Column<>("ends as", row -> new Output.State(row.state())),
            new Output.Column<>("start", Views.OutlookView::start),
            new Output.Column<>("likely end", Views.OutlookView::end),
            new Output.Column<>("latest end", Views.OutlookView::latestEnd),
            new Output.Column<>("finish by", Views.OutlookView::finishBy),
            new Output.Column<>("late", OutlookCommand::late),
            new Output.Column<>("host", Views.OutlookView::host),
            new Output.Column<>("clock change", Views.OutlookView::shift),
            new Output.Column<>("sure", OutlookCommand::sure)),
        "nothing is planned on these days");
    return 0;
  }

  private void printKept() {
    List<CommitmentViews.ForetoldView> all =
        Service.loggedIn()
            .list(
                CommitmentViews.ForetoldView.class,
                "/foretold",
                Map.of("days", Math.max(days, 30)));
    output.list(
        CommitmentViews.ForetoldView.class,
        all,
        List.of(
            new Output.Column<>(
                "foretold", row -> HORIZONS.getOrDefault(row.horizon(), row.horizon())),
            new Output.Column<>("promises", CommitmentViews.ForetoldView::count),
            new Output.Column<>("by the 90 %", row -> CommitmentCommands.percent(row.within90())),
            new Output.Column<>("by the middle", row -> CommitmentCommands.percent(row.within50())),
            new Output.Column<>(
                "minutes off",
                row -> row.minutesOff() == null ? "" : Math.round(row.minutesOff() * 10) / 10.0),
            new Output.Column<>("late", CommitmentViews.ForetoldView::late),
            new Output.Column<>("warned of", CommitmentViews.ForetoldView::warned),
            new Output.Column<>("came to nothing", CommitmentViews.ForetoldView::cameToNothing),
            new Output.Column<>(
                "minutes before",
                row -> row.minutesBefore() == null ? "" : Math.round(row.minutesBefore()))),
        "nothing has been foretold yet");
  }

  private static final Map<String, String> HORIZONS =
      Map.of(
          "begin", "at the beginning",
          "4h", "4 h before",
          "2h", "2 h before",
          "1h", "1 h before",
          "15m", "15 min before",
          "alerts", "told by alerts");

  private static String calendar(List<Views.OutlookView> rows) {
    List<CalendarWriter.Entry> entries =
        rows.stream()
            .map(
                row ->
                    new CalendarWriter.Entry(
                        row.reference(),
                        row.title(),
                        when(row),
                        row.end() == null || row.end().isBefore(when(row)) ? when(row) : row.end(),
                        row.reference() + (row.guess() ? " (a guess)" : "")))
            .toList();
    return CalendarWriter.runs("Purser", entries, Instant.now(Clock.systemUTC()));
  }

  private static Instant when(Views.OutlookView row) {
    return row.start() == null ? row.due() : row.start();
  }

  private static String late(Views.OutlookView row) {
    return row.chanceLate() == null ? "" : Math.round(row.chanceLate() * 100) + " %";
  }

  /** On what the times rest, where they do not rest on the plan alone. */
  private static String sure(Views.OutlookView row) {
    List<String> parts = new ArrayList<>();
    if (!row.hangsOn().isEmpty()) {
      parts.add("hangs on a " + row.hangsOn());
    }
    if (row.ifAnswered()) {
      parts.add("if answered as usual");
    }
    if (row.guess()) {
      parts.add("a guess");
    }
    return String.join(", ", parts);
  }

  private List<Views.OutlookView> asked() {
    Map<String, Object> query = new HashMap<>();
    query.put("days", days);
    query.put("stream", stream);
    if (from != null) {
      query.put("from", from);
    }
    return Service.loggedIn().list(Views.OutlookView.class, "/outlook", query);
  }

  private List<Views.OutlookView> played() {
    Definitions definitions = FileCommands.sound(files, output);
    Planner planner = new Planner(definitions);
    LocalDate first = from == null ? LocalDate.now(Here.zone()) : from;
    List<RunSpec> specs = FileCommands.specs(definitions, first, days);
    long begin =
        specs.stream().mapToLong(run -> run.run().due().toEpochMilli()).min().orElse(1) - 1;
    Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin));
    return new Outlook(board, new UsualOutcomes(History.NONE), 1)
        .play(specs, SAMPLES, Long.MAX_VALUE - 1).stream()
            .filter(outlook -> stream == null || outlook.run().run().reference().isOf(stream))
            .map(outlook -> view(outlook, planner))
            .toList();
  }

  private static Views.OutlookView view(RunOutlook outlook, Planner planner) {
    PlannedRun run = outlook.run().run();
    boolean deadline = run.finishBy().isPresent();
    return new Views.OutlookView(
        run.reference().toString(),
        run.reference().stream(),
        run.job().title(),
        run.reference().date(),
        outlook.state().word(),
        run.due(),
        run.shift() == StartTimes.Shift.NONE ? "" : run.shift().name().toLowerCase(Locale.ROOT),
        instant(outlook.start()),
        instant(outlook.end()),
        instant(outlook.earliestEnd()),
        instant(outlook.latestEnd()),
        run.finishBy().orElse(null),
        deadline && outlook.canSayLate() ? outlook.chanceLate() : null,
        outlook.host(),
        planner.isGuess(run.reference()),
        outlook.hangsOn().word(),
        outlook.ifAnswered(),
        outlook.samples(),
        run.zone().getId());
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }
}

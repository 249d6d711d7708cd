package dev.purser.client;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.Compared;
import dev.purser.core.forecast.FixedOutcomes;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.job.Job;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser rehearse}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "rehearse",
    mixinStandardHelpOptions = true,
    description = "Plays a business date through with the real engine on a simulated clock.",
    footer = {
      "",
      "The durations file names jobs (full path or name) and how they go:",
      "  close-bookings: 4m succeeded",
      "  build-manifest: [20m failed, 6m succeeded]   # first attempt, second attempt",
      "  approve-close: 20m approved                  # or refused, or never",
      "  print-labels: 2s nothing to do               # what its check before work says",
      "  load-tides: { goes: 3m exit code 4, values: { rows: 1200 } }",
      "  file harbour-feed: \"22:10\"                   # or never",
      "",
      "--compare prints two rehearsals side by side: what moved, and why.",
      "",
      "Example: purser rehearse --files demo/world --date 2027-03-04",
      "Example: purser rehearse --files demo/world --date 2027-03-04 --compare late-feed.yaml"
    })
final class RehearseCommand implements Callable<Integer> {
  private static final long MOST_MILLIS = Duration.ofDays(31).toMillis();

  private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm:ss");

  @CommandLine.Mixin private Output output;

  @CommandLine.Option(
      names = "--files",
      required = true,
      arity = "1..*",
      description = "Definition files or directories.")
  private List<Path> files;

  @CommandLine.Option(names = "--date", required = true, description = "The business date.")
  private LocalDate date;

  @CommandLine.Option(
      names = "--durations",
      description = "A file that says how jobs go; what it does not say goes as usual.")
  private Path durations;

  @CommandLine.Option(
      names = "--compare",
      description = "Compare with a second rehearsal that uses this durations file.")
  private Path compare;

  @CommandLine.Option(
      names = "--compare-files",
      arity = "1..*",
      description = "Compare with a second rehearsal of these definitions.")
  private List<Path> compareFiles;

  @CommandLine.Option(names = "--all", description = "With --compare: also list what did not move.")
  private boolean all;

  @CommandLine.Option(
      names = "--environment",
      defaultValue = "",
      description = "The environment whose parameters count, such as test.")
  private String environment;

  @CommandLine.Option(
      names = "--seed",
      defaultValue = "1",
      description = "The seed for durations that are drawn at random; 1 by default.")
  private long seed;

  /** A run of the rehearsal. */
  record Played(
      String reference,
      String state,
      OffsetDateTime start,
      OffsetDateTime end,
      String host,
      int attempts,
      String note) {}

  /** A run in both rehearsals; the second's times beside the first's. */
  record Moved(
      String reference,
      String stateBefore,
      String stateAfter,
      OffsetDateTime startBefore,
      OffsetDateTime startAfter,
      OffsetDateTime endBefore,
      OffsetDateTime endAfter,
      String because) {}

  @Override
  public Integer call() {
    Rehearsal first = rehearse(files, durations);
    if (compare == null && compareFiles == null) {
      print(first);
    } else {
      compare(
          first,
          rehearse(
              compareFiles == null ? files : compareFiles, compare == null ? durations : compare));
    }
    return 0;
  }

  private Rehearsal rehearse(List<Path> definitionFiles, Path durationsFile) {
    Definitions definitions = FileCommands.sound(definitionFiles, output).in(environment);
    List<RunSpec> specs = FileCommands.specs(definitions, date, 1);
    long begin =
        specs.stream().mapToLong(run -> run.run().due().toEpochMilli()).min().orElse(0) - 1;
    Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin));
    Rehearsal rehearsal =
        new Rehearsal(
            board,
            new Steady(outcomes(definitions, durationsFile), seed),
            new SplittableRandom(seed));
    rehearsal.apply(new BoardEvent.RunsPlanned(begin, specs));
    rehearsal.play(begin + MOST_MILLIS);
    return rehearsal;
  }

  /** The same duration for the same attempt of the same run, whatever else is played. */
  private record Steady(Outcomes outcomes, long seed) implements Outcomes {
    @Override
    public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
      long own = seed * 31 + run.run().reference().toString().hashCode() * 1_000L + attempt;
      return outcomes.attempt(run, attempt, new SplittableRandom(own));
    }

    @Override
    public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
      return outcomes.file(watch, date, random);
    }

    @Override
    public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
      return outcomes.approval(run, asked, random);
    }
  }

  private Outcomes outcomes(Definitions definitions, Path file) {
    UsualOutcomes usual = new UsualOutcomes(History.NONE);
    if (file == null) {
      return FixedOutcomes.nothingSaid(usual);
    }
    List<String> known = new ArrayList<>();
    definitions.streams().forEach(stream -> known(definitions, stream, known));
    SourceFile text = FileCommands.read(List.of(file)).get(0);
    FixedOutcomes.Reading reading =
        FixedOutcomes.read(
            text.name(), text.text(), FixedOutcomes.Known.of(definitions, known), usual);
    reading.problems().forEach(problem -> output.warn(problem.toString()));
    if (!reading.problems().isEmpty()) {
      throw new Service.Refusal(1, "the durations cannot be used; nothing was rehearsed");
    }
    return reading.outcomes();
  }

  private static void known(Definitions definitions, Stream stream, List<String> known) {
    for (Job job : stream.jobs()) {
      known.add(stream.pathOf(job));
      if (job.isStep()) {
        definitions
            .streamAt(stream.pathOf(job))
            .ifPresent(inner -> known(definitions, inner, known));
      }
    }
  }

  private void print(Rehearsal rehearsal) {
    output.list(
        Played.class,
        rehearsal.board().runs().stream().map(run -> played(run, rehearsal)).toList(),
        List.of(
            new Output.Column<>("run", Played::reference),
            new Output.Column<>("state", played -> new Output.State(played.state())),
            new Output.Column<>("start", Played::start),
            new Output.Column<>("end", Played::end),
            new Output.Column<>("host", Played::host),
            new Output.Column<>("note", Played::note)),
        "nothing is planned on " + date);
  }

  private static Played played(RunSpec run, Rehearsal rehearsal) {
    RunStatus status = rehearsal.board().status(run.id()).orElseThrow();
    boolean open = !status.state().isEnded();
    return new Played(
        run.run().reference().toString(),
        status.state().word(),
        FileCommands.local(rehearsal.firstStart(run.id()), run.run()),
        FileCommands.local(status.ended(), run.run()),
        status.where().word(),
        status.attempts(),
        open ? rehearsal.board().why(run.id()).sentence() : status.note());
  }

  private void compare(Rehearsal first, Rehearsal second) {
    Map<RunReference, PlannedRun> runs = new HashMap<>();
    first.board().runs().forEach(run -> runs.put(run.run().reference(), run.run()));
    second.board().runs().forEach(run -> runs.put(run.run().reference(), run.run()));
    List<Compared.Row> rows = Compared.of(first, second);
    List<Compared.Row> shown = rows.stream().filter(row -> all || row.differs()).toList();
    output.list(
        Moved.class,
        shown.stream().map(row -> moved(row, runs.get(row.run()))).toList(),
        List.of(
            new Output.Column<>("run", Moved::reference),
            new Output.Column<>("state", m -> change(m.stateBefore(), m.stateAfter())),
            new Output.Column<>("start", m -> clock(m.startBefore(), m.startAfter())),
            new Output.Column<>("end", m -> clock(m.endBefore(), m.endAfter())),
            new Output.Column<>("moved", RehearseCommand::shift),
            new Output.Column<>("because", Moved::because)),
        "both go alike");
    if (output.isText()) {
      output.line(
          rows.stream().filter(Compared.Row::differs).count()
              + " of "
              + rows.size()
              + " runs go otherwise");
    }
  }

  private static Moved moved(Compared.Row row, PlannedRun run) {
    Optional<Compared.Way> a = row.first();
    Optional<Compared.Way> b = row.second();
    return new Moved(
        row.run().toString(),
        a.map(way -> way.state().word()).orElse(""),
        b.map(way -> way.state().word()).orElse(""),
        FileCommands.local(a.map(Compared.Way::start).orElse(0L), run),
        FileCommands.local(b.map(Compared.Way::start).orElse(0L), run),
        FileCommands.local(a.map(Compared.Way::end).orElse(0L), run),
        FileCommands.local(b.map(Compared.Way::end).orElse(0L), run),
        b.map(Compared.Way::because).orElse("only the first has it"));
  }

  private static String change(String before, String after) {
    return before.equals(after) ? after : (before.isEmpty() ? "none" : before) + " → " + after;
  }

  private static String clock(OffsetDateTime before, OffsetDateTime after) {
    String one = before == null ? "never" : CLOCK.format(before);
    String two = after == null ? "never" : CLOCK.format(after);
    return one.equals(two) ? two : one + " → " + two;
  }

  private static String shift(Moved moved) {
    if (moved.endBefore() == null || moved.endAfter() == null) {
      return "";
    }
    Duration by = Duration.between(moved.endBefore(), moved.endAfter());
    return by.isZero()
        ? ""
        : (by.isNegative() ? "-" : "+") + dev.purser.core.schedule.Durations.print(by.abs());
  }
}

package dev.purser.client;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunStatus;
import dev.purser.core.definition.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.SchemaWriter;
import dev.purser.core.definition.SourceFile;
import dev.purser.core.forecast.FixedOutcomes;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import tools.jackson.databind.SerializationFeature;

/** Commands that need no service: they work on definition files alone. */
final class FileCommands {
  private static final long MOST_BYTES = 16_000_000;

  private FileCommands() {}

  /** Reads files, and the definition files of directories. */
  static List<SourceFile> read(List<Path> paths) {
    List<SourceFile> files = new ArrayList<>();
    for (Path path : paths) {
      try {
        if (Files.isDirectory(path)) {
          try (var inside = Files.walk(path)) {
            for (Path file : inside.filter(FileCommands::isYaml).sorted().toList()) {
              files.add(readFile(file));
            }
          }
        } else {
          files.add(readFile(path));
        }
      } catch (java.nio.file.NoSuchFileException e) {
        throw new Service.Refusal(2, "there is no file " + path);
      } catch (IOException e) {
        throw new Service.Refusal(2, "cannot read " + path + ": " + e.getMessage());
      }
    }
    if (files.isEmpty()) {
      throw new Service.Refusal(2, "there is no .yaml file in " + paths);
    }
    return files;
  }

  private static boolean isYaml(Path path) {
    return Files.isRegularFile(path) && path.toString().matches(".*\\.ya?ml");
  }

  private static SourceFile readFile(Path path) throws IOException {
    if (Files.size(path) > MOST_BYTES) {
      throw new Service.Refusal(
          1,
          path
              + ": the file has "
              + Files.size(path)
              + " bytes; at most "
              + MOST_BYTES
              + " are read");
    }
    try {
      return new SourceFile(path.toString(), Files.readString(path));
    } catch (MalformedInputException e) {
      throw new Service.Refusal(1, path + ": the file is no UTF-8 text");
    }
  }

  /** Reads and checks files; ends the command where they are not sound. */
  static Definitions sound(List<Path> paths, Output output) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), read(paths), LocalDate.now(ZoneId.systemDefault()));
    result.problems().stream().filter(Problem::isError).forEach(p -> output.warn(p.toString()));
    if (!result.isSound()) {
      throw new Service.Refusal(1, "these definitions are not sound; nothing was done");
    }
    return result.definitions();
  }

  /** The runs of some dates with ids of their own. */
  static List<RunSpec> specs(Definitions definitions, LocalDate from, int days) {
    Planner planner = new Planner(definitions);
    List<RunSpec> specs = new ArrayList<>();
    for (int i = 0; i < days; i++) {
      for (PlannedRun run : planner.plan(from.plusDays(i))) {
        specs.add(new RunSpec(specs.size() + 1L, run, 0));
      }
    }
    return specs;
  }

  /** An instant with the offset of the run's own zone. */
  static OffsetDateTime local(long millis, PlannedRun run) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis).atZone(run.zone()).toOffsetDateTime();
  }

  /** {@code purser check}. */
  @CommandLine.Command(
      name = "check",
      mixinStandardHelpOptions = true,
      description = "Whether definition files are sound; names every problem with its place.",
      footer = {"", "Example: purser check demo"})
  static final class Check implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        arity = "1..*",
        description = "Files or directories.")
    private List<Path> files;

    @Override
    public Integer call() {
      DefinitionCheck.Result result =
          DefinitionCheck.check(
              Definitions.none(), read(files), LocalDate.now(ZoneId.systemDefault()));
      if (output.isText()) {
        result.problems().forEach(problem -> output.line(problem.toString()));
        long errors = result.problems().stream().filter(Problem::isError).count();
        long warnings = result.problems().size() - errors;
        output.line(
            (errors == 0
                    ? "sound: " + result.definitions().documents().size() + " definitions"
                    : count(errors, "error"))
                + (warnings == 0 ? "" : ", " + count(warnings, "warning")));
      } else {
        output.list(
            result.problems(),
            List.of(
                new Output.Column<>("severity", p -> p.isError() ? "error" : "warning"),
                new Output.Column<>("file", Problem::file),
                new Output.Column<>("line", Problem::line),
                new Output.Column<>("column", Problem::column),
                new Output.Column<>("message", Problem::message)),
            "");
      }
      return result.isSound() ? 0 : 1;
    }

    private static String count(long n, String what) {
      return n + " " + what + (n == 1 ? "" : "s");
    }
  }

  /** {@code purser rehearse}. */
  @CommandLine.Command(
      name = "rehearse",
      mixinStandardHelpOptions = true,
      description = "Plays a business date through by the real engine on a simulated clock.",
      footer = {
        "",
        "The durations file names jobs (full path or name) and how they go:",
        "  close-bookings: 4m succeeded",
        "  build-manifest: [20m failed, 6m succeeded]   # first attempt, second attempt",
        "  file harbour-feed: \"22:10\"                   # or never",
        "",
        "Example: purser rehearse --files demo --date 2027-03-04"
      })
  static final class Rehearse implements Callable<Integer> {
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
        description = "How jobs go; as usual where not said.")
    private Path durations;

    @CommandLine.Option(
        names = "--seed",
        defaultValue = "1",
        description = "Another seed draws other durations from what is usual; 1 if not said.")
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

    @Override
    public Integer call() {
      Definitions definitions = sound(files, output);
      List<RunSpec> specs = specs(definitions, date, 1);
      Outcomes outcomes = outcomes(definitions);
      long begin =
          specs.stream().mapToLong(run -> run.run().due().toEpochMilli()).min().orElse(0) - 1;
      Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin));
      Rehearsal rehearsal = new Rehearsal(board, outcomes, new SplittableRandom(seed));
      rehearsal.apply(new BoardEvent.RunsPlanned(begin, specs));
      rehearsal.play(Long.MAX_VALUE);
      output.list(
          specs.stream().map(run -> played(run, rehearsal)).toList(),
          List.of(
              new Output.Column<>("run", Played::reference),
              new Output.Column<>("state", played -> new Output.State(played.state())),
              new Output.Column<>("start", Played::start),
              new Output.Column<>("end", Played::end),
              new Output.Column<>("host", Played::host),
              new Output.Column<>("note", Played::note)),
          "nothing is planned on " + date);
      return 0;
    }

    private Outcomes outcomes(Definitions definitions) {
      UsualOutcomes usual = new UsualOutcomes(Map.of(), Map.of());
      if (durations == null) {
        return usual;
      }
      List<String> known =
          definitions.streams().stream()
              .flatMap(stream -> stream.jobs().stream().map(stream::pathOf))
              .toList();
      SourceFile file = read(List.of(durations)).get(0);
      FixedOutcomes.Reading reading = FixedOutcomes.read(file.name(), file.text(), known, usual);
      reading.problems().forEach(problem -> output.warn(problem.toString()));
      if (!reading.problems().isEmpty()) {
        throw new Service.Refusal(1, "the durations cannot be used; nothing was rehearsed");
      }
      return reading.outcomes();
    }

    private static Played played(RunSpec run, Rehearsal rehearsal) {
      RunStatus status = rehearsal.board().status(run.id()).orElseThrow();
      boolean open = !status.state().isEnded();
      return new Played(
          run.run().reference().toString(),
          status.state().word(),
          local(rehearsal.firstStart(run.id()), run.run()),
          local(status.ended(), run.run()),
          status.host(),
          status.attempts(),
          open ? rehearsal.board().why(run.id()).sentence() : status.note());
    }
  }

  /** {@code purser schema}. */
  @CommandLine.Command(
      name = "schema",
      mixinStandardHelpOptions = true,
      description = "The JSON Schema of definition files, for editors.",
      footer = {"", "Example: purser schema > purser.schema.json"})
  static final class Schema implements Callable<Integer> {
    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    @Override
    public Integer call() {
      spec.commandLine()
          .getOut()
          .println(
              Service.JSON
                  .writer()
                  .with(SerializationFeature.INDENT_OUTPUT)
                  .writeValueAsString(SchemaWriter.schema()));
      return 0;
    }
  }
}

package dev.purser.client;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.commitment.Lineage;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SchemaWriter;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
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
              add(files, file);
            }
          }
        } else {
          add(files, path);
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

  /** Adds a file, and the tables that it names. */
  private static void add(List<SourceFile> files, Path path) throws IOException {
    SourceFile file = readFile(path);
    files.add(file);
    for (SourceFile table : TableFile.of(path, file)) {
      if (files.stream().noneMatch(known -> known.name().equals(table.name()))) {
        files.add(table);
      }
    }
  }

  private static boolean isYaml(Path path) {
    return Files.isRegularFile(path) && path.toString().matches(".*\\.ya?ml");
  }

  static String text(Path path) throws IOException {
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
      return Files.readString(path);
    } catch (MalformedInputException e) {
      throw new Service.Refusal(1, path + ": the file is not UTF-8 text");
    }
  }

  private static SourceFile readFile(Path path) throws IOException {
    return new SourceFile(path.toString(), StatementFiles.inPlace(path, text(path)));
  }

  /** Reads and checks files; ends the command where they are not sound. */
  static Definitions sound(List<Path> paths, Output output) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), read(paths), LocalDate.now(Here.zone()));
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
      addMethodSubcommands = false,
      name = "check",
      mixinStandardHelpOptions = true,
      description = "Whether definition files are sound; names every problem with its place.",
      footer = {"", "Example: purser check demo"})
  static final class Check implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        arity = "1..*",
        description = "Definition files, or directories of them.")
    private List<Path> files;

    @Override
    public Integer call() {
      DefinitionCheck.Result result =
          DefinitionCheck.check(Definitions.none(), read(files), LocalDate.now(Here.zone()));
      if (output.isText()) {
        result.problems().forEach(problem -> output.line(problem.toString()));
        if (result.isSound()) {
          promises(result.definitions());
        }
        long errors = result.problems().stream().filter(Problem::isError).count();
        long warnings = result.problems().size() - errors;
        output.line(
            (errors == 0
                    ? "sound: " + count(result.definitions().documents().size(), "definition")
                    : count(errors, "error"))
                + (warnings == 0 ? "" : ", " + count(warnings, "warning")));
      } else {
        output.list(
            Views.ProblemView.class,
            result.problems().stream().map(Check::view).toList(),
            List.of(),
            "");
      }
      return result.isSound() ? 0 : 1;
    }

    /** On what each commitment rests. */
    private void promises(Definitions definitions) {
      for (Commitment commitment : definitions.commitments()) {
        output.line(
            "commitment "
                + commitment.name()
                + " "
                + Lineage.of(definitions, commitment).inWords());
      }
    }

    private static Views.ProblemView view(Problem problem) {
      return new Views.ProblemView(
          problem.isError() ? "error" : "warning",
          problem.file(),
          problem.line(),
          problem.column(),
          problem.message());
    }

    static String count(long n, String what) {
      return n + " " + what + (n == 1 ? "" : "s");
    }
  }

  /** {@code purser schema}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
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

package dev.purser.core.forecast;

import dev.purser.core.board.Ending;
import dev.purser.core.board.RunSpec;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/**
 * What an author says in a file: a job's full path or name and {@code 4m succeeded} or {@code 30s
 * failed}, a list of those for one attempt after another; {@code file NAME} and a time or {@code
 * never}. What the file does not say goes as usual.
 */
public final class FixedOutcomes implements Outcomes {
  private final Map<String, List<Outcome>> attempts = new HashMap<>();
  private final Map<String, FileOutcome> files = new HashMap<>();
  private final Outcomes otherwise;

  private FixedOutcomes(Outcomes otherwise) {
    this.otherwise = otherwise;
  }

  /** What was read; the outcomes are to be used only where nothing is wrong. */
  public record Reading(Outcomes outcomes, List<Problem> problems) {}

  /**
   * Reads such a file.
   *
   * @param known full paths of all jobs: any other name is a problem
   */
  public static Reading read(
      String file, String text, Collection<String> known, Outcomes otherwise) {
    FixedOutcomes outcomes = new FixedOutcomes(otherwise);
    List<Problem> problems = new ArrayList<>();
    try {
      LoadSettings settings = LoadSettings.builder().setUseMarks(true).build();
      Optional<Node> root = new Compose(settings).composeString(text);
      if (root.isPresent() && root.get() instanceof MappingNode mapping) {
        mapping.getValue().forEach(entry -> outcomes.take(file, entry, known, problems));
      } else {
        problems.add(
            Problem.error(file, 1, 1, "expected lines such as \"load-bookings: 4m succeeded\""));
      }
    } catch (YamlEngineException e) {
      problems.add(Problem.error(file, 0, 0, "cannot read this YAML: " + e.getMessage()));
    }
    return new Reading(outcomes, problems);
  }

  private void take(
      String file, NodeTuple entry, Collection<String> known, List<Problem> problems) {
    String name = textOf(entry.getKeyNode());
    if (name.startsWith("file ")) {
      Optional<FileOutcome> when = fileOutcome(textOf(entry.getValueNode()));
      when.ifPresent(outcome -> files.put(name.substring(5).strip(), outcome));
      if (when.isEmpty()) {
        problems.add(at(file, entry.getValueNode(), "expected a time such as \"02:10\", or never"));
      }
      return;
    }
    if (known.stream().noneMatch(path -> path.equals(name) || path.endsWith("/" + name))) {
      problems.add(
          at(
              file,
              entry.getKeyNode(),
              "unknown job \"" + name + "\"" + dev.purser.core.problem.Nearest.hint(name, known)));
    }
    List<Node> values =
        entry.getValueNode() instanceof org.snakeyaml.engine.v2.nodes.SequenceNode list
            ? list.getValue()
            : List.of(entry.getValueNode());
    List<Outcome> outcomes = new ArrayList<>();
    for (Node value : values) {
      Optional<Outcome> outcome = outcome(textOf(value));
      outcome.ifPresent(outcomes::add);
      if (outcome.isEmpty()) {
        problems.add(
            at(file, value, "expected a duration and an outcome: 4m succeeded, or 30s failed"));
      }
    }
    attempts.put(name, outcomes);
  }

  private static Problem at(String file, Node node, String message) {
    int line = node.getStartMark().map(mark -> mark.getLine() + 1).orElse(0);
    int column = node.getStartMark().map(mark -> mark.getColumn() + 1).orElse(0);
    return Problem.error(file, line, column, message);
  }

  private static String textOf(Node node) {
    return node instanceof ScalarNode scalar ? scalar.getValue().strip() : "";
  }

  private static Optional<Outcome> outcome(String text) {
    String[] words = text.split("\\s+");
    Optional<Duration> duration = Durations.parse(words[0]);
    String end = words.length == 1 ? "succeeded" : words[1];
    boolean known = words.length <= 2 && (end.equals("succeeded") || end.equals("failed"));
    return duration
        .filter(d -> known)
        .map(d -> new Outcome(d.toMillis(), Ending.exited(end.equals("succeeded") ? 0 : 1)));
  }

  private static Optional<FileOutcome> fileOutcome(String text) {
    if (text.equals("never")) {
      return Optional.of(new FileOutcome.Never());
    }
    try {
      return Optional.of(new FileOutcome.At(LocalTime.parse(text)));
    } catch (java.time.DateTimeException e) {
      return Optional.empty();
    }
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    String path = run.run().reference().path();
    List<Outcome> said = attempts.getOrDefault(path, attempts.get(run.run().reference().job()));
    return said == null || said.isEmpty()
        ? otherwise.attempt(run, attempt, random)
        : said.get(Math.min(attempt, said.size()) - 1);
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    FileOutcome said = files.get(watch);
    return said == null ? otherwise.file(watch, date, random) : said;
  }
}

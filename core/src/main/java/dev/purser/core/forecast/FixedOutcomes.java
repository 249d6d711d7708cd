package dev.purser.core.forecast;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.job.Approval;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.BrokenYaml;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/**
 * What an author says in a file. A job's full path or name, and how it goes: {@code 4m succeeded},
 * {@code 30s failed}, {@code 30s exit code 3}, {@code 2s nothing to do}; for an approval {@code 20m
 * approved}, {@code 5m refused} or {@code never}. A list of those stands for one attempt after
 * another; a mapping with {@code goes} and {@code values} says also what is handed back. {@code
 * file NAME} and a time or {@code never} says when a file comes. What the file does not say goes as
 * usual.
 */
public final class FixedOutcomes implements Outcomes {
  private static final String FORMS =
      "expected a duration and an outcome: 4m succeeded, 30s failed, 30s exit code 3 (0 to 255), 2s"
          + " nothing to do; for an approval 20m approved, 5m refused or never";
  private static final int HIGHEST_CODE = 255;
  private static final Ending FAILED = new Ending(Ending.Kind.EXITED, -1, "");
  private static final Pattern FORM =
      Pattern.compile(
          "(\\S+)(?:\\s+(succeeded|failed|approved|refused|nothing to do|exit code (\\d{1,3})))?");

  private final Map<String, List<Said>> attempts = new HashMap<>();
  private final Map<String, FileOutcome> files = new HashMap<>();
  private final Outcomes otherwise;

  private FixedOutcomes(Outcomes otherwise) {
    this.otherwise = otherwise;
  }

  /**
   * How one attempt goes.
   *
   * @param millis how long it takes; -1 for a question that is never answered
   * @param ending empty for a success, whatever exit code that takes
   */
  private record Said(long millis, Optional<Ending> ending, Map<String, String> values) {}

  /** What was read; the outcomes are to be used only where nothing is wrong. */
  public record Reading(Outcomes outcomes, List<Problem> problems) {}

  /**
   * What such a file may name; anything else is a problem.
   *
   * @param jobs full paths of all jobs
   * @param questions those of them that are asked and not done
   * @param watches names of file watches
   */
  public record Known(Set<String> jobs, Set<String> questions, Set<String> watches) {
    /** All that is defined. */
    public static Known of(Definitions definitions, Collection<String> jobs) {
      return new Known(
          new TreeSet<>(jobs),
          jobs.stream()
              .filter(
                  path ->
                      definitions
                          .job(path)
                          .filter(job -> job.work() instanceof Approval)
                          .isPresent())
              .collect(Collectors.toSet()),
          definitions.fileWatches().stream().map(FileWatch::name).collect(Collectors.toSet()));
    }

    private boolean means(String name, Set<String> among) {
      return among.stream().anyMatch(path -> path.equals(name) || path.endsWith("/" + name));
    }
  }

  /** Where nothing is said of anything: jobs go otherwise, and every question is answered yes. */
  public static FixedOutcomes nothingSaid(Outcomes otherwise) {
    return new FixedOutcomes(otherwise);
  }

  /** Reads such a file; one without a line says nothing of any job. */
  public static Reading read(String file, String text, Known known, Outcomes otherwise) {
    FixedOutcomes outcomes = new FixedOutcomes(otherwise);
    List<Problem> problems = new ArrayList<>();
    try {
      LoadSettings settings = LoadSettings.builder().setUseMarks(true).build();
      Optional<Node> root = new Compose(settings).composeString(text);
      Set<String> seen = new HashSet<>();
      if (root.isPresent() && root.get() instanceof MappingNode mapping) {
        for (NodeTuple entry : mapping.getValue()) {
          if (!seen.add(textOf(entry.getKeyNode()))) {
            problems.add(at(file, entry.getKeyNode(), "this name is given twice"));
          }
          outcomes.take(file, entry, known, problems);
        }
      } else if (root.isPresent()) {
        problems.add(
            Problem.error(file, 1, 1, "expected lines such as \"load-bookings: 4m succeeded\""));
      }
    } catch (YamlEngineException e) {
      problems.add(BrokenYaml.problem(file, e));
    }
    return new Reading(outcomes, problems);
  }

  private void take(String file, NodeTuple entry, Known known, List<Problem> problems) {
    String name = textOf(entry.getKeyNode());
    if (name.startsWith("file ")) {
      String watch = name.substring(5).strip();
      if (!known.watches().contains(watch)) {
        problems.add(
            at(
                file,
                entry.getKeyNode(),
                "unknown file watch \"" + watch + "\"" + Nearest.hint(watch, known.watches())));
      }
      Optional<FileOutcome> when = fileOutcome(textOf(entry.getValueNode()));
      when.ifPresent(outcome -> files.put(name.substring(5).strip(), outcome));
      if (when.isEmpty()) {
        problems.add(at(file, entry.getValueNode(), "expected a time such as \"02:10\", or never"));
      }
      return;
    }
    boolean isKnown = known.means(name, known.jobs());
    if (!isKnown) {
      problems.add(
          at(
              file,
              entry.getKeyNode(),
              "unknown job \"" + name + "\"" + Nearest.hint(name, known.jobs())));
    }
    boolean question = known.means(name, known.questions());
    List<Node> values =
        entry.getValueNode() instanceof SequenceNode list
            ? list.getValue()
            : List.of(entry.getValueNode());
    List<Said> outcomes = new ArrayList<>();
    for (Node value : values) {
      Optional<Said> said = said(file, value, problems);
      if (isKnown && !question && said.filter(one -> one.millis() < 0).isPresent()) {
        problems.add(
            at(
                file,
                value,
                "only a question is never answered; give a command that hangs a long duration, such"
                    + " as 9h failed"));
      }
      said.ifPresent(outcomes::add);
    }
    attempts.put(name, outcomes);
  }

  private static Optional<Said> said(String file, Node node, List<Problem> problems) {
    Node goes = node;
    Map<String, String> values = new LinkedHashMap<>();
    if (node instanceof MappingNode mapping) {
      for (NodeTuple tuple : mapping.getValue()) {
        String key = textOf(tuple.getKeyNode());
        if (key.equals("goes")) {
          goes = tuple.getValueNode();
        } else if (key.equals("values") && tuple.getValueNode() instanceof MappingNode all) {
          all.getValue().forEach(v -> values.put(textOf(v.getKeyNode()), textOf(v.getValueNode())));
        } else {
          problems.add(at(file, tuple.getKeyNode(), "expected \"goes\" or a mapping \"values\""));
        }
      }
    }
    Optional<Said> said = outcome(textOf(goes), values);
    if (said.isEmpty()) {
      problems.add(at(file, goes, FORMS));
    }
    return said;
  }

  private static Problem at(String file, Node node, String message) {
    int line = node.getStartMark().map(mark -> mark.getLine() + 1).orElse(0);
    int column = node.getStartMark().map(mark -> mark.getColumn() + 1).orElse(0);
    return Problem.error(file, line, column, message);
  }

  private static String textOf(Node node) {
    return node instanceof ScalarNode scalar ? scalar.getValue().strip() : "";
  }

  private static Optional<Said> outcome(String text, Map<String, String> values) {
    if (text.equals("never")) {
      return Optional.of(new Said(-1, Optional.empty(), values));
    }
    Matcher matcher = FORM.matcher(text);
    Optional<Duration> duration =
        matcher.matches() ? Durations.parse(matcher.group(1)) : Optional.empty();
    boolean noCode =
        duration.isPresent()
            && matcher.group(3) != null
            && Integer.parseInt(matcher.group(3)) > HIGHEST_CODE;
    if (duration.isEmpty() || noCode) {
      return Optional.empty();
    }
    String end = matcher.group(2) == null ? "succeeded" : matcher.group(2);
    Optional<Ending> ending =
        switch (end) {
          case "succeeded", "approved" -> Optional.empty();
          case "failed", "refused" -> Optional.of(FAILED);
          case "nothing to do" -> Optional.of(new Ending(Ending.Kind.NOTHING_TO_DO, 1, ""));
          default -> Optional.of(Ending.exited(Integer.parseInt(matcher.group(3))));
        };
    return Optional.of(new Said(duration.get().toMillis(), ending, values));
  }

  private static Optional<FileOutcome> fileOutcome(String text) {
    if (text.equals("never")) {
      return Optional.of(new FileOutcome.Never());
    }
    try {
      return Optional.of(new FileOutcome.At(LocalTime.parse(text)));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  private Optional<Said> said(RunSpec run, int attempt) {
    String path = run.run().reference().path();
    List<Said> said = attempts.getOrDefault(path, attempts.get(run.run().reference().job()));
    return said == null || said.isEmpty()
        ? Optional.empty()
        : Optional.of(said.get(Math.min(attempt, said.size()) - 1));
  }

  /** A failure is one for the job that it is said of: by an exit code that is no success for it. */
  private static Ending ending(Said said, RunSpec run) {
    Ending ending = said.ending().orElseGet(() -> Outcomes.success(run));
    return ending.equals(FAILED) ? Outcomes.failure(run) : ending;
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    return said(run, attempt)
        .map(said -> new Outcome(Math.max(said.millis(), 0), ending(said, run), said.values()))
        .orElseGet(() -> otherwise.attempt(run, attempt, random));
  }

  @Override
  public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
    Optional<Said> said = said(run, 1);
    if (said.isEmpty()) {
      return Outcomes.super.approval(run, asked, random); // of a question nothing is said: yes
    }
    return said.get().millis() < 0
        ? Optional.empty()
        : Optional.of(new Answer(said.get().millis(), said.get().ending().isEmpty()));
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    FileOutcome said = files.get(watch);
    return said == null ? otherwise.file(watch, date, random) : said;
  }
}

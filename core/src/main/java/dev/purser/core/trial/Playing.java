package dev.purser.core.trial;

import dev.purser.core.edit.YamlText;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.prerequisite.Prerequisite.Outcome;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.common.ScalarStyle;

/**
 * Questions that stand for what a try asks of others: yes, and it has succeeded, or the file is
 * there; no, and it has failed. What a question cannot answer (values, exit codes, being at work)
 * counts as met.
 */
final class Playing {
  private final Set<String> taken;

  /** Questions by their job, in the order in which they were first asked. */
  private final Map<String, String> questions = new LinkedHashMap<>();

  /** Jobs by what they play. */
  private final Map<String, String> jobs = new LinkedHashMap<>();

  /**
   * Nothing is played yet.
   *
   * @param taken names of the stream's own jobs
   */
  Playing(Set<String> taken) {
    this.taken = taken;
  }

  /** What is asked in the place of something that is asked of others. */
  Optional<Prerequisite> instead(Prerequisite leaf) {
    if (leaf instanceof Prerequisite.FileArrived file) {
      return succeeded(
          job(
              "file " + file.watch(),
              "The file watch " + file.watch() + " is played: yes, and its file is here."));
    }
    if (leaf instanceof Prerequisite.OfRun run
        && run.codes().isEmpty()
        && run.outcome() != Outcome.RUNNING) {
      String name = run.target().name();
      return Optional.of(
          new Prerequisite.OfRun(
              job(
                  name,
                  name + " is played: yes, and it has succeeded here; no, and it has failed."),
              run.outcome()));
    }
    return Optional.empty();
  }

  private static Optional<Prerequisite> succeeded(String job) {
    return Optional.of(new Prerequisite.OfRun(job, Outcome.SUCCEEDED));
  }

  private String job(String what, String question) {
    return jobs.computeIfAbsent(
        what,
        any -> {
          String stem = "play-" + what.replaceAll("[^a-z0-9._-]+", "-");
          String name = stem;
          for (int i = 2; taken.contains(name) || questions.containsKey(name); i++) {
            name = stem + "-" + i;
          }
          questions.put(name, question);
          return name;
        });
  }

  /** The text of the stream with the questions in it. */
  YamlText in(YamlText text) {
    YamlText out = text;
    for (Map.Entry<String, String> one : questions.entrySet()) {
      String question = YamlText.written(one.getValue(), ScalarStyle.DOUBLE_QUOTED);
      out = out.withFirst(List.of("jobs"), one.getKey() + ": { approve: " + question + " }");
    }
    return out;
  }
}

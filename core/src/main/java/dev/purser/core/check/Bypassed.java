package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import java.util.List;
import java.util.Optional;

/**
 * Questions that a start by hand of one job would get round: those that it waits for, near or far,
 * and that are not asked because only that job is started.
 */
public final class Bypassed {
  private Bypassed() {}

  /**
   * A question.
   *
   * @param path the full path of its job
   * @param by who alone may answer
   */
  public record Question(String path, List<String> by) {}

  /**
   * The first question before a job that somebody may not answer; empty where there is none.
   *
   * @param who wants to start the job alone, or with what follows it
   */
  public static Optional<Question> by(Definitions all, Stream stream, Job started, String who) {
    return Waits.walk(
            all,
            Waits.waitedFor(all, stream.path(), started),
            (path, job) -> notFor(path, job, who).isPresent())
        .flatMap(path -> notFor(path, all.job(path).orElseThrow(), who));
  }

  private static Optional<Question> notFor(String path, Job job, String who) {
    if (!(job.work() instanceof Approval approval)) {
      return Optional.empty();
    }
    List<String> by = approval.answering().by();
    return by.isEmpty() || by.contains(who)
        ? Optional.empty()
        : Optional.of(new Question(path, by));
  }
}

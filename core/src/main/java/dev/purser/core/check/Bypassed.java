package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

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
    Set<String> seen = new HashSet<>(Set.of(stream.pathOf(started)));
    Deque<String> open = new ArrayDeque<>(Waits.waitedFor(all, stream.path(), started));
    while (!open.isEmpty()) {
      String path = open.pop();
      if (seen.add(path)) {
        Optional<Job> job = all.job(path);
        Optional<Question> question = job.flatMap(found -> notFor(path, found, who));
        if (question.isPresent()) {
          return question;
        }
        job.ifPresent(
            found -> open.addAll(Waits.waitedFor(all, Definitions.streamOf(path), found)));
      }
    }
    return Optional.empty();
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

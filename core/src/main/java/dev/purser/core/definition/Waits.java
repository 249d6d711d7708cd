package dev.purser.core.definition;

import dev.purser.core.job.Job;
import dev.purser.core.prerequisite.Prerequisite;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiPredicate;

/** What the jobs of all streams wait for. */
public final class Waits {

  private Waits() {}

  /**
   * Every job whose end a job waits for, by full path: those that its prerequisite names, where a
   * stream stands for its jobs; those of the stream that it runs as a step; and for a job in a
   * step, what the step waits for. Whether something is running at the moment is waited for by
   * nobody.
   */
  public static Set<String> waitedFor(Definitions all, String stream, Job job) {
    return waitedFor(all, stream, job, job.asks());
  }

  /** The same, of what a job asks for only some. */
  public static Set<String> waitedFor(
      Definitions all, String stream, Job job, Collection<Prerequisite> asks) {
    Set<String> paths = new LinkedHashSet<>(asked(all, stream, asks));
    String own = stream + "/" + job.name();
    if (job.isStep()) {
      all.streamAt(own)
          .ifPresent(inner -> inner.jobs().forEach(one -> paths.add(inner.pathOf(one))));
    }
    for (String step = stream; all.stream(step).isEmpty() && step.indexOf('/') > 0; ) {
      String outer = step.substring(0, step.lastIndexOf('/'));
      all.job(step).ifPresent(found -> paths.addAll(asked(all, outer, found.asks())));
      step = outer;
    }
    return paths;
  }

  /**
   * Walks what a job waits for, near or far, each once, the nearest first.
   *
   * @param stop tells of each job, by full path, whether the walk ends there; it is not asked of
   *     jobs that are not defined
   * @return the job at which it ended; empty where it came to its end
   */
  public static Optional<String> walk(
      Definitions all, Collection<String> first, BiPredicate<String, Job> stop) {
    Set<String> seen = new HashSet<>(first);
    Deque<String> open = new ArrayDeque<>(seen);
    while (!open.isEmpty()) {
      String path = open.poll();
      Optional<Job> job = all.job(path);
      if (job.isPresent()) {
        if (stop.test(path, job.get())) {
          return Optional.of(path);
        }
        for (String next : waitedFor(all, Definitions.streamOf(path), job.get())) {
          if (seen.add(next)) {
            open.add(next);
          }
        }
      }
    }
    return Optional.empty();
  }

  private static Set<String> asked(
      Definitions all, String stream, Collection<Prerequisite> prerequisites) {
    Set<String> paths = new LinkedHashSet<>();
    for (Prerequisite asks : prerequisites) {
      for (Prerequisite.Target target : endsOf(asks)) {
        if (target.isSameDate()) {
          paths.addAll(jobsOf(all, stream, target));
        }
      }
    }
    return paths;
  }

  private static List<Prerequisite.Target> endsOf(Prerequisite asks) {
    List<Prerequisite.Target> ends = new ArrayList<>(asks.targets());
    asks.runs().stream()
        .filter(run -> run.outcome() == Prerequisite.Outcome.RUNNING)
        .forEach(run -> ends.remove(run.target()));
    return ends;
  }

  /** The jobs that a name means: one, or all of a stream. */
  public static List<String> jobsOf(Definitions all, String stream, Prerequisite.Target target) {
    String path = Definitions.resolve(target.name(), stream);
    Optional<Stream> whole =
        all.job(path).isPresent() ? Optional.empty() : all.stream(target.name());
    return whole
        .map(found -> found.jobs().stream().map(found::pathOf).toList())
        .orElse(List.of(path));
  }
}

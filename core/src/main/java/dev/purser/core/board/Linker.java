package dev.purser.core.board;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Window;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Ties the names of prerequisites to the runs of a board. */
final class Linker {
  private final List<PlannedRun> runs;
  private final Map<String, int[]> byPathAndDate = new HashMap<>();
  private final Map<String, int[]> byWindow = new HashMap<>();

  /**
   * @param runs all runs of the board by index
   */
  Linker(List<PlannedRun> runs) {
    this.runs = runs;
    for (int i = 0; i < runs.size(); i++) {
      RunReference reference = runs.get(i).reference();
      int index = i;
      byPathAndDate.merge(
          reference.path() + "@" + reference.date(), new int[] {index}, Linker::append);
      if (runs.get(i).start().window().isPresent()) {
        byWindow.merge(
            reference.stream() + "@" + reference.date() + "#" + reference.number(),
            new int[] {index},
            Linker::append);
      }
    }
  }

  private static int[] append(int[] a, int[] b) {
    int[] both = java.util.Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, both, a.length, b.length);
    return both;
  }

  Condition link(int run) {
    PlannedRun planned = runs.get(run);
    if (planned.waived()) {
      return new Condition.Met();
    }
    Condition own =
        planned.job().waitsFor().map(p -> link(planned, p)).orElseGet(Condition.Met::new);
    Optional<Window> window = planned.start().window();
    return window.isEmpty() ? own : inOrder(planned.reference().stream(), window.get(), own);
  }

  /** Windows that are not on the board any more are done. */
  private Condition inOrder(String stream, Window window, Condition own) {
    List<Condition> all = new ArrayList<>();
    window.after().ifPresent(place -> onWindow(stream, place, false).ifPresent(all::add));
    window.previous().ifPresent(place -> onWindow(stream, place, true).ifPresent(all::add));
    all.add(own);
    return all.size() == 1 ? own : new Condition.All(all.toArray(Condition[]::new));
  }

  private Optional<Condition> onWindow(String stream, Window.Place place, boolean begunIsEnough) {
    return Optional.ofNullable(byWindow.get(stream + "@" + place))
        .map(targets -> new Condition.OnWindow(targets, place, begunIsEnough));
  }

  private Condition link(PlannedRun run, Prerequisite prerequisite) {
    if (prerequisite instanceof Prerequisite.RunEnded ended) {
      List<String> jobs = run.wholeStreams().get(ended.job());
      return jobs == null
          ? onRun(run, Definitions.resolve(ended.job(), run.reference().stream()), ended.outcome())
          : onStream(run, jobs, ended.outcome());
    }
    if (prerequisite instanceof Prerequisite.FileArrived file) {
      List<String> names = run.watches().stream().map(FileWatch::name).toList();
      return new Condition.OnFile(names.indexOf(file.watch()), file.watch());
    }
    if (prerequisite instanceof Prerequisite.Not not) {
      return new Condition.Not(link(run, not.part()));
    }
    if (prerequisite instanceof Prerequisite.All all) {
      return new Condition.All(parts(run, all.parts()));
    }
    return new Condition.Any(parts(run, ((Prerequisite.Any) prerequisite).parts()));
  }

  private Condition[] parts(PlannedRun run, List<Prerequisite> parts) {
    return parts.stream().map(part -> link(run, part)).toArray(Condition[]::new);
  }

  /** A stream failed when any of its jobs did; all else it did when all of them did. */
  private Condition onStream(PlannedRun run, List<String> jobs, Prerequisite.Outcome outcome) {
    Condition[] each = jobs.stream().map(job -> onRun(run, job, outcome)).toArray(Condition[]::new);
    return outcome == Prerequisite.Outcome.FAILED
        ? new Condition.Any(each)
        : new Condition.All(each);
  }

  private Condition onRun(PlannedRun run, String path, Prerequisite.Outcome outcome) {
    int[] candidates = byPathAndDate.get(path + "@" + run.reference().date());
    return new Condition.OnRun(candidates == null ? -1 : choose(run, candidates), path, outcome);
  }

  /**
   * Of several runs of a job on one date: within a stream the one of the same start; else the last
   * one due no later than this run; else the first.
   */
  private int choose(PlannedRun run, int[] candidates) {
    int first = candidates[0];
    int latest = -1;
    for (int candidate : candidates) {
      PlannedRun other = runs.get(candidate);
      boolean sameStart =
          other.reference().stream().equals(run.reference().stream())
              && other.reference().number() == run.reference().number();
      if (sameStart) {
        return candidate;
      }
      if (other.due().isBefore(runs.get(first).due())) {
        first = candidate;
      }
      boolean inTime = !other.due().isAfter(run.due());
      if (inTime && (latest < 0 || !other.due().isBefore(runs.get(latest).due()))) {
        latest = candidate;
      }
    }
    return latest >= 0 ? latest : first;
  }
}

package dev.purser.core.commitment;

import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Job;
import dev.purser.core.prerequisite.Prerequisite;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Every job that the end job of a commitment needs: through prerequisites, steps, files and the
 * files that start streams, across streams, but not beyond the jobs at which it is cut.
 *
 * @param ends full paths of the end jobs: one, or all jobs of a stream
 * @param jobs full paths of all jobs of it, with the end jobs, the nearest first
 * @param earlier full paths of those that are needed of an earlier business date only
 * @param watches names of the file watches that it needs
 * @param cutOff full paths of the jobs that it would have without the cuts, in order
 */
public record Lineage(
    List<String> ends,
    Set<String> jobs,
    Set<String> earlier,
    Set<String> watches,
    Set<String> cutOff) {
  private static final int MOST_NAMED = 5;

  /** Finds the lineage of a commitment; without a job where its end job is not defined. */
  public static Lineage of(Definitions all, Commitment commitment) {
    List<String> cuts = new ArrayList<>(commitment.beginsAfter());
    cuts.addAll(commitment.leaveOut());
    Lineage found = new Walk(all, cuts).from(commitment.of());
    if (cuts.isEmpty()) {
      return found;
    }
    Set<String> cutOff = new TreeSet<>(new Walk(all, List.of()).from(commitment.of()).jobs());
    cutOff.removeAll(found.jobs());
    return new Lineage(found.ends(), found.jobs(), found.earlier(), found.watches(), cutOff);
  }

  /** Full paths of the streams that its jobs belong to, in order. */
  public Set<String> streams() {
    Set<String> streams = new TreeSet<>();
    jobs.forEach(path -> streams.add(Definitions.streamOf(path)));
    return streams;
  }

  /** On what it rests, as the end of a sentence. */
  public String inWords() {
    return "rests on "
        + count(jobs.size(), "job")
        + " in "
        + count(streams().size(), "stream")
        + (watches.isEmpty() ? "" : " and the files of " + String.join(", ", watches))
        + (cutOff.isEmpty()
            ? ""
            : "; left out: "
                + String.join(", ", cutOff.stream().limit(MOST_NAMED).toList())
                + (cutOff.size() > MOST_NAMED
                    ? " and " + (cutOff.size() - MOST_NAMED) + " more"
                    : ""));
  }

  private static String count(int n, String what) {
    return n + " " + what + (n == 1 ? "" : "s");
  }

  /** Whether a cut names a job: itself, or a stream or step that it is in. */
  public static boolean names(String cut, String path) {
    return path.equals(cut) || path.startsWith(cut + "/");
  }

  /** The end jobs that a name means: a job, or all jobs of a stream. */
  static List<String> endsOf(Definitions all, String of) {
    if (all.job(of).isPresent()) {
      return List.of(of);
    }
    return all.stream(of).map(Lineage::jobsOf).orElse(List.of());
  }

  private static List<String> jobsOf(Stream stream) {
    return stream.jobs().stream().map(stream::pathOf).toList();
  }

  /** One walk against the direction of work. */
  private static final class Walk {
    private final Definitions all;
    private final List<String> cuts;
    private final Set<String> jobs = new LinkedHashSet<>();
    private final Set<String> sameDate = new LinkedHashSet<>();
    private final Set<String> watches = new TreeSet<>();
    private final Deque<String> open = new ArrayDeque<>();

    Walk(Definitions all, List<String> cuts) {
      this.all = all;
      this.cuts = cuts;
    }

    Lineage from(String of) {
      List<String> ends = endsOf(all, of);
      ends.forEach(this::reachSameDate);
      walk();
      return new Lineage(ends, Collections.unmodifiableSet(jobs), earlier(), watches, Set.of());
    }

    private Set<String> earlier() {
      Set<String> earlier = new LinkedHashSet<>(jobs);
      earlier.removeAll(sameDate);
      return earlier;
    }

    private void reachSameDate(String path) {
      boolean isNew = isIn(path) && sameDate.add(path);
      if (isNew) {
        jobs.add(path);
        open.add(
            path); // again, where it was found of an earlier date: what it needs is of this one
      }
    }

    private void reachEarlier(String path) {
      if (isIn(path) && jobs.add(path)) {
        open.add(path);
      }
    }

    private boolean isIn(String path) {
      return cuts.stream().noneMatch(cut -> names(cut, path)) && all.job(path).isPresent();
    }

    private void walk() {
      while (!open.isEmpty()) {
        String path = open.poll();
        Job job = all.job(path).orElseThrow();
        String stream = Definitions.streamOf(path);
        boolean same = sameDate.contains(path);
        for (String next : Waits.waitedFor(all, stream, job)) {
          if (same) {
            reachSameDate(next);
          } else {
            reachEarlier(next);
          }
        }
        for (Prerequisite asks : job.asks()) {
          asks.files().forEach(file -> watches.add(file.watch()));
          for (Prerequisite.Target target : asks.targets()) {
            if (!target.isSameDate()) {
              Waits.jobsOf(all, stream, target).forEach(this::reachEarlier);
            }
          }
        }
        Optional<Stream> top = all.topOf(path);
        top.flatMap(Stream::startsOn).ifPresent(on -> watches.add(on.watch()));
      }
    }
  }
}

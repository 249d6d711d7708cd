package dev.purser.service.history;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.History.DatedFile;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.run.RunRecords;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** The last durations of every job that succeeded, at hand for outlooks and alerts. */
@Component
public class DurationHistory {
  private static final int KEPT = 50;
  private static final int ENOUGH = 5;

  /** Of more failures that stand at once it is not kept how long they stand. */
  private static final int MOST_FAILED = 10_000;

  private static final long LEAST_LONG_MILLIS = 60_000;
  private static final Duration LOOK_BACK = Duration.ofDays(120);

  private final RunRecords runs;
  private final KeptHistory kept;
  private final Clock clock;
  private final Map<String, Deque<Long>> durations = new ConcurrentHashMap<>();
  private final Map<String, Deque<Long>> recoveries = new ConcurrentHashMap<>();
  private final Map<RunReference, Long> failedSince = new ConcurrentHashMap<>();
  private final Map<String, Map<String, String>> values = new ConcurrentHashMap<>();

  DurationHistory(RunRecords runs, KeptHistory kept, Clock clock) {
    this.runs = runs;
    this.kept = kept;
    this.clock = clock;
  }

  /** Reads the records anew. */
  public void load() {
    durations.clear();
    recoveries.clear();
    failedSince.clear();
    values.clear();
    Instant from = kept.until().orElse(clock.instant().minus(LOOK_BACK));
    runs.durations(from).forEach((path, all) -> durations.put(path, newest(all)));
    kept.all()
        .forEach(
            (path, all) -> {
              addLast(durations, path, all.durations());
              addLast(recoveries, path, all.recoveries());
            });
    values.putAll(runs.lastValues(clock.instant().minus(LOOK_BACK)));
  }

  /** Puts what is known on record, so that it stays when the runs go, and is there at once. */
  public void keep() {
    kept.put(durations(), all(recoveries), clock.instant());
  }

  private static void addLast(Map<String, Deque<Long>> to, String path, List<Long> older) {
    if (!older.isEmpty()) {
      Deque<Long> known = to.computeIfAbsent(path, any -> new ArrayDeque<>());
      older.stream().limit(Math.max(0, KEPT - known.size())).forEach(known::addLast);
    }
  }

  private static Deque<Long> newest(List<Long> all) {
    return new ArrayDeque<>(all.subList(0, Math.min(KEPT, all.size())));
  }

  /** Takes in how a run stands; only a fresh success counts. */
  public void take(RunReference run, RunStatus status) {
    if (status.state() == RunState.SUCCEEDED && !status.values().isEmpty()) {
      values.put(run.path(), status.values());
    }
    if (status.state() == RunState.SUCCEEDED && status.started() > 0) {
      addFirst(durations, run.path(), status.ended() - status.started());
    }
    recovered(run, status);
  }

  /** A failure ends when a person has the run go on, or says that it is well as it is. */
  private void recovered(RunReference run, RunStatus status) {
    if (status.state() == RunState.FAILED) {
      if (failedSince.size() < MOST_FAILED) {
        failedSince.putIfAbsent(run, status.since());
      }
    } else {
      Long since = failedSince.remove(run);
      if (since != null) {
        addFirst(recoveries, run.path(), Math.max(0, status.since() - since));
      }
    }
  }

  /**
   * Streams go by other names.
   *
   * @param paths old ones with new ones
   */
  public void renamed(Map<String, String> paths) {
    paths.forEach(
        (from, to) -> {
          move(durations, from, to);
          move(recoveries, from, to);
          move(values, from, to);
        });
    failedSince.clear(); // of what has failed just now it is not kept how long that stands
  }

  private static <T> void move(Map<String, T> all, String from, String to) {
    for (String path : List.copyOf(all.keySet())) {
      if (path.lastIndexOf('/') == from.length() && path.startsWith(from)) {
        all.put(to + path.substring(from.length()), all.remove(path));
      }
    }
  }

  private static void addFirst(Map<String, Deque<Long>> to, String path, long millis) {
    Deque<Long> all = to.computeIfAbsent(path, any -> new ArrayDeque<>());
    synchronized (all) {
      all.addFirst(millis);
      if (all.size() > KEPT) {
        all.removeLast();
      }
    }
  }

  /**
   * The upper end of a job's history: the longest of its last successes, at least a minute; 0 where
   * there are fewer than five.
   */
  public long longest(String path) {
    long[] all = of(path);
    long longest = LEAST_LONG_MILLIS;
    for (long one : all) {
      longest = Math.max(longest, one);
    }
    return all.length < ENOUGH ? 0 : longest;
  }

  /**
   * How long a run takes that takes longer than a share of a job's last successes; 0 where there
   * are fewer than five.
   *
   * @param percent 1 to 99
   */
  public long longerThan(String path, int percent) {
    return share(of(path), percent);
  }

  static long share(long[] all, int percent) {
    Arrays.sort(all);
    return all.length < ENOUGH ? 0 : all[(all.length * percent - 1) / 100];
  }

  /** How long a job usually takes: the middle of its last successes; 0 where there are few. */
  public long usual(String path) {
    long[] all = of(path);
    Arrays.sort(all);
    return all.length < ENOUGH ? 0 : all[all.length / 2];
  }

  private long[] of(String path) {
    return of(durations.get(path));
  }

  private static long[] of(Deque<Long> all) {
    if (all == null) {
      return new long[0];
    }
    synchronized (all) {
      return all.stream().mapToLong(Long::longValue).toArray();
    }
  }

  /** All durations by job, in milliseconds. */
  public Map<String, long[]> durations() {
    return all(durations);
  }

  private static Map<String, long[]> all(Map<String, Deque<Long>> some) {
    Map<String, long[]> found = new HashMap<>();
    some.forEach((path, all) -> found.put(path, of(all)));
    return found;
  }

  /** All that is known, together with what is known of files. */
  public History with(Map<String, FileTimes> times, Set<DatedFile> come, Set<DatedFile> overdue) {
    return new History(durations(), all(recoveries), values(), times, come, overdue);
  }

  /** What each job handed back last, by job and name. */
  public Map<String, Map<String, String>> values() {
    return Map.copyOf(values);
  }
}

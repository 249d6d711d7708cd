package dev.purser.service.history;

import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.run.RunRecords;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** The last durations of every job that succeeded, at hand for outlooks and alerts. */
@Component
public class DurationHistory {
  private static final int KEPT = 50;
  private static final int ENOUGH = 5;
  private static final long LEAST_LONG_MILLIS = 60_000;
  private static final Duration LOOK_BACK = Duration.ofDays(120);

  private final RunRecords runs;
  private final KeptHistory kept;
  private final Clock clock;
  private final Map<String, Deque<Long>> durations = new ConcurrentHashMap<>();
  private final Map<String, Map<String, String>> values = new ConcurrentHashMap<>();

  DurationHistory(RunRecords runs, KeptHistory kept, Clock clock) {
    this.runs = runs;
    this.kept = kept;
    this.clock = clock;
  }

  /** Reads the records anew. */
  public void load() {
    durations.clear();
    values.clear();
    Instant from = kept.until().orElse(clock.instant().minus(LOOK_BACK));
    runs.durations(from).forEach((path, all) -> durations.put(path, newest(all)));
    kept.all()
        .forEach(
            (path, all) -> {
              Deque<Long> known = durations.computeIfAbsent(path, any -> new ArrayDeque<>());
              all.stream().limit(KEPT - known.size()).forEach(known::addLast);
            });
    values.putAll(runs.lastValues(clock.instant().minus(LOOK_BACK)));
  }

  /** Puts what is known on record, so that it stays when the runs go, and is there at once. */
  public void keep() {
    kept.put(durations(), clock.instant());
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
      Deque<Long> all = durations.computeIfAbsent(run.path(), path -> new ArrayDeque<>());
      synchronized (all) {
        all.addFirst(status.ended() - status.started());
        if (all.size() > KEPT) {
          all.removeLast();
        }
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

  private long[] of(String path) {
    Deque<Long> all = durations.get(path);
    if (all == null) {
      return new long[0];
    }
    synchronized (all) {
      return all.stream().mapToLong(Long::longValue).toArray();
    }
  }

  /** All durations by job, in milliseconds. */
  public Map<String, long[]> durations() {
    Map<String, long[]> found = new HashMap<>();
    durations.keySet().forEach(path -> found.put(path, of(path)));
    return found;
  }

  /** What each job handed back last, by job and name. */
  public Map<String, Map<String, String>> values() {
    return Map.copyOf(values);
  }
}

package dev.purser.core.forecast;

import dev.purser.core.board.BoardView;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.util.Arrays;

/** What the samples say of one run. */
final class RunGathered {
  private static final RunState[] STATES = RunState.values();

  private final BoardView board;
  private final RunSpec run;
  private final int[] counts = new int[STATES.length];
  private final long[] starts;
  private final long[] ends;
  private final int[] hosts;
  private final long by;
  private int started;
  private int ended;
  private int samples;
  private int placed;
  private int late;

  /**
   * Begins.
   *
   * @param board one that knows the hosts by their numbers
   * @param most how many samples there are at the most
   */
  RunGathered(BoardView board, RunSpec run, int most) {
    this.board = board;
    this.run = run;
    starts = new long[most];
    ends = new long[most];
    by = run.run().finishBy().map(at -> at.toEpochMilli()).orElse(Long.MAX_VALUE);
    hosts = new int[most];
  }

  /**
   * Takes in a sample.
   *
   * @param start when it began first, 0 where it did not
   * @param end when it ended, 0 where it did not
   */
  void add(RunState state, long start, long end) {
    counts[state.ordinal()]++;
    samples++;
    if (start > 0) {
      starts[started++] = start;
    }
    if (end > 0) {
      ends[ended++] = end;
    }
    boolean done =
        state == RunState.SUCCEEDED || state == RunState.SKIPPED || state == RunState.CANCELLED;
    late += by < Long.MAX_VALUE && (!done || end > by) ? 1 : 0;
  }

  /** It was on a host in one of the samples, as a number. */
  void wasOn(int host) {
    hosts[placed++] = host;
  }

  /** Where most samples end it only after a time, nobody can say when it ends. */
  void forgetEndsUnlessBefore(long time) {
    if (Arrays.stream(ends).limit(ended).filter(end -> end < time).count() * 2 < samples) {
      ended = 0;
    }
  }

  RunOutlook outlook(RunState stands, RunOutlook.HangsOn hangsOn, long now) {
    boolean hangs = hangsOn != RunOutlook.HangsOn.NOTHING;
    boolean nobodyCanSay = hangs && ended * 2 < samples;
    boolean missed = run.run().finishBy().filter(by -> by.toEpochMilli() < now).isPresent();
    double unknown = run.run().finishBy().isEmpty() ? 0 : missed ? 1 : Double.NaN;
    Arrays.sort(starts, 0, started);
    Arrays.sort(ends, 0, nobodyCanSay ? 0 : ended);
    return new RunOutlook(
        run,
        nobodyCanSay ? stands : mostly(),
        nobodyCanSay ? "" : host(),
        at(starts, started, 0.5),
        at(starts, started, 0.1),
        at(starts, started, 0.9),
        nobodyCanSay ? 0 : at(ends, ended, 0.5),
        nobodyCanSay ? 0 : at(ends, ended, 0.1),
        nobodyCanSay ? 0 : at(ends, ended, 0.9),
        nobodyCanSay ? unknown : (double) late / samples,
        nobodyCanSay ? 0 : (double) counts[RunState.FAILED.ordinal()] / samples,
        nobodyCanSay ? hangsOn : RunOutlook.HangsOn.NOTHING,
        hangs && !nobodyCanSay,
        samples);
  }

  private RunState mostly() {
    int mostly = 0;
    for (int i = 1; i < counts.length; i++) {
      mostly = counts[i] > counts[mostly] ? i : mostly;
    }
    return STATES[mostly];
  }

  /** Where most samples have it; of several the last by name. */
  private String host() {
    Arrays.sort(hosts, 0, placed);
    String best = "";
    int most = 0;
    for (int from = 0; from < placed; ) {
      int to = from;
      while (to < placed && hosts[to] == hosts[from]) {
        to++;
      }
      if (to - from >= most) {
        String name = board.hostName(hosts[from]);
        if (to - from > most || name.compareTo(best) > 0) {
          best = name;
          most = to - from;
        }
      }
      from = to;
    }
    return best;
  }

  /** The nearest-rank percentile; 0 where fewer than half of the samples have a value. */
  private long at(long[] sorted, int length, double share) {
    return length * 2 < samples ? 0 : Percentile.of(sorted, length, share);
  }
}

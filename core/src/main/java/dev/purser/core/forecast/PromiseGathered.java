package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.commitment.Promised;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/** What the samples say of one promise. */
final class PromiseGathered {
  private final Promised promised;
  private final Board board;
  private final List<RunSpec> ends = new ArrayList<>();
  private final long[] starts;
  private final long[] done;
  private final byte[] played;

  /** One way to have been played in a sample: whether an end run failed. */
  private static final byte WELL = 1;

  private static final byte FAILED = 2;

  /**
   * Begins.
   *
   * @param runs the runs of the board, by reference
   * @param samples how many there may be
   */
  PromiseGathered(Board board, Map<RunReference, RunSpec> runs, Promised promised, int samples) {
    this.promised = promised;
    this.board = board;
    this.starts = new long[samples];
    this.done = new long[samples];
    this.played = new byte[samples];
    for (RunReference end : promised.ends()) {
      if (runs.containsKey(end)) {
        ends.add(runs.get(end));
      }
    }
  }

  Promised promised() {
    return promised;
  }

  /** Its end runs that are on the board. */
  List<RunSpec> ends() {
    return ends;
  }

  /** Takes in a sample, which has a place of its own; taken in again, it counts once. */
  void add(Rehearsal rehearsal, int sample) {
    long start = Long.MAX_VALUE;
    boolean fails = false;
    for (RunSpec run : ends) {
      long first = rehearsal.firstStart(run.id());
      first = first > 0 ? first : rehearsal.board().status(run.id()).orElseThrow().started();
      start = first > 0 ? Math.min(start, first) : start;
      fails |= rehearsal.board().state(run.id()).orElseThrow() == RunState.FAILED;
    }
    starts[sample] = start < Long.MAX_VALUE ? start : 0;
    done[sample] = end(rehearsal.board());
    played[sample] = fails ? FAILED : WELL;
  }

  /**
   * Whether more samples may say something else: not where it is over, nor where all ends lie
   * farther from what is promised than twice their range.
   */
  boolean isUncertain() {
    if (end(board) > 0 || promised.by().isEmpty()) {
      return end(board) == 0;
    }
    long[] known = known(done);
    if (known.length < samples()) {
      return true;
    }
    long first = known[0];
    long last = known[known.length - 1];
    long range = Math.max(1, last - first);
    return last + 2 * range > by() && first - 2 * range < by();
  }

  private int samples() {
    int n = 0;
    for (byte one : played) {
      n += one > 0 ? 1 : 0;
    }
    return n;
  }

  private static long[] known(long[] times) {
    return Arrays.stream(times).filter(time -> time > 0).sorted().toArray();
  }

  private long by() {
    return promised.by().map(Instant::toEpochMilli).orElse(Long.MAX_VALUE);
  }

  /** When all end runs were done; 0 where one is not. */
  private long end(Board played) {
    long last = 0;
    for (RunSpec run : ends) {
      RunStatus status = played.status(run.id()).orElseThrow();
      boolean isDone = status.state() == RunState.SUCCEEDED || status.state() == RunState.SKIPPED;
      if (!isDone) {
        return 0;
      }
      last = Math.max(last, status.ended());
    }
    return last;
  }

  PromiseOutlook outlook(Map<Long, RunOutlook> runs, long now) {
    int samples = samples();
    long[] started = known(starts);
    long[] ended = known(done);
    int failed = 0;
    int late = 0;
    for (int i = 0; i < played.length; i++) {
      failed += played[i] == FAILED ? 1 : 0;
      late += played[i] > 0 && (done[i] == 0 || done[i] > by()) ? 1 : 0;
    }
    long already = end(board);
    RunOutlook.HangsOn hangsOn = RunOutlook.HangsOn.NOTHING;
    boolean ifAnswered = false;
    boolean anyEnd = true;
    for (RunSpec run : ends) {
      RunOutlook outlook = runs.get(run.id());
      if (outlook != null) {
        hangsOn = outlook.hangsOn() == RunOutlook.HangsOn.NOTHING ? hangsOn : outlook.hangsOn();
        ifAnswered |= outlook.ifAnswered();
        anyEnd &= outlook.end() > 0;
      } else if (board.state(run.id()).filter(state -> state == RunState.FAILED).isPresent()) {
        boolean mended = ended.length * 2 >= samples;
        ifAnswered |= mended;
        hangsOn = mended ? hangsOn : RunOutlook.HangsOn.PERSON;
      }
    }
    boolean known = ended.length * 2 >= samples && anyEnd && hangsOn == RunOutlook.HangsOn.NOTHING;
    boolean past = already == 0 && by() < now;
    double chance = (double) late / Math.max(1, samples);
    if (hangsOn != RunOutlook.HangsOn.NOTHING) {
      chance = past ? 1 : Double.NaN;
    }
    return new PromiseOutlook(
        promised,
        standing(already, past, hangsOn),
        at(started, samples, 0.5),
        at(started, samples, 0.1),
        at(started, samples, 0.9),
        known ? Percentile.of(ended, ended.length, 0.5) : 0,
        known ? Percentile.of(ended, ended.length, 0.1) : 0,
        known ? Percentile.of(ended, ended.length, 0.9) : 0,
        promised.by().isEmpty() ? 0 : chance,
        (double) failed / Math.max(1, samples),
        hangsOn,
        ifAnswered,
        samples);
  }

  private PromiseOutlook.Standing standing(long already, boolean past, RunOutlook.HangsOn hangsOn) {
    if (already > 0) {
      return already <= by() ? PromiseOutlook.Standing.KEPT : PromiseOutlook.Standing.MISSED;
    }
    if (hangsOn != RunOutlook.HangsOn.NOTHING) {
      return PromiseOutlook.Standing.STALLED;
    }
    return past ? PromiseOutlook.Standing.LATE : PromiseOutlook.Standing.OPEN;
  }

  private static long at(long[] sorted, int samples, double share) {
    return sorted.length * 2 < samples ? 0 : Percentile.of(sorted, sorted.length, share);
  }
}

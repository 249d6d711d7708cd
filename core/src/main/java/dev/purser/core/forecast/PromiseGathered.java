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
  private int started;
  private int ended;
  private int failed;
  private int late;
  private int samples;

  /**
   * Begins.
   *
   * @param runs the runs of the board, by reference
   */
  PromiseGathered(Board board, Map<RunReference, RunSpec> runs, Promised promised, int samples) {
    this.promised = promised;
    this.board = board;
    this.starts = new long[samples];
    this.done = new long[samples];
    for (RunReference end : promised.ends()) {
      if (runs.containsKey(end)) {
        ends.add(runs.get(end));
      }
    }
  }

  void add(Rehearsal rehearsal) {
    samples++;
    long start = Long.MAX_VALUE;
    for (RunSpec run : ends) {
      long first = rehearsal.firstStart(run.id());
      first = first > 0 ? first : rehearsal.board().status(run.id()).orElseThrow().started();
      start = first > 0 ? Math.min(start, first) : start;
    }
    if (start < Long.MAX_VALUE) {
      starts[started++] = start;
    }
    long end = end(rehearsal.board());
    if (end > 0) {
      done[ended++] = end;
    }
    boolean fails =
        ends.stream()
            .anyMatch(run -> rehearsal.board().state(run.id()).orElseThrow() == RunState.FAILED);
    failed += fails ? 1 : 0;
    late += end == 0 || end > by() ? 1 : 0;
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
    Arrays.sort(starts, 0, started);
    Arrays.sort(done, 0, ended);
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
        boolean mended = ended * 2 >= samples;
        ifAnswered |= mended;
        hangsOn = mended ? hangsOn : RunOutlook.HangsOn.PERSON;
      }
    }
    boolean known = ended * 2 >= samples && anyEnd && hangsOn == RunOutlook.HangsOn.NOTHING;
    boolean past = already == 0 && by() < now;
    double chance = (double) late / Math.max(1, samples);
    if (hangsOn != RunOutlook.HangsOn.NOTHING) {
      chance = past ? 1 : Double.NaN;
    }
    return new PromiseOutlook(
        promised,
        standing(already, past, hangsOn),
        startAt(0.5),
        startAt(0.1),
        startAt(0.9),
        known ? Percentile.of(done, ended, 0.5) : 0,
        known ? Percentile.of(done, ended, 0.1) : 0,
        known ? Percentile.of(done, ended, 0.9) : 0,
        promised.by().isEmpty() ? 0 : chance,
        (double) failed / Math.max(1, samples),
        hangsOn,
        ifAnswered);
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

  private long startAt(double share) {
    return started * 2 < samples ? 0 : Percentile.of(starts, started, share);
  }
}

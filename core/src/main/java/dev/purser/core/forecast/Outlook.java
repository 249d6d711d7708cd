package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.commitment.Promised;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Approval;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/** Plays copies of a board many times with drawn durations and gathers what came out. */
public final class Outlook {
  private final Board board;
  private final Outcomes outcomes;
  private final long seed;

  /**
   * Prepares an outlook.
   *
   * @param board where the samples begin; it is not changed
   * @param seed the same seed gives the same outlook
   */
  public Outlook(Board board, Outcomes outcomes, long seed) {
    this.board = board;
    this.outcomes = outcomes;
    this.seed = seed;
  }

  /**
   * A board that holds nothing but the given runs, with every host connected.
   *
   * @param runs must not be due before the board's first event
   */
  public static Board boardOf(Definitions definitions, List<RunSpec> runs, Instant at) {
    Board board = new Board();
    long now = at.toEpochMilli();
    board.apply(site(definitions, now));
    for (HostDefinition host : definitions.hosts()) {
      board.apply(new BoardEvent.HostSeen(now, host.name(), host.labels()));
    }
    board.turn(new BoardEvent.RunsPlanned(now, runs));
    return board;
  }

  /**
   * The hosts, groups and capacities of definitions, as an event.
   *
   * @param at epoch milliseconds
   */
  public static BoardEvent.SiteDefined site(Definitions definitions, long at) {
    return new BoardEvent.SiteDefined(
        at,
        List.copyOf(definitions.hosts()),
        List.copyOf(definitions.hostGroups()),
        List.copyOf(definitions.capacities()));
  }

  /**
   * Plays.
   *
   * @param more further runs that are planned but not on the board yet
   * @param samples how often, at least 1
   * @param until epoch milliseconds at which every sample ends
   * @return an outlook for each run that was not ended at the beginning, in the board's order
   */
  public List<RunOutlook> play(List<RunSpec> more, int samples, long until) {
    return play(more, List.of(), samples, until).runs();
  }

  /**
   * What came out.
   *
   * @param runs for each run that was not ended at the beginning, in the board's order
   * @param promises for each promise, in the order in which they were given
   */
  public record Result(List<RunOutlook> runs, List<PromiseOutlook> promises) {}

  /**
   * Plays, and looks at promises as well.
   *
   * @param promised those whose end runs are on the board, or among the further ones
   */
  public Result play(List<RunSpec> more, List<Promised> promised, int samples, long until) {
    Board start = new Board(board);
    if (!more.isEmpty()) {
      start.apply(new BoardEvent.RunsPlanned(start.now(), more));
    }
    List<RunSpec> runs =
        start.runs().stream()
            .filter(run -> !start.status(run.id()).orElseThrow().state().isEnded())
            .toList();
    Map<Long, Gathered> gathered = new HashMap<>();
    runs.forEach(run -> gathered.put(run.id(), new Gathered(samples)));
    Map<RunReference, RunSpec> byReference = new HashMap<>();
    if (!promised.isEmpty()) {
      start.runs().forEach(run -> byReference.put(run.run().reference(), run));
    }
    List<PromiseGathered> kept =
        promised.stream()
            .map(one -> new PromiseGathered(start, byReference, one, samples))
            .toList();
    SplittableRandom random = new SplittableRandom(seed);
    for (int sample = 0; sample < samples; sample++) {
      Rehearsal rehearsal = new Rehearsal(new Board(start), outcomes, random.split());
      rehearsal.assumeActiveAttemptsGoOn();
      rehearsal.apply();
      rehearsal.play(until);
      for (RunSpec run : runs) {
        gathered.get(run.id()).add(rehearsal, run);
      }
      kept.forEach(one -> one.add(rehearsal));
    }
    Board alone = withoutPeople(start, until, random.split());
    List<RunOutlook> found = new ArrayList<>();
    for (RunSpec run : runs) {
      RunState now = start.state(run.id()).orElseThrow();
      Gathered played = gathered.get(run.id());
      long lapsed = lapsed(alone, run);
      RunOutlook.HangsOn hangsOn =
          lapsed > 0 ? RunOutlook.HangsOn.PERSON : hangsOn(alone, run.id());
      if (lapsed > 0 && !played.mostlyEndBefore(lapsed)) {
        played.forgetEnds();
      }
      found.add(played.outlook(run, now, hangsOn, start.now()));
    }
    Map<Long, RunOutlook> byRun = new HashMap<>();
    found.forEach(outlook -> byRun.put(outlook.run().id(), outlook));
    return new Result(found, kept.stream().map(one -> one.outlook(byRun, start.now())).toList());
  }

  /** How far all goes if nobody answers anything: what has not ended then hangs on something. */
  private Board withoutPeople(Board start, long until, SplittableRandom random) {
    Rehearsal rehearsal = new Rehearsal(new Board(start), new WhatIf.Unanswered(outcomes), random);
    rehearsal.assumeActiveAttemptsGoOn();
    rehearsal.apply();
    rehearsal.play(until);
    return rehearsal.board();
  }

  /** When a question lapses if nobody answers it; 0 where it does not, or is none. */
  private static long lapsed(Board alone, RunSpec run) {
    if (!(run.run().job().work() instanceof Approval)) {
      return 0;
    }
    RunStatus status = alone.status(run.id()).orElseThrow();
    return status.state().isEnded() && !status.notNeeded() ? status.ended() : 0;
  }

  private static RunOutlook.HangsOn hangsOn(Board alone, long run) {
    RunState state = alone.state(run).orElse(RunState.PLANNED);
    if (state.isEnded() || state == RunState.PLANNED) {
      return RunOutlook.HangsOn.NOTHING;
    }
    Why why = alone.why(run);
    if (!why.hangsOnPerson()) {
      return RunOutlook.HangsOn.NOTHING;
    }
    return why.hangsOnFilesAlone() ? RunOutlook.HangsOn.FILE : RunOutlook.HangsOn.PERSON;
  }

  /** What the samples say of one run. */
  private static final class Gathered {
    private final long[] starts;
    private final long[] ends;
    private final int[] states = new int[RunState.values().length];
    private final Map<String, Integer> hosts = new HashMap<>();
    private int started;
    private int ended;
    private int late;
    private int samples;

    Gathered(int samples) {
      starts = new long[samples];
      ends = new long[samples];
    }

    void add(Rehearsal rehearsal, RunSpec run) {
      RunStatus status = rehearsal.board().status(run.id()).orElseThrow();
      samples++;
      states[status.state().ordinal()]++;
      hosts.merge(status.where().word(), 1, Integer::sum);
      long start = rehearsal.firstStart(run.id());
      if (start > 0) {
        starts[started++] = start;
      }
      if (status.ended() > 0) {
        ends[ended++] = status.ended();
      }
      boolean done =
          status.state() == RunState.SUCCEEDED
              || status.state() == RunState.SKIPPED
              || status.state() == RunState.CANCELLED;
      boolean missed =
          run.run()
              .finishBy()
              .filter(by -> !done || status.ended() > by.toEpochMilli())
              .isPresent();
      late += missed ? 1 : 0;
    }

    /** Whether most samples end it before a time. */
    boolean mostlyEndBefore(long time) {
      return Arrays.stream(ends).limit(ended).filter(end -> end < time).count() * 2 >= samples;
    }

    /** Nobody can say when it ends. */
    void forgetEnds() {
      ended = 0;
    }

    RunOutlook outlook(RunSpec run, RunState stands, RunOutlook.HangsOn hangsOn, long now) {
      boolean hangs = hangsOn != RunOutlook.HangsOn.NOTHING;
      if (hangs && ended * 2 < samples) {
        Arrays.sort(starts, 0, started);
        boolean missed = run.run().finishBy().filter(by -> by.toEpochMilli() < now).isPresent();
        double chance = run.run().finishBy().isEmpty() ? 0 : missed ? 1 : Double.NaN;
        return new RunOutlook(
            run,
            stands,
            "",
            at(starts, started, 0.5),
            at(starts, started, 0.1),
            at(starts, started, 0.9),
            0,
            0,
            0,
            chance,
            0,
            hangsOn,
            false);
      }
      Arrays.sort(starts, 0, started);
      Arrays.sort(ends, 0, ended);
      int mostly = 0;
      for (int i = 1; i < states.length; i++) {
        mostly = states[i] > states[mostly] ? i : mostly;
      }
      String host =
          hosts.entrySet().stream()
              .max(
                  Map.Entry.<String, Integer>comparingByValue()
                      .thenComparing(Map.Entry.comparingByKey()))
              .map(Map.Entry::getKey)
              .orElse("");
      return new RunOutlook(
          run,
          RunState.values()[mostly],
          host,
          at(starts, started, 0.5),
          at(starts, started, 0.1),
          at(starts, started, 0.9),
          at(ends, ended, 0.5),
          at(ends, ended, 0.1),
          at(ends, ended, 0.9),
          (double) late / samples,
          (double) states[RunState.FAILED.ordinal()] / samples,
          RunOutlook.HangsOn.NOTHING,
          hangs);
    }

    /** The nearest-rank percentile; 0 where fewer than half of the samples have a value. */
    private long at(long[] sorted, int length, double share) {
      return length * 2 < samples ? 0 : Percentile.of(sorted, length, share);
    }
  }
}

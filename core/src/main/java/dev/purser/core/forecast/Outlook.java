package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.board.Scarcity;
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
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.concurrent.atomic.AtomicInteger;

/** Plays copies of a board many times with drawn durations and gathers what came out. */
public final class Outlook {
  private final Board board;
  private final Outcomes outcomes;
  private final long seed;
  private final Crew crew;

  /**
   * Prepares an outlook.
   *
   * @param board where the samples begin; it is not changed
   * @param seed the same seed gives the same outlook
   */
  public Outlook(Board board, Outcomes outcomes, long seed) {
    this(board, outcomes, seed, Crew.ALONE);
  }

  /**
   * Prepares an outlook whose samples are played by several at once; the outcome is the same.
   *
   * @param outcomes may be asked by all of them at once
   */
  public Outlook(Board board, Outcomes outcomes, long seed, Crew crew) {
    this.board = board;
    this.outcomes = outcomes;
    this.seed = seed;
    this.crew = crew;
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
   * How often is played.
   *
   * @param all everything, at least 1
   * @param bearing what can make a difference to a promise of which it is uncertain whether it is
   *     kept; not fewer
   */
  public record Samples(int all, int bearing) {
    /** Everything equally often. */
    public static Samples of(int all) {
      return new Samples(all, all);
    }
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
    return play(more, List.of(), Samples.of(samples), until).runs();
  }

  /** Plays everything equally often, and looks at promises as well. */
  public Result play(List<RunSpec> more, List<Promised> promised, int samples, long until) {
    return play(more, promised, Samples.of(samples), until);
  }

  /**
   * What came out.
   *
   * @param runs for each run that was not ended at the beginning, in the board's order
   * @param promises for each promise, in the order in which they were given
   * @param played how many runs were played in all samples together
   * @param scarcity what was scarce in any sample
   */
  public record Result(
      List<RunOutlook> runs, List<PromiseOutlook> promises, long played, Scarcity scarcity) {}

  /**
   * Plays, and looks at promises as well.
   *
   * @param promised those whose end runs are on the board, or among the further ones
   */
  public Result play(List<RunSpec> more, List<Promised> promised, Samples samples, long until) {
    Board start = new Board(board);
    if (!more.isEmpty()) {
      start.apply(new BoardEvent.RunsPlanned(start.now(), more));
    }
    return play(start, promised, samples, until);
  }

  /**
   * Plays only what can make a difference to some promises, as far as earlier plays have shown what
   * is scarce.
   *
   * @param samples all is played as often as it says of what bears on promises
   * @return outlooks of the runs that bear on them, and of the promises
   */
  public Result playOnly(List<Promised> promised, Scarcity scarcity, Samples samples, long until) {
    Board some = board.only(bearingOn(promised, scarcity));
    Samples often = Samples.of(samples.bearing());
    return play(some, promised, often, until);
  }

  /** The runs that can make a difference to some promises, by id. */
  public Set<Long> bearingOn(List<Promised> promised, Scarcity scarcity) {
    return board.bearingOn(ends(promised, byReference(board)), scarcity);
  }

  private Result play(Board start, List<Promised> promised, Samples samples, long until) {
    Map<RunReference, RunSpec> byReference = promised.isEmpty() ? Map.of() : byReference(start);
    List<PromiseGathered> promises =
        promised.stream()
            .map(one -> new PromiseGathered(start, byReference, one, samples.bearing()))
            .toList();
    Play play = new Play(until, samples.bearing());
    Played all = new Played(samples.all());
    long open = start.runs().stream().filter(run -> isOpen(start, run)).count();
    play.play(start, all, promises, 0, samples.all());
    Board alone = withoutPeople(start, until, play.chanceOfAnother());
    Board part = bearing(start, promises, byReference, play, samples);
    Played more = new Played(samples.bearing() - samples.all());
    long openPart = part.runs().stream().filter(run -> isOpen(part, run)).count();
    if (part.size() > 0) {
      List<PromiseGathered> some = promises.stream().filter(PromiseGathered::isUncertain).toList();
      play.play(part, more, some, samples.all(), samples.bearing());
    }
    List<RunOutlook> found = new ArrayList<>();
    Map<Long, RunOutlook> byRun = new HashMap<>();
    for (RunSpec run : start.runs()) {
      if (isOpen(start, run)) {
        int place = part.indexOf(run.id());
        int most = all.samples() + (place >= 0 ? more.samples() : 0);
        RunGathered gathered = new RunGathered(start, run, most);
        gathered.add(all, start.indexOf(run.id()));
        if (place >= 0) {
          gathered.add(more, place);
        }
        RunOutlook outlook = outlook(gathered, run, start, alone);
        found.add(outlook);
        byRun.put(run.id(), outlook);
      }
    }
    return new Result(
        found,
        promises.stream().map(one -> one.outlook(byRun, start.now())).toList(),
        open * samples.all() + openPart * more.samples(),
        play.scarcity());
  }

  private static boolean isOpen(Board board, RunSpec run) {
    return !board.state(run.id()).orElseThrow().isEnded();
  }

  private static RunOutlook outlook(RunGathered gathered, RunSpec run, Board start, Board alone) {
    long lapsed = lapsed(alone, run);
    if (lapsed > 0) {
      gathered.forgetEndsUnlessBefore(lapsed);
    }
    RunOutlook.HangsOn hangsOn = lapsed > 0 ? RunOutlook.HangsOn.PERSON : hangsOn(alone, run.id());
    return gathered.outlook(start.state(run.id()).orElseThrow(), hangsOn, start.now());
  }

  /** What bears on promises of which it is uncertain whether they are kept; else nothing. */
  private static Board bearing(
      Board start,
      List<PromiseGathered> promises,
      Map<RunReference, RunSpec> byReference,
      Play play,
      Samples samples) {
    List<Promised> uncertain =
        promises.stream()
            .filter(PromiseGathered::isUncertain)
            .map(PromiseGathered::promised)
            .toList();
    boolean enough = samples.bearing() <= samples.all() || uncertain.isEmpty();
    return enough
        ? new Board()
        : start.only(start.bearingOn(ends(uncertain, byReference), play.scarcity()));
  }

  private static Map<RunReference, RunSpec> byReference(Board board) {
    Map<RunReference, RunSpec> runs = new HashMap<>();
    board.runs().forEach(run -> runs.put(run.run().reference(), run));
    return runs;
  }

  private static List<Long> ends(List<Promised> promised, Map<RunReference, RunSpec> byReference) {
    List<Long> ends = new ArrayList<>();
    for (Promised one : promised) {
      for (RunReference end : one.ends()) {
        RunSpec run = byReference.get(end);
        if (run != null) {
          ends.add(run.id());
        }
      }
    }
    return ends;
  }

  /** Samples, several at once; each has its own chance, whatever else is played. */
  private final class Play {
    private final long until;
    private final SplittableRandom[] chances;
    private final SplittableRandom another;
    private final Scarcity scarcity = new Scarcity();

    Play(long until, int samples) {
      this.until = until;
      SplittableRandom random = new SplittableRandom(seed);
      chances = new SplittableRandom[samples];
      for (int i = 0; i < samples; i++) {
        chances[i] = random.split();
      }
      another = random.split();
    }

    SplittableRandom chanceOfAnother() {
      return another;
    }

    /** What was scarce in any sample until now. */
    Scarcity scarcity() {
      return scarcity;
    }

    /**
     * Plays samples from one number to before another.
     *
     * @param played takes in how they came out, the first in its first place
     */
    void play(Board start, Played played, List<PromiseGathered> promises, int from, int to) {
      AtomicInteger next = new AtomicInteger(from);
      long[] things = Draws.things(start);
      List<RunSpec> begun = Rehearsal.begun(start);
      Runnable some =
          () -> {
            Board own = copy(start);
            own.forgetScarcity();
            for (int i = next.getAndIncrement(); i < to; i = next.getAndIncrement()) {
              Rehearsal rehearsal = new Rehearsal(new Board(own), outcomes, chances[i]);
              rehearsal.beOneOfMany(things);
              rehearsal.assumeActiveAttemptsGoOn(begun);
              rehearsal.apply();
              rehearsal.play(until);
              played.add(rehearsal, i - from);
              for (PromiseGathered promise : promises) {
                promise.add(rehearsal, i);
              }
              rehearsal.board().noteScarcity(scarcity);
            }
          };
      crew.work(some);
    }

    private Board copy(Board start) {
      synchronized (start) { // a copy notes in the original that it is shared
        return new Board(start);
      }
    }
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
}

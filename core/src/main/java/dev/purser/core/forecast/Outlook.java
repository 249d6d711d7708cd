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

/** Plays copies of a board many times with drawn durations and gathers what came out. */
public final class Outlook {
  private final Board board;
  private final Outcomes outcomes;
  private final long seed;
  private final Crew crew;
  private final Division.Sizes sizes;

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
   * @param outcomes may be asked by all of them at once, and what they assume in a sample too
   */
  public Outlook(Board board, Outcomes outcomes, long seed, Crew crew) {
    this(board, outcomes, seed, crew, Division.Sizes.USUAL);
  }

  /** The same with a say in how large boards are divided; the outcome is the same. */
  Outlook(Board board, Outcomes outcomes, long seed, Crew crew, Division.Sizes sizes) {
    this.sizes = sizes;
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
   * @param played how many runs were played in all samples together, with those that had ended
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
    SplittableRandom random = new SplittableRandom(seed);
    List<Sample> drawn = new ArrayList<>();
    for (int i = 0; i < samples.bearing(); i++) {
      drawn.add(Sample.of(outcomes, random.split()));
    }
    Play play = new Play(drawn, outcomes.planned(), until, crew, sizes);
    PlayedBoard all = play.all(start, promises, 0, samples.all());
    Board alone = withoutPeople(start, until, random.split());
    Board part = bearing(start, promises, byReference, play, samples);
    List<PromiseGathered> some = promises.stream().filter(PromiseGathered::isUncertain).toList();
    PlayedBoard more = play.some(part, some, samples.all(), samples.bearing());
    List<RunOutlook> found = new ArrayList<>();
    Map<Long, RunOutlook> byRun = new HashMap<>();
    for (RunSpec run : start.runs()) {
      if (isOpen(start, run)) {
        int place = part.indexOf(run.id());
        RunGathered gathered =
            new RunGathered(start, run, all.samples() + (place >= 0 ? more.samples() : 0));
        all.gather(gathered, start.indexOf(run.id()));
        if (place >= 0) {
          more.gather(gathered, place);
        }
        RunOutlook outlook = outlook(gathered, run, start, alone);
        found.add(outlook);
        byRun.put(run.id(), outlook);
      }
    }
    return new Result(
        found,
        promises.stream().map(one -> one.outlook(byRun, start.now())).toList(),
        all.runs() + more.runs(),
        play.scarcity());
  }

  static boolean isOpen(Board board, RunSpec run) {
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

package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.board.Enough;
import dev.purser.core.board.Scarcity;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;

/** Plays samples of boards, several at once. */
final class Play {
  /** Percent of what there is: what is short in a play of all would be in most others. */
  private static final int ALL = 100;

  /** Percent of what there is: if more is held, less than a fifth is left. */
  private static final int NEARLY_ALL = 80;

  private final List<Sample> samples;
  private final long until;
  private final Crew crew;
  private final Division.Sizes sizes;
  private final Optional<Set<String>> mayClose;
  private final Scarcity scarcity = new Scarcity();

  /**
   * Prepares.
   *
   * @param samples by their numbers; all assume that the same is planned
   * @param until epoch milliseconds at which every sample ends
   * @param planned what people have planned to happen
   */
  Play(
      List<Sample> samples, List<BoardEvent> planned, long until, Crew crew, Division.Sizes sizes) {
    this.samples = samples;
    this.until = until;
    this.crew = crew;
    this.sizes = sizes;
    this.mayClose = mayClose(planned);
  }

  /** The hosts that are planned to take no work for a while; empty where more is planned. */
  private static Optional<Set<String>> mayClose(List<BoardEvent> planned) {
    Set<String> hosts = new HashSet<>();
    for (BoardEvent event : planned) {
      if (event instanceof BoardEvent.HostDrained drained) {
        hosts.add(drained.host());
      } else if (!(event instanceof BoardEvent.HostReturned)) {
        return Optional.empty();
      }
    }
    return Optional.of(hosts);
  }

  /** What was scarce in any sample until now. */
  Scarcity scarcity() {
    return scarcity;
  }

  /**
   * Plays a board on which everything is. Where it is large, a few samples are played as a whole,
   * and the rest in parts. Those of them in which something may have run short are played again, as
   * a whole.
   *
   * @param from the number of the first sample
   * @param to the number after the last
   */
  PlayedBoard all(Board start, List<PromiseGathered> promises, int from, int to) {
    PlayedBoard played = new PlayedBoard(start, from, to);
    boolean isWhole = start.size() < sizes.from() || mayClose.isEmpty();
    int apart = isWhole ? to : Math.min(to, from + sizes.whole());
    whole(start, promises, IntStream.range(from, apart), played);
    if (apart < to) {
      whereShort(judge(start, ALL), start, from, apart, played); // which notes what is scarce
      Enough enough = judge(start, NEARLY_ALL);
      boolean isDivided = inParts(start, promises, apart, to, played);
      IntStream again =
          isDivided ? whereShort(enough, start, apart, to, played) : IntStream.range(apart, to);
      whole(start, promises, again, played);
    }
    return played;
  }

  /** Plays what is left of a board, by what plays of all of it have shown to be scarce. */
  PlayedBoard some(Board part, List<PromiseGathered> promises, int from, int to) {
    PlayedBoard played = new PlayedBoard(part, from, to);
    if (!inParts(part, promises, from, to, played)) {
      whole(part, promises, IntStream.range(from, to), played);
    }
    return played;
  }

  /** Judges what is not known to be scarce now. */
  private Enough judge(Board start, int plenty) {
    return start.enough(scarcity, mayClose.orElseThrow(), plenty);
  }

  private void whole(
      Board start, List<PromiseGathered> promises, IntStream which, PlayedBoard played) {
    int[] numbers = which.toArray();
    if (numbers.length == 0 || start.size() == 0) {
      return;
    }
    long[] things = Draws.things(start);
    List<RunSpec> begun = Rehearsal.begun(start);
    AtomicInteger next = new AtomicInteger();
    crew.work(
        () -> {
          Board own = copy(start);
          own.forgetScarcity();
          for (int i = next.getAndIncrement(); i < numbers.length; i = next.getAndIncrement()) {
            Rehearsal rehearsal = play(own, numbers[i], things, begun);
            played.add(rehearsal, numbers[i]);
            for (PromiseGathered promise : promises) {
              promise.add(rehearsal, numbers[i]);
            }
          }
        });
  }

  private Board copy(Board start) {
    synchronized (start) { // a copy notes in the original that it is shared
      return new Board(start);
    }
  }

  private Rehearsal play(Board start, int sample, long[] things, List<RunSpec> begun) {
    Rehearsal rehearsal = new Rehearsal(new Board(start), samples.get(sample));
    rehearsal.beOneOfMany(things);
    rehearsal.assumeActiveAttemptsGoOn(begun);
    rehearsal.apply();
    rehearsal.play(until);
    rehearsal.board().noteScarcity(scarcity);
    return rehearsal;
  }

  /** Returns whether that is worth it; else nothing is played. */
  private boolean inParts(
      Board start, List<PromiseGathered> promises, int from, int to, PlayedBoard played) {
    List<Division.Part> parts = Division.of(start, promises, scarcity, sizes);
    AtomicInteger next = new AtomicInteger();
    crew.work(
        () -> {
          for (int i = next.getAndIncrement(); i < parts.size(); i = next.getAndIncrement()) {
            play(start, parts.get(i), from, to, played);
          }
        });
    return !parts.isEmpty();
  }

  private void play(Board start, Division.Part part, int from, int to, PlayedBoard played) {
    Board own = copy(start).only(part.ids());
    own.forgetScarcity();
    long[] things = Draws.things(own);
    List<RunSpec> begun = Rehearsal.begun(own);
    Played some = new Played(to);
    for (int sample = from; sample < to; sample++) {
      Rehearsal rehearsal = play(own, sample, things, begun);
      some.add(rehearsal, sample);
      for (PromiseGathered promise : part.promises()) {
        promise.add(rehearsal, sample);
      }
    }
    played.add(part, own, some);
  }

  /** The samples in which somebody may have lacked what runs of other parts took. */
  private IntStream whereShort(Enough enough, Board start, int from, int to, PlayedBoard played) {
    BoardView.Stand stand = start.stand();
    boolean[] isEnough = new boolean[to];
    AtomicInteger next = new AtomicInteger(from);
    crew.work(
        () -> {
          for (int i = next.getAndIncrement(); i < to; i = next.getAndIncrement()) {
            int sample = i;
            isEnough[i] =
                enough.in(
                    run -> isAtWork(stand, run) ? start.now() : played.start(sample, run),
                    run -> played.state(sample, run).isEnded() ? played.end(sample, run) : until);
          }
        });
    return IntStream.range(from, to).filter(sample -> !isEnough[sample]);
  }

  private static boolean isAtWork(BoardView.Stand stand, int run) {
    return RunState.of(stand.states()[run]).isActive();
  }
}

package dev.purser.bench;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.TypicalOutcomes;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;

/**
 * What an outlook of a day of a hundred thousand runs costs an engine that goes on deciding in the
 * same process: how long its turns take by themselves, and while the outlook is worked out on the
 * cores that are left; and what the engine costs the outlook. Turns come at an even pace, as they
 * do from agents.
 */
final class Beside {
  private static final int TURNS_A_SECOND = 40;
  private static final int ALONE_SECONDS = 30;
  private static final int ROUNDS = 3;

  private Beside() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    Definitions definitions = World.definitions(10_000);
    List<RunSpec> specs = World.specs(definitions);
    Instant begin =
        specs.stream().map(spec -> spec.run().due()).min(Instant::compareTo).orElseThrow();
    Board planned = Outlook.boardOf(definitions, specs, begin.minusSeconds(60));
    Rehearsal day =
        new Rehearsal(
            new Board(planned), new TypicalOutcomes(History.NONE), new SplittableRandom(1));
    day.play(Long.MAX_VALUE - 1);
    List<List<BoardEvent>> turns = turns(day.events());
    Outlooks.Day outlook = Outlooks.day(10_000);
    int threads = Math.max(1, Runtime.getRuntime().availableProcessors() - 1);
    outlook.play(threads);
    for (int round = 0; round < ROUNDS; round++) {
      long until = System.nanoTime() + ALONE_SECONDS * 1_000_000_000L;
      double[] alone = decide(planned, turns, () -> System.nanoTime() < until);
      double seconds = seconds(() -> outlook.play(threads));
      double[] taken = new double[1];
      CompletableFuture<Void> played =
          CompletableFuture.runAsync(
              () -> taken[0] = seconds(() -> outlook.play(threads)),
              task -> new Thread(task).start());
      double[] beside = decide(planned, turns, () -> !played.isDone());
      played.join();
      System.out.printf(
          Locale.ROOT,
          "a turn by itself: p50 %.0f, p99 %.0f us (%d turns); beside an outlook: p50 %.0f, p99"
              + " %.0f us (%d turns), p99 %.2f times; the outlook on %d thread(s): %.1f s by"
              + " itself, %.1f s beside%n",
          at(alone, 0.5),
          at(alone, 0.99),
          alone.length,
          at(beside, 0.5),
          at(beside, 0.99),
          beside.length,
          at(beside, 0.99) / at(alone, 0.99),
          threads,
          seconds,
          taken[0]);
    }
  }

  /** The events of a day, by turns. */
  private static List<List<BoardEvent>> turns(List<BoardEvent> events) {
    List<List<BoardEvent>> turns = new ArrayList<>();
    List<BoardEvent> open = new ArrayList<>();
    for (BoardEvent event : events) {
      open.add(event);
      if (event instanceof BoardEvent.TurnEnded) {
        turns.add(open);
        open = new ArrayList<>();
      }
    }
    return turns;
  }

  /** Decides turns at an even pace, the day over and over; the microseconds of each, sorted. */
  private static double[] decide(
      Board planned, List<List<BoardEvent>> turns, BooleanSupplier goesOn) {
    double[] taken = new double[0];
    int size = 0;
    long due = System.nanoTime();
    Board board = new Board(planned);
    while (goesOn.getAsBoolean()) {
      if (size > 0 && size % turns.size() == 0) {
        board = new Board(planned);
      }
      due += 1_000_000_000L / TURNS_A_SECOND;
      LockSupport.parkNanos(due - System.nanoTime());
      long start = System.nanoTime();
      turns.get(size % turns.size()).forEach(board::apply);
      double micros = (System.nanoTime() - start) / 1e3;
      taken = size == taken.length ? Arrays.copyOf(taken, 2 * size + 1_000) : taken;
      taken[size++] = micros;
    }
    double[] sorted = Arrays.copyOf(taken, size);
    Arrays.sort(sorted);
    return sorted;
  }

  private static double at(double[] sorted, double part) {
    return sorted[(int) (sorted.length * part)];
  }

  private static double seconds(Runnable work) {
    long begin = System.nanoTime();
    work.run();
    return (System.nanoTime() - begin) / 1e9;
  }
}

package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.SplittableRandom;

/**
 * The chance of one sample: each thing has a source of its own, which follows from the sample and
 * from what it is, and not from what else is drawn.
 */
final class Draws {
  /** For how a failure is mended, beside the attempts, which have their numbers. */
  static final int RECOVERY = -1;

  /** For how a question is answered. */
  static final int ANSWER = -2;

  private final long sample;

  Draws(long sample) {
    this.sample = sample;
  }

  /** A number that follows from what a run is, the same in all samples. */
  static long thing(RunSpec run) {
    RunReference reference = run.run().reference();
    long name = 31L * reference.stream().hashCode() + reference.job().hashCode();
    return mixed(name) + reference.date().toEpochDay() * 1_000_003L + reference.number();
  }

  /** What {@link #thing} says of all runs of a board, by their places in it. */
  static long[] things(Board board) {
    return board.runs().stream().mapToLong(Draws::thing).toArray();
  }

  /** The chance of the file of a watch for a business date. */
  SplittableRandom of(String watch, LocalDate date) {
    return of(mixed(watch.hashCode()) + date.toEpochDay(), 0);
  }

  /**
   * The chance of an attempt of a run, or of something else about it.
   *
   * @param thing of {@link #thing}
   * @param what the number of the attempt, or one of the constants here
   */
  SplittableRandom of(long thing, int what) {
    return new SplittableRandom(mixed(mixed(sample ^ mixed(thing)) + what));
  }

  /** Stafford's mix of 64 bits (variant 13): every bit of the outcome hangs on every bit given. */
  private static long mixed(long bits) {
    long some = (bits ^ bits >>> 30) * 0xbf58476d1ce4e5b9L;
    some = (some ^ some >>> 27) * 0x94d049bb133111ebL;
    return some ^ some >>> 31;
  }
}

package dev.purser.core.board;

import java.util.function.IntToLongFunction;

/** Judges plays of the parts of a board, which could not see each other. */
@FunctionalInterface
public interface Enough {
  /**
   * Whether all runs together had enough units and room, so that they would have come out the same
   * if they had been played at once. Several may ask at once.
   *
   * @param starts when each began first, by its place on the whole board, epoch milliseconds; 0
   *     where it did not
   * @param ends when each was at work no more, epoch milliseconds
   */
  boolean in(IntToLongFunction starts, IntToLongFunction ends);
}

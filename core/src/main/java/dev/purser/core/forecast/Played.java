package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.run.RunState;

/**
 * How the runs of a board came out in samples of it, by their places on the board. Each sample has
 * a place of its own, so that several may be played at once.
 */
final class Played {
  private final BoardView.Stand[] stands;
  private final long[][] starts;

  /**
   * Nothing yet.
   *
   * @param to above the number of every sample
   */
  Played(int to) {
    stands = new BoardView.Stand[to];
    starts = new long[to][];
  }

  /** Takes in how a sample came out. */
  void add(Rehearsal rehearsal, int sample) {
    Board board = rehearsal.board();
    stands[sample] = board.stand();
    starts[sample] = rehearsal.firstStarts();
  }

  /** Whether a sample was played. */
  boolean has(int sample) {
    return stands[sample] != null;
  }

  /** When a run began first, epoch milliseconds; 0 where it did not. */
  long start(int sample, int run) {
    return run < starts[sample].length ? starts[sample][run] : 0;
  }

  /** When a run ended, epoch milliseconds; 0 where it did not. */
  long end(int sample, int run) {
    return stands[sample].ended()[run];
  }

  /** In which state a run was in the end. */
  RunState state(int sample, int run) {
    return RunState.of(stands[sample].states()[run]);
  }

  /** Where a run was, as a number. */
  int host(int sample, int run) {
    return stands[sample].hosts()[run];
  }
}

package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import java.util.function.IntConsumer;

/**
 * How the runs of a board came out in samples of it, by their places on the board. Each sample has
 * a place of its own, so that several may be played at once.
 */
final class Played {
  private final BoardView.Stand[] stands;
  private final long[][] starts;

  Played(int samples) {
    stands = new BoardView.Stand[samples];
    starts = new long[samples][];
  }

  /** Takes in how a sample came out. */
  void add(Rehearsal rehearsal, int sample) {
    Board board = rehearsal.board();
    stands[sample] = board.stand();
    starts[sample] = rehearsal.firstStarts();
  }

  /** Hands the number of each sample that was played to the visitor. */
  void forEachSample(IntConsumer visitor) {
    for (int i = 0; i < stands.length; i++) {
      if (stands[i] != null) {
        visitor.accept(i);
      }
    }
  }

  /** How many samples were played. */
  int samples() {
    int n = 0;
    for (BoardView.Stand stand : stands) {
      n += stand == null ? 0 : 1;
    }
    return n;
  }

  /** When a run began first, epoch milliseconds; 0 where it did not. */
  long start(int sample, int run) {
    return run < starts[sample].length ? starts[sample][run] : 0;
  }

  /** When a run ended, epoch milliseconds; 0 where it did not. */
  long end(int sample, int run) {
    return stands[sample].ended()[run];
  }

  /** In which state a run was in the end, as an ordinal. */
  int state(int sample, int run) {
    return stands[sample].states()[run];
  }

  /** Where a run was, as a number. */
  int host(int sample, int run) {
    return stands[sample].hosts()[run];
  }
}

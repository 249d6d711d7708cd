package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.run.RunState;

/**
 * How the runs of a board came out in samples of it, some of which were played as a whole and
 * others in parts. Several may fill it at once, each with parts or samples of its own.
 */
final class PlayedBoard {
  private final Board board;
  private final int from;
  private final int to;
  private final Played whole;
  private final Played[] parts;
  private final int[] places;
  private long runs;

  /**
   * Nothing yet.
   *
   * @param from the number of the first sample
   * @param to the number after the last
   */
  PlayedBoard(Board board, int from, int to) {
    this.board = board;
    this.from = from;
    this.to = to;
    whole = new Played(to);
    parts = new Played[board.size()];
    places = new int[board.size()];
  }

  /** Takes in a sample of all. */
  void add(Rehearsal rehearsal, int sample) {
    whole.add(rehearsal, sample);
    count(rehearsal.board());
  }

  /** Takes in all samples of a part. */
  void add(Division.Part part, Board own, Played played) {
    for (long run : part.own()) {
      int index = board.indexOf(run);
      parts[index] = played;
      places[index] = own.indexOf(run);
    }
    for (int sample = from; sample < to; sample++) {
      if (played.has(sample)) {
        count(own);
      }
    }
  }

  private synchronized void count(Board one) {
    runs += one.size();
  }

  /** How many runs were played in all samples together, those that had ended before too. */
  synchronized long runs() {
    return runs;
  }

  /** How many samples there are. */
  int samples() {
    return to - from;
  }

  private boolean isWhole(int sample) {
    return whole.has(sample);
  }

  /** When a run began first in a sample, epoch milliseconds; 0 where it did not. */
  long start(int sample, int run) {
    return isWhole(sample) ? whole.start(sample, run) : parts[run].start(sample, places[run]);
  }

  /** When a run ended in a sample, epoch milliseconds; 0 where it did not. */
  long end(int sample, int run) {
    return isWhole(sample) ? whole.end(sample, run) : parts[run].end(sample, places[run]);
  }

  /** In which state a run was in the end of a sample. */
  RunState state(int sample, int run) {
    return isWhole(sample) ? whole.state(sample, run) : parts[run].state(sample, places[run]);
  }

  /** Hands what came out for a run on. */
  void gather(RunGathered gathered, int run) {
    for (int sample = from; sample < to; sample++) {
      gathered.add(state(sample, run), start(sample, run), end(sample, run));
      if (isWhole(sample)) {
        gathered.wasOn(whole.host(sample, run));
      }
    }
  }
}

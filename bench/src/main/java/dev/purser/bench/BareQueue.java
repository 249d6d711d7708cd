package dev.purser.bench;

import dev.purser.core.event.BoardEvent;
import java.util.Arrays;
import java.util.List;

/**
 * What this machine can do at all: the begins and ends of the same day taken from a bare queue over
 * arrays, with no rules. Each begin puts its end into the queue; the state, start and end of its
 * run are written to three arrays. Nothing is decided, allocated or told.
 */
final class BareQueue {
  private final long[] at;
  private final int[] what;
  private int size;

  private BareQueue(int most) {
    at = new long[most];
    what = new int[most];
  }

  /** Plays the begins and ends of a day; returns how many a second. */
  static double eventsPerSecond(List<BoardEvent> events, int runs) {
    long[] begins = new long[runs + 1];
    long[] ends = new long[runs + 1];
    for (BoardEvent event : events) {
      if (event instanceof BoardEvent.AttemptBegan began) {
        begins[(int) began.run()] = began.at();
      } else if (event instanceof BoardEvent.AttemptEnded ended) {
        ends[(int) ended.run()] = ended.at();
      }
    }
    long begun = System.nanoTime();
    long played = play(begins, ends);
    return played / ((System.nanoTime() - begun) / 1e9);
  }

  private static long play(long[] begins, long[] ends) {
    BareQueue queue = new BareQueue(begins.length * 2);
    byte[] states = new byte[begins.length];
    long[] started = new long[begins.length];
    long[] ended = new long[begins.length];
    for (int run = 1; run < begins.length; run++) {
      queue.add(begins[run], run);
    }
    long played = 0;
    while (queue.size > 0) {
      long now = queue.at[0];
      int one = queue.take();
      if (one > 0) {
        states[one] = 1;
        started[one] = now;
        queue.add(ends[one], -one);
      } else {
        states[-one] = 2;
        ended[-one] = now;
      }
      played++;
    }
    if (Arrays.stream(ended).max().orElse(0) == 0 || states[1] != 2 || started[1] == 0) {
      throw new IllegalStateException("nothing was played");
    }
    return played;
  }

  private void add(long when, int one) {
    int hole = size++;
    while (hole > 0 && when < at[(hole - 1) / 2]) {
      at[hole] = at[(hole - 1) / 2];
      what[hole] = what[(hole - 1) / 2];
      hole = (hole - 1) / 2;
    }
    at[hole] = when;
    what[hole] = one;
  }

  private int take() {
    int first = what[0];
    size--;
    long when = at[size];
    int hole = 0;
    while (2 * hole + 1 < size) {
      int child = 2 * hole + 1;
      child += child + 1 < size && at[child + 1] < at[child] ? 1 : 0;
      if (at[child] >= when) {
        break;
      }
      at[hole] = at[child];
      what[hole] = what[child];
      hole = child;
    }
    at[hole] = when;
    what[hole] = what[size];
    return first;
  }
}

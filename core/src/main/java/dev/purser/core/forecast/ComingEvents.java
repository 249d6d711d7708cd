package dev.purser.core.forecast;

import dev.purser.core.event.BoardEvent;
import java.util.Arrays;

/**
 * Things that will happen, earliest first; of those at one time, the one that was put in first: a
 * binary heap over arrays.
 */
final class ComingEvents {
  private long[] at = new long[64];
  private long[] order = new long[64];
  private BoardEvent[] events = new BoardEvent[64];
  private int size;
  private long count;

  /** When the next one happens; {@link Long#MAX_VALUE} for never. */
  long nextAt() {
    return size == 0 ? Long.MAX_VALUE : at[0];
  }

  /** How many have been put in so far; the next one gets this number. */
  long count() {
    return count;
  }

  /** The number of the next one. */
  long nextNumber() {
    return order[0];
  }

  void add(long when, BoardEvent event) {
    if (size == at.length) {
      at = Arrays.copyOf(at, size * 2);
      order = Arrays.copyOf(order, size * 2);
      events = Arrays.copyOf(events, size * 2);
    }
    long number = count++;
    int hole = size++;
    while (hole > 0 && when < at[(hole - 1) / 2]) {
      move((hole - 1) / 2, hole);
      hole = (hole - 1) / 2;
    }
    put(hole, when, number, event);
  }

  BoardEvent take() {
    BoardEvent first = events[0];
    size--;
    long when = at[size];
    long number = order[size];
    BoardEvent event = events[size];
    events[size] = null;
    int hole = 0;
    while (2 * hole + 1 < size) {
      int child = 2 * hole + 1;
      if (child + 1 < size && isBefore(at[child + 1], order[child + 1], child)) {
        child++;
      }
      if (!(at[child] < when || (at[child] == when && order[child] < number))) {
        break;
      }
      move(child, hole);
      hole = child;
    }
    if (size > 0) {
      put(hole, when, number, event);
    }
    return first;
  }

  private boolean isBefore(long when, long number, int other) {
    return when != at[other] ? when < at[other] : number < order[other];
  }

  private void move(int from, int to) {
    at[to] = at[from];
    order[to] = order[from];
    events[to] = events[from];
  }

  private void put(int place, long when, long number, BoardEvent event) {
    at[place] = when;
    order[place] = number;
    events[place] = event;
  }
}

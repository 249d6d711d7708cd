package dev.purser.core.course;

import java.util.Arrays;
import java.util.function.IntConsumer;

/**
 * Runs in {@link Order}, in a sorted array with a free front. Most join at the end and leave at the
 * beginning, which costs nothing; else a part is moved. A run must leave before its place in the
 * order changes.
 */
public final class Line {
  private static final int[] NONE = {};

  private int[] items = NONE;
  private int from;
  private int to;

  Line() {}

  Line(Line other) {
    items = Arrays.copyOfRange(other.items, other.from, other.to);
    to = items.length;
  }

  static Line[] copies(Line[] all, int count) {
    Line[] copies = new Line[count];
    for (int i = 0; i < count; i++) {
      copies[i] = all[i] == null || all[i].isEmpty() ? null : new Line(all[i]);
    }
    return copies;
  }

  /** Whether nobody stands in it. */
  public boolean isEmpty() {
    return from == to;
  }

  /** How many stand in it. */
  public int size() {
    return to - from;
  }

  /** Who stands at a place, from 0. */
  public int get(int place) {
    return items[from + place];
  }

  /** The place of the first who does not come before a run. */
  int placeOf(int run, Order order) {
    int low = from;
    int high = to;
    if (high > low && order.isBefore(items[high - 1], run)) {
      return high - from;
    }
    while (low < high) {
      int middle = (low + high) >>> 1;
      if (order.isBefore(items[middle], run)) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    return low - from;
  }

  /**
   * Who comes right behind a run, whether or not that stands in the line.
   *
   * @return -1 for nobody
   */
  public int behind(int run, Order order) {
    int place = placeOf(run, order);
    if (place < size() && get(place) == run) {
      place++;
    }
    return place < size() ? get(place) : -1;
  }

  /** Whether a run stands in it. */
  public boolean contains(int run, Order order) {
    int place = placeOf(run, order);
    return place < size() && get(place) == run;
  }

  /** Adds a run; returns whether it was not in it. */
  boolean add(int run, Order order) {
    int place = placeOf(run, order);
    if (place < size() && get(place) == run) {
      return false;
    }
    if (to == items.length) {
      int[] more = new int[Math.max(4, size() * 2)];
      System.arraycopy(items, from, more, 0, size());
      to -= from;
      from = 0;
      items = more;
    }
    System.arraycopy(items, from + place, items, from + place + 1, size() - place);
    items[from + place] = run;
    to++;
    return true;
  }

  /** Takes a run out; returns whether it was in it. */
  boolean remove(int run, Order order) {
    int place = placeOf(run, order);
    if (place >= size() || get(place) != run) {
      return false;
    }
    if (place == 0) {
      from++;
    } else {
      System.arraycopy(items, from + place + 1, items, from + place, size() - place - 1);
      to--;
    }
    return true;
  }

  /** Hands each to the visitor, first to last; the line must not change meanwhile. */
  public void forEach(IntConsumer visitor) {
    for (int i = from; i < to; i++) {
      visitor.accept(items[i]);
    }
  }

  /** All of them, first to last. */
  public int[] toArray() {
    return Arrays.copyOfRange(items, from, to);
  }
}

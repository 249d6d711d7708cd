package dev.purser.core.course;

import java.util.Arrays;

/** Indexes that are to be looked at, each once, in the order in which they came: a ring. */
public final class IndexQueue {
  private final Bits inside;
  private int[] ring;
  private int head;
  private int size;

  IndexQueue() {
    inside = new Bits();
    ring = new int[16];
  }

  IndexQueue(IndexQueue other) {
    inside = new Bits(other.inside);
    ring = other.ring.clone();
    head = other.head;
    size = other.size;
  }

  /** Whether there is none. */
  public boolean isEmpty() {
    return size == 0;
  }

  /** Whether one is in. */
  public boolean contains(int index) {
    return inside.get(index);
  }

  /** Puts one at the end, unless it is in already. */
  public void add(int index) {
    if (inside.get(index)) {
      return;
    }
    inside.set(index, true);
    if (size == ring.length) {
      int[] more = Arrays.copyOf(ring, size * 2);
      System.arraycopy(ring, 0, more, size, head); // what had wrapped round comes behind
      ring = more;
    }
    ring[(head + size++) & (ring.length - 1)] = index;
  }

  /** Takes the first. */
  public int take() {
    int first = ring[head];
    head = (head + 1) & (ring.length - 1);
    size--;
    inside.set(first, false);
    return first;
  }

  void clear() {
    head = 0;
    size = 0;
    inside.clear();
  }
}

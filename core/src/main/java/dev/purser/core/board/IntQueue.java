package dev.purser.core.board;

import java.util.Arrays;

/** Indexes that are to be looked at, each once, smallest first: a binary heap. */
final class IntQueue {
  private final Bits inside = new Bits();
  private int[] heap = new int[16];
  private int size;

  boolean isEmpty() {
    return size == 0;
  }

  void add(int index) {
    if (inside.get(index)) {
      return;
    }
    inside.set(index, true);
    if (size == heap.length) {
      heap = Arrays.copyOf(heap, size * 2);
    }
    int at = size++;
    while (at > 0 && heap[(at - 1) / 2] > index) {
      heap[at] = heap[(at - 1) / 2];
      at = (at - 1) / 2;
    }
    heap[at] = index;
  }

  /** Takes the smallest. */
  int take() {
    int smallest = heap[0];
    inside.set(smallest, false);
    int last = heap[--size];
    int at = 0;
    while (true) {
      int child = 2 * at + 1;
      if (child >= size) {
        break;
      }
      if (child + 1 < size && heap[child + 1] < heap[child]) {
        child++;
      }
      if (heap[child] >= last) {
        break;
      }
      heap[at] = heap[child];
      at = child;
    }
    heap[at] = last;
    return smallest;
  }
}

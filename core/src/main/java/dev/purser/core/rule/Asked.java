package dev.purser.core.rule;

import dev.purser.core.course.Bits;
import dev.purser.core.course.Order;
import java.util.Arrays;

/** Runs that are to be asked, each once, in the one order: a binary heap. */
final class Asked {
  private final Order order;
  private final Bits inside = new Bits();
  private int[] heap = new int[16];
  private int size;

  Asked(Order order) {
    this.order = order;
  }

  void add(int run) {
    if (inside.get(run)) {
      return;
    }
    inside.set(run, true);
    if (size == heap.length) {
      heap = Arrays.copyOf(heap, size * 2);
    }
    int at = size++;
    while (at > 0 && order.isBefore(run, heap[(at - 1) / 2])) {
      heap[at] = heap[(at - 1) / 2];
      at = (at - 1) / 2;
    }
    heap[at] = run;
  }

  /** A run is not to be asked after all. It stays in the heap, where it counts no more. */
  void drop(int run) {
    inside.set(run, false);
  }

  /** Takes the one who comes first; -1 where there is none. */
  int take() {
    while (size > 0) {
      int first = takeFirst();
      if (inside.get(first)) {
        inside.set(first, false);
        return first;
      }
    }
    return -1;
  }

  private int takeFirst() {
    int first = heap[0];
    int last = heap[--size];
    int at = 0;
    while (2 * at + 1 < size) {
      int child = 2 * at + 1;
      if (child + 1 < size && order.isBefore(heap[child + 1], heap[child])) {
        child++;
      }
      if (!order.isBefore(heap[child], last)) {
        break;
      }
      heap[at] = heap[child];
      at = child;
    }
    heap[at] = last;
    return first;
  }
}

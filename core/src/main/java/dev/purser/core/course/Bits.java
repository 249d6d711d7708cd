package dev.purser.core.course;

import java.util.Arrays;
import java.util.function.IntConsumer;

/** A set of indexes whose changes cost nothing but the change, however sparse it is. */
public final class Bits {
  private long[] words;

  /** Words outside of these are 0. */
  private int first = Integer.MAX_VALUE;

  private int last = -1;

  /** An empty set. */
  public Bits() {
    words = new long[4];
  }

  Bits(Bits other) {
    words = other.words.clone();
    first = other.first;
    last = other.last;
  }

  /** Whether an index is in the set. */
  public boolean get(int index) {
    return index >> 6 < words.length && (words[index >> 6] & 1L << index) != 0;
  }

  /**
   * Puts an index into the set, or takes it out.
   *
   * @param index 0 or more; the set grows where it must
   */
  public void set(int index, boolean value) {
    if (index >> 6 >= words.length) {
      words = Arrays.copyOf(words, Math.max(words.length * 2, (index >> 6) + 1));
    }
    if (value) {
      first = Math.min(first, index >> 6);
      last = Math.max(last, index >> 6);
      words[index >> 6] |= 1L << index;
    } else {
      words[index >> 6] &= ~(1L << index);
    }
  }

  /** Empties the set. */
  public void clear() {
    if (first <= last) {
      Arrays.fill(words, first, last + 1, 0);
    }
    first = Integer.MAX_VALUE;
    last = -1;
  }

  /** Whether it is empty, for sets that are only added to and emptied as a whole. */
  public boolean isEmpty() {
    return first > last;
  }

  /** Empties the set and hands what was in it to the visitor, smallest first. */
  public void drain(IntConsumer visitor) {
    if (isEmpty()) {
      return;
    }
    int from = first;
    int to = last;
    first = Integer.MAX_VALUE;
    last = -1;
    for (int i = from; i <= to; i++) {
      long word = words[i];
      words[i] = 0;
      for (; word != 0; word &= word - 1) {
        visitor.accept((i << 6) + Long.numberOfTrailingZeros(word));
      }
    }
  }

  /** Hands every index in the set to the visitor, smallest first. */
  public void forEach(IntConsumer visitor) {
    for (int i = first; i <= last; i++) {
      for (long word = words[i]; word != 0; word &= word - 1) {
        visitor.accept((i << 6) + Long.numberOfTrailingZeros(word));
      }
    }
  }
}

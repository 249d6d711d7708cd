package dev.purser.core.board;

import java.util.Arrays;
import java.util.function.IntConsumer;

/** A set of indexes whose changes cost nothing but the change, however sparse it is. */
final class Bits {
  private long[] words;

  Bits() {
    words = new long[4];
  }

  Bits(Bits other) {
    words = other.words.clone();
  }

  boolean get(int index) {
    return index >> 6 < words.length && (words[index >> 6] & 1L << index) != 0;
  }

  void set(int index, boolean value) {
    if (index >> 6 >= words.length) {
      words = Arrays.copyOf(words, Math.max(words.length * 2, (index >> 6) + 1));
    }
    if (value) {
      words[index >> 6] |= 1L << index;
    } else {
      words[index >> 6] &= ~(1L << index);
    }
  }

  void clear() {
    Arrays.fill(words, 0);
  }

  /** Hands every index in the set to the visitor, smallest first. */
  void forEach(IntConsumer visitor) {
    for (int i = 0; i < words.length; i++) {
      for (long word = words[i]; word != 0; word &= word - 1) {
        visitor.accept((i << 6) + Long.numberOfTrailingZeros(word));
      }
    }
  }
}

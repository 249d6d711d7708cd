package dev.purser.core.arrival;

/**
 * A set of 64-bit fingerprints in one array, by open addressing with linear probing (Knuth, The Art
 * of Computer Programming, volume 3, section 6.4, algorithm L): 16 bytes an entry at most, where a
 * set of boxed numbers takes 50.
 */
final class Fingerprints {
  private long[] slots = new long[16]; // 0 is free; a fingerprint of 0 is kept as 1
  private int size;

  void add(long fingerprint) {
    if (size * 3 > slots.length * 2) {
      grow();
    }
    int slot = slotOf(slots, fingerprint);
    if (slots[slot] == 0) {
      slots[slot] = fingerprint == 0 ? 1 : fingerprint;
      size++;
    }
  }

  boolean contains(long fingerprint) {
    return slots[slotOf(slots, fingerprint)] != 0;
  }

  int size() {
    return size;
  }

  private static int slotOf(long[] slots, long fingerprint) {
    long wanted = fingerprint == 0 ? 1 : fingerprint;
    int slot = (int) (wanted & (slots.length - 1));
    while (slots[slot] != 0 && slots[slot] != wanted) {
      slot = (slot + 1) & (slots.length - 1);
    }
    return slot;
  }

  private void grow() {
    long[] larger = new long[slots.length * 2];
    for (long one : slots) {
      if (one != 0) {
        larger[slotOf(larger, one)] = one;
      }
    }
    slots = larger;
  }
}

package dev.purser.core.course;

/**
 * From the ids of runs, which are for ever, to their indexes on this board, for those that do not
 * just follow the id of the first: open addressing with linear probing, at most half full. 0 marks
 * a free slot: no run has that id. Copies share it until one of them changes.
 */
final class RunIds {
  private long[] ids = new long[64];
  private int[] indexes = new int[64];
  private int count;
  private boolean shared;

  RunIds() {}

  private RunIds(RunIds other) {
    ids = other.ids;
    indexes = other.indexes;
    count = other.count;
    shared = true;
  }

  RunIds copy() {
    shared = true;
    return new RunIds(this);
  }

  /** The index of a run; -1 where there is none of that id. */
  int find(long id) {
    int slot = slot(ids, id);
    return ids[slot] == id && id != 0 ? indexes[slot] : -1;
  }

  void add(long id, int index) {
    if (id == 0) {
      throw new IllegalArgumentException("no run has id 0");
    }
    if (shared) {
      ids = ids.clone();
      indexes = indexes.clone();
      shared = false;
    }
    if (count * 2 >= ids.length) {
      grow();
    }
    int slot = slot(ids, id);
    count += ids[slot] == 0 ? 1 : 0;
    ids[slot] = id;
    indexes[slot] = index;
  }

  private void grow() {
    long[] more = new long[ids.length * 2];
    int[] theirs = new int[ids.length * 2];
    for (int i = 0; i < ids.length; i++) {
      if (ids[i] != 0) {
        int slot = slot(more, ids[i]);
        more[slot] = ids[i];
        theirs[slot] = indexes[i];
      }
    }
    ids = more;
    indexes = theirs;
  }

  private static int slot(long[] ids, long id) {
    int mask = ids.length - 1;
    int slot = (int) ((id * 0x9E3779B97F4A7C15L) >>> 40) & mask; // Fibonacci hashing
    while (ids[slot] != 0 && ids[slot] != id) {
      slot = (slot + 1) & mask;
    }
    return slot;
  }
}

package dev.purser.core.course;

import java.util.Arrays;

/**
 * A binary heap of alarms over three parallel arrays, earliest first; equal times come in the order
 * of run and kind, so that the same events always give the same instructions. Alarms are never
 * taken out early: whoever is woken checks whether the alarm still holds.
 */
public final class Timers {
  /** What an alarm is for. */
  public enum Kind {
    DUE,
    RETRY,
    STOP_AFTER,
    START_BY,
    FINISH_BY,
    LONG_RUNNING,
    REMIND,
    LAPSE,
    CAPACITY,
    HOST
  }

  private static final Kind[] KINDS = Kind.values();

  private long[] at;
  private int[] run;
  private byte[] kind;
  private int size;

  Timers() {
    at = new long[64];
    run = new int[64];
    kind = new byte[64];
  }

  Timers(Timers other) {
    at = other.at.clone();
    run = other.run.clone();
    kind = other.kind.clone();
    size = other.size;
  }

  /** When the next one rings; {@link Long#MAX_VALUE} for never. */
  public long nextAt() {
    return size == 0 ? Long.MAX_VALUE : at[0];
  }

  /** The run of the next one; -1 for one of no run. */
  public int nextRun() {
    return run[0];
  }

  /** What the next one is for. */
  public Kind nextKind() {
    return KINDS[kind[0]];
  }

  /**
   * Sets an alarm; it is never taken back, so whoever hears it asks whether it still holds.
   *
   * @param when epoch milliseconds
   * @param which the run's index; -1 where it is about none
   */
  public void add(long when, int which, Kind what) {
    if (size == at.length) {
      at = Arrays.copyOf(at, size * 2);
      run = Arrays.copyOf(run, size * 2);
      kind = Arrays.copyOf(kind, size * 2);
    }
    at[size] = when;
    run[size] = which;
    kind[size] = (byte) what.ordinal();
    int child = size++;
    while (child > 0 && before(child, (child - 1) / 2)) {
      swap(child, (child - 1) / 2);
      child = (child - 1) / 2;
    }
  }

  /** Takes the next one out. */
  public void removeNext() {
    size--;
    at[0] = at[size];
    run[0] = run[size];
    kind[0] = kind[size];
    int parent = 0;
    while (true) {
      int child = 2 * parent + 1;
      if (child >= size) {
        return;
      }
      if (child + 1 < size && before(child + 1, child)) {
        child++;
      }
      if (!before(child, parent)) {
        return;
      }
      swap(child, parent);
      parent = child;
    }
  }

  private boolean before(int a, int b) {
    if (at[a] != at[b]) {
      return at[a] < at[b];
    }
    return run[a] != run[b] ? run[a] < run[b] : kind[a] < kind[b];
  }

  private void swap(int a, int b) {
    long t = at[a];
    at[a] = at[b];
    at[b] = t;
    int r = run[a];
    run[a] = run[b];
    run[b] = r;
    byte k = kind[a];
    kind[a] = kind[b];
    kind[b] = k;
  }
}

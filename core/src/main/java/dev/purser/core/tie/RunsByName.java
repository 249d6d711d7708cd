package dev.purser.core.tie;

import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.Arrays;

/**
 * Finds runs by job and date: an open-addressing table (linear probing, at most half full) of the
 * first run of each, and a chain to its later starts of that date. It keeps indexes only; names are
 * compared with those of the runs themselves, so that nothing is kept twice.
 */
final class RunsByName {
  private static final int NONE = -1;

  private int[] first;
  private int[] last;
  private int[] next;
  private int names;
  private int count;

  RunsByName() {
    first = new int[64];
    last = new int[64];
    next = new int[16];
    Arrays.fill(first, NONE);
  }

  RunsByName(RunsByName other) {
    first = other.first.clone();
    last = other.last.clone();
    next = other.next.clone();
    names = other.names;
    count = other.count;
  }

  /** Takes in the runs that there are more than before. */
  void takeIn(RunSpec[] specs, int until) {
    next = until > next.length ? Arrays.copyOf(next, Math.max(until, next.length * 2)) : next;
    for (; count < until; count++) {
      next[count] = NONE;
      put(specs, count);
    }
  }

  private void put(RunSpec[] specs, int run) {
    if (names * 2 >= first.length) {
      grow(specs);
    }
    RunReference reference = specs[run].run().reference();
    int slot = slot(specs, reference.stream(), reference.job(), reference.date());
    if (first[slot] == NONE) {
      first[slot] = run;
      names++;
    } else {
      next[last[slot]] = run;
    }
    last[slot] = run;
  }

  private void grow(RunSpec[] specs) {
    int[] heads = first;
    int[] tails = last;
    first = new int[heads.length * 2];
    last = new int[heads.length * 2];
    Arrays.fill(first, NONE);
    for (int i = 0; i < heads.length; i++) {
      if (heads[i] != NONE) {
        RunReference reference = specs[heads[i]].run().reference();
        int slot = slot(specs, reference.stream(), reference.job(), reference.date());
        first[slot] = heads[i];
        last[slot] = tails[i];
      }
    }
  }

  private int slot(RunSpec[] specs, String stream, String job, LocalDate date) {
    int mask = first.length - 1;
    int hash = (stream.hashCode() * 31 + job.hashCode()) * 31 + date.hashCode();
    int slot =
        ((hash * 0x9E3779B9) >>> 7) & mask; // Fibonacci hashing: spreads names that are alike
    while (first[slot] != NONE && !isNamed(specs[first[slot]], stream, job, date)) {
      slot = (slot + 1) & mask;
    }
    return slot;
  }

  private static boolean isNamed(RunSpec spec, String stream, String job, LocalDate date) {
    RunReference reference = spec.run().reference();
    return reference.job().equals(job)
        && reference.stream().equals(stream)
        && reference.date().equals(date);
  }

  /** The first run of a job on a date, in the order in which they came; -1 for none. */
  int first(RunSpec[] specs, String stream, String job, LocalDate date) {
    return first[slot(specs, stream, job, date)];
  }

  /** The next run of the same job and date; -1 for none. */
  int next(int run) {
    return next[run];
  }
}

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
  private int[] hashes;
  private int[] next;
  private int names;
  private int count;

  RunsByName() {
    resize(64);
    next = new int[16];
  }

  RunsByName(RunsByName other) {
    first = other.first.clone();
    last = other.last.clone();
    hashes = other.hashes.clone();
    next = other.next.clone();
    names = other.names;
    count = other.count;
  }

  private void resize(int length) {
    first = new int[length];
    last = new int[length];
    hashes = new int[length];
    Arrays.fill(first, NONE);
  }

  /** Takes in the runs that there are more than before. */
  void takeIn(RunSpec[] specs, int until) {
    next = until > next.length ? Arrays.copyOf(next, Math.max(until, next.length * 2)) : next;
    int atMost = names + until - count;
    if (atMost * 2 > first.length) {
      grow(Integer.highestOneBit(atMost) * 4);
    }
    for (; count < until; count++) {
      next[count] = NONE;
      put(specs, count);
    }
  }

  private void put(RunSpec[] specs, int run) {
    RunReference reference = specs[run].run().reference();
    int slot = slot(specs, reference.stream(), reference.job(), reference.date());
    if (first[slot] == NONE) {
      first[slot] = run;
      hashes[slot] = hash(reference.stream(), reference.job(), reference.date());
      names++;
    } else {
      next[last[slot]] = run;
    }
    last[slot] = run;
  }

  private void grow(int length) {
    int[] heads = first;
    int[] tails = last;
    int[] theirs = hashes;
    resize(length);
    for (int i = 0; i < heads.length; i++) {
      if (heads[i] != NONE) {
        int slot = theirs[i] & (length - 1);
        while (first[slot] != NONE) {
          slot = (slot + 1) & (length - 1);
        }
        first[slot] = heads[i];
        last[slot] = tails[i];
        hashes[slot] = theirs[i];
      }
    }
  }

  private static int hash(String stream, String job, LocalDate date) {
    int hash = (stream.hashCode() * 31 + job.hashCode()) * 31 + date.hashCode();
    return (hash * 0x9E3779B9) >>> 4; // Fibonacci hashing: spreads names that are alike
  }

  private int slot(RunSpec[] specs, String stream, String job, LocalDate date) {
    int mask = first.length - 1;
    int hash = hash(stream, job, date);
    int slot = hash & mask;
    while (first[slot] != NONE
        && !(hashes[slot] == hash && isNamed(specs[first[slot]], stream, job, date))) {
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

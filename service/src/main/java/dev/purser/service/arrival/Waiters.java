package dev.purser.service.arrival;

import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/** The runs that wait for files, by the name of the watch; who was due first comes first. */
final class Waiters {
  private final Map<String, TreeSet<Waiter>> waiting = new HashMap<>();

  /** A run that waits for a file; who was due first comes first. */
  record Waiter(long due, long run, LocalDate date) implements Comparable<Waiter> {
    @Override
    public int compareTo(Waiter other) {
      return Comparator.comparingLong(Waiter::due)
          .thenComparingLong(Waiter::run)
          .compare(this, other);
    }
  }

  void forget() {
    waiting.clear();
  }

  void add(RunSpec run, String watch) {
    Waiter waiter =
        new Waiter(run.run().due().toEpochMilli(), run.id(), run.run().reference().date());
    waiting.computeIfAbsent(watch, any -> new TreeSet<>()).add(waiter);
  }

  void remove(long run, String watch) {
    TreeSet<Waiter> all = waiting.get(watch);
    if (all != null) {
      all.removeIf(one -> one.run() == run);
      if (all.isEmpty()) {
        waiting.remove(watch);
      }
    }
  }

  /** The watches for whose files somebody waits. */
  List<String> watches() {
    return List.copyOf(waiting.keySet());
  }

  /** Who waits for files of a watch, in their order. */
  List<Waiter> of(String watch) {
    return List.copyOf(waiting.getOrDefault(watch, new TreeSet<>()));
  }
}

package dev.purser.core.learning;

import dev.purser.core.run.RunSpec;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * What is known of each run, worked out once, by id. Ids mostly follow each other, so most lie in
 * an array. Several threads may ask at once; what they find never changes.
 */
final class KnownRuns<T> {
  private static final int MOST = 1 << 22;
  private static final int ROOM = 1 << 10;

  private final Map<Long, Entry<T>> others = new ConcurrentHashMap<>();
  private volatile Table<T> table = new Table<>(0, newEntries(0));

  private record Entry<T>(RunSpec run, T known) {}

  /** Entries from an id on; an entry is set once it is known. */
  private record Table<T>(long from, Entry<T>[] entries) {
    Entry<T> get(long id) {
      long place = id - from;
      return place >= 0 && place < entries.length ? entries[(int) place] : null;
    }
  }

  @SuppressWarnings({"unchecked", "rawtypes"})
  private static <T> Entry<T>[] newEntries(int length) {
    return new Entry[length];
  }

  /** What is known of a run; another run of the same id is looked at anew. */
  @SuppressWarnings("ReferenceEquality") // a run never changes; another may have the same id
  T of(RunSpec run, Function<RunSpec, T> look) {
    Entry<T> found = table.get(run.id());
    found = found == null && !others.isEmpty() ? others.get(run.id()) : found;
    if (found == null || found.run() != run) {
      found = new Entry<>(run, look.apply(run));
      put(run.id(), found);
    }
    return found.known();
  }

  private synchronized void put(long id, Entry<T> entry) {
    Table<T> now = table;
    boolean none = now.entries().length == 0;
    long from = none ? id : Math.min(now.from(), id);
    long to = none ? id + 1 : Math.max(now.from() + now.entries().length, id + 1);
    if (to - from > MOST) {
      others.put(id, entry);
      return;
    }
    if (none || to - from > now.entries().length) {
      long first = from < now.from() ? from - (to - from) / 2 : from;
      Entry<T>[] more = newEntries((int) ((to - from) * 2 + ROOM));
      if (!none) {
        int place = (int) (now.from() - first);
        System.arraycopy(now.entries(), 0, more, place, now.entries().length);
      }
      now = new Table<>(first, more);
      table = now;
    }
    now.entries()[(int) (id - now.from())] = entry;
  }
}

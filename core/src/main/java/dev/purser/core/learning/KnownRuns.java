package dev.purser.core.learning;

import dev.purser.core.run.RunSpec;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * What is known of each run, worked out once. Ids mostly follow each other, so most lie in an
 * array. Several threads may ask at once: what they find never changes, and at worst is worked out
 * twice.
 *
 * @param <T> a record: all that is in it is seen by whoever sees it
 */
final class KnownRuns<T> {
  private static final int MOST = 1 << 20;
  private static final int ROOM = 1 << 10;

  private final Function<RunSpec, T> look;
  private final Map<Long, Entry<T>> others = new ConcurrentHashMap<>();
  private volatile Table table = new Table(0, new RunSpec[0], new Object[0]);

  /** What is known from an id on, each beside the run that it is known of. */
  private record Table(long from, RunSpec[] runs, Object[] known) {}

  private record Entry<T>(RunSpec run, T known) {}

  /** Nothing is known yet; what is, is found by looking. */
  KnownRuns(Function<RunSpec, T> look) {
    this.look = look;
  }

  /** What is known of a run; another run of the same id is looked at anew. */
  @SuppressWarnings({"unchecked", "ReferenceEquality"}) // a run never changes; only T is put in
  T of(RunSpec run) {
    Table now = table;
    long place = run.id() - now.from();
    if (place >= 0 && place < now.runs().length) {
      Object known = now.known()[(int) place];
      if (known != null && now.runs()[(int) place] == run) {
        return (T) known;
      }
    }
    return lookAt(run);
  }

  @SuppressWarnings("ReferenceEquality")
  private T lookAt(RunSpec run) {
    Entry<T> found = others.get(run.id());
    if (found != null && found.run() == run) {
      return found.known();
    }
    T known = look.apply(run);
    put(run, known);
    return known;
  }

  private synchronized void put(RunSpec run, T known) {
    long id = run.id();
    Table now = table;
    int length = now.runs().length;
    long from = length == 0 ? id : Math.min(now.from(), id);
    long to = length == 0 ? id + 1 : Math.max(now.from() + length, id + 1);
    if (to - from > MOST) {
      others.put(id, new Entry<>(run, known));
      return;
    }
    if (to - from > length) {
      long first = from < now.from() ? from - (to - from) / 2 : from;
      int more = (int) ((to - from) * 2 + ROOM);
      Table next = new Table(first, new RunSpec[more], new Object[more]);
      int place = length == 0 ? 0 : (int) (now.from() - first);
      System.arraycopy(now.runs(), 0, next.runs(), place, length);
      System.arraycopy(now.known(), 0, next.known(), place, length);
      now = next;
      table = next;
    }
    int place = (int) (id - now.from());
    now.known()[place] = null; // whoever sees the run sees what is known of it, or nothing
    now.runs()[place] = run;
    now.known()[place] = known;
  }
}

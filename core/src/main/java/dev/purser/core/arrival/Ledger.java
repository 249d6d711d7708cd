package dev.purser.core.arrival;

import dev.purser.core.definition.FileWatch;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.LongSupplier;

/**
 * Who gets which file. It knows every arrival that is not over; what is over is on record only, and
 * whoever calls looks it up there. Each call returns the arrivals that it has changed, to be put on
 * record. The same calls give the same changes, always. Single threaded, knows no clock.
 */
public final class Ledger {
  /** Within this long the same name with the same content is a repeat, where no date tells. */
  public static final Duration REPEATS_WITHIN = Duration.ofHours(20);

  private static final Comparator<Arrival> BY_ARRIVAL =
      Comparator.comparingLong(Arrival::ready).thenComparingLong(Arrival::id);
  private static final Comparator<Arrival> BY_NAME =
      Comparator.comparing(Arrival::name).thenComparingLong(Arrival::id);

  private final LongSupplier ids;
  private final Map<Long, Arrival> all = new HashMap<>();
  private final Map<String, Long> open = new HashMap<>();
  private final Map<String, Set<Long>> openOf = new HashMap<>();
  private final Map<String, TreeMap<LocalDate, Waiting>> ready = new HashMap<>();
  private final Map<Long, Set<Long>> ofRun = new HashMap<>();
  private final Map<String, Set<Long>> out = new HashMap<>();

  /** The whole files of a watch and date, in both orders. */
  private static final class Waiting {
    final TreeSet<Arrival> byArrival = new TreeSet<>(BY_ARRIVAL);
    final TreeSet<Arrival> byName = new TreeSet<>(BY_NAME);
  }

  /**
   * An empty one.
   *
   * @param ids gives the ids of new arrivals
   */
  public Ledger(LongSupplier ids) {
    this.ids = ids;
  }

  /**
   * What the records know of a file that was found.
   *
   * @param same the arrival of the same file; empty where there is none
   * @param elsewhere the name of another watch that has the same file; empty for none
   * @param repeated an earlier arrival of the same name and content; empty where there is none
   */
  public record Known(
      Optional<Arrival> same, Optional<String> elsewhere, Optional<Arrival> repeated) {
    /** Nothing. */
    public static final Known NOTHING =
        new Known(Optional.empty(), Optional.empty(), Optional.empty());
  }

  /**
   * What has become of a finding.
   *
   * @param changed arrivals to put on record, new ones among them
   * @param done whether whoever looks need not tell of the file any more
   */
  public record Outcome(List<Arrival> changed, boolean done) {}

  /** Takes in an arrival from the records that is not over. */
  public void restore(Arrival arrival) {
    put(arrival);
  }

  // ---- what is found

  /**
   * Takes in what is said of a file.
   *
   * @param place the host or connection
   * @param date the business date that its path names
   */
  public Outcome found(
      FileWatch watch,
      String place,
      Finding finding,
      Optional<LocalDate> date,
      Known known,
      long now) {
    String at = at(watch.name(), place, finding.path());
    Optional<Arrival> there = Optional.ofNullable(open.get(at)).map(all::get);
    if (finding.state() == Finding.State.GONE) {
      return new Outcome(
          there
              .map(one -> List.of(put(one.in(ArrivalState.IGNORED, Arrival.REMOVED, now))))
              .orElse(List.of()),
          true);
    }
    List<Arrival> changed = new ArrayList<>();
    boolean replaced =
        there.filter(one -> one.state() == ArrivalState.READY).isPresent()
            && !there.get().isOfSameContent(finding);
    if (replaced) {
      changed.add(put(there.get().in(ArrivalState.IGNORED, Arrival.REPLACED, now)));
    }
    if (replaced || there.isEmpty()) {
      if (known.same().isPresent() && !known.same().get().state().isOpen()) {
        return new Outcome(changed, true);
      }
      there = Optional.of(fresh(watch, place, finding, date, now));
    } else if (there.get().state() == ArrivalState.READY
        && finding.state() == Finding.State.READY) {
      return new Outcome(changed, false);
    }
    Arrival judged = judge(watch, there.get().looks(finding), finding, known, now);
    changed.add(put(judged));
    return new Outcome(changed, !judged.state().isOpen());
  }

  private Arrival fresh(
      FileWatch watch, String place, Finding finding, Optional<LocalDate> date, long now) {
    return new Arrival(
        ids.getAsLong(),
        watch.name(),
        place,
        finding.path(),
        date,
        finding.size(),
        finding.modified(),
        finding.key(),
        finding.checksum(),
        now,
        0,
        ArrivalState.SEEN,
        now,
        0,
        0,
        "");
  }

  private static Arrival judge(
      FileWatch watch, Arrival arrival, Finding finding, Known known, long now) {
    ArrivalState state =
        switch (finding.state()) {
          case SEEN -> ArrivalState.SEEN;
          case SETTLING -> ArrivalState.SETTLING;
          case REJECTED -> ArrivalState.REJECTED;
          case IGNORED, GONE -> ArrivalState.IGNORED;
          case READY -> ArrivalState.READY;
        };
    if (state == ArrivalState.READY && known.elsewhere().isPresent()) {
      String other = "file watch " + known.elsewhere().get() + " has the same file";
      return arrival.in(ArrivalState.IGNORED, other, now);
    }
    Optional<Arrival> before =
        known.repeated().filter(earlier -> repeats(watch, arrival, earlier, now));
    if (state != ArrivalState.READY || before.isEmpty()) {
      return arrival.in(state, finding.note(), now);
    }
    Arrival again = arrival.repeating(before.get().id());
    String text = "the same name and content as arrival " + before.get().id();
    return switch (watch.handling().repeats()) {
      case TAKE -> again.in(ArrivalState.READY, text, now);
      case IGNORE -> again.in(ArrivalState.IGNORED, text, now);
      case ASK -> again.in(ArrivalState.UNPROCESSED, text + ": is it to be used again?", now);
    };
  }

  private static boolean repeats(FileWatch watch, Arrival arrival, Arrival earlier, long now) {
    return watch.isDated()
        ? earlier.date().equals(arrival.date())
        : now - earlier.found() < REPEATS_WITHIN.toMillis();
  }

  // ---- who gets it

  /**
   * Gives a whole file, or a complete set, to a run.
   *
   * @param date the business date of the run; empty where the first file of any date will do
   * @param byName whether the first by name is wanted, not the first to come
   * @param run that gets it
   * @return the arrivals that the run has now; empty where there is none to be had
   */
  public Optional<Outcome> take(
      FileWatch watch, Optional<LocalDate> date, boolean byName, long run, long now) {
    List<Arrival> changed = tooOld(watch, now);
    Optional<List<Arrival>> chosen = choose(watch, date, byName);
    if (chosen.isEmpty()) {
      return changed.isEmpty() ? Optional.empty() : Optional.of(new Outcome(changed, false));
    }
    for (Arrival one : chosen.get()) {
      changed.add(put(one.of(run, date).in(ArrivalState.TAKEN, one.note(), now)));
    }
    return Optional.of(new Outcome(changed, true));
  }

  /** A file without a date in its path that nobody wanted in time is nobody's. */
  private List<Arrival> tooOld(FileWatch watch, long now) {
    List<Arrival> old = new ArrayList<>();
    if (watch.isDated()) {
      return old;
    }
    long oldest = now - watch.freshFor().toMillis();
    for (Waiting waiting : ready.getOrDefault(watch.name(), new TreeMap<>()).values()) {
      for (Arrival one : waiting.byArrival) {
        if (one.ready() < oldest) {
          old.add(one);
        }
      }
    }
    String why = "nobody wanted it within " + Durations.print(watch.freshFor());
    return new ArrayList<>(
        old.stream().map(one -> put(one.in(ArrivalState.UNPROCESSED, why, now))).toList());
  }

  /** What would be given; empty where there is nothing, or a set is not complete. */
  private Optional<List<Arrival>> choose(
      FileWatch watch, Optional<LocalDate> date, boolean byName) {
    int least = watch.whole().setOf();
    TreeMap<LocalDate, Waiting> dates = ready.getOrDefault(watch.name(), new TreeMap<>());
    List<Waiting> groups =
        date.isPresent() && watch.isDated()
            ? Optional.ofNullable(dates.get(date.get())).map(List::of).orElse(List.of())
            : List.copyOf(dates.values());
    Comparator<Arrival> order = byName ? BY_NAME : BY_ARRIVAL;
    return groups.stream()
        .filter(group -> group.byName.size() >= least)
        .map(group -> byName ? group.byName : group.byArrival)
        .min(Comparator.comparing(TreeSet::first, order))
        .map(group -> least > 1 ? List.copyOf(group) : List.of(group.first()));
  }

  /** The arrivals that a run has, by id. */
  public List<Arrival> of(long run) {
    return ofRun.getOrDefault(run, Set.of()).stream().map(all::get).toList();
  }

  /**
   * What a run has comes into another state with it.
   *
   * @return what has changed
   */
  public List<Arrival> move(long run, ArrivalState state, String note, long now) {
    List<Arrival> changed = new ArrayList<>();
    for (Arrival one : of(run)) {
      if (one.state() != state) {
        changed.add(put(one.in(state, note, now)));
      }
    }
    return changed;
  }

  /**
   * A whole file goes to a run that was started with it.
   *
   * @param date the business date of the run
   * @param now epoch milliseconds
   * @return the arrival as it is now, to be put on record
   */
  public Arrival give(Arrival arrival, long run, LocalDate date, long now) {
    return put(arrival.of(run, Optional.of(date)).in(ArrivalState.TAKEN, arrival.note(), now));
  }

  /**
   * A person decides on an arrival, which may be one from the records that is over.
   *
   * @param note why, for people
   * @return the arrival as it is now, to be put on record; it is open again where the state is
   */
  public Arrival decide(Arrival arrival, ArrivalState state, String note, long now) {
    Arrival free = state == ArrivalState.READY ? arrival.of(0) : arrival;
    return put(free.in(state, note, now));
  }

  // ---- what is there

  /** An arrival that is not over. */
  public Optional<Arrival> get(long id) {
    return Optional.ofNullable(all.get(id));
  }

  /** How many runs or starts have files of a watch. */
  public int taken(String watch) {
    return (int)
        out.getOrDefault(watch, Set.of()).stream()
            .map(all::get)
            .filter(one -> one.state() == ArrivalState.TAKEN)
            .map(Arrival::run)
            .distinct()
            .count();
  }

  /** Whether a file of a watch waits for a person after its run has failed. */
  public boolean hasUnprocessed(String watch) {
    return out.getOrDefault(watch, Set.of()).stream()
        .anyMatch(id -> all.get(id).state() == ArrivalState.UNPROCESSED && all.get(id).run() != 0);
  }

  /**
   * A file of which a person is asked whether it is to be used.
   *
   * @param date the date that its path must name; empty for any
   * @return the first that was found; empty where nobody is asked
   */
  public Optional<Arrival> asked(FileWatch watch, Optional<LocalDate> date) {
    return out.getOrDefault(watch.name(), Set.of()).stream()
        .map(all::get)
        .filter(one -> one.state() == ArrivalState.UNPROCESSED && one.run() == 0)
        .filter(one -> date.isEmpty() || !watch.isDated() || one.date().equals(date))
        .findFirst();
  }

  /**
   * How many files of a watch and date are whole and free.
   *
   * @param date the business date of whoever asks; it counts only where paths of the watch name one
   */
  public int ready(FileWatch watch, Optional<LocalDate> date) {
    TreeMap<LocalDate, Waiting> dates = ready.getOrDefault(watch.name(), new TreeMap<>());
    return date.isPresent() && watch.isDated()
        ? Optional.ofNullable(dates.get(date.get())).map(one -> one.byName.size()).orElse(0)
        : dates.values().stream().mapToInt(one -> one.byName.size()).sum();
  }

  /**
   * The arrivals of a watch that nobody has yet, in the order in which they were found.
   *
   * @param date as for {@link #ready}
   */
  public List<Arrival> open(FileWatch watch, Optional<LocalDate> date) {
    return openOf.getOrDefault(watch.name(), Set.of()).stream()
        .map(all::get)
        .filter(one -> date.isEmpty() || !watch.isDated() || one.date().equals(date))
        .toList();
  }

  /**
   * What would be given to anybody next.
   *
   * @param byName whether the first by name is wanted, not the first to come
   * @return one file, or a whole set; empty where there is nothing, or a set is not complete
   */
  public List<Arrival> next(FileWatch watch, boolean byName) {
    return choose(watch, Optional.empty(), byName).orElse(List.of());
  }

  /** Everything that is not over. */
  public Collection<Arrival> all() {
    return List.copyOf(all.values());
  }

  /** Arrivals that are not over. */
  public int size() {
    return all.size();
  }

  // ---- the one place where anything changes

  private Arrival put(Arrival arrival) {
    Arrival before = all.remove(arrival.id());
    if (before != null) {
      unlist(before);
    }
    if (!arrival.state().isOver()) {
      all.put(arrival.id(), arrival);
      list(arrival);
    }
    return arrival;
  }

  private void list(Arrival one) {
    if (one.state().isOpen()) {
      open.put(at(one.watch(), one.place(), one.path()), one.id());
      openOf.computeIfAbsent(one.watch(), any -> new TreeSet<>()).add(one.id());
    } else {
      out.computeIfAbsent(one.watch(), any -> new TreeSet<>()).add(one.id());
    }
    if (one.state() == ArrivalState.READY) {
      Waiting waiting =
          ready
              .computeIfAbsent(one.watch(), any -> new TreeMap<>())
              .computeIfAbsent(one.date().orElse(LocalDate.MIN), any -> new Waiting());
      waiting.byArrival.add(one);
      waiting.byName.add(one);
    }
    if (one.run() != 0) {
      ofRun.computeIfAbsent(one.run(), any -> new TreeSet<>()).add(one.id());
    }
  }

  private void unlist(Arrival one) {
    open.remove(at(one.watch(), one.place(), one.path()), one.id());
    forget(openOf, one.watch(), one.id());
    forget(out, one.watch(), one.id());
    forget(ofRun, one.run(), one.id());
    LocalDate date = one.date().orElse(LocalDate.MIN);
    TreeMap<LocalDate, Waiting> dates = ready.get(one.watch());
    Waiting waiting = dates == null ? null : dates.get(date);
    if (waiting != null && one.state() == ArrivalState.READY) {
      waiting.byArrival.remove(one);
      waiting.byName.remove(one);
      if (waiting.byName.isEmpty()) {
        dates.remove(date);
      }
    }
  }

  private static <K> void forget(Map<K, Set<Long>> lists, K key, long id) {
    Set<Long> list = lists.get(key);
    if (list != null && list.remove(id) && list.isEmpty()) {
      lists.remove(key);
    }
  }

  private static String at(String watch, String place, String path) {
    return watch + '\n' + place + '\n' + path;
  }
}

package dev.purser.core.course;

import dev.purser.core.definition.Capacity;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Things of which there are only so many units: capacities, by name, and for each job that must not
 * overlap itself the right to be at work. Who holds units, and who stands in line for them.
 *
 * <p>Each is a small number; a run's needs are triples of that number, how many units, and how many
 * there are at all where that is the job's own ({@link #OF_CAPACITY} for a capacity).
 */
public final class Units {
  /** In a need: as many as the capacity has. */
  public static final int OF_CAPACITY = -1;

  private static final int NOT_SET = -1;

  private final Names<String> names;
  private Capacity[] defined;
  private int[] units;
  private int[] set;
  private int[] taken;
  private Line[] lines;
  private Line[] lookers;
  private int[] mostLooked;
  private int[][] holders;
  private int[] peaks;
  private boolean[] lacked;

  Units() {
    names = new Names<>();
    defined = new Capacity[8];
    units = new int[8];
    set = new int[8];
    Arrays.fill(set, NOT_SET);
    taken = new int[8];
    lines = new Line[8];
    lookers = new Line[8];
    mostLooked = new int[8];
    holders = new int[8][];
    peaks = new int[8];
    lacked = new boolean[8];
  }

  Units(Units other) {
    names = other.names.copy();
    defined = other.defined.clone();
    units = other.units.clone();
    set = other.set.clone();
    taken = other.taken.clone();
    lines = Line.copies(other.lines, other.lines.length);
    lookers = Line.copies(other.lookers, other.lookers.length);
    mostLooked = other.mostLooked.clone();
    holders = other.holders.clone(); // each is replaced, never changed
    peaks = other.peaks.clone();
    lacked = other.lacked.clone();
  }

  // ---- names

  /** The number of a capacity; -1 where none of that name is known. */
  public int find(String capacity) {
    return names.find(capacity);
  }

  /** The name of a number, as people know it. */
  public String name(int what) {
    return names.name(what);
  }

  /** The number of a capacity, which may not be defined. */
  int ofCapacity(String name) {
    return grown(names.of(name));
  }

  /** The number of a job's own right to be at work. */
  int ofJob(String path) {
    return grown(names.of("job " + path)); // no capacity has a space in its name
  }

  private int grown(int what) {
    if (what >= units.length) {
      int length = what * 2;
      defined = Arrays.copyOf(defined, length);
      units = Arrays.copyOf(units, length);
      int old = set.length;
      set = Arrays.copyOf(set, length);
      Arrays.fill(set, old, length, NOT_SET);
      taken = Arrays.copyOf(taken, length);
      lines = Arrays.copyOf(lines, length);
      lookers = Arrays.copyOf(lookers, length);
      mostLooked = Arrays.copyOf(mostLooked, length);
      holders = Arrays.copyOf(holders, length);
      peaks = Arrays.copyOf(peaks, length);
      lacked = Arrays.copyOf(lacked, length);
    }
    return what;
  }

  // ---- how many there are

  /** Replaces the capacities; what a person has set of those that stay, stays. */
  public void define(List<Capacity> capacities) {
    Arrays.fill(defined, null);
    for (Capacity capacity : capacities) {
      int what = ofCapacity(capacity.name());
      defined[what] = capacity;
    }
    for (int i = 0; i < set.length; i++) {
      set[i] = defined[i] == null ? NOT_SET : set[i];
    }
  }

  /**
   * A person says how many units there are.
   *
   * @param many -1 for as many as are defined
   */
  public void set(String capacity, int many) {
    set[ofCapacity(capacity)] = Math.max(many, NOT_SET);
  }

  /** What a person has set; empty where it is as defined. */
  public Optional<Integer> setTo(String capacity) {
    int what = names.find(capacity);
    return what < 0 || set[what] == NOT_SET ? Optional.empty() : Optional.of(set[what]);
  }

  /**
   * Counts how many units of each capacity there are at a time, epoch milliseconds.
   *
   * @return whether some number has changed
   */
  public boolean count(long now) {
    boolean changed = false;
    Instant at = Instant.ofEpochMilli(now);
    for (int what = 0; what < names.size(); what++) {
      int many =
          defined[what] == null ? 0 : set[what] != NOT_SET ? set[what] : defined[what].unitsAt(at);
      changed |= many != units[what];
      units[what] = many;
    }
    return changed;
  }

  /** When some number may change next by itself; {@link Long#MAX_VALUE} for never. */
  public long nextChange(long now) {
    long next = Long.MAX_VALUE;
    Instant at = Instant.ofEpochMilli(now);
    for (Capacity capacity : defined) {
      if (capacity != null) {
        Instant change = capacity.nextChange(at);
        next = change.equals(Instant.MAX) ? next : Math.min(next, change.toEpochMilli());
      }
    }
    return next;
  }

  /** Whether the number of units changes by itself with the time of day. */
  boolean changes(int what) {
    return defined[what] != null && !defined[what].spans().isEmpty() && set[what] == NOT_SET;
  }

  /** Whether somebody asks for a capacity whose number changes by itself. */
  boolean isAnyChangingAskedFor() {
    for (int what = 0; what < names.size(); what++) {
      if (changes(what) && (!line(what).isEmpty() || !lookers(what).isEmpty())) {
        return true;
      }
    }
    return false;
  }

  /** Units of a capacity now; 0 for one that is not defined. */
  public int units(int what) {
    return what < 0 ? 0 : units[what];
  }

  /** Units that are taken. */
  public int taken(int what) {
    return what < 0 ? 0 : taken[what];
  }

  // ---- needs

  /**
   * How many there are of what is needed, just now.
   *
   * @param needs of {@link Demands#needs}
   * @param at the place of the need in it
   */
  public int total(int[] needs, int at) {
    return needs[at + 2] == OF_CAPACITY ? units[needs[at]] : needs[at + 2];
  }

  /**
   * How many of what is needed are not taken.
   *
   * @param needs of {@link Demands#needs}
   * @param at the place of the need in it
   * @return below 0 where the number was lowered while more were taken
   */
  public int free(int[] needs, int at) {
    return total(needs, at) - taken[needs[at]];
  }

  void take(int run, int[] needs) {
    for (int at = 0; at < needs.length; at += 3) {
      taken[needs[at]] += needs[at + 1];
      peaks[needs[at]] = Math.max(peaks[needs[at]], taken[needs[at]]);
      holders[needs[at]] = with(holders[needs[at]], run);
    }
  }

  void giveBack(int run, int[] needs) {
    for (int at = 0; at < needs.length; at += 3) {
      taken[needs[at]] -= needs[at + 1];
      holders[needs[at]] = without(holders[needs[at]], run);
    }
  }

  private static int[] with(int[] all, int one) {
    if (all == null) {
      return new int[] {one};
    }
    int place = Arrays.binarySearch(all, one);
    int[] more = new int[all.length + 1];
    int to = place < 0 ? -place - 1 : place;
    System.arraycopy(all, 0, more, 0, to);
    more[to] = one;
    System.arraycopy(all, to, more, to + 1, all.length - to);
    return more;
  }

  private static int[] without(int[] all, int one) {
    int place = all == null ? -1 : Arrays.binarySearch(all, one);
    if (place < 0) {
      return all;
    }
    int[] fewer = new int[all.length - 1];
    System.arraycopy(all, 0, fewer, 0, place);
    System.arraycopy(all, place + 1, fewer, place, fewer.length - place);
    return fewer;
  }

  /** Runs that hold units, in the order of the plan. */
  public int[] holders(int what) {
    return what < 0 || holders[what] == null ? new int[0] : holders[what];
  }

  /** Somebody was ready and lacked units. */
  void lacked(int what) {
    lacked[what] = true;
  }

  /**
   * Whether there were always plenty of a capacity: nobody ever lacked any, and a fifth was always
   * left. Never where the number changes by itself, or of a job's own right to be at work.
   */
  boolean wasPlenty(int what) {
    return defined[what] != null
        && !changes(what)
        && !lacked[what]
        && peaks[what] * 5L <= units[what] * 4L;
  }

  /** Forgets what was scarce before now. */
  void forgetScarcity() {
    peaks = taken.clone();
    for (int what = 0; what < lacked.length; what++) {
      lacked[what] = lines[what] != null && !lines[what].isEmpty();
    }
  }

  /** How many capacities and jobs are known. */
  int known() {
    return names.size();
  }

  // ---- lines

  /** Who stands in line: not to be changed but through {@link Lines}. */
  public Line line(int what) {
    if (lines[what] == null) {
      lines[what] = new Line();
    }
    return lines[what];
  }

  /** Who needs units and has not lacked them, and waits for something else. */
  Line lookers(int what) {
    if (lookers[what] == null) {
      lookers[what] = new Line();
    }
    return lookers[what];
  }

  /** At least as many units as any who looks needs. */
  int mostLooked(int what) {
    return mostLooked[what];
  }

  void looks(int what, int many) {
    mostLooked[what] = lookers(what).isEmpty() ? many : Math.max(mostLooked[what], many);
  }

  /** All capacities that are defined, by name. */
  public List<String> capacities() {
    List<String> all = new ArrayList<>();
    for (Capacity capacity : defined) {
      if (capacity != null) {
        all.add(capacity.name());
      }
    }
    return all;
  }

  /** Forgets all runs: their indexes are about to change. */
  void forgetRuns() {
    Arrays.fill(taken, 0);
    Arrays.fill(lines, null);
    Arrays.fill(lookers, null);
    Arrays.fill(holders, null);
  }
}

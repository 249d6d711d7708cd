package dev.purser.core.course;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntToLongFunction;

/**
 * What the runs of a board take together where they were played apart, so that they could not see
 * each other: whether somebody might have lacked units or room if all had been played at once.
 *
 * <p>What is found is never less than what would have been held at once. A run is taken to hold
 * what it needs from its first start to its end, with the pauses between attempts; and of runs that
 * share only some of their hosts as many are counted as the choice of the least loaded host allows.
 * So where it is enough, nobody lacked anything, and all would have come out the same.
 */
public final class Together {
  /** A change as a number: when, in milliseconds, whether it takes, and of which taker. */
  private static final int AT = 21;

  private static final long TAKES = 1L << (AT - 1);
  private static final long MOST_TAKERS = TAKES - 1;
  private static final long LAST = Long.MAX_VALUE >>> AT;

  private final Course course;
  private final Shortages known;
  private final Set<String> mayClose;
  private final int plenty;
  private final long from;
  private final List<OfUnits> units = new ArrayList<>();
  private final List<OfRoom> rooms = new ArrayList<>();
  private final List<Spread> spreads = new ArrayList<>();
  private final Map<Integer, Integer> places = new HashMap<>();

  private record Times(IntToLongFunction starts, IntToLongFunction ends) {}

  /** A capacity: who takes how much, of how many units. */
  private record OfUnits(int what, int[] takers, int[] many, long enough) {}

  /**
   * Room on some hosts.
   *
   * @param placement who asks for it
   * @param takers who can be on none but these
   * @param others who may be on some of them: the place among the spread, and on how many of them
   * @param enough how many may be there at once
   */
  private record OfRoom(int placement, int[] takers, List<int[]> others, long enough) {}

  /**
   * Runs that are spread over hosts, some of which somebody else asks for.
   *
   * @param own who they are
   * @param all with all others that can be on one of these hosts
   * @param limits of its open hosts, {@link Long#MAX_VALUE} for none
   * @param even whether the least loaded is chosen from all
   */
  private record Spread(int[] own, int[] all, long[] limits, boolean even) {
    /**
     * The most of them that can be on one host: it had the least on it when the last one came.
     *
     * @param own how many of them are at work at once
     * @param all how many of all are
     */
    long onOne(long own, long all) {
      long low = even ? 0 : own;
      long high = own;
      while (low < high) {
        long middle = (low + high) >>> 1;
        if (onAll(middle) < all) {
          low = middle + 1;
        } else {
          high = middle;
        }
      }
      return low;
    }

    /** How many there are on all hosts at the least when the least loaded has so many. */
    private long onAll(long load) {
      return Arrays.stream(limits).map(limit -> Math.min(load, limit)).sum();
    }
  }

  /**
   * Prepares to judge plays of a board.
   *
   * @param known what is scarce already, whose takers are not played apart; what plays that are
   *     judged show to be scarce is added
   * @param mayClose hosts that may take no new work for a while
   * @param plenty up to how many percent of what there is may be held before it counts as scarce
   */
  public Together(Course course, Shortages known, Set<String> mayClose, int plenty) {
    this.course = course;
    this.known = known;
    this.mayClose = mayClose;
    this.plenty = plenty;
    this.from = course.now();
    findUnits();
    findRooms(new Placed(course));
  }

  // ---- what is looked at

  private void findUnits() {
    Map<Integer, List<Integer>> takers = new HashMap<>();
    for (int run = 0; run < course.runs().count(); run++) {
      int[] needs = course.demands().needs(run);
      for (int at = 0; at < needs.length; at += 3) {
        if (!known.ofUnits(needs[at])) {
          takers.computeIfAbsent(needs[at], any -> new ArrayList<>()).add(run);
        }
      }
    }
    takers.forEach(
        (what, all) -> {
          int[] runs = all.stream().mapToInt(run -> run).toArray();
          int[] many = Arrays.stream(runs).map(run -> course.lines().needOf(run, what)).toArray();
          units.add(new OfUnits(what, runs, many, course.units().units(what)));
        });
  }

  private void findRooms(Placed placed) {
    placed
        .asked()
        .filter(placement -> !known.ofRoom(placement))
        .forEach(
            placement -> {
              if (placed.keepApart(placement)) { // any of its hosts may be the last one left
                placed.hosts(placement).stream()
                    .filter(host -> isOpen(host) && course.hosts().atMost(host) > 0)
                    .forEach(host -> add(placed, placement, one(host)));
              } else if (mayBeFull(placed.hosts(placement))) {
                add(placed, placement, placed.hosts(placement));
              }
            });
  }

  private static BitSet one(int host) {
    BitSet one = new BitSet();
    one.set(host);
    return one;
  }

  /** Whether some host is limited, and none that is open is not. */
  private boolean mayBeFull(BitSet hosts) {
    return hosts.stream().anyMatch(host -> course.hosts().atMost(host) > 0)
        && hosts.stream().allMatch(host -> course.hosts().atMost(host) > 0 || !isOpen(host));
  }

  private boolean isOpen(int host) {
    return course.hosts().isOpen(host) && !mayClose.contains(course.hosts().name(host));
  }

  private void add(Placed placed, int placement, BitSet hosts) {
    List<int[]> others = new ArrayList<>();
    for (int other : placed.across(hosts)) {
      others.add(new int[] {spread(placed, other), placed.shared(other, hosts)});
    }
    long room = hosts.stream().filter(this::isOpen).mapToLong(course.hosts()::atMost).sum();
    rooms.add(new OfRoom(placement, placed.within(hosts), others, room));
  }

  /** The place of the runs of a placement among the spread. */
  private int spread(Placed placed, int placement) {
    return places.computeIfAbsent(
        placement,
        any -> {
          BitSet hosts = placed.hosts(placement);
          long[] limits =
              hosts.stream()
                  .filter(this::isOpen)
                  .mapToLong(course.hosts()::atMost)
                  .map(most -> most == 0 ? Long.MAX_VALUE : most)
                  .toArray();
          boolean even = !placed.keepApart(placement);
          int[] all = even ? placed.touching(hosts) : new int[0];
          spreads.add(new Spread(placed.of(placement), all, limits, even));
          return spreads.size() - 1;
        });
  }

  // ---- judging

  /**
   * Judges a play. Several may do so at once.
   *
   * @param starts when each run began first, epoch milliseconds; 0 where it did not
   * @param ends when each was at work no more, epoch milliseconds
   * @return whether there was enough of all, so that nobody can have lacked anything
   */
  public boolean isEnough(IntToLongFunction starts, IntToLongFunction ends) {
    Times times = new Times(starts, ends);
    boolean enough = true;
    for (OfUnits one : units) {
      long most = most(times, one.takers(), one.many());
      if (isScarce(most, one.enough())) {
        known.addUnits(one.what());
      }
      enough &= most <= one.enough();
    }
    long[] working = new long[spreads.size()];
    long[] onOne = new long[spreads.size()];
    for (int i = 0; i < working.length; i++) {
      Spread spread = spreads.get(i);
      working[i] = most(times, spread.own(), null);
      onOne[i] = spread.onOne(working[i], most(times, spread.all(), null));
    }
    for (OfRoom one : rooms) {
      long most = most(times, one.takers(), null);
      for (int[] other : one.others()) {
        most += Math.min(working[other[0]], other[1] * onOne[other[0]]);
      }
      if (isScarce(most, one.enough())) {
        known.addRoom(one.placement());
      }
      enough &= most <= one.enough();
    }
    return enough;
  }

  private boolean isScarce(long most, long enough) {
    return most * 100 > enough * plenty;
  }

  /** The most that is held at once; more than there is of anything where that is not counted. */
  private long most(Times times, int[] takers, int[] many) {
    if (takers.length > MOST_TAKERS) {
      return Integer.MAX_VALUE;
    }
    long[] changes = new long[takers.length * 2];
    int count = 0;
    for (int i = 0; i < takers.length; i++) {
      long start = times.starts().applyAsLong(takers[i]);
      if (start > 0) {
        long end =
            Math.max(start + 1, times.ends().applyAsLong(takers[i]) + (staysOn(takers[i]) ? 1 : 0));
        changes[count++] = at(start) << AT | TAKES | i;
        changes[count++] = at(end) << AT | i;
      }
    }
    Arrays.sort(changes, 0, count); // at one time, what is given back comes first
    long most = 0;
    long now = 0;
    for (int i = 0; i < count; i++) {
      int held = many == null ? 1 : many[(int) (changes[i] & MOST_TAKERS)];
      now += (changes[i] & TAKES) != 0 ? held : -held;
      most = Math.max(most, now);
    }
    return most;
  }

  /** What ends by its own end gives back before anybody starts then; else it may be after. */
  private boolean staysOn(int run) {
    return course.demands().is(run, Demands.STEP | Demands.MINDS_OVERLAP)
        || course.spec(run).run().job().stopAfter().isPresent();
  }

  private long at(long time) {
    return Math.max(0, Math.min(LAST - 1, time - from));
  }
}

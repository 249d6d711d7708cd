package dev.purser.core.course;

import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunState;
import java.util.ArrayDeque;
import java.util.BitSet;
import java.util.Deque;
import java.util.HashMap;
import java.util.Map;
import java.util.function.IntConsumer;
import java.util.stream.IntStream;

/**
 * Which runs can make a difference to when some others start and end: those that they look at, the
 * steps above them and all that is below those, whoever takes what is scarce and they need too, and
 * whoever may be placed where room is scarce, other runs of a job of which one may move from a host
 * that is gone; and the same of each of these.
 */
public final class Bearing {
  private final Course course;
  private final Shortages scarcity;
  private final BitSet found = new BitSet();
  private final Deque<Integer> open = new ArrayDeque<>();
  private final Map<Integer, BitSet> takers = new HashMap<>();
  private final Map<Integer, BitSet> placed = new HashMap<>();
  private final BitSet unitsDone = new BitSet();
  private final BitSet placementsDone = new BitSet();

  private Bearing(Course course, Shortages scarcity) {
    this.course = course;
    this.scarcity = scarcity;
    for (int run = 0; run < course.runs().count(); run++) {
      if (mayYetTake(run)) {
        int[] needs = course.demands().needs(run);
        for (int at = 0; at < needs.length; at += 3) {
          if (scarcity.ofUnits(needs[at])) {
            takers.computeIfAbsent(needs[at], any -> new BitSet()).set(run);
          }
        }
        placed.computeIfAbsent(course.demands().placement(run), any -> new BitSet()).set(run);
      }
    }
  }

  /**
   * Finds them.
   *
   * @param ends indexes of those to which it makes a difference
   * @return indexes, with those of the ends
   */
  public static BitSet on(Course course, BitSet ends, Shortages scarcity) {
    Bearing bearing = new Bearing(course, scarcity);
    ends.stream().forEach(bearing::add);
    while (!bearing.open.isEmpty()) {
      bearing.follow(bearing.open.poll());
    }
    return bearing.found;
  }

  /**
   * The runs to which it makes a difference at once, or by others, that some have changed: those
   * that look at them, the steps above them and the runs below those. Who waits for what is scarce
   * is not among them.
   *
   * @return indexes, with those that have changed
   */
  public static BitSet after(Course course, BitSet changed) {
    BitSet found = (BitSet) changed.clone();
    Deque<Integer> open = new ArrayDeque<>();
    changed.stream().forEach(open::add);
    while (!open.isEmpty()) {
      int run = open.poll();
      IntConsumer add =
          other -> {
            if (!found.get(other)) {
              found.set(other);
              open.add(other);
            }
          };
      IntStream.of(course.ties().followers(run)).forEach(add);
      IntStream.of(course.ties().children(run)).forEach(add);
      if (course.ties().parent(run) >= 0) {
        add.accept(course.ties().parent(run));
      }
    }
    return found;
  }

  private void add(int run) {
    if (!found.get(run)) {
      found.set(run);
      open.add(run);
    }
  }

  /** What has failed may be assumed to be run again. */
  private boolean mayYetTake(int run) {
    RunState state = runs().state(run);
    return !state.isEnded() || state == RunState.FAILED;
  }

  private boolean isWhereHostIsGone(int run) {
    return runs().state(run).isActive() && course.hosts().lostAt(runs().hosts.get(run)) > 0;
  }

  private Runs runs() {
    return course.runs();
  }

  private void follow(int run) {
    IntConsumer add = this::add;
    course.ties().lookedAt(run, add);
    int parent = course.ties().parent(run);
    if (parent >= 0) {
      add(parent);
    }
    for (int child : course.ties().children(run)) {
      add(child);
    }
    if (!mayYetTake(run)) {
      return;
    }
    if (isWhereHostIsGone(run)) { // how often all runs of a job may move together is limited
      RunReference own = course.spec(run).run().reference();
      IntStream.of(course.ties().runsOf(own.path(), own.date())).forEach(add);
    }
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      if (scarcity.ofUnits(needs[at]) && !unitsDone.get(needs[at])) {
        unitsDone.set(needs[at]);
        takers.get(needs[at]).stream().forEach(add);
      }
    }
    room(course.demands().placement(run));
  }

  /**
   * Where room is scarce, all count that may be placed on one of the hosts, since the least loaded
   * host is chosen: by that they keep out each other, near or far.
   */
  private void room(int placement) {
    if (placementsDone.get(placement) || placement == Hosts.NOWHERE) {
      return;
    }
    Hosts hosts = course.hosts();
    BitSet together = new BitSet();
    Deque<Integer> next = new ArrayDeque<>();
    next.add(placement);
    together.set(placement);
    boolean scarce = false;
    while (!next.isEmpty()) {
      int one = next.poll();
      scarce |= scarcity.ofRoom(one);
      for (int host : hosts.candidates(one)) {
        for (int other : hosts.placementsOf(host)) {
          if (!together.get(other)) {
            together.set(other);
            next.add(other);
          }
        }
      }
    }
    placementsDone.or(together);
    if (scarce) {
      together.stream()
          .filter(placed::containsKey)
          .forEach(one -> placed.get(one).stream().forEach(this::add));
    }
  }
}

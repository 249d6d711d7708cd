package dev.purser.core.course;

import dev.purser.core.definition.Job;
import dev.purser.core.plan.PlannedRun;
import java.util.Arrays;
import java.util.TreeMap;
import java.util.function.IntPredicate;

/**
 * What each run needs to start, as small numbers: where it may be placed, and units. It never
 * changes, so copies share it until one of them takes in more runs.
 */
public final class Demands {
  private static final int[] NONE = {};

  /** A run stands in line by one bit for each need. */
  private static final int MOST = 31;

  private int[][] needs = new int[16][];
  private int[] placements = new int[16];
  private boolean shared;

  Demands() {}

  private Demands(Demands other) {
    needs = other.needs;
    placements = other.placements;
    shared = true;
  }

  Demands copy() {
    shared = true;
    return new Demands(this);
  }

  private void own(int length) {
    if (shared || length > needs.length) {
      int most = length > needs.length ? Math.max(length, needs.length * 2) : needs.length;
      needs = Arrays.copyOf(needs, most);
      placements = Arrays.copyOf(placements, most);
      shared = false;
    }
  }

  void add(int run, PlannedRun planned, Units units, Hosts hosts) {
    own(run + 1);
    Job job = planned.job();
    needs[run] = needsOf(planned, units);
    placements[run] = job.isStep() ? Hosts.NOWHERE : hosts.placement(job.placement());
  }

  private static int[] needsOf(PlannedRun run, Units units) {
    Job job = run.job();
    boolean isLimited = job.overlap().isLimited();
    if (job.takes().isEmpty() && !isLimited) {
      return NONE;
    }
    int many = job.takes().size() + (isLimited ? 1 : 0);
    if (many > MOST) {
      throw new IllegalArgumentException("a job takes at most " + (MOST - 1) + " capacities");
    }
    int[] all = new int[many * 3];
    int at = 0;
    for (var take : new TreeMap<>(job.takes()).entrySet()) {
      all[at++] = units.ofCapacity(take.getKey());
      all[at++] = take.getValue();
      all[at++] = Units.OF_CAPACITY;
    }
    if (isLimited) {
      all[at++] = units.ofJob(run.reference().path());
      all[at++] = 1;
      all[at] = job.overlap().most();
    }
    return all;
  }

  void keep(IntPredicate kept, int count) {
    own(0);
    int to = 0;
    for (int from = 0; from < count; from++) {
      if (kept.test(from)) {
        needs[to] = needs[from];
        placements[to++] = placements[from];
      }
    }
    Arrays.fill(needs, to, count, null);
  }

  /** Triples of what, how many, and of how many: see {@link Units}. Not to be changed. */
  public int[] needs(int run) {
    return needs[run];
  }

  /** The place of the need of its own job in its needs; -1 where it may overlap itself. */
  public int ownNeed(int run) {
    int last = needs[run].length - 3;
    return last >= 0 && needs[run][last + 2] != Units.OF_CAPACITY ? last : -1;
  }

  /** The number of its placement. */
  public int placement(int run) {
    return placements[run];
  }
}

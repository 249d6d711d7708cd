package dev.purser.core.course;

import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.job.Overlap;
import dev.purser.core.job.Placement;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.run.RunSpec;
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

  /** Trait: what it does is other runs. */
  public static final int STEP = 1;

  /** Trait: what it does is to ask a person. */
  public static final int QUESTION = 1 << 1;

  /** Trait: it is one of several parts that never share a host. */
  public static final int ANOTHER = 1 << 2;

  /** Trait: it ends, or ends others, where an earlier run of its job is at work. */
  public static final int MINDS_OVERLAP = 1 << 3;

  /** Trait: something is due while it runs: a stop, or an alert. */
  public static final int TIMED = 1 << 4;

  /** Trait: exit code 0 and no other is success. */
  public static final int ZERO_IS_SUCCESS = 1 << 5;

  /** Trait: it is left out on its date, though its stream is due. */
  public static final int LEFT_OUT = 1 << 6;

  private int[][] needs = new int[16][];
  private byte[] traits = new byte[16];
  private int[] placements = new int[16];
  private boolean shared;

  Demands() {}

  private Demands(Demands other) {
    needs = other.needs;
    placements = other.placements;
    traits = other.traits;
    shared = true;
  }

  Demands copy() {
    shared = true;
    return new Demands(this);
  }

  private void own(int length) {
    if (shared || length > needs.length) {
      int most =
          length > needs.length
              ? Math.max(length, needs.length + (needs.length >> 1))
              : needs.length;
      needs = Arrays.copyOf(needs, most);
      placements = Arrays.copyOf(placements, most);
      traits = Arrays.copyOf(traits, most);
      shared = false;
    }
  }

  void add(int run, RunSpec spec, Units units, Hosts hosts) {
    own(run + 1);
    PlannedRun planned = spec.run();
    Job job = planned.job();
    traits[run] = traitsOf(planned, spec.longAfter() > 0);
    needs[run] = needsOf(planned, units);
    placements[run] =
        job.isStep() || !job.placement().isOnHosts()
            ? Hosts.NOWHERE
            : hosts.placement(job.placement());
  }

  /** What is asked so often that it is worked out once. */
  private static byte traitsOf(PlannedRun run, boolean mayTakeLong) {
    Job job = run.job();
    int traits = job.isStep() ? STEP : 0;
    traits |= run.leftOut().isEmpty() ? 0 : LEFT_OUT;
    traits |= job.work() instanceof Approval ? QUESTION : 0;
    traits |= job.placement() instanceof Placement.Another ? ANOTHER : 0;
    boolean minds = job.overlap().isLimited() && job.overlap().manner() != Overlap.Manner.WAIT;
    traits |= minds ? MINDS_OVERLAP : 0;
    traits |= mayTakeLong || job.stopAfter().isPresent() ? TIMED : 0;
    traits |= job.succeedsWith().equals(ExitCodes.ZERO) ? ZERO_IS_SUCCESS : 0;
    return (byte) traits;
  }

  /**
   * Whether a run has a trait.
   *
   * @param trait one of the constants of this class
   */
  public boolean is(int run, int trait) {
    return (traits[run] & trait) != 0;
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
        traits[to] = traits[from];
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
    if (needs[run] == NONE) {
      return -1;
    }
    int last = needs[run].length - 3;
    return last >= 0 && needs[run][last + 2] != Units.OF_CAPACITY ? last : -1;
  }

  /** The number of its placement. */
  public int placement(int run) {
    return placements[run];
  }
}

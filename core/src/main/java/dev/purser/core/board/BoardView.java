package dev.purser.core.board;

import dev.purser.core.course.Bits;
import dev.purser.core.course.Course;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.rule.PossibleActions;
import dev.purser.core.run.Action;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import dev.purser.core.why.WhyTeller;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * A board as others may look at it: nothing here changes it. Answers are told as of the last event;
 * a view is as single threaded as its board.
 */
public sealed class BoardView permits Board {
  final Course course;
  private final Runs runs;

  BoardView(Course course) {
    this.course = course;
    runs = course.runs();
  }

  // ---- all of it

  /** When the board next needs to be told the time; {@link Long#MAX_VALUE} for never. */
  public long nextWake() {
    return course.timers().nextAt();
  }

  /** Whether nothing has come in that a turn's end would have to decide. */
  public boolean isDecided() {
    return course.isDecided();
  }

  /** How many runs are on the board. */
  public int size() {
    return runs.count();
  }

  /** The time of the last event, epoch milliseconds. */
  public long now() {
    return course.now();
  }

  /** The runs on the board, in the order in which they came. */
  public List<RunSpec> runs() {
    List<RunSpec> all = new ArrayList<>(runs.count());
    for (int run = 0; run < runs.count(); run++) {
      all.add(course.spec(run));
    }
    return all;
  }

  /** The place of a run in {@link #runs}; -1 where it is not on the board. */
  public int indexOf(long id) {
    return course.find(id);
  }

  /** Whether a run's attempt is out, is not being stopped, and can be told to stop just now. */
  public boolean canBeReplaced(long id) {
    int run = course.find(id);
    return run >= 0
        && runs.state(run).isActive()
        && !course.isStep(run)
        && !runs.has(run, Marks.STOPPING)
        && course.hosts().isReachable(runs.hosts.get(run));
  }

  /** The hosts that have, or may have, a process of some run. */
  public Set<String> hostsAtWork() {
    Set<String> hosts = new TreeSet<>();
    for (int run = 0; run < runs.count(); run++) {
      if (runs.state(run).isActive() && runs.hosts.get(run) >= 0) {
        hosts.add(course.hosts().name(runs.hosts.get(run)));
      }
    }
    return hosts;
  }

  /** Whether a host's agent is connected. */
  public boolean isUp(String host) {
    return course.hosts().isUp(course.hosts().of(host));
  }

  /** By whom and why hosts are drained, by name. */
  public Map<String, String> drainedHosts() {
    return Map.copyOf(course.hosts().drained());
  }

  /** The hosts on which a run may be placed, there or not, by name. */
  public List<String> hostsFor(long id) {
    List<String> names = new ArrayList<>();
    int run = course.find(id);
    for (int host : run < 0 ? new int[0] : hostsAt(run)) {
      names.add(course.hosts().name(host));
    }
    return names;
  }

  private int[] hostsAt(int run) {
    return course.hosts().candidates(course.demands().placement(run));
  }

  /** The drained hosts on which a run may be placed, by name. */
  public List<String> drainedFor(long id) {
    Map<String, String> drained = course.hosts().drained();
    return hostsFor(id).stream().filter(drained::containsKey).toList();
  }

  /** What is held until it is released, and by whom and why. */
  public Map<HoldScope, String> holds() {
    return course.standing();
  }

  // ---- one run

  /** The run of an id, if it is on the board. */
  public Optional<RunSpec> run(long id) {
    int run = course.find(id);
    return run < 0 ? Optional.empty() : Optional.of(course.spec(run));
  }

  /** The state of a run; empty where it is not on the board. */
  public Optional<RunState> state(long id) {
    int run = course.find(id);
    return run < 0 ? Optional.empty() : Optional.of(runs.state(run));
  }

  /** What the board knows of a run now; empty where it is not on the board. */
  public Optional<RunStatus> status(long id) {
    int run = course.find(id);
    return run < 0 ? Optional.empty() : Optional.of(statusAt(run));
  }

  private RunStatus statusAt(int run) {
    return new RunStatus(
        runs.state(run),
        runs.holds.get(run),
        runs.since.get(run),
        runs.attempts.get(run),
        runs.budgets.get(run),
        course.hosts().where(runs.hosts.get(run)),
        runs.started.get(run),
        runs.ended.get(run),
        runs.retryAt.get(run),
        runs.exitCodes.get(run),
        runs.notes.get(run),
        Marks.stopping(runs.marks.get(run)),
        course.isNotNeeded(run),
        List.copyOf(runs.alerts.get(run)),
        runs.files.get(run),
        runs.due.get(run) == course.spec(run).due() ? 0 : runs.due.get(run),
        runs.priorities.get(run),
        runs.has(run, Marks.START_NOW),
        runs.asked.get(run),
        runs.values.get(run),
        runs.moves.get(run));
  }

  /**
   * How all runs stand, each by its place in {@link #runs}.
   *
   * @param states ordinals of {@link RunState}
   * @param ended epoch milliseconds; 0 for not
   * @param hosts numbers for {@link #hostName}
   */
  public record Stand(byte[] states, long[] ended, int[] hosts) {}

  /** How all runs stand now; it stays as it is when the board goes on. */
  public Stand stand() {
    int count = runs.count();
    return new Stand(runs.states.values(count), runs.ended.values(count), runs.hosts.values(count));
  }

  /** Where something is by a number of {@link Stand}, the same on all copies; empty for nowhere. */
  public String hostName(int number) {
    return course.hosts().where(number).word();
  }

  /** The actions that make sense for a run now; none where it is not on the board. */
  public Set<Action> actions(long id) {
    int run = course.find(id);
    return run < 0 ? Set.of() : PossibleActions.of(course, run);
  }

  /**
   * Why a run is not running, or what has become of it.
   *
   * @throws IllegalArgumentException where the run is not on the board
   */
  public Why why(long id) {
    return new WhyTeller(course).tell(index(id));
  }

  /**
   * Why a run that is still to come would have no host to go to if all stayed as it is; empty where
   * one is there that takes new work, where it needs none, and where it has begun.
   *
   * @throws IllegalArgumentException where the run is not on the board
   */
  public Optional<Why.Reason> noHost(long id) {
    int run = index(id);
    RunState state = course.stateAt(run);
    return state.isEnded() || state.isActive()
        ? Optional.empty()
        : new WhyTeller(course).noHost(run);
  }

  private int index(long id) {
    int run = course.find(id);
    if (run < 0) {
      throw new IllegalArgumentException("run " + id + " is not on the board");
    }
    return run;
  }

  /** By whom and why a run is held, itself or by what it belongs to; empty where it is not. */
  public String heldBy(long id) {
    int run = course.find(id);
    return run < 0 ? "" : course.holdAt(run);
  }

  /**
   * A value that a job handed back, as a run means it: from the job's run of the same date and
   * start, or else from the last one of the date that handed back anything.
   *
   * @param job as it is written: of the same stream, or a full path
   */
  public Optional<String> handedBack(long id, String job, String name) {
    return course.handedBack(index(id), job, name);
  }

  /**
   * The run of a job that a run means: of the same date and start, or else the last one of the
   * date.
   *
   * @param job as it is written: of the same stream, or a full path
   */
  public Optional<Long> meant(long id, String job) {
    int found = course.meant(index(id), job);
    return found < 0 ? Optional.empty() : Optional.of(course.spec(found).id());
  }

  /** What a run does, in words: of a question with the values that were handed back by now. */
  public String work(long id) {
    return course.work(index(id));
  }

  /** The runs that a run waits for or looks at, by id. */
  public List<Long> looksAt(long id) {
    List<Long> ids = new ArrayList<>();
    course.ties().condition(index(id)).targets(target -> ids.add(course.spec(target).id()));
    return ids;
  }

  /** The runs that wait for a run or look at it, by id. */
  public List<Long> followers(long id) {
    return ids(Arrays.stream(course.ties().followers(index(id))).distinct().toArray());
  }

  /** The runs right below a step, by id. */
  public List<Long> below(long id) {
    return ids(course.ties().children(index(id)));
  }

  private List<Long> ids(int[] indexes) {
    return Arrays.stream(indexes).mapToObj(run -> course.spec(run).id()).toList();
  }

  /** The step that a run is below, by id. */
  public Optional<Long> above(long id) {
    int parent = course.ties().parent(index(id));
    return parent < 0 ? Optional.empty() : Optional.of(course.spec(parent).id());
  }

  // ---- capacities

  /**
   * How a capacity stands.
   *
   * @param set what a person has set; empty where it is as defined
   * @param holders ids of the runs that hold units
   * @param line ids of the runs that lack some, or that it is kept for, first to last; then of
   *     those who need more than there is
   */
  public record CapacityState(
      int units, Optional<Integer> set, int taken, List<Long> holders, List<Long> line) {}

  /** How a capacity stands now. */
  public CapacityState capacity(String name) {
    int what = course.units().find(name);
    return new CapacityState(
        course.units().units(what),
        course.units().setTo(name),
        course.units().taken(what),
        ids(course.units().holders(what)),
        what < 0 ? List.of() : line(what));
  }

  private List<Long> line(int what) {
    List<Long> line = new ArrayList<>(ids(course.lines().line(what).toArray()));
    Bits waiting = course.waiting();
    waiting.forEach(
        run -> {
          if (course.lines().isAsideFor(run, what)) {
            line.add(course.spec(run).id());
          }
        });
    return line;
  }
}

package dev.purser.core.course;

import dev.purser.core.definition.Definitions;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Work;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.tie.Facts;
import dev.purser.core.tie.Ties;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntPredicate;

/**
 * All that a board knows, and what of it waits to be decided. A copy goes its own way: what changes
 * as a day goes by is copied, what does not is shared.
 */
public final class Course implements Facts {
  private final Runs runs;
  private final Order order;
  private final Ties ties;
  private final Demands demands;
  private final Units units;
  private final Hosts hosts;
  private final Lines lines;
  private final Bits waiting;
  private final IndexQueue toTry;
  private final IndexQueue toJudge;
  private final Bits freedUnits;
  private final Bits freedRooms;
  private final Bits drawn;
  private RunIds ids;
  private Timers timers;
  private Map<HoldScope, String> standing;
  private long now;

  /** Nothing. */
  public Course() {
    runs = new Runs();
    order = new Order(runs);
    ties = new Ties();
    demands = new Demands();
    units = new Units();
    hosts = new Hosts();
    lines = new Lines(this);
    waiting = new Bits();
    toTry = new IndexQueue();
    toJudge = new IndexQueue();
    freedUnits = new Bits();
    freedRooms = new Bits();
    drawn = new Bits();
    ids = new RunIds();
    timers = new Timers();
    standing = Map.of();
  }

  /** A copy that goes its own way from here. */
  public Course(Course other) {
    runs = new Runs(other.runs);
    order = new Order(runs);
    ties = other.ties.copy();
    demands = other.demands.copy();
    units = new Units(other.units);
    hosts = new Hosts(other.hosts);
    lines = new Lines(this, other.lines);
    waiting = new Bits(other.waiting);
    toTry = new IndexQueue(other.toTry);
    toJudge = new IndexQueue(other.toJudge);
    freedUnits = new Bits(other.freedUnits);
    freedRooms = new Bits(other.freedRooms);
    drawn = new Bits(other.drawn);
    ids = other.ids.copy();
    timers = new Timers(other.timers);
    standing = other.standing; // replaced, never changed
    now = other.now;
  }

  // ---- rooms

  /** What changes of the runs. */
  public Runs runs() {
    return runs;
  }

  /** Who comes first. */
  public Order order() {
    return order;
  }

  /** The runs, and what they are tied to. */
  public Ties ties() {
    return ties;
  }

  /** What each needs to start. */
  public Demands demands() {
    return demands;
  }

  /** Units of capacities, and of jobs that must not overlap themselves. */
  public Units units() {
    return units;
  }

  /** The hosts. */
  public Hosts hosts() {
    return hosts;
  }

  /** Who stands in line. */
  public Lines lines() {
    return lines;
  }

  /** Alarms that are set. */
  public Timers timers() {
    return timers;
  }

  /** The runs that wait. */
  public Bits waiting() {
    return waiting;
  }

  /** Runs to be looked at before this turn ends: whether they are ready. */
  public IndexQueue toTry() {
    return toTry;
  }

  /** Steps to be looked at before this turn ends: whether they have ended. */
  public IndexQueue toJudge() {
    return toJudge;
  }

  // ---- time

  /** The time of the last event, epoch milliseconds. */
  public long now() {
    return now;
  }

  /** Time never goes back. */
  public void reach(long at) {
    now = Math.max(now, at);
  }

  // ---- holds

  /** What is held until it is released, and by whom and why. */
  public Map<HoldScope, String> standing() {
    return standing;
  }

  /** Replaces what is held until it is released. */
  public void standing(Map<HoldScope, String> holds) {
    standing = Map.copyOf(holds);
  }

  /** Forgets what was scarce before now, for who wants to know what is from now on. */
  public void forgetScarcity() {
    units.forgetScarcity();
    hosts.forgetScarcity();
  }

  // ---- what was freed

  /** There may be more of something for those in line. */
  public void freed(int what) {
    freedUnits.set(what, true);
  }

  /** There may be less of something for those who look at it. */
  void joined(int what) {
    drawn.set(what, true);
  }

  /** What may have become more since it was last asked: to be emptied by who asks. */
  public Bits freedUnits() {
    return freedUnits;
  }

  /** Placements for which there may be more room. */
  public Bits freedRooms() {
    return freedRooms;
  }

  /** What may have become less since it was last asked. */
  public Bits drawn() {
    return drawn;
  }

  /** Whether nobody is to be looked at, and nothing was freed since it was last asked. */
  public boolean isDecided() {
    return toTry.isEmpty() && toJudge.isEmpty() && freedUnits.isEmpty() && freedRooms.isEmpty();
  }

  /**
   * A run takes what it needs: units, and room on its host.
   *
   * @param host its number; below 0 where it is on none
   */
  public void take(int run, int host) {
    int[] needs = demands.needs(run);
    units.take(run, needs);
    for (int at = 0; at < needs.length; at += 3) {
      drawn.set(needs[at], true);
    }
    if (host >= 0) {
      hosts.take(host);
    }
  }

  /** A run gives back what it has taken. */
  public void giveBack(int run) {
    int[] needs = demands.needs(run);
    units.giveBack(run, needs);
    for (int at = 0; at < needs.length; at += 3) {
      freedUnits.set(needs[at], true);
    }
    int host = runs.hosts.get(run);
    if (host >= 0 && !isStep(run) && hosts.giveBack(host)) {
      for (int placement : hosts.placementsOf(host)) {
        freedRooms.set(placement, true);
      }
    }
  }

  /** Everybody who waits is looked at again before this turn ends. */
  public void tryAll() {
    waiting.forEach(toTry::add);
  }

  // ---- runs come and go

  /** The index of a run; -1 where it is not here. */
  public int find(long id) {
    long guess = runs.count() == 0 ? -1 : id - ties.id(0); // ids mostly follow each other
    boolean isThere = guess >= 0 && guess < runs.count() && ties.id((int) guess) == id;
    return isThere ? (int) guess : ids.find(id);
  }

  private void addId(int run) {
    if (ties.id(run) - ties.id(0) != run) {
      ids.add(ties.id(run), run);
    }
  }

  /** Adds a run of which nothing is set yet; returns its index. */
  public int add(RunSpec spec) {
    int run = runs.add();
    ties.add(spec);
    demands.add(run, spec, units, hosts);
    addId(run);
    return run;
  }

  /** A run has become another; what holds indexes is to be made anew, as {@link #keep} does. */
  public void redefine(int run, RunSpec spec) {
    ties.redefine(run, spec);
    demands.add(run, spec, units, hosts);
  }

  /**
   * Forgets all but some runs. Indexes close up, so everything that holds indexes is made anew:
   * ties, alarms (which {@code set} is asked to set again for each run), lines, what is taken.
   */
  public void keep(IntPredicate kept, java.util.function.IntConsumer set) {
    int before = runs.count();
    boolean[] stays = new boolean[before];
    for (int i = 0; i < before; i++) {
      stays[i] = kept.test(i);
    }
    demands.keep(i -> stays[i], before);
    ties.keep(i -> stays[i]);
    runs.keep(i -> stays[i]);
    ids = new RunIds();
    for (int run = 0; run < runs.count(); run++) {
      addId(run);
    }
    timers = new Timers();
    hosts.alarms().forEach(at -> timers.add(at, -1, Timers.Kind.HOST));
    units.forgetRuns();
    hosts.forgetRuns();
    waiting.clear();
    toTry.clear();
    toJudge.clear();
    ties.tieAll();
    for (int run = 0; run < runs.count(); run++) {
      takeAgain(run);
      set.accept(run);
    }
    tryAll();
  }

  private void takeAgain(int run) {
    RunState state = runs.state(run);
    waiting.set(run, state == RunState.WAITING);
    if (state.isActive()) {
      take(run, isStep(run) ? Hosts.NO_HOST : runs.hosts.get(run));
      if (isStep(run)) {
        toJudge.add(run);
      }
    }
    lines.takeAgain(run);
  }

  // ---- how runs stand

  /** The run at an index. */
  public RunSpec spec(int run) {
    return ties.spec(run);
  }

  /** The id of a run. */
  public long id(int run) {
    return ties.id(run);
  }

  /** Whether what a run does is other runs: a stream, or parts. */
  public boolean isStep(int run) {
    return demands.is(run, Demands.STEP);
  }

  @Override
  public RunState stateAt(int run) {
    return runs.state(run);
  }

  @Override
  public boolean isNotNeeded(int run) {
    return runs.has(run, Marks.NOT_NEEDED);
  }

  @Override
  public int exitCodeAt(int run) {
    return runs.exitCodes.get(run);
  }

  @Override
  public long endedAt(int run) {
    return runs.ended.get(run);
  }

  @Override
  public Map<String, String> valuesAt(int run) {
    return runs.values.get(run);
  }

  @Override
  public FileSight sightAt(int run, int place) {
    return runs.files.get(run).get(place).sight();
  }

  /** What its prerequisite and the step above it say together. */
  public Answer answer(int run) {
    Answer gate = gate(run);
    return runs.has(run, Marks.START_NOW) ? gate : gate.and(ties.condition(run).answer(this, run));
  }

  /** Whether the step above a run has begun. */
  public Answer gate(int run) {
    int parent = ties.parent(run);
    if (parent < 0) {
      return Answer.YES;
    }
    return switch (runs.state(parent)) {
      case RUNNING -> Answer.YES;
      case PLANNED, WAITING, STARTING -> Answer.OPEN;
      case SKIPPED -> Answer.NO;
      // An ended step goes on when one of the runs below it does.
      case SUCCEEDED, FAILED -> Answer.YES;
      case CANCELLED -> Answer.STUCK;
    };
  }

  /** Whether it is held: itself, with a step above it, or with what one of them belongs to. */
  public boolean isHeld(int run) {
    for (int one = run; one >= 0; one = ties.parent(one)) {
      if (!runs.holds.get(one).isEmpty()) {
        return true;
      }
    }
    return !standing.isEmpty() && !holdAt(run).isEmpty();
  }

  /** By whom and why it is held, as the end of a sentence; empty where it is not. */
  public String holdAt(int run) {
    for (int one = run; one >= 0; one = ties.parent(one)) {
      String hold = runs.holds.get(one);
      if (!hold.isEmpty()) {
        return one == run
            ? hold
            : "held with its step: " + spec(one).run().reference() + " is " + hold;
      }
      String scope = scopeOf(one);
      if (!scope.isEmpty()) {
        return scope;
      }
    }
    return "";
  }

  private String scopeOf(int run) {
    HoldScope first = null;
    for (HoldScope scope : standing.keySet()) {
      if (scope.holds(spec(run)) && (first == null || scope.compareTo(first) < 0)) {
        first = scope;
      }
    }
    return first == null ? "" : "held with the " + first + ", which was " + standing.get(first);
  }

  /**
   * What a job handed back on the date of a run: of the start that the run belongs to, else of the
   * last one that handed it back.
   */
  public Optional<String> handedBack(int run, String job, String name) {
    RunReference own = spec(run).run().reference();
    String path = Definitions.resolve(job, own.stream());
    Optional<String> last = Optional.empty();
    for (int other : ties.runsOf(path, own.date())) {
      String value = runs.values.get(other).get(name);
      if (value != null) {
        if (spec(other).run().reference().number() == own.number()) {
          return Optional.of(value);
        }
        last = Optional.of(value);
      }
    }
    return last;
  }

  /**
   * The run of a job that a run means: of the same date and start, else the last one of the date.
   *
   * @return its index; -1 for none
   */
  public int meant(int run, String job) {
    RunReference own = spec(run).run().reference();
    int last = -1;
    for (int other : ties.runsOf(Definitions.resolve(job, own.stream()), own.date())) {
      if (spec(other).run().reference().number() == own.number()) {
        return other;
      }
      last = other;
    }
    return last;
  }

  /** What a run does, in words: of a question with the values that were handed back by now. */
  public String work(int run) {
    Work work = spec(run).run().job().work();
    return work instanceof Approval approval
        ? PlaceholderText.handedBack(approval.question(), (name, job) -> handedBack(run, job, name))
        : work.inWords();
  }
}

package dev.purser.core.board;

import dev.purser.core.course.Bearing;
import dev.purser.core.course.Course;
import dev.purser.core.course.Together;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.rule.Intake;
import dev.purser.core.rule.Rules;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * The engine. {@link #apply} takes what happened and returns what the outside must do; the same
 * events in the same order give the same instructions, always. Live work, rehearsal and forecast
 * drive this same object.
 *
 * <p>Events are taken in as they come; who may start is decided when a turn ends, in one order
 * ({@link BoardEvent.TurnEnded}). What changes lies in arrays ({@link Course}), so that a copy is a
 * copy of arrays; what does not change is shared between copies. Single threaded, knows no clock
 * and no lock. The rules are told in {@code docs/how-a-run-is-decided.md}, and each has a class of
 * its own beside this one.
 */
public final class Board extends BoardView {
  private final Rules rules;
  private final Intake intake;
  private long promisedWake = Long.MAX_VALUE;

  /** An empty board. */
  public Board() {
    this(new Course());
  }

  /** A copy that goes its own way from here. */
  public Board(BoardView other) {
    this(new Course(other.course));
    if (other instanceof Board board) {
      rules.alarms().goOnLike(board.rules.alarms());
      promisedWake = board.promisedWake;
    }
  }

  private Board(Course course) {
    super(course);
    rules = new Rules(course);
    intake = new Intake(rules);
  }

  /**
   * Applies an event. Nothing starts before the turn ends.
   *
   * @return what the outside must do, in this order; not to be changed
   */
  public List<Instruction> apply(BoardEvent event) {
    takeIn(event);
    return rules.out().take();
  }

  /**
   * The same for who needs no list of it.
   *
   * @param outside is handed what the outside must do, in this order; must not apply an event
   *     itself meanwhile
   */
  public void apply(BoardEvent event, Instruction.Visitor<?> outside) {
    takeIn(event);
    rules.out().drain(outside);
  }

  private void takeIn(BoardEvent event) {
    course.reach(event.at());
    if (event instanceof BoardEvent.StartsMissed missed) {
      rules.plan().judgeMissed(missed.missedBefore()); // before anything falls due
    }
    rules.alarms().countIfDue();
    rules.alarms().ring();
    event.accept(intake);
    rules.alarms().setCount();
    if (course.timers().nextAt() != promisedWake) {
      promisedWake = course.timers().nextAt();
      rules.out().add(new Instruction.WakeAt(promisedWake));
    }
  }

  /**
   * The runs that can make a difference to when some runs start and end, with those themselves.
   *
   * @param ends ids; those that are not on the board are left out
   * @param scarcity what plays of this board have shown to be scarce
   * @return ids
   */
  public Set<Long> bearingOn(Collection<Long> ends, Scarcity scarcity) {
    return ids(Bearing.on(course, indexes(ends), scarcity.known()));
  }

  /**
   * The runs to which it makes a difference that some have changed, by prerequisites and steps,
   * with those themselves.
   *
   * @param changed ids; those that are not on the board are left out
   * @return ids
   */
  public Set<Long> after(Collection<Long> changed) {
    return ids(Bearing.after(course, indexes(changed)));
  }

  private BitSet indexes(Collection<Long> ids) {
    BitSet indexes = new BitSet();
    for (long id : ids) {
      int run = course.find(id);
      if (run >= 0) {
        indexes.set(run);
      }
    }
    return indexes;
  }

  private Set<Long> ids(BitSet indexes) {
    Set<Long> ids = new HashSet<>();
    indexes.stream().forEach(run -> ids.add(course.id(run)));
    return ids;
  }

  /** Forgets what was scarce on this board before now. */
  public void forgetScarcity() {
    course.forgetScarcity();
  }

  /** Notes what has been scarce on this board since that was forgotten. */
  public void noteScarcity(Scarcity scarcity) {
    scarcity.known().add(course);
  }

  /**
   * Prepares to judge plays of this board in parts.
   *
   * @param scarcity what plays of all of it have shown to be scarce, which each part has whole;
   *     what plays that are judged show to be scarce is added
   * @param mayClose hosts that may take no new work for a while
   * @param plenty up to how many percent of what there is may be held before it counts as scarce
   */
  public Enough enough(Scarcity scarcity, Set<String> mayClose, int plenty) {
    return new Together(course, scarcity.known(), mayClose, plenty)::isEnough;
  }

  /** A copy that knows only some runs. */
  public Board only(Set<Long> ids) {
    Board some = new Board(this);
    some.rules.plan().keepOnly(run -> ids.contains(some.course.id(run)));
    return some;
  }

  /** Applies events as one turn: takes them in, and decides what follows. */
  public List<Instruction> turn(BoardEvent... events) {
    List<Instruction> given = new ArrayList<>();
    for (BoardEvent event : events) {
      given.addAll(apply(event));
    }
    given.addAll(apply(new BoardEvent.TurnEnded(course.now())));
    return given;
  }
}

package dev.purser.core.board;

import dev.purser.core.course.Course;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.rule.Intake;
import dev.purser.core.rule.Rules;
import java.util.ArrayList;
import java.util.List;

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
    return rules.out().take();
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

package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.job.Approval;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.EnumSet;
import java.util.Set;

/** Which actions of people make sense for a run as it stands. */
public final class PossibleActions {
  private PossibleActions() {}

  /** What people can do to a run just now. */
  public static Set<Action> of(Course course, int run) {
    Set<Action> possible = EnumSet.noneOf(Action.class);
    for (Action action : Action.values()) {
      if (fits(course, run, action)) {
        possible.add(action);
      }
    }
    return possible;
  }

  static boolean fits(Course course, int run, Action action) {
    Runs runs = course.runs();
    RunState state = runs.state(run);
    boolean mayHold = course.isStep(run) || state != RunState.RUNNING;
    boolean isHeldItself = !runs.holds.get(run).isEmpty();
    return action.fits(state)
        && switch (action) {
          case HOLD -> !isHeldItself && mayHold;
          case RELEASE -> isHeldItself;
          case START -> mayStart(course, run);
          case CANCEL, SUCCEED, FAIL -> !runs.has(run, Marks.BY_WORD);
          case APPROVE, REFUSE -> Starting.canAnswer(course, run);
          case SKIP, RERUN, RERUN_FROM, PRIORITY, START_AT -> true;
        };
  }

  /** A question is answered, not started; what is below a step starts only once the step has. */
  private static boolean mayStart(Course course, int run) {
    int parent = course.ties().parent(run);
    boolean begun = parent < 0 || course.stateAt(parent) == RunState.RUNNING;
    boolean isQuestion = course.spec(run).run().job().work() instanceof Approval;
    return begun && !course.runs().has(run, Marks.START_NOW) && !isQuestion;
  }
}

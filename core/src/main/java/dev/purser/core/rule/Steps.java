package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Timers;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.RunState;
import dev.purser.core.tie.Tally;
import java.util.ArrayList;
import java.util.List;

/** Runs that are other runs: a stream as a step, or a run in parts. */
final class Steps {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Steps(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  /** A step begins, and what is below it may. */
  void begin(int step) {
    runs.started.set(step, course.now());
    rules.transitions().enter(step, RunState.RUNNING, "");
    rules.alarms().setRunning(step);
    rules.attempts().closeLateStart(step);
    for (int child : course.ties().children(step)) {
      course.toTry().add(child);
    }
    course.toJudge().add(step);
  }

  /** A step that had ended goes on because something below it does; -1 for no step. */
  void reopen(int step, String note) {
    if (step < 0 || !runs.state(step).isEnded()) {
      return;
    }
    reopen(course.ties().parent(step), note);
    runs.unmark(step, Marks.NOT_NEEDED | Marks.STOPPING);
    runs.ended.set(step, 0);
    if (runs.started.get(step) == 0) {
      runs.started.set(step, course.now());
    }
    course.take(step, -1);
    rules.alerts().close(step, AlertKind.FAILED, note);
    rules.transitions().enter(step, RunState.RUNNING, note);
    rules.alarms().setDeadline(step, course.spec(step).run().finishBy(), Timers.Kind.FINISH_BY);
  }

  /** Decides how a step stands, once nothing below it can move by itself. */
  void judge(int step) {
    if (runs.state(step) != RunState.RUNNING || !course.isStep(step)) {
      return;
    }
    boolean active = false;
    boolean moves = false;
    for (int child : course.ties().children(step)) {
      RunState state = runs.state(child);
      active |= state.isActive();
      moves |= !state.isEnded() && (state.isActive() || course.isHeld(child) || canMove(child));
    }
    int stopping = runs.marks.get(step) & Marks.STOPPING;
    if (stopping != 0 && !active) {
      rules.attempts().endStopped(step, stopping);
    } else if (stopping == 0 && !moves) {
      judgeOutcome(step);
    }
  }

  private boolean canMove(int run) {
    Answer answer = course.answer(run);
    return answer == Answer.YES || answer == Answer.OPEN;
  }

  private void judgeOutcome(int step) {
    SuccessRule rule = course.spec(step).run().ties().succeedsIf();
    Tally tally = new Tally();
    List<String> bad = new ArrayList<>();
    for (int child : course.ties().children(step)) {
      RunState state = runs.state(child);
      String name = course.spec(child).run().reference().job();
      if (rule.counts(name)) {
        tally.add(state, course.isNotNeeded(child));
        if (state == RunState.FAILED || state == RunState.CANCELLED) {
          bad.add(name + " " + state.word());
        }
      }
    }
    if (tally.isGood(rule)) {
      end(step, RunState.SUCCEEDED, "");
    } else if (tally.isBad()) {
      end(step, RunState.FAILED, String.join(", ", bad));
    }
  }

  private void end(int step, RunState state, String note) {
    course.giveBack(step);
    rules.transitions().end(step, state, note);
  }
}

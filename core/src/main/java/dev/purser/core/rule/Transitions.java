package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Runs;
import dev.purser.core.event.AlertReason;
import dev.purser.core.run.RunState;

/** Changes of state: nobody else writes one. Whoever may be concerned is looked at again. */
final class Transitions {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Transitions(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  /** A run comes into a state that is not an end. */
  void enter(int run, RunState state, String note) {
    RunState before = runs.state(run);
    course.lines().leave(run);
    if (before.isEnded() && !state.isEnded()) {
      course.ties().tieAgain(run);
    }
    runs.states.set(run, state.ordinal());
    runs.since.set(run, course.now());
    runs.notes.set(run, note);
    course.waiting().set(run, state == RunState.WAITING);
    rules.changed(run, note);
    if (before.isActive() != state.isActive() && course.ties().isHeard(run)) {
      tryFollowers(run);
    }
    if (course.demands().is(run, Demands.ANOTHER)) {
      trySiblings(run); // where this one is, or is no more, another part may not or may be placed
    }
  }

  /** A run ends. */
  void end(int run, RunState state, String note) {
    rules.files().watch(run, false);
    runs.holds.set(run, "");
    runs.ended.set(run, course.now());
    runs.retryAt.set(run, 0);
    if (runs.asked.get(run) > 0) {
      runs.started.set(run, runs.asked.get(run)); // how long people took to answer is kept by that
    }
    runs.asked.set(run, 0);
    enter(run, state, note);
    tellOfEnd(run, state, note);
    tryFollowers(run);
    int parent = course.ties().parent(run);
    if (parent >= 0) {
      course.toJudge().add(parent);
    }
    for (int child : course.ties().children(run)) {
      course.toTry().add(child); // a step that was skipped takes what is below it along
    }
  }

  private void tellOfEnd(int run, RunState state, String note) {
    OpenAlerts alerts = rules.alerts();
    boolean failed = state == RunState.FAILED;
    if (failed && !course.isStep(run)) { // a step fails with what is below it
      alerts.open(run, AlertKind.FAILED, new AlertReason.Failed(note, runs.values.get(run)));
    }
    if (alerts.isNone(run)) {
      return;
    }
    alerts.close(run, AlertKind.LONG_RUNNING, "it has ended");
    alerts.close(run, AlertKind.APPROVAL, "it is " + state.word());
    if (!failed) {
      alerts.close(run, AlertKind.FAILED, "it is " + state.word());
      alerts.close(run, AlertKind.LATE, "it is " + state.word());
    }
  }

  private void tryFollowers(int run) {
    for (int follower : course.ties().followers(run)) {
      if (runs.state(follower) == RunState.WAITING) {
        course.toTry().add(follower);
      }
    }
  }

  private void trySiblings(int run) {
    int parent = course.ties().parent(run);
    if (parent >= 0) {
      for (int part : course.ties().children(parent)) {
        course.toTry().add(part);
      }
    }
  }
}

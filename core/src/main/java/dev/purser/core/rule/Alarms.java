package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Timers;
import dev.purser.core.event.AlertReason;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.run.RunState;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** What happens by the clock alone. Alarms are never taken back: one that holds no more is dumb. */
public final class Alarms {
  private final Rules rules;
  private final Course course;
  private final Runs runs;
  private long nextCount = Long.MAX_VALUE;
  private long countAlarm;

  Alarms(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  /** Goes on where the alarms of another board stand. */
  public void goOnLike(Alarms other) {
    nextCount = other.nextCount;
    countAlarm = other.countAlarm;
  }

  // ---- setting them

  /** Sets all that a run's state asks for. */
  void set(int run) {
    RunState state = runs.state(run);
    if (state.isEnded() && state != RunState.FAILED) {
      return;
    }
    if (state == RunState.PLANNED) {
      course.timers().add(runs.due.get(run), run, Timers.Kind.DUE);
    }
    if (state == RunState.WAITING && runs.retryAt.get(run) > 0) {
      course.timers().add(runs.retryAt.get(run), run, Timers.Kind.RETRY);
    }
    if (state == RunState.WAITING && runs.asked.get(run) > 0) {
      setAnswer(run);
    }
    if (state == RunState.RUNNING) {
      setRunning(run);
    }
    setDeadline(run, course.spec(run).run().startBy(), Timers.Kind.START_BY);
    setDeadline(run, course.spec(run).run().finishBy(), Timers.Kind.FINISH_BY);
  }

  /** A deadline before the run came into its state has been judged already. */
  void setDeadline(int run, Optional<Instant> deadline, Timers.Kind kind) {
    if (deadline.isPresent()) {
      long at = deadline.get().toEpochMilli();
      if (at > runs.since.get(run)) {
        course.timers().add(at, run, kind);
      }
    }
  }

  /** Sets those of a run that has begun. */
  void setRunning(int run) {
    if (!course.demands().is(run, Demands.TIMED)) {
      return;
    }
    long started = runs.started.get(run);
    Optional<Duration> stopAfter = course.spec(run).run().job().stopAfter();
    if (stopAfter.isPresent()) {
      course.timers().add(started + stopAfter.get().toMillis(), run, Timers.Kind.STOP_AFTER);
    }
    if (course.spec(run).longAfter() > 0) {
      long at = started + course.spec(run).longAfter();
      course.timers().add(at, run, Timers.Kind.LONG_RUNNING);
    }
  }

  /** Sets those of a question that is being asked. */
  void setAnswer(int run) {
    if (course.spec(run).run().job().work() instanceof Approval approval) {
      long asked = runs.asked.get(run);
      setAfter(asked, approval.answering().remind(), run, Timers.Kind.REMIND);
      setAfter(asked, approval.answering().lapses(), run, Timers.Kind.LAPSE);
    }
  }

  private void setAfter(long from, Optional<Duration> after, int run, Timers.Kind kind) {
    after.ifPresent(span -> course.timers().add(from + span.toMillis(), run, kind));
  }

  // ---- units by the time of day

  /** Counts the units of capacities anew where the time for that has come. */
  public void countIfDue() {
    if (course.now() >= nextCount) {
      count();
    }
  }

  /** Counts the units of capacities anew; whoever waits may have gained or lost by it. */
  void count() {
    if (course.units().count(course.now())) {
      course.tryAll();
    }
    nextCount = course.units().nextChange(course.now());
  }

  /** Sets an alarm for the next change of units, where somebody may gain by it. */
  public void setCount() {
    boolean isNew = nextCount != Long.MAX_VALUE && nextCount != countAlarm;
    if (isNew && course.lines().isAnyoneWaitingForTheClock()) {
      course.timers().add(nextCount, -1, Timers.Kind.CAPACITY);
      countAlarm = nextCount;
    }
  }

  /** All alarms have been taken out: the next count must be set again. */
  void forgetCount() {
    countAlarm = 0;
  }

  // ---- they ring

  /** Lets all ring whose time has come. */
  public void ring() {
    Timers timers = course.timers();
    while (timers.nextAt() <= course.now()) {
      long at = timers.nextAt();
      int run = timers.nextRun();
      Timers.Kind kind = timers.nextKind();
      timers.removeNext();
      ring(at, run, kind);
    }
  }

  private void ring(long at, int run, Timers.Kind kind) {
    switch (kind) {
      case DUE -> due(at, run);
      case RETRY -> retry(at, run);
      case STOP_AFTER -> stopAfter(at, run);
      case LONG_RUNNING -> longRunning(at, run);
      case START_BY -> startBy(at, run);
      case FINISH_BY -> finishBy(at, run);
      case REMIND -> remind(at, run);
      case LAPSE -> lapse(at, run);
      case HOST -> rules.attempts().giveUpHosts();
      case CAPACITY -> {} // it has done its work by waking the board
    }
  }

  private void due(long at, int run) {
    if (runs.state(run) == RunState.PLANNED && runs.due.get(run) == at) {
      rules.plan().fallDue(run);
    }
  }

  private void retry(long at, int run) {
    if (runs.state(run) == RunState.WAITING && runs.retryAt.get(run) == at) {
      runs.retryAt.set(run, 0);
      course.toTry().add(run);
    }
  }

  private void stopAfter(long at, int run) {
    Duration limit = course.spec(run).run().job().stopAfter().orElse(Duration.ZERO);
    boolean isDue =
        runs.state(run) == RunState.RUNNING && runs.started.get(run) + limit.toMillis() == at;
    if (isDue && !runs.has(run, Marks.STOPPING)) {
      String note = "is being stopped after " + Durations.print(limit);
      rules.attempts().stop(run, Marks.TOO_LONG, note);
    }
  }

  private void longRunning(long at, int run) {
    long usual = course.spec(run).longAfter();
    if (runs.state(run) == RunState.RUNNING && runs.started.get(run) + usual == at) {
      rules.alerts().open(run, AlertKind.LONG_RUNNING, new AlertReason.TakesLong(usual));
    }
  }

  private void startBy(long at, int run) {
    RunState state = runs.state(run);
    if (state == RunState.PLANNED || state == RunState.WAITING) {
      rules.alerts().open(run, AlertKind.LATE, new AlertReason.NotStarted(at));
    }
  }

  private void finishBy(long at, int run) {
    RunState state = runs.state(run);
    if (!state.isEnded() || state == RunState.FAILED) {
      rules.alerts().open(run, AlertKind.LATE, new AlertReason.NotFinished(at));
    }
  }

  private Optional<Approval> question(int run) {
    Job job = course.spec(run).run().job();
    return runs.state(run) == RunState.WAITING && job.work() instanceof Approval approval
        ? Optional.of(approval)
        : Optional.empty();
  }

  private void remind(long at, int run) {
    Optional<Approval> question = question(run);
    if (question.isPresent()) {
      long asked = runs.asked.get(run);
      Duration after = question.get().answering().remind().orElse(Duration.ZERO);
      if (at == asked + after.toMillis() && Starting.canAnswer(course, run)) {
        AlertReason reason = new AlertReason.Unanswered(asked, course.work(run));
        rules.alerts().open(run, AlertKind.APPROVAL, reason);
      }
    }
  }

  /** A question that cannot be answered just now is asked anew when it can. */
  private void lapse(long at, int run) {
    Optional<Approval> question = question(run);
    if (question.isEmpty()) {
      return;
    }
    Approval.Answering answering = question.get().answering();
    Duration limit = answering.lapses().orElse(Duration.ZERO);
    if (at != runs.asked.get(run) + limit.toMillis()) {
      return;
    }
    if (!Starting.canAnswer(course, run)) {
      runs.asked.set(run, 0);
      return;
    }
    String note = "not answered within " + Durations.print(limit) + ", and has lapsed";
    switch (answering.then()) {
      case FAIL -> rules.transitions().end(run, RunState.FAILED, note);
      case SKIP -> rules.transitions().end(run, RunState.SKIPPED, note);
      case APPROVE -> rules.transitions().end(run, RunState.SUCCEEDED, note + ", which means yes");
    }
  }
}

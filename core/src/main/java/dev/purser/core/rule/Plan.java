package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Timers;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.tie.Condition;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Runs come onto the board, fall due, and leave it. */
public final class Plan {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Plan(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  // ---- they come

  void planned(BoardEvent.RunsPlanned event) {
    int from = runs.count();
    for (RunSpec spec : event.runs()) {
      RunStatus fresh = RunStatus.fresh(spec);
      RunStatus.Said said = event.said().get(spec.id());
      add(spec, said == null ? fresh : fresh.with(said));
    }
    course.ties().tieAdded(from, run -> runs.state(run).isEnded(), this::tryIfWaiting);
    judgeMissed(event.missedBefore());
    rules.alarms().ring();
  }

  private void tryIfWaiting(int run) {
    if (runs.state(run) == RunState.WAITING) {
      course.toTry().add(run);
    }
  }

  void restored(BoardEvent.RunsRestored event) {
    event.runs().forEach(one -> add(one.spec(), one.status()));
    course.ties().tieAll();
    rules.alarms().ring();
    course.tryAll();
  }

  private void add(RunSpec spec, RunStatus status) {
    if (course.find(spec.id()) >= 0) {
      return;
    }
    int run = course.add(spec);
    set(run, spec, status);
    course.waiting().set(run, status.state() == RunState.WAITING);
    if (status.state().isActive()) {
      course.take(run, course.isStep(run) ? Hosts.NO_HOST : runs.hosts.get(run));
    }
    rules.alarms().set(run);
    if (status.state() == RunState.PLANNED && status.since() == 0) {
      rules.changed(run, "");
    }
    rules.files().watch(run, true);
  }

  private void set(int run, RunSpec spec, RunStatus status) {
    runs.states.set(run, status.state().ordinal());
    runs.standing.set(run, 0);
    runs.lacking.set(run, 0);
    runs.marks.set(run, Marks.of(status));
    runs.priorities.set(
        run, status.priority() < 0 ? spec.run().job().priority() : status.priority());
    runs.attempts.set(run, status.attempts());
    runs.budgets.set(run, status.budget());
    runs.hosts.set(run, course.hosts().of(status.where()));
    runs.due.set(run, status.due() == 0 ? spec.due() : status.due());
    runs.since.set(run, status.since() == 0 ? course.now() : status.since());
    runs.started.set(run, status.started());
    runs.ended.set(run, status.ended());
    runs.retryAt.set(run, status.retryAt());
    runs.asked.set(run, status.asked());
    runs.exitCodes.set(run, status.exitCode());
    runs.moves.set(run, status.moves());
    runs.notes.set(run, status.note());
    runs.holds.set(run, status.hold());
    runs.files.set(run, status.files());
    runs.values.set(run, status.values());
    runs.alerts.set(run, setOf(status.openAlerts()));
  }

  private static Set<AlertKind> setOf(List<AlertKind> alerts) {
    return alerts.isEmpty() ? Set.of() : EnumSet.copyOf(alerts);
  }

  // ---- they fall due

  void fallDue(int run) {
    if (course.demands().is(run, Demands.LEFT_OUT) && !runs.has(run, Marks.START_NOW)) {
      rules.transitions().end(run, RunState.SKIPPED, course.spec(run).run().leftOut());
    } else {
      rules.transitions().enter(run, RunState.WAITING, "");
      rules.files().watch(run, true);
      course.toTry().add(run);
    }
  }

  /** Has a planned run fall due at its time, which may be another than before. */
  void setDue(int run, long at) {
    course.lines().leave(run);
    runs.due.set(run, at);
    if (at > course.now()) {
      rules.files().watch(run, false);
      rules.transitions().enter(run, RunState.PLANNED, runs.notes.get(run));
      course.timers().add(at, run, Timers.Kind.DUE);
    } else if (runs.state(run) == RunState.PLANNED) {
      fallDue(run);
    } else {
      course.toTry().add(run);
    }
  }

  /** Decides what becomes of planned runs whose due time passed while nobody looked. */
  public void judgeMissed(long before) {
    List<Integer> missed = new ArrayList<>();
    for (int run = 0; before > 0 && run < runs.count(); run++) {
      if (runs.state(run) == RunState.PLANNED && runs.due.get(run) < before) {
        missed.add(run);
      }
    }
    if (missed.isEmpty()) {
      return;
    }
    MissedStarts judge =
        new MissedStarts(missed.stream().map(run -> course.spec(run).run()).toList());
    for (int i = 0; i < missed.size(); i++) {
      int run = missed.get(i);
      Optional<String> skipped = judge.skips(i, course.now());
      if (skipped.isPresent()) {
        rules.transitions().end(run, RunState.SKIPPED, skipped.get());
      } else if (course.spec(run).run().leftOut().isEmpty()) {
        rules.changed(run, judge.runs(i));
      }
    }
  }

  // ---- they leave

  void withdrawn(List<Long> ids) {
    Set<Integer> gone = new HashSet<>();
    for (long id : ids) {
      int run = course.find(id);
      if (run >= 0 && runs.state(run) == RunState.PLANNED) {
        gone.add(run);
      }
    }
    if (!gone.isEmpty()) {
      keep(run -> !gone.contains(run));
    }
  }

  /** What an open run looks at stays, whatever its date. */
  void closeDates(LocalDate before) {
    Set<LocalDate> open = new HashSet<>();
    BitSet lookedAt = new BitSet();
    for (int i = 0; i < runs.count(); i++) {
      LocalDate date = course.spec(i).run().reference().date();
      if (!runs.state(i).isEnded() || !date.isBefore(before)) {
        open.add(date);
        course.ties().condition(i).targets(lookedAt::set);
        Condition check = course.ties().check(i);
        if (check != null) {
          check.targets(lookedAt::set);
        }
      }
    }
    keep(run -> lookedAt.get(run) || open.contains(course.spec(run).run().reference().date()));
  }

  /** Forgets all but some runs, for a forecast of those alone. */
  public void keepOnly(java.util.function.IntPredicate kept) {
    keep(kept);
  }

  /** Makes anew all that holds what runs are tied to and need. */
  void makeAnew() {
    keep(run -> true);
  }

  private void keep(java.util.function.IntPredicate kept) {
    course.keep(kept, rules.alarms()::set);
    rules.alarms().forgetCount();
    rules.alarms().count();
  }
}

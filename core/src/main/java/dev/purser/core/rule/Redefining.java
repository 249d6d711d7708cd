package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** Runs that are on the board take another version of their definition, where they stand. */
final class Redefining {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Redefining(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  // ---- attempts that are out

  void replace(BoardEvent.AttemptsReplaced event) {
    for (long id : event.runs()) {
      int run = course.find(id);
      if (run >= 0
          && runs.state(run).isActive()
          && !course.isStep(run)
          && !runs.has(run, Marks.STOPPING)
          && course.hosts().isReachable(runs.hosts.get(run))) {
        rules.attempts().stop(run, Marks.REPLACED, event.note());
      }
    }
  }

  // ---- names

  /** Files that are looked for are looked for under the ids of their runs: that goes on. */
  void rename(BoardEvent.StreamRenamed event) {
    boolean any = false;
    for (RunSpec spec : event.runs()) {
      int run = course.find(spec.id());
      if (run >= 0) {
        course.redefine(run, spec);
        rules.changed(run, runs.state(run).isEnded() ? "" : event.note());
        any = true;
      }
    }
    if (any) {
      rules.plan().makeAnew();
    }
  }

  // ---- all others

  void redefine(BoardEvent.RunsRedefined event) {
    List<Long> changed = new ArrayList<>();
    for (RunSpec spec : event.runs()) {
      int run = course.find(spec.id());
      if (run >= 0 && mayTake(run, spec)) {
        take(run, spec);
        changed.add(spec.id());
      }
    }
    if (changed.isEmpty()) {
      return;
    }
    rules.plan().makeAnew();
    changed.forEach(id -> goOn(course.find(id), event.note()));
  }

  private boolean mayTake(int run, RunSpec spec) {
    RunState state = runs.state(run);
    boolean isOut = state.isActive() && !course.isStep(run);
    return !state.isOver()
        && !isOut
        && course.isStep(run) == spec.run().job().isStep()
        && course.spec(run).run().reference().equals(spec.run().reference());
  }

  private void take(int run, RunSpec after) {
    RunSpec before = course.spec(run);
    rules.files().watch(run, false);
    runs.files.set(run, files(run, before, after));
    if (runs.priorities.get(run) == before.run().job().priority()) {
      runs.priorities.set(run, after.run().job().priority());
    }
    int more = after.run().job().retry().times() - before.run().job().retry().times();
    runs.budgets.set(run, Math.max(runs.budgets.get(run) + more, runs.attempts.get(run)));
    if (runs.due.get(run) == before.due()) { // else a person has moved it
      runs.due.set(run, after.due());
    }
    if (!before.run().job().work().equals(after.run().job().work())) {
      runs.asked.set(run, 0); // what is asked now is another question
      rules.alerts().close(run, AlertKind.APPROVAL, "it is asked anew");
    }
    course.redefine(run, after);
  }

  /** What was seen of a file goes on to count where it is still the same that is waited for. */
  private List<RunStatus.FileState> files(int run, RunSpec before, RunSpec after) {
    List<FileWatch> old = before.run().watches();
    List<RunStatus.FileState> seen = runs.files.get(run);
    List<RunStatus.FileState> files = new ArrayList<>();
    for (FileWatch watch : after.run().watches()) {
      RunStatus.FileState state = RunStatus.FileState.ABSENT;
      for (int i = 0; i < old.size(); i++) {
        boolean named = old.get(i).name().equals(watch.name());
        if (named && (old.get(i).equals(watch) || seen.get(i).sight() == FileSight.ARRIVED)) {
          state = seen.get(i);
        }
      }
      files.add(state);
    }
    return List.copyOf(files);
  }

  private void goOn(int run, String note) {
    RunState state = runs.state(run);
    boolean isLeftOut =
        course.demands().is(run, Demands.LEFT_OUT) && !runs.has(run, Marks.START_NOW);
    rules.changed(run, note);
    if (isInTime(run)) {
      rules.alerts().close(run, AlertKind.LATE, "it has another deadline now");
    }
    if (state == RunState.WAITING && isLeftOut) {
      rules.transitions().end(run, RunState.SKIPPED, course.spec(run).run().leftOut());
    } else if (state == RunState.WAITING && runs.due.get(run) <= course.now()) {
      rules.files().watch(run, true);
      course.toTry().add(run);
    } else if (state == RunState.WAITING || state == RunState.PLANNED) {
      rules.plan().setDue(run, runs.due.get(run));
    } else if (course.isStep(run) && state.isActive()) {
      course.toJudge().add(run);
    }
  }

  private boolean isInTime(int run) {
    Optional<Instant> startBy = course.spec(run).run().startBy();
    boolean hasBegun = runs.started.get(run) > 0;
    return Stream.of(hasBegun ? Optional.<Instant>empty() : startBy, finishBy(run))
        .flatMap(Optional::stream)
        .allMatch(at -> at.toEpochMilli() > course.now());
  }

  private Optional<Instant> finishBy(int run) {
    return course.spec(run).run().finishBy();
  }
}

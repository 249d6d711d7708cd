package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.course.Runs;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.ArrayList;
import java.util.List;

/** The files that runs wait for: whether they are looked for, and what is seen of them. */
final class FilesOfRuns {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  FilesOfRuns(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  /** Has a waiting run's files looked for, or looked for no more. */
  void watch(int run, boolean watch) {
    List<RunStatus.FileState> files = runs.files.get(run);
    if (files.isEmpty() || (watch && runs.state(run) != RunState.WAITING)) {
      return;
    }
    long id = course.spec(run).id();
    for (int i = 0; i < files.size(); i++) {
      if (files.get(i).sight() != FileSight.ARRIVED) {
        String name = course.spec(run).run().watches().get(i).name();
        rules
            .out()
            .add(
                watch
                    ? new Instruction.WatchFile(id, name)
                    : new Instruction.UnwatchFile(id, name));
      }
    }
  }

  void seen(BoardEvent.FileSeen event) {
    set(event.run(), event.watch(), new RunStatus.FileState(event.sight(), event.path()));
  }

  void arrived(BoardEvent.FileArrived event) {
    RunStatus.FileState state = new RunStatus.FileState(FileSight.ARRIVED, event.path());
    int run = set(event.run(), event.watch(), state);
    if (run >= 0) {
      rules.out().add(new Instruction.UnwatchFile(event.run(), event.watch()));
      course.toTry().add(run);
    }
  }

  /** Sets what is seen of a file; returns the run, or -1 where nothing has changed. */
  private int set(long id, String watch, RunStatus.FileState state) {
    int run = course.find(id);
    if (run < 0 || runs.state(run) != RunState.WAITING) {
      return -1;
    }
    List<String> names = course.spec(run).run().watches().stream().map(FileWatch::name).toList();
    int place = names.indexOf(watch);
    List<RunStatus.FileState> before = runs.files.get(run);
    boolean isNews =
        place >= 0
            && before.get(place).sight() != FileSight.ARRIVED
            && !before.get(place).equals(state);
    if (!isNews) {
      return -1;
    }
    List<RunStatus.FileState> after = new ArrayList<>(before);
    after.set(place, state);
    runs.files.set(run, List.copyOf(after));
    rules.changed(run, "file " + watch + ": " + state.inWords());
    return run;
  }
}

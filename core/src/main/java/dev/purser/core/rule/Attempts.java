package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Timers;
import dev.purser.core.event.AlertReason;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.job.Job;
import dev.purser.core.job.Repeat;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.core.schedule.Durations;
import java.time.Instant;
import java.util.BitSet;

/** Attempts that are out: they begin, end, are stopped, or are lost with their host. */
final class Attempts {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Attempts(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  // ---- they begin and end

  void began(BoardEvent.AttemptBegan event) {
    int run = course.find(event.run());
    boolean isMeant =
        run >= 0
            && runs.state(run) == RunState.STARTING
            && runs.attempts.get(run) == event.attempt();
    if (!isMeant) {
      return;
    }
    runs.started.set(run, Math.min(event.happened(), course.now()));
    rules.transitions().enter(run, RunState.RUNNING, runs.notes.get(run));
    rules.alarms().setRunning(run);
    if (!runs.has(run, Marks.STOPPING)) {
      closeLateStart(run);
    }
  }

  /** A late start is over once it runs, unless a finish-by may still be missed or is. */
  void closeLateStart(int run) {
    if (rules.alerts().isNone(run)) {
      return;
    }
    long finishBy =
        course.spec(run).run().finishBy().map(Instant::toEpochMilli).orElse(Long.MAX_VALUE);
    if (finishBy > course.now()) {
      rules.alerts().close(run, AlertKind.LATE, "it has started");
    }
  }

  /** How it stands where it is; while it is being stopped, that is what is to be read. */
  void told(BoardEvent.AttemptTold event) {
    int run = course.find(event.run());
    boolean isMeant =
        run >= 0
            && runs.state(run).isActive()
            && runs.attempts.get(run) == event.attempt()
            && !runs.has(run, Marks.STOPPING);
    if (isMeant && !event.values().isEmpty()) {
      runs.values.set(run, event.values());
    }
    if (isMeant && !event.note().equals(runs.notes.get(run))) {
      runs.notes.set(run, event.note());
      rules.changed(run, event.note());
      if (event.asks()) {
        AlertReason reason = new AlertReason.Unanswered(course.now(), event.note());
        rules.alerts().open(run, AlertKind.APPROVAL, reason);
      } else if (!rules.alerts().isNone(run)) {
        rules.alerts().close(run, AlertKind.APPROVAL, "it goes on");
      }
    }
  }

  void ended(BoardEvent.AttemptEnded event) {
    int run = course.find(event.run());
    boolean isMeant =
        run >= 0 && runs.state(run).isActive() && runs.attempts.get(run) == event.attempt();
    if (!isMeant) {
      return;
    }
    course.giveBack(run);
    runs.exitCodes.set(run, event.ending().code());
    runs.values.set(run, event.values());
    int stopping = runs.marks.get(run) & Marks.STOPPING;
    runs.unmark(run, Marks.TOO_LONG | Marks.REPLACED);
    decideEnd(run, event.ending(), stopping);
    if (runs.ended.get(run) == course.now()) { // what is late is the news, not the end
      long happened = Math.max(runs.started.get(run), event.happened());
      runs.ended.set(run, Math.min(course.now(), happened));
    }
  }

  private void decideEnd(int run, Ending ending, int stopping) {
    if ((stopping & Marks.BY_WORD) != 0) {
      endStopped(run, stopping);
    } else if (ending.kind() == Ending.Kind.NOTHING_TO_DO && stopping == 0) {
      String check = course.spec(run).run().job().onlyIf().map(Object::toString).orElse("");
      String note = "nothing to do: its check before work says so (" + check + ")";
      rules.transitions().end(run, RunState.SKIPPED, note);
    } else if (stopping != Marks.TOO_LONG && isSuccess(run, ending)) {
      rules.transitions().end(run, RunState.SUCCEEDED, success(ending));
    } else if (stopping == Marks.REPLACED && ending.kind() != Ending.Kind.LOST) {
      replaced(run, ending);
    } else {
      failed(run, ending, stopping == Marks.TOO_LONG);
    }
  }

  private boolean isSuccess(int run, Ending ending) {
    if (ending.kind() != Ending.Kind.EXITED) {
      return false;
    }
    return course.demands().is(run, Demands.ZERO_IS_SUCCESS)
        ? ending.code() == 0
        : course.spec(run).run().job().succeedsWith().contains(ending.code());
  }

  private static String success(Ending ending) {
    String code = ending.code() == 0 ? "" : "with exit code " + ending.code();
    return ending.note().isEmpty() ? code : code + (code.isEmpty() ? "" : "; ") + ending.note();
  }

  /** An attempt that was stopped by somebody's word has ended: so has the run, as that says. */
  void endStopped(int run, int stopping) {
    String note = runs.notes.get(run);
    runs.unmark(run, Marks.STOPPING);
    if (course.isStep(run)) {
      course.giveBack(run);
    }
    RunState state =
        switch (Marks.stopping(stopping)) {
          case SUCCEEDED -> RunState.SUCCEEDED;
          case FAILED -> RunState.FAILED;
          case NO, TOO_LONG, REPLACED, CANCELLED -> RunState.CANCELLED;
        };
    rules.transitions().end(run, state, note);
  }

  /** It was stopped to be tried again: that does not count as one of its tries. */
  private void replaced(int run, Ending ending) {
    runs.budgets.set(run, runs.budgets.get(run) + 1);
    runs.retryAt.set(run, 0);
    rules.alerts().close(run, AlertKind.LONG_RUNNING, "the attempt has ended");
    String note = "attempt " + runs.attempts.get(run) + " was replaced: " + ending.inWords();
    rules.transitions().enter(run, RunState.WAITING, note);
    rules.out().add(new Instruction.TakeVersion(course.id(run)));
    course.toTry().add(run);
  }

  // ---- they fail

  private void failed(int run, Ending ending, boolean tooLong) {
    Job job = course.spec(run).run().job();
    String limit = tooLong ? job.stopAfter().map(Durations::print).orElse("") : "";
    String cause = tooLong ? "stopped after " + limit : ending.inWords();
    boolean moves = ending.kind() == Ending.Kind.LOST && mayMove(run);
    if (moves) {
      runs.moves.set(run, runs.moves.get(run) + 1);
    }
    if (!moves && !isRetried(run, job, ending, tooLong)) {
      rules.transitions().end(run, RunState.FAILED, cause);
      return;
    }
    int before = runs.budgets.get(run) - 1 - job.retry().times();
    int tried = Math.max(runs.attempts.get(run) - before, 1);
    long pause = moves ? 0 : job.retry().pauseAfter(tried).toMillis();
    rules.alerts().close(run, AlertKind.LONG_RUNNING, "the attempt has ended");
    String note = "attempt " + runs.attempts.get(run) + " " + cause;
    runs.retryAt.set(run, pause == 0 ? 0 : course.now() + pause);
    rules.transitions().enter(run, RunState.WAITING, note);
    if (pause == 0) {
      course.toTry().add(run);
    } else {
      course.timers().add(runs.retryAt.get(run), run, Timers.Kind.RETRY);
    }
  }

  private boolean isRetried(int run, Job job, Ending ending, boolean tooLong) {
    boolean rightCode =
        tooLong
            ? job.retry().onStopAfter()
            : ending.kind() != Ending.Kind.EXITED || job.retry().on().contains(ending.code());
    return runs.attempts.get(run) < runs.budgets.get(run)
        && rightCode
        && ending.kind() != Ending.Kind.NO_VALUE
        && ending.kind() != Ending.Kind.LOST;
  }

  // ---- they are lost

  /** Whether an attempt that was lost may be tried again, on another host. */
  private boolean mayMove(int run) {
    Repeat repeat = course.spec(run).run().job().repeat();
    return repeat.allowed()
        && runs.moves.get(run) < repeat.ofRun()
        && movesOfJob(course.spec(run).run().reference()) < repeat.ofJob();
  }

  private int movesOfJob(RunReference reference) {
    int moves = 0;
    for (int i = 0; i < runs.count(); i++) {
      if (runs.moves.get(i) > 0) {
        RunReference other = course.spec(i).run().reference();
        boolean same =
            other.date().equals(reference.date()) && other.path().equals(reference.path());
        moves += same ? runs.moves.get(i) : 0;
      }
    }
    return moves;
  }

  /** Work on hosts that have been away too long goes elsewhere, where it may and there is room. */
  void giveUpHosts() {
    BitSet gone = course.hosts().givenUp(course.now());
    for (int run = 0; !gone.isEmpty() && run < runs.count(); run++) {
      boolean isThere = runs.hosts.get(run) >= 0 && gone.get(runs.hosts.get(run));
      if (isThere && runs.state(run).isActive()) {
        giveUp(run);
      }
    }
  }

  private void giveUp(int run) {
    int host = runs.hosts.get(run);
    int stopping = runs.marks.get(run) & Marks.BY_WORD;
    if (stopping != 0) {
      endUnreachable(run, stopping, runs.notes.get(run));
    } else if (mayMove(run) && course.lines().hasRoomElsewhere(run, host)) {
      course.giveBack(run);
      Hosts hosts = course.hosts();
      String since = course.spec(run).clock(hosts.lostAt(host));
      String note = "host " + hosts.name(host) + " has been away since " + since;
      Ending lost = new Ending(Ending.Kind.LOST, -1, note);
      giveUpAttempt(run, lost.inWords());
      boolean isReplaced = runs.has(run, Marks.REPLACED);
      runs.unmark(run, Marks.TOO_LONG | Marks.REPLACED); // the next attempt is stopped by nobody
      failed(run, lost, false);
      if (isReplaced) {
        rules.out().add(new Instruction.TakeVersion(course.id(run)));
      }
    }
  }

  private void giveUpAttempt(int run, String note) {
    long id = course.spec(run).id();
    rules.out().add(new Instruction.GiveUpAttempt(id, runs.attempts.get(run), note));
  }

  // ---- they are stopped

  /** Asks an attempt to stop; it ends when the news of that come. */
  void stop(int run, int mark, String note) {
    boolean first = !runs.has(run, Marks.STOPPING);
    runs.unmark(run, Marks.STOPPING);
    runs.mark(run, mark);
    runs.notes.set(run, note);
    rules.changed(run, note);
    if (first) {
      rules
          .out()
          .add(
              new Instruction.StopAttempt(
                  course.spec(run).id(),
                  runs.attempts.get(run),
                  course.hosts().where(runs.hosts.get(run)),
                  course.spec(run).run().job().grace().toMillis()));
    }
  }

  /** Ends a run whose attempt nobody can stop just now: its host is told when it is back. */
  void endUnreachable(int run, int mark, String note) {
    course.giveBack(run);
    runs.notes.set(run, note);
    String host = course.hosts().name(runs.hosts.get(run));
    giveUpAttempt(run, "could not be stopped: host " + host + " is away");
    endStopped(run, mark);
  }
}

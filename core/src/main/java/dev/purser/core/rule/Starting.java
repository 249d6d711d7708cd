package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.event.Instruction;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.RunState;
import dev.purser.core.tie.Condition;
import dev.purser.core.why.WhyTeller;

/** Whether a waiting run is ready, and how one that may start does. */
final class Starting {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  Starting(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  /**
   * Whether nothing of its own is missing. A run that is not to start any more is ended here, a
   * question is asked.
   */
  boolean isReady(int run) {
    Answer answer = course.answer(run);
    if (answer == Answer.NO) {
      runs.mark(run, Marks.NOT_NEEDED);
      rules.transitions().end(run, RunState.SKIPPED, "not needed: " + notNeeded(run));
      return false;
    }
    if (answer == Answer.STUCK && course.ties().parent(run) >= 0) {
      course.toJudge().add(course.ties().parent(run));
    }
    boolean waits = runs.retryAt.get(run) > course.now();
    if (answer != Answer.YES || waits || course.isHeld(run)) {
      return false;
    }
    if (course.demands().is(run, Demands.QUESTION)) {
      ask(run);
      return false;
    }
    return hasWork(run);
  }

  private String notNeeded(int run) {
    int parent = course.ties().parent(run);
    if (parent >= 0 && course.gate(run) == Answer.NO) {
      return "its step " + rules.reference(parent) + " was skipped";
    }
    String asked = course.spec(run).run().job().waitsFor().map(Object::toString).orElse("");
    return "\"" + asked + "\" can no longer be met";
  }

  private void ask(int run) {
    if (runs.asked.get(run) == 0) {
      runs.asked.set(run, course.now());
      rules.alarms().setAnswer(run);
      rules.out().add(new Instruction.AskPerson(course.spec(run).id(), course.work(run)));
      rules.changed(run, "waits for an answer: " + course.work(run));
    }
  }

  /** Whether a person is, or could be, asked just now. */
  static boolean canAnswer(Course course, int run) {
    return course.stateAt(run) == RunState.WAITING
        && course.demands().is(run, Demands.QUESTION)
        && !course.isHeld(run)
        && course.answer(run) == Answer.YES;
  }

  /** Whether its check by values finds something to do; a run without is ended here. */
  private boolean hasWork(int run) {
    Condition check = course.ties().check(run);
    if (check == null || runs.has(run, Marks.START_NOW)) {
      return true;
    }
    Answer answer = check.answer(course, run);
    if (answer == Answer.NO) {
      String note = "nothing to do: " + asked(run) + " does not hold" + facts(check);
      rules.transitions().end(run, RunState.SKIPPED, note);
    } else if (answer == Answer.STUCK) {
      String note = "cannot tell whether there is anything to do: " + asked(run) + facts(check);
      rules.transitions().end(run, RunState.FAILED, note);
    }
    return answer == Answer.YES;
  }

  private String asked(int run) {
    return "\"" + course.spec(run).run().job().onlyIf().map(Object::toString).orElse("") + "\"";
  }

  private String facts(Condition check) {
    String facts = String.join(", ", new WhyTeller(course).facts(check));
    return facts.isEmpty() ? "" : " (" + facts + ")";
  }

  /**
   * Starts a run that is ready and has all that it needs.
   *
   * @param host the number of a host, or {@link Hosts#NO_HOST} for a step and for what happens in
   *     the service
   */
  void start(int run, int host) {
    course.lines().leave(run);
    course.take(run, host);
    int parent = course.ties().parent(run);
    if (parent >= 0 && runs.state(parent).isEnded()) {
      rules.steps().reopen(parent, "goes on: " + rules.reference(run) + " starts");
    }
    boolean step = course.isStep(run);
    runs.hosts.set(run, host == Hosts.NO_HOST && !step ? Hosts.IN_SERVICE : host);
    runs.exitCodes.set(run, -1);
    if (step) {
      rules.steps().begin(run);
      return;
    }
    runs.attempts.set(run, runs.attempts.get(run) + 1);
    runs.started.set(run, 0);
    rules.transitions().enter(run, RunState.STARTING, "");
    rules
        .out()
        .add(
            new Instruction.StartAttempt(
                course.id(run), runs.attempts.get(run), course.hosts().where(runs.hosts.get(run))));
  }
}

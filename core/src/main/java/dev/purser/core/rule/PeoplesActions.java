package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Timers;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Carries out what people do to the runs of a board, or says why not. */
final class PeoplesActions {
  /** A start time that is a little past means: as soon as nothing is missing. */
  private static final long LONGEST_PAST_MILLIS = Duration.ofDays(1).toMillis();

  /** Actions by which somebody ends a run. */
  private static final Set<Action> ENDING = EnumSet.of(Action.CANCEL, Action.SUCCEED, Action.FAIL);

  private final Rules rules;
  private final Course course;
  private final Runs runs;
  private final NamedQuestions questions;

  PeoplesActions(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
    questions = new NamedQuestions(course);
  }

  void act(BoardEvent.PersonActed event) {
    int run = course.find(event.run());
    Optional<String> refusal =
        run < 0 ? Optional.of("the run is not on the board any more") : refusal(run, event);
    if (refusal.isPresent()) {
      rules.out().add(new Instruction.Refused(event.run(), event.action(), refusal.get()));
      return;
    }
    String reason = event.reason().isBlank() ? "" : ": " + event.reason();
    carryOut(run, event, event.action().done() + " by " + event.by() + reason);
  }

  private void carryOut(int run, BoardEvent.PersonActed event, String note) {
    switch (event.action()) {
      case HOLD -> hold(run, note);
      case RELEASE -> release(run, note);
      case START -> startNow(run, note);
      case SKIP -> skip(run, note);
      case CANCEL -> cancel(run, note);
      case RERUN -> rerun(run, note);
      case RERUN_FROM -> rerunFrom(run, note);
      case SUCCEED -> mark(run, Marks.MARKED_SUCCEEDED, note);
      case FAIL -> mark(run, Marks.MARKED_FAILED, note);
      case PRIORITY -> setPriorities(run, (int) event.argument(), note);
      case START_AT -> startAt(run, event.argument(), note);
      case APPROVE -> rules.transitions().end(run, RunState.SUCCEEDED, note);
      case REFUSE -> rules.transitions().end(run, RunState.FAILED, note);
    }
  }

  // ---- what cannot be done

  /** Why an action makes no sense for a run, and what would; empty where it does. */
  private Optional<String> refusal(int run, BoardEvent.PersonActed event) {
    Action action = event.action();
    if (!PossibleActions.fits(course, run, action)) {
      return Optional.of(doesNotFit(run, action));
    }
    if (action == Action.PRIORITY && (event.argument() < 0 || event.argument() > 100)) {
      return Optional.of("a priority is 0 to 100, not " + event.argument());
    }
    if (action == Action.START_AT && event.argument() <= 0) {
      return Optional.of("a start time must be given");
    }
    if (action == Action.START_AT && event.argument() < course.now() - LONGEST_PAST_MILLIS) {
      return Optional.of(
          "the start time "
              + course.spec(run).clock(event.argument())
              + " is long past; give one to come");
    }
    return questions.forbids(run, action, event.by());
  }

  private String doesNotFit(int run, Action action) {
    if (runs.state(run).isActive() && runs.has(run, Marks.BY_WORD) && ENDING.contains(action)) {
      return isStopped(run);
    }
    List<String> possible = PossibleActions.of(course, run).stream().map(Action::word).toList();
    String instead = possible.isEmpty() ? "" : "; possible now: " + String.join(", ", possible);
    boolean isHeldItself = !runs.holds.get(run).isEmpty();
    String hold = isHeldItself ? "held" : course.holdAt(run);
    return "a run that "
        + standing(run)
        + (hold.isEmpty() ? "" : " and is " + hold)
        + " cannot be "
        + action.done()
        + instead;
  }

  /** What becomes of a run that somebody has already ended, and whose attempt is still there. */
  private String isStopped(int run) {
    String said = "is being stopped already (" + runs.notes.get(run) + ")";
    if (course.isStep(run)) {
      return said + "; it ends when all below it has";
    }
    return said
        + (course.hosts().isReachable(runs.hosts.get(run))
            ? "; a process that does not end by itself is forced "
                + Durations.print(course.spec(run).run().job().grace())
                + " after it was asked to"
            : "; its host "
                + course.hosts().name(runs.hosts.get(run))
                + " is away, and is told when it is back");
  }

  private String standing(int run) {
    RunState state = runs.state(run);
    return switch (state) {
      case SUCCEEDED -> "has succeeded";
      case FAILED -> "has failed";
      default -> "is " + state.word();
    };
  }

  // ---- before it has begun

  private void hold(int run, String note) {
    runs.holds.set(run, note);
    rules.changed(run, note);
    tryWithBelow(run);
  }

  private void release(int run, String note) {
    runs.holds.set(run, "");
    rules.changed(run, note);
    tryWithBelow(run);
  }

  private void tryWithBelow(int run) {
    course.toTry().add(run);
    everythingBelow(run).forEach(course.toTry()::add);
  }

  private void startNow(int run, String note) {
    runs.mark(run, Marks.START_NOW);
    runs.retryAt.set(run, 0);
    runs.holds.set(run, "");
    rules.changed(run, note);
    rules.plan().setDue(run, Math.min(runs.due.get(run), course.now()));
    course.toTry().add(run);
  }

  private void startAt(int run, long at, String note) {
    String text = note + " (" + course.spec(run).clock(at) + ")";
    runs.notes.set(run, text);
    rules.changed(run, text);
    rules.plan().setDue(run, at);
  }

  private void setPriorities(int run, int priority, String note) {
    String text = note + " (" + priority + ")";
    setPriority(run, priority, text);
    for (int below : everythingBelow(run)) {
      if (!runs.state(below).isEnded()) {
        setPriority(below, priority, text);
      }
    }
  }

  private void setPriority(int run, int priority, String note) {
    course.lines().leave(run);
    runs.priorities.set(run, priority);
    rules.changed(run, note);
    course.toTry().add(run);
  }

  // ---- ended by a person's word

  private void skip(int run, String note) {
    for (int below : everythingBelow(run)) {
      if (!runs.state(below).isEnded()) {
        rules.transitions().end(below, RunState.SKIPPED, "skipped with its step, " + note);
      }
    }
    rules.transitions().end(run, RunState.SKIPPED, note);
  }

  /** Ends a run and all below it; what is at work is stopped first. */
  void cancel(int run, String note) {
    cancelBelow(run, note);
    end(run, Marks.CANCELLING, RunState.CANCELLED, note);
  }

  private void mark(int run, int mark, String note) {
    cancelBelow(run, note);
    RunState state = mark == Marks.MARKED_FAILED ? RunState.FAILED : RunState.SUCCEEDED;
    end(run, mark, state, note);
  }

  private void cancelBelow(int run, String note) {
    for (int below : everythingBelow(run)) {
      if (!runs.state(below).isEnded()) {
        String text = "cancelled with its step, " + note;
        end(below, Marks.CANCELLING, RunState.CANCELLED, text);
      }
    }
  }

  private void end(int run, int mark, RunState state, String note) {
    if (!runs.state(run).isActive()) {
      rules.transitions().end(run, state, note);
    } else if (course.isStep(run)) {
      runs.unmark(run, Marks.STOPPING);
      runs.mark(run, mark);
      runs.notes.set(run, note);
      rules.changed(run, note);
      course.toJudge().add(run);
    } else if (course.hosts().isReachable(runs.hosts.get(run)) || mark == Marks.CANCELLING) {
      rules.attempts().stop(run, mark, note);
    } else {
      rules.attempts().endUnreachable(run, mark, note);
    }
  }

  // ---- again

  private void rerunFrom(int run, String note) {
    List<Integer> following = following(run);
    rerun(run, note);
    String after = "rerun after " + rules.reference(run) + ", " + note;
    following.forEach(next -> rerun(next, after));
  }

  /** Does a run again, and all below it; what is at work is left alone. */
  private void rerun(int run, String note) {
    if (!runs.state(run).isEnded()) {
      return;
    }
    String goesOn = "goes on: " + rules.reference(run) + " " + note;
    rules.steps().reopen(course.ties().parent(run), goesOn);
    runs.unmark(run, Marks.NOT_NEEDED | Marks.START_NOW | Marks.STOPPING);
    int retries = course.spec(run).run().job().retry().times();
    runs.budgets.set(run, runs.attempts.get(run) + 1 + retries);
    runs.retryAt.set(run, 0);
    runs.ended.set(run, 0);
    runs.asked.set(run, 0);
    if (course.isStep(run)) {
      runs.started.set(run, 0);
    }
    rules.alerts().close(run, AlertKind.FAILED, note);
    rules.transitions().enter(run, RunState.WAITING, note);
    rules.alarms().setDeadline(run, course.spec(run).run().finishBy(), Timers.Kind.FINISH_BY);
    rules.files().watch(run, true);
    course.toTry().add(run);
    for (int below : course.ties().children(run)) {
      rerun(below, "rerun with its step, " + note);
    }
  }

  /** All that follows a run, near or far, and has ended: in the order of the board. */
  private List<Integer> following(int run) {
    BitSet seen = new BitSet();
    Deque<Integer> open = new ArrayDeque<>();
    open.add(run);
    seen.set(run);
    while (!open.isEmpty()) {
      int one = open.remove();
      follow(one, seen, open);
      if (course.ties().parent(one) >= 0) {
        follow(course.ties().parent(one), seen, open);
      }
    }
    seen.clear(run);
    List<Integer> ended = new ArrayList<>();
    seen.stream().filter(next -> runs.state(next).isEnded()).forEach(ended::add);
    return ended;
  }

  /** Another start of the same stream, as the next window, comes after but does not follow. */
  private void follow(int run, BitSet seen, Deque<Integer> open) {
    RunReference from = course.spec(run).run().reference();
    for (int next : course.ties().followers(run)) {
      RunReference to = course.spec(next).run().reference();
      boolean otherStart =
          to.stream().equals(from.stream())
              && (to.number() != from.number() || !to.date().equals(from.date()));
      if (!otherStart && !seen.get(next)) {
        seen.set(next);
        open.add(next);
      }
    }
  }

  private List<Integer> everythingBelow(int run) {
    List<Integer> all = new ArrayList<>();
    for (int child : course.ties().children(run)) {
      all.add(child);
      all.addAll(everythingBelow(child));
    }
    return all;
  }
}

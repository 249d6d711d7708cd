package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.course.Runs;
import dev.purser.core.job.Approval;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.ArrayDeque;
import java.util.BitSet;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Questions that only some may answer stay theirs: nobody else gets round them by marking, skipping
 * or cancelling them, alone or with the step that they are in, nor by starting at once what waits
 * for the answer.
 */
final class NamedQuestions {
  private static final Set<Action> DECIDING =
      Set.of(
          Action.APPROVE, Action.REFUSE, Action.SUCCEED, Action.FAIL, Action.SKIP, Action.CANCEL);

  /** Nobody comes to these but by those who may decide. */
  private static final Set<RunState> LETS_GO = Set.of(RunState.SUCCEEDED, RunState.SKIPPED);

  private final Course course;
  private final Runs runs;

  NamedQuestions(Course course) {
    this.course = course;
    this.runs = course.runs();
  }

  /** Why somebody may not do something to a run; empty where no question forbids it. */
  Optional<String> forbids(int run, Action action, String who) {
    if (DECIDING.contains(action)) {
      return answerers(run, who)
          .map(by -> who + " may not decide this question; only " + by + " may")
          .or(() -> below(run, action, who));
    }
    return action == Action.START ? before(run, who) : Optional.empty();
  }

  /** Who alone may answer, where the run is a question that is not for this person. */
  private Optional<String> answerers(int run, String who) {
    if (!(course.spec(run).run().job().work() instanceof Approval approval)) {
      return Optional.empty();
    }
    List<String> by = approval.answering().by();
    return by.isEmpty() || by.contains(who) ? Optional.empty() : Optional.of(String.join(", ", by));
  }

  /** A step is acted on whole or not at all. */
  private Optional<String> below(int run, Action action, String who) {
    for (int child : course.ties().children(run)) {
      Optional<String> by = runs.state(child).isEnded() ? Optional.empty() : answerers(child, who);
      Optional<String> found =
          by.map(
                  names ->
                      "the step cannot be "
                          + action.done()
                          + ": it holds the question "
                          + course.spec(child).run().reference()
                          + ", which only "
                          + names
                          + " may decide")
              .or(() -> below(child, action, who));
      if (found.isPresent()) {
        return found;
      }
    }
    return Optional.empty();
  }

  /** What a run waits for, near or far, and what the steps wait for that it is in. */
  private Optional<String> before(int run, String who) {
    BitSet seen = new BitSet();
    Deque<Integer> open = new ArrayDeque<>();
    add(run, seen, open);
    while (!open.isEmpty()) {
      int one = open.remove();
      Optional<String> by =
          one == run || LETS_GO.contains(runs.state(one)) ? Optional.empty() : answerers(one, who);
      if (by.isPresent()) {
        return Optional.of(
            "it cannot be started at once: it follows the question "
                + course.spec(one).run().reference()
                + ", which only "
                + by.get()
                + " may decide");
      }
      if (one == run || !runs.state(one).isEnded()) {
        course.ties().condition(one).targets(next -> add(next, seen, open));
        if (one != run) {
          for (int child : course.ties().children(one)) {
            add(child, seen, open);
          }
        }
      }
      if (course.ties().parent(one) >= 0 && one == run) {
        above(course.ties().parent(one), seen, open);
      }
    }
    return Optional.empty();
  }

  private void above(int step, BitSet seen, Deque<Integer> open) {
    for (int one = step; one >= 0; one = course.ties().parent(one)) {
      course.ties().condition(one).targets(next -> add(next, seen, open));
    }
  }

  private static void add(int run, BitSet seen, Deque<Integer> open) {
    if (run >= 0 && !seen.get(run)) {
      seen.set(run);
      open.add(run);
    }
  }
}

package dev.purser.core.board;

import dev.purser.core.definition.Work;
import dev.purser.core.plan.RunReference;
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
  private final Board board;
  private final RunTable table;

  PeoplesActions(Board board) {
    this.board = board;
    this.table = board.table;
  }

  void act(BoardEvent.PersonActed event) {
    Optional<Integer> run = board.find(event.run());
    Optional<String> refusal =
        run.isEmpty()
            ? Optional.of("the run is not on the board any more")
            : refusal(run.get(), event);
    if (refusal.isPresent()) {
      board.instruct(new Instruction.Refused(event.run(), event.action(), refusal.get()));
      return;
    }
    String reason = event.reason().isBlank() ? "" : ": " + event.reason();
    carryOut(run.get(), event, event.action().done() + " by " + event.by() + reason);
  }

  private void carryOut(int run, BoardEvent.PersonActed event, String note) {
    switch (event.action()) {
      case HOLD -> {
        board.leaveLine(run);
        table.holds[run] = note;
        board.changed(run, note);
      }
      case RELEASE -> {
        table.holds[run] = "";
        board.changed(run, note);
        everythingBelow(run).stream().forEach(board::tryAgain);
        board.tryAgain(run);
      }
      case START -> startNow(run, note);
      case SKIP -> skip(run, note);
      case CANCEL -> cancel(run, note);
      case RERUN -> rerun(run, note);
      case RERUN_FROM -> {
        List<Integer> following = following(run);
        rerun(run, note);
        String after = "rerun after " + table.specs[run].run().reference() + ", " + note;
        following.forEach(next -> rerun(next, after));
      }
      case SUCCEED -> mark(run, Board.MARKED_SUCCEEDED, note);
      case FAIL -> mark(run, Board.MARKED_FAILED, note);
      case PRIORITY -> {
        int priority = (int) event.argument();
        setPriority(run, priority, note + " (" + priority + ")");
        everythingBelow(run).stream()
            .filter(below -> !board.stateAt(below).isEnded())
            .forEach(below -> setPriority(below, priority, note + " (" + priority + ")"));
      }
      case START_AT -> {
        String text = note + " (" + board.clock(run, event.argument()) + ")";
        table.notes[run] = text;
        board.changed(run, text);
        board.setDue(run, event.argument());
      }
      case APPROVE -> board.end(run, RunState.SUCCEEDED, note);
      case REFUSE -> board.end(run, RunState.FAILED, note);
    }
  }

  private void setPriority(int run, int priority, String note) {
    board.leaveLine(run);
    table.priorities[run] = (byte) priority;
    board.changed(run, note);
    board.tryAgain(run);
  }

  // ---- what can be done

  /** The actions that make sense for a run now. */
  Set<Action> possible(int run) {
    Set<Action> possible = EnumSet.noneOf(Action.class);
    for (Action action : Action.values()) {
      if (fitsNow(run, action)) {
        possible.add(action);
      }
    }
    return possible;
  }

  /** Why an action makes no sense for a run, and what would; empty where it does. */
  private Optional<String> refusal(int run, BoardEvent.PersonActed event) {
    Action action = event.action();
    RunState state = board.stateAt(run);
    if (!fitsNow(run, action)) {
      List<String> possible = possible(run).stream().map(Action::word).toList();
      String instead = possible.isEmpty() ? "" : "; possible now: " + String.join(", ", possible);
      return Optional.of(
          "cannot "
              + action.word()
              + " a run that is "
              + state.word()
              + (board.isHeld(run) ? " and " + holdInShort(run) : "")
              + instead);
    }
    if (action == Action.PRIORITY && (event.argument() < 0 || event.argument() > 100)) {
      return Optional.of("a priority is 0 to 100, not " + event.argument());
    }
    if (action == Action.START_AT && event.argument() <= 0) {
      return Optional.of("a start time must be given");
    }
    boolean answers = action == Action.APPROVE || action == Action.REFUSE;
    if (answers && board.job(run).work() instanceof Work.Approval approval) {
      List<String> by = approval.answering().by();
      return by.isEmpty() || by.contains(event.by())
          ? Optional.empty()
          : Optional.of(
              event.by() + " may not answer this question; only " + String.join(", ", by) + " may");
    }
    return Optional.empty();
  }

  /** Held itself, or with what it belongs to: that must be released then. */
  private String holdInShort(int run) {
    return table.holds[run].isEmpty() ? board.holdAt(run) : "held";
  }

  private boolean fitsNow(int run, Action action) {
    boolean step = board.job(run).isStep();
    boolean running = board.stateAt(run) == RunState.RUNNING;
    return action.fits(board.stateAt(run))
        && switch (action) {
          case HOLD -> table.holds[run].isEmpty() && (step || !running);
          case RELEASE -> !table.holds[run].isEmpty();
          case START -> mayStart(run);
          case CANCEL, SUCCEED, FAIL -> (table.marks[run] & Board.STOPPING & ~Board.TOO_LONG) == 0;
          case APPROVE, REFUSE -> board.canAnswer(run);
          case SKIP, RERUN, RERUN_FROM, PRIORITY, START_AT -> true;
        };
  }

  /** A question is answered, not started; what is below a step starts only once the step has. */
  private boolean mayStart(int run) {
    int parent = table.parents[run];
    boolean begun = parent < 0 || board.stateAt(parent) == RunState.RUNNING;
    boolean asked = (table.marks[run] & Board.START_NOW) == 0;
    return begun && asked && !(board.job(run).work() instanceof Work.Approval);
  }

  // ---- what is done

  private void startNow(int run, String note) {
    table.marks[run] |= Board.START_NOW;
    table.retryAt[run] = 0;
    table.holds[run] = "";
    board.changed(run, note);
    board.setDue(run, Math.min(table.due[run], board.now()));
    board.tryAgain(run);
  }

  private void skip(int run, String note) {
    for (int below : everythingBelow(run)) {
      if (!board.stateAt(below).isEnded()) {
        board.end(below, RunState.SKIPPED, "skipped with its step, " + note);
      }
    }
    board.end(run, RunState.SKIPPED, note);
  }

  /** Ends a run and all below it; what is at work is stopped first. */
  void cancel(int run, String note) {
    stopBelow(run, note);
    end(run, Board.CANCELLING, RunState.CANCELLED, note);
  }

  private void mark(int run, int mark, String note) {
    stopBelow(run, note);
    end(run, mark, mark == Board.MARKED_FAILED ? RunState.FAILED : RunState.SUCCEEDED, note);
  }

  private void stopBelow(int run, String note) {
    for (int below : everythingBelow(run)) {
      if (!board.stateAt(below).isEnded()) {
        end(below, Board.CANCELLING, RunState.CANCELLED, "cancelled with its step, " + note);
      }
    }
  }

  private void end(int run, int mark, RunState state, String note) {
    if (!board.stateAt(run).isActive()) {
      board.end(run, state, note);
    } else if (board.job(run).isStep()) {
      table.marks[run] = (table.marks[run] & ~Board.STOPPING) | mark;
      table.notes[run] = note;
      board.changed(run, note);
      board.judgeAgain(run);
    } else if (board.site().hosts().isUp(table.hosts[run]) || mark == Board.CANCELLING) {
      board.stop(run, mark, note);
    } else {
      board.endUnreachable(run, mark, note);
    }
  }

  /** Does a run again, and all below it; what is at work is left alone. */
  private void rerun(int run, String note) {
    RunState state = board.stateAt(run);
    if (!state.isEnded()) {
      return;
    }
    board.reopen(table.parents[run], "goes on: " + table.specs[run].run().reference() + " " + note);
    table.marks[run] &= ~(Board.NOT_NEEDED | Board.START_NOW | Board.STOPPING);
    table.budgets[run] = table.attempts[run] + 1 + board.job(run).retry().times();
    table.retryAt[run] = 0;
    table.ended[run] = 0;
    table.asked[run] = 0;
    if (board.job(run).isStep()) {
      table.started[run] = 0;
    }
    board.closeAlert(run, AlertKind.FAILED, note);
    board.enter(run, RunState.WAITING, note);
    board.setDeadline(run, table.specs[run].run().finishBy(), Timers.Kind.FINISH_BY);
    board.watchFiles(run, true);
    board.tryAgain(run);
    for (int below : table.children[run]) {
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
      if (table.parents[one] >= 0) {
        follow(table.parents[one], seen, open);
      }
    }
    seen.clear(run);
    List<Integer> ended = new ArrayList<>();
    seen.stream().filter(next -> board.stateAt(next).isEnded()).forEach(ended::add);
    return ended;
  }

  /** Another start of the same stream, as the next window, comes after but does not follow. */
  private void follow(int run, BitSet seen, Deque<Integer> open) {
    RunReference from = table.specs[run].run().reference();
    for (int next : table.followers[run]) {
      RunReference to = table.specs[next].run().reference();
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
    for (int child : table.children[run]) {
      all.add(child);
      all.addAll(everythingBelow(child));
    }
    return all;
  }
}

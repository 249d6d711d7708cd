package dev.purser.core.board;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** A person who does nothing but what {@code why} names, and hosts that do their work. */
final class Helper {
  private final Pier pier;

  Helper(Pier pier) {
    this.pier = pier;
  }

  List<String> open() {
    List<String> open = new ArrayList<>();
    for (RunSpec run : pier.board.runs()) {
      if (!pier.board.state(run.id()).orElseThrow().isEnded()) {
        open.add(run.run().reference() + ": " + pier.board.why(run.id()).sentence());
      }
    }
    return open;
  }

  boolean isOpen() {
    return !open().isEmpty();
  }

  /** Lets attempts end, and takes the first leaf of the first waiting run's reasons. */
  void doWhatIsNamed() {
    List<RunSpec> runs = pier.board.runs();
    boolean worked = false;
    for (RunSpec run : runs) {
      RunStatus status = pier.board.status(run.id()).orElseThrow();
      if (status.state().isActive() && !run.run().job().isStep()) {
        work(run, status);
        worked = true;
      }
    }
    if (worked) {
      return;
    }
    for (RunSpec run : runs) {
      Why why = pier.board.why(run.id());
      RunState state = pier.board.state(run.id()).orElseThrow();
      if (state == RunState.WAITING && !why.reasons().isEmpty()) {
        take(run, why.reasons().get(0));
        return;
      }
      if (state == RunState.PLANNED) {
        long due = pier.board.status(run.id()).orElseThrow().due();
        pier.apply(
            new BoardEvent.TimeReached(Math.max(pier.board.now(), due == 0 ? run.due() : due)));
        return;
      }
      if (state == RunState.RUNNING && isHeld(run)) {
        act(run.id(), Action.RELEASE);
        return;
      }
    }
  }

  private boolean isHeld(RunSpec run) {
    return pier.board.status(run.id()).orElseThrow().isHeld();
  }

  private void work(RunSpec run, RunStatus status) {
    pier.apply(
        new BoardEvent.HostSeen(pier.board.now(), status.where().host().orElseThrow(), Set.of()));
    pier.apply(new BoardEvent.AttemptBegan(pier.board.now(), run.id(), status.attempts()));
    pier.apply(
        new BoardEvent.AttemptEnded(
            pier.board.now(),
            run.id(),
            status.attempts(),
            Ending.exited(0),
            pier.board.now(),
            Map.of("n", "1")));
  }

  private void take(RunSpec run, Why.Reason reason) {
    if (!reason.below().isEmpty()) {
      RunSpec next = pier.board.run(reason.run()).orElse(run);
      take(next, reason.below().get(0));
      return;
    }
    long now = pier.board.now();
    switch (reason.what()) {
      case HOLD -> release(run);
      case RETRY ->
          pier.apply(
              new BoardEvent.TimeReached(pier.board.status(run.id()).orElseThrow().retryAt()));
      case FILE ->
          pier.apply(new BoardEvent.FileArrived(now, run.id(), reason.about(), "/srv/in/feed-1"));
      case ANSWER -> act(run.id(), Action.APPROVE);
      case CAPACITY -> pier.apply(new BoardEvent.CapacitySet(now, reason.about(), 9));
      case HOST -> {
        pier.apply(new BoardEvent.HostSeen(now, "quay-south", Set.of("quay")));
        pier.apply(new BoardEvent.HostSeen(now, "quay-north", Set.of("quay")));
      }
      default -> settle(run, reason);
    }
  }

  /** It hangs on another run, or on nothing that anybody could do: then it is skipped. */
  private void settle(RunSpec run, Why.Reason reason) {
    RunState state = pier.board.state(reason.run()).orElse(RunState.SUCCEEDED);
    boolean stuckForGood =
        reason.run() == 0
            || state == RunState.SUCCEEDED
            || state == RunState.SKIPPED
            || reason.what() == Why.What.VALUE;
    if (stuckForGood) {
      act(run.id(), Action.SKIP);
    } else if (state == RunState.PLANNED) {
      pier.apply(new BoardEvent.TimeReached(pier.board.now() + 60_000));
    } else if (state.isEnded()) {
      act(reason.run(), Action.RERUN);
      if (pier.board.state(reason.run()).orElseThrow() == RunState.FAILED) {
        act(reason.run(), Action.SKIP); // it fails at once again, as its sentence says
      }
    } else if (state == RunState.RUNNING
        && pier.board.status(reason.run()).orElseThrow().isHeld()) {
      act(reason.run(), Action.RELEASE);
    } else {
      act(run.id(), Action.SKIP);
    }
  }

  private void release(RunSpec run) {
    for (HoldScope scope : pier.board.holds().keySet()) {
      pier.apply(new BoardEvent.HoldLifted(pier.board.now(), scope));
    }
    for (RunSpec one : pier.board.runs()) {
      boolean above =
          run.run().reference().stream().equals(one.run().reference().path())
              || one.id() == run.id();
      if (above && isHeld(one)) {
        act(one.id(), Action.RELEASE);
      }
    }
  }

  private void act(long run, Action action) {
    pier.apply(new BoardEvent.PersonActed(pier.board.now(), run, action, "ida", "as why says"));
  }
}

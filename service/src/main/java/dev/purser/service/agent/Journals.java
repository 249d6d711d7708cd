package dev.purser.service.agent;

import dev.purser.core.board.BoardView;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.fill.Filling;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Workers;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Compares what an agent's journal knows with the board when the agent connects. */
@Component
class Journals {
  private static final long GRACE_FOR_STRANGERS_MILLIS = 10_000;

  private final Engine engine;
  private final StartMessages messages;
  private final Settings settings;

  Journals(Engine engine, StartMessages messages, Settings settings) {
    this.engine = engine;
    this.messages = messages;
    this.settings = settings;
  }

  /**
   * Compares, then lets the board place work on the host. What is compared is what was active
   * before: what the board starts because the host is there is not expected in the journal. How
   * attempts that are over ended the agent tells afterwards.
   *
   * @param ahead how far the host's clock is ahead of ours, in milliseconds
   * @return what the agent must be told
   */
  List<ToAgent> compare(Turn turn, String host, FromAgent.Hello hello, long ahead) {
    List<ToAgent> answers = new ArrayList<>();
    Map<String, FromAgent.Known> known = new HashMap<>();
    hello.attempts().forEach(one -> known.put(one.run() + "." + one.attempt(), one));
    BoardView board = turn.board();
    for (RunSpec run : board.runs()) {
      RunStatus status = board.status(run.id()).orElseThrow();
      if (status.state().isActive() && status.where().isOn(host)) {
        FromAgent.Known there = known.remove(run.id() + "." + status.attempts());
        if (there == null) {
          missing(turn, run, status, answers);
        } else {
          found(turn, status, there, ahead);
        }
        stillStopping(run, status, there, answers);
      }
    }
    for (FromAgent.Known old : known.values()) {
      if (!old.ended()) { // ends are told, taken or not, and then forgotten
        answers.add(
            new ToAgent.Stop(engine.epoch(), old.run(), old.attempt(), GRACE_FOR_STRANGERS_MILLIS));
      }
    }
    turn.apply(new BoardEvent.HostSeen(turn.now(), host, Set.of()));
    return answers;
  }

  private void missing(Turn turn, RunSpec run, RunStatus status, List<ToAgent> answers) {
    if (status.state() == RunState.STARTING && !settings.restored()) {
      try {
        Filling filling = new Filling(turn.definitions(), turn.board(), run, status);
        answers.add(messages.start(filling, run, status, engine.epoch()));
      } catch (Unfillable e) {
        Workers.cannotStart(turn, new Attempt(run, status), e.getMessage());
      }
    } else {
      Ending lost =
          new Ending(
              Ending.Kind.LOST,
              -1,
              settings.restored()
                  ? "the records were restored from a backup, and its host knows nothing of the"
                      + " attempt any more: it may be over"
                  : "its host knows nothing of the attempt any more");
      turn.apply(new BoardEvent.AttemptEnded(turn.now(), run.id(), status.attempts(), lost));
    }
  }

  private static void found(Turn turn, RunStatus status, FromAgent.Known there, long ahead) {
    // Where nobody has noted when it began: it was sent when the run came into its state.
    long began = there.began() == 0 ? status.since() : Math.min(turn.now(), there.began() - ahead);
    turn.apply(new BoardEvent.AttemptBegan(turn.now(), there.run(), there.attempt(), began));
  }

  private void stillStopping(
      RunSpec run, RunStatus status, FromAgent.Known there, List<ToAgent> answers) {
    boolean runs = there != null && !there.ended();
    if (runs && status.stopping() != RunStatus.Stopping.NO) {
      long grace = run.run().job().grace().toMillis();
      answers.add(new ToAgent.Stop(engine.epoch(), run.id(), status.attempts(), grace));
    }
  }
}

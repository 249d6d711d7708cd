package dev.purser.service.agent;

import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.BoardView;
import dev.purser.core.run.Ending;
import dev.purser.service.board.Turn;
import dev.purser.service.output.OutputStore;
import dev.purser.wire.agent.FromAgent;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells the board what agents say of their attempts. */
final class AttemptNews {
  private static final Logger LOG = LoggerFactory.getLogger(AttemptNews.class);

  /**
   * An end with all that came with it, made ready outside of the engine's turn.
   *
   * @param ending how it ended
   * @param deflated all its output; empty where none was sent along
   */
  record Whole(FromAgent.Ended message, Ending ending, byte[] deflated) {
    /**
     * Makes it ready.
     *
     * @throws IllegalStateException where the way in which it ended is not known here: a newer
     *     agent must not make a failure of what it means
     */
    static Whole of(FromAgent.Ended message) {
      byte[] all = message.output();
      return new Whole(
          message,
          new Ending(kind(message.how()), message.code(), message.note()),
          all == null || all.length == 0 ? new byte[0] : OutputStore.deflate(all));
    }

    private static Ending.Kind kind(String how) {
      return switch (how) {
        case "exited" -> Ending.Kind.EXITED;
        case "not-started" -> Ending.Kind.NOT_STARTED;
        case "nothing-to-do" -> Ending.Kind.NOTHING_TO_DO;
        case "check-failed" -> Ending.Kind.CHECK_FAILED;
        case "lost" -> Ending.Kind.LOST;
        default ->
            throw new IllegalStateException(
                "an attempt ended in a way that this service does not know (\""
                    + how
                    + "\"): upgrade the service");
      };
    }
  }

  boolean began(Turn turn, AgentConnection one, FromAgent.Began began) {
    if (!isTheirs(turn.board(), one, began.run(), began.attempt())) {
      return false;
    }
    tellBegan(turn, one, began.run(), began.attempt(), began.at());
    return true;
  }

  private static void tellBegan(Turn turn, AgentConnection one, long run, int attempt, long at) {
    long happened = Math.min(turn.now(), at - one.ahead);
    turn.apply(new BoardEvent.AttemptBegan(turn.now(), run, attempt, happened));
  }

  boolean ended(Turn turn, AgentConnection one, Whole whole) {
    FromAgent.Ended ended = whole.message();
    if (!isTheirs(turn.board(), one, ended.run(), ended.attempt())) {
      return false;
    }
    if (ended.began() > 0) {
      tellBegan(turn, one, ended.run(), ended.attempt(), ended.began());
    }
    turn.apply(
        new BoardEvent.AttemptEnded(
            turn.now(),
            ended.run(),
            ended.attempt(),
            whole.ending(),
            Math.min(turn.now(), ended.at() - one.ahead),
            ended.values() == null ? Map.of() : ended.values()));
    if (ended.output() != null) {
      turn.keepOutput(ended.run(), ended.attempt(), ended.output().length, whole.deflated());
    }
    return true;
  }

  /** An agent can say nothing about an attempt that was given to another host. */
  private static boolean isTheirs(BoardView board, AgentConnection one, long run, int attempt) {
    boolean theirs =
        board
            .status(run)
            .filter(status -> status.attempts() == attempt)
            .map(status -> status.host().equals(one.host))
            .orElse(true);
    if (!theirs) {
      LOG.warn(
          "host {} speaks of attempt {} of run {}, which is not on it; left out",
          one.host,
          attempt,
          run);
    }
    return theirs;
  }
}

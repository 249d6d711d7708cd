package dev.purser.service.agent;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Ending;
import dev.purser.service.board.Turn;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.output.OutputStore;
import dev.purser.wire.agent.FromAgent;
import java.util.Map;
import java.util.TreeMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells the board what agents say of their attempts. */
final class AttemptNews {
  private static final int MOST_VALUES = 100;
  private static final int LONGEST_NAME = 100;
  private static final int LONGEST_VALUE = 1_000;
  private static final Logger LOG = LoggerFactory.getLogger(AttemptNews.class);
  private final AttemptOwners owners;

  AttemptNews(AttemptOwners owners) {
    this.owners = owners;
  }

  /**
   * An end with all that came with it, made ready outside of the engine's turn.
   *
   * @param ending how it ended
   * @param values what it handed back, as far as that can be kept
   * @param deflated all its output; empty where none was sent along
   */
  record Whole(
      FromAgent.Ended message, Ending ending, Map<String, String> values, byte[] deflated) {
    /**
     * Makes it ready, without the secrets in it.
     *
     * @throws IllegalStateException where the way in which it ended is not known here: a newer
     *     agent must not make a failure of what it means
     */
    static Whole of(FromAgent.Ended message, SecretMask mask) {
      byte[] all = message.output();
      Map<String, String> given = message.values() == null ? Map.of() : message.values();
      Map<String, String> kept = mask.of(fitting(given));
      String note = message.note() == null ? "" : message.note();
      if (kept.size() < given.size()) {
        note += (note.isEmpty() ? "" : "; ") + "not all that it handed back could be kept";
      }
      return new Whole(
          message,
          new Ending(kind(message.how()), message.code(), mask.of(note)),
          kept,
          all == null || all.length == 0 ? new byte[0] : OutputStore.deflate(mask.of(all)));
    }

    /** What fits on record, by the limits that agents keep too. */
    private static Map<String, String> fitting(Map<String, String> given) {
      Map<String, String> kept = new TreeMap<>();
      given.forEach(
          (name, value) -> {
            boolean fits =
                name.length() <= LONGEST_NAME && value != null && value.length() <= LONGEST_VALUE;
            if (fits && kept.size() < MOST_VALUES) {
              kept.put(name, value);
            }
          });
      return kept;
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
    if (!owners.isOn(one.host, turn.board(), began.run(), began.attempt())) {
      return false;
    }
    tellBegan(turn, one, began.run(), began.attempt(), began.at());
    return true;
  }

  private static void tellBegan(Turn turn, AgentConnection one, long run, int attempt, long at) {
    long happened = time(turn, at - one.ahead);
    turn.apply(new BoardEvent.AttemptBegan(turn.now(), run, attempt, happened));
  }

  /** No time of an attempt is still to come, or before there were computers. */
  private static long time(Turn turn, long told) {
    return Math.max(0, Math.min(turn.now(), told));
  }

  boolean ended(Turn turn, AgentConnection one, Whole whole) {
    FromAgent.Ended ended = whole.message();
    if (!owners.isOn(one.host, turn.board(), ended.run(), ended.attempt())) {
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
            time(turn, ended.at() - one.ahead),
            whole.values()));
    if (ended.output() != null) {
      turn.keepOutput(ended.run(), ended.attempt(), ended.output().length, whole.deflated());
    }
    return true;
  }

  /** Of an end that is too much for the records, what there always is room for: that it ended. */
  boolean endedInShort(Turn turn, AgentConnection one, Whole whole) {
    FromAgent.Ended ended = whole.message();
    LOG.warn("what came with the end of run {} on {} cannot be kept", ended.run(), one.host);
    Ending ending =
        new Ending(
            whole.ending().kind(),
            whole.ending().code(),
            "what it handed back and wrote could not be put on record");
    FromAgent.Ended bare =
        new FromAgent.Ended(
            ended.run(),
            ended.attempt(),
            ended.how(),
            ended.code(),
            "",
            ended.began(),
            ended.at(),
            Map.of(),
            null);
    return ended(turn, one, new Whole(bare, ending, Map.of(), new byte[0]));
  }
}

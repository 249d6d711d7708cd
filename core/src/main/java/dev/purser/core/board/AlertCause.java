package dev.purser.core.board;

import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import java.util.List;

/**
 * What an alert comes of, as a key: {@code host depot}, {@code file harbour-feed}, {@code run 12}.
 * Alerts with one key come of one thing; an alert about that thing itself has the key as its own.
 */
public final class AlertCause {
  /** The key of what is about a host begins with it. */
  public static final String HOST = "host ";

  /** The key of what is about files that are looked for begins with it. */
  public static final String FILE = "file ";

  /** The key of what is about a run begins with it. */
  public static final String RUN = "run ";

  private AlertCause() {}

  /**
   * Of what it comes how a run stands.
   *
   * @param run its id
   * @param why why it stands so, on this board
   * @return the key; empty where it comes of nothing but the run itself
   */
  public static String of(long run, Why why, BoardView board) {
    String away = board.status(run).map(status -> away(status, board)).orElse("");
    return away.isEmpty() ? first(why.reasons(), run, board) : away;
  }

  /** The host on which it is or was, where that is away. */
  private static String away(RunStatus status, BoardView board) {
    boolean there = status.state() == RunState.RUNNING || status.state() == RunState.FAILED;
    String host = status.where().as(name -> name, () -> "", () -> "");
    return there && !host.isEmpty() && !board.isUp(host) ? HOST + host : "";
  }

  private static String first(List<Why.Reason> reasons, long run, BoardView board) {
    for (Why.Reason reason : reasons) {
      String key = of(reason, run, board);
      if (!key.isEmpty()) {
        return key;
      }
    }
    return "";
  }

  private static String of(Why.Reason reason, long run, BoardView board) {
    long about = reason.run() > 0 ? reason.run() : run;
    String deeper = first(reason.below(), about, board);
    if (!deeper.isEmpty()) {
      return deeper;
    }
    return switch (reason.what()) {
      case FILE -> FILE + reason.about();
      case HOST -> ofHosts(about, board);
      default -> reason.run() > 0 ? ofRun(reason.run(), board) : "";
    };
  }

  /** The key of the first of a run's hosts where all of them are away; else empty. */
  public static String ofHosts(long run, BoardView board) {
    List<String> hosts = board.hostsFor(run);
    boolean allAway = !hosts.isEmpty() && hosts.stream().noneMatch(board::isUp);
    return allAway ? HOST + hosts.get(0) : "";
  }

  private static String ofRun(long run, BoardView board) {
    String away = board.status(run).map(status -> away(status, board)).orElse("");
    return away.isEmpty() ? RUN + run : away;
  }
}

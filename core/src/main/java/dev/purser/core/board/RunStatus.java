package dev.purser.core.board;

import java.util.List;

/**
 * All that the board knows of a run at one moment: enough to go on from.
 *
 * @param state its state
 * @param hold by whom and why it is held; empty where it is not
 * @param since when it came into its state, epoch milliseconds, like all times here; 0 for never
 * @param attempts attempts begun so far
 * @param budget the attempt after which no retry is left
 * @param host where the last attempt is or was; empty for none
 * @param started when the last attempt began to run
 * @param ended when the run ended
 * @param retryAt the earliest next attempt
 * @param exitCode of the last attempt; -1 for none
 * @param note what a person should know of the state, such as why it failed
 * @param stopping why the attempt is being stopped; empty where it is not
 * @param notNeeded whether it was skipped because its prerequisite could no longer be met
 * @param openAlerts the alerts that are open for it
 * @param files what is seen of each file that it waits for, in the order of the planned watches
 */
public record RunStatus(
    RunState state,
    String hold,
    long since,
    int attempts,
    int budget,
    String host,
    long started,
    long ended,
    long retryAt,
    int exitCode,
    String note,
    Stopping stopping,
    boolean notNeeded,
    List<AlertKind> openAlerts,
    List<FileState> files) {

  /** Whether it is held. */
  public boolean isHeld() {
    return !hold.isEmpty();
  }

  /** Why a running attempt is being stopped. */
  public enum Stopping {
    /** It is not. */
    NO,
    /** It ran into stop-after. */
    TOO_LONG,
    /** A person cancelled the run. */
    CANCELLED
  }

  /**
   * What is seen of a file.
   *
   * @param path the file, where there is one; else empty
   */
  public record FileState(FileSight sight, String path) {
    static final FileState ABSENT = new FileState(FileSight.ABSENT, "");
  }
}

package dev.purser.core.course;

import dev.purser.core.run.RunStatus;

/** What is said of a run besides its state: bits of {@link Runs#marks}. */
public final class Marks {
  /** Its attempt is being stopped because it ran too long. */
  public static final int TOO_LONG = 1;

  /** Its attempt is being stopped because a person cancelled it, or a later run replaces it. */
  public static final int CANCELLING = 1 << 1;

  /** Its attempt is being stopped because a person marked it as succeeded. */
  public static final int MARKED_SUCCEEDED = 1 << 2;

  /** Its attempt is being stopped because a person marked it as failed. */
  public static final int MARKED_FAILED = 1 << 3;

  /** It was skipped because its prerequisite could no longer be met. */
  public static final int NOT_NEEDED = 1 << 4;

  /** A person has said that it does not wait for what it waits for. */
  public static final int START_NOW = 1 << 5;

  /**
   * Its attempt is being stopped because its run is to be tried again as another definition says.
   */
  public static final int REPLACED = 1 << 6;

  /** Why an attempt is being stopped by somebody's word: what it means is told by its end. */
  public static final int BY_WORD = CANCELLING | MARKED_SUCCEEDED | MARKED_FAILED;

  /** Why an attempt is being stopped. */
  public static final int STOPPING = TOO_LONG | BY_WORD | REPLACED;

  private Marks() {}

  /** The marks of a status. */
  public static int of(RunStatus status) {
    int stopping =
        switch (status.stopping()) {
          case NO -> 0;
          case TOO_LONG -> TOO_LONG;
          case CANCELLED -> CANCELLING;
          case SUCCEEDED -> MARKED_SUCCEEDED;
          case FAILED -> MARKED_FAILED;
          case REPLACED -> REPLACED;
        };
    return stopping | (status.notNeeded() ? NOT_NEEDED : 0) | (status.startNow() ? START_NOW : 0);
  }

  /** Why an attempt is being stopped; of several the one that decides how the run ends. */
  public static RunStatus.Stopping stopping(int marks) {
    if ((marks & CANCELLING) != 0) {
      return RunStatus.Stopping.CANCELLED;
    }
    if ((marks & MARKED_SUCCEEDED) != 0) {
      return RunStatus.Stopping.SUCCEEDED;
    }
    if ((marks & MARKED_FAILED) != 0) {
      return RunStatus.Stopping.FAILED;
    }
    if ((marks & REPLACED) != 0) {
      return RunStatus.Stopping.REPLACED;
    }
    return (marks & TOO_LONG) != 0 ? RunStatus.Stopping.TOO_LONG : RunStatus.Stopping.NO;
  }
}

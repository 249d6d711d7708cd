package dev.purser.core.run;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.job.Where;
import dev.purser.core.plan.PlannedRun;
import java.util.Collections;
import java.util.List;
import java.util.Map;

/**
 * All that the board knows of a run at one moment: enough to go on from.
 *
 * @param state its state
 * @param hold by whom and why it is held itself; empty where it is not
 * @param since when it came into its state, epoch milliseconds, like all times here; 0 for never
 * @param attempts attempts begun so far
 * @param budget the attempt after which no retry is left
 * @param where the last attempt is or was
 * @param started when the last attempt began to run
 * @param ended when the run ended
 * @param retryAt the earliest next attempt
 * @param exitCode of the last attempt; -1 for none
 * @param note what a person should know of the state, such as why it failed
 * @param stopping why the attempt is being stopped
 * @param notNeeded whether it was skipped because its prerequisite could no longer be met
 * @param openAlerts the alerts that are open for it
 * @param files what is seen of each file that it waits for, in the order of the planned watches
 * @param due when it may start at the earliest, as it stands now; 0 for as it was planned
 * @param priority as it stands now, 0 to 100; -1 for as it is defined
 * @param startNow whether a person has said that it does not wait for what it waits for
 * @param asked since when a person is asked; 0 where nobody is
 * @param values what the last attempt handed back
 * @param moves how often it has gone to another host because one was lost
 */
public record RunStatus(
    RunState state,
    String hold,
    long since,
    int attempts,
    int budget,
    Where where,
    long started,
    long ended,
    long retryAt,
    int exitCode,
    String note,
    Stopping stopping,
    boolean notNeeded,
    List<AlertKind> openAlerts,
    List<FileState> files,
    long due,
    int priority,
    boolean startNow,
    long asked,
    Map<String, String> values,
    int moves) {

  /** A run that has just been planned: nothing has happened to it. */
  public static RunStatus fresh(RunSpec spec) {
    List<FileState> absent =
        spec.run().watches().isEmpty()
            ? List.of()
            : Collections.nCopies(spec.run().watches().size(), FileState.ABSENT);
    return new RunStatus(
        RunState.PLANNED,
        "",
        0,
        0,
        1 + spec.run().job().retry().times(),
        Where.nowhere(),
        0,
        0,
        0,
        -1,
        "",
        Stopping.NO,
        false,
        List.of(),
        absent,
        0,
        -1,
        false,
        0,
        Map.of(),
        0);
  }

  /**
   * What people have said of a run that has not begun.
   *
   * @param hold who holds it; empty where nobody does
   * @param priority that they gave it; -1 for none
   * @param due to which they moved it, epoch milliseconds; 0 where they did not
   */
  public record Said(String hold, int priority, long due) {
    /** Nothing. */
    public static final Said NOTHING = new Said("", -1, 0);

    /** What people have said of a planned run. */
    public static Said of(RunSpec spec, RunStatus status) {
      boolean given = status.priority() >= 0 && status.priority() != spec.run().job().priority();
      return new Said(status.hold(), given ? status.priority() : -1, status.due());
    }

    /** What of it stays where the run has become another: what the change sets itself does not. */
    public Said staysFor(RunSpec before, PlannedRun after) {
      return new Said(
          hold,
          before.run().job().priority() == after.job().priority() ? priority : -1,
          before.run().due().equals(after.due()) ? due : 0);
    }
  }

  /** The same with what people have said of it. */
  public RunStatus with(Said said) {
    return new RunStatus(
        state,
        said.hold(),
        since,
        attempts,
        budget,
        where,
        started,
        ended,
        retryAt,
        exitCode,
        note,
        stopping,
        notNeeded,
        openAlerts,
        files,
        said.due(),
        said.priority(),
        startNow,
        asked,
        values,
        moves);
  }

  /** Whether it is held itself. */
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
    CANCELLED,
    /** A person marked the run as succeeded. */
    SUCCEEDED,
    /** A person marked the run as failed. */
    FAILED,
    /** The run is to be tried again as another version of its definition says. */
    REPLACED
  }

  /**
   * What is seen of a file.
   *
   * @param path the file, where there is one; else empty
   */
  public record FileState(FileSight sight, String path) {
    /** Nothing has been seen. */
    public static final FileState ABSENT = new FileState(FileSight.ABSENT, "");

    /** As the end of a sentence. */
    public String inWords() {
      return switch (sight) {
        case ABSENT -> path.isEmpty() ? "nothing has come yet" : path;
        case EMPTY -> path + " is there but empty or too small";
        case INCOMPLETE, UNREADABLE -> path;
        case GROWING -> path + " is there but still changing";
        case USED -> path + " is there but another run has used it";
        case ARRIVED -> path + " has arrived";
      };
    }
  }
}

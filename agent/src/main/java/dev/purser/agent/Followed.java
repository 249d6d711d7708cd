package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;

/** An attempt and how much of it has been told. */
final class Followed {
  final long run;
  final int attempt;
  final AttemptFiles files;
  final long keepOutput;

  /** Its process group; 0 where none is known. */
  volatile long group;

  /** When its process began to work; 0 where that is not known. */
  long began;

  /** The exit code of the check that ended it; -1 for none. */
  int checked = -1;

  /** Whether it has been asked to stop. */
  volatile boolean stopping;

  /** Whether its first process is over, and what is left of its group is still to end. */
  boolean ending;

  FromAgent.Ended ended;
  boolean beganTold;
  boolean endTold;
  boolean endRecorded;
  long taken;
  long dropped;
  boolean pieceOut;

  /** Some of its output may have been told already, by this agent or an earlier one. */
  boolean pieceTold;

  boolean outputComplete;
  int looks;

  /** How often it was looked for and not found. */
  int gone;

  /** Whether an earlier agent has started it. */
  boolean takenUp;

  Followed(Path attempts, long run, int attempt, long keepOutput) {
    this.run = run;
    this.attempt = attempt;
    this.files = new AttemptFiles(attempts, run + "." + attempt);
    this.keepOutput = keepOutput;
  }

  String name() {
    return run + "." + attempt;
  }

  FromAgent.Ended end(String how, int code, String note, long at, Map<String, String> values) {
    return new FromAgent.Ended(run, attempt, how, code, note, began, at, values, null);
  }

  /** Its process group; empty where none is known. */
  Optional<ProcessGroup> processes() {
    return group == 0 ? Optional.empty() : Optional.of(new ProcessGroup(group, files.mark()));
  }
}

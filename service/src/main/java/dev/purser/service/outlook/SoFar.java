package dev.purser.service.outlook;

import dev.purser.core.history.PastRun;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.Optional;

/** What runs on the board have shown of a day so far. */
final class SoFar {
  private SoFar() {}

  /** A run that has ended by itself, or runs; empty for any other. */
  static Optional<PastRun> of(RunSpec run, RunStatus status) {
    boolean over = status.state() == RunState.SUCCEEDED || status.state() == RunState.FAILED;
    if (status.started() == 0 || !(over || status.state() == RunState.RUNNING)) {
      return Optional.empty();
    }
    return Optional.of(
        new PastRun(
            run.run().reference().stream(),
            run.run().reference().job(),
            run.run().reference().date(),
            run.run().reference().number(),
            run.due(),
            status.started(),
            over ? status.ended() : 0,
            status.state() == RunState.FAILED ? PastRun.Outcome.FAILED : PastRun.Outcome.SUCCEEDED,
            status.exitCode(),
            status.where().word(),
            over ? status.attempts() : 1));
  }
}

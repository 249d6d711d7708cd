package dev.purser.service.plan;

import dev.purser.core.plan.PlannedRun;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.util.Optional;

/**
 * A run that is there and not over, for which a change makes a difference.
 *
 * @param run as it is
 * @param after as it would be; empty where the new definitions do not have it
 * @param because why it keeps what it has, or what else it would do; may be empty
 */
public record OpenRun(
    RunSpec run, RunState state, What what, Optional<PlannedRun> after, String because) {
  /** What becomes of it. */
  public enum What {
    /** It takes the new version. */
    TAKES,
    /** Its attempt is stopped, and the next one takes the new version. */
    REPLACED,
    /** It is taken off the plan. */
    GONE,
    /** It keeps the old version. */
    KEEPS;

    /** The word for the API. */
    public String word() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }
}

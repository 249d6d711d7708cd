package dev.purser.core.board;

import dev.purser.core.plan.PlannedRun;

/**
 * A run as it is given to the board.
 *
 * @param id unique for ever, given by whoever keeps the records
 * @param run what was planned
 * @param longAfter milliseconds of running after which it takes longer than it usually does; 0 for
 *     never
 */
public record RunSpec(long id, PlannedRun run, long longAfter) {
  long due() {
    return run.due().toEpochMilli();
  }
}

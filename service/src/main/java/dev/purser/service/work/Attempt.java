package dev.purser.service.work;

import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;

/**
 * One attempt of a run, as the board had it when a worker was told of it.
 *
 * @param run what is done
 * @param status how the run stood; {@code attempts} is this attempt's number
 */
public record Attempt(RunSpec run, RunStatus status) {
  /** The run's id. */
  public long id() {
    return run.id();
  }

  /** The attempt's number, from 1. */
  public int number() {
    return status.attempts();
  }
}

package dev.purser.core.tie;

import dev.purser.core.job.SuccessRule;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.RunState;

/**
 * How the runs that count for a stream, a step or a run in parts stand together. One rule for all
 * who ask: a step that ends, a prerequisite on a stream, a page that shows one.
 */
public final class Tally {
  private int succeeded;
  private int failed;
  private int cancelled;
  private int notNeeded;
  private int open;
  private int all;

  /**
   * Counts a run.
   *
   * @param unneeded whether it was skipped because its prerequisite could no longer be met
   */
  public void add(RunState state, boolean unneeded) {
    all++;
    switch (state) {
      case SUCCEEDED -> succeeded++;
      case FAILED -> failed++;
      case CANCELLED -> cancelled++;
      case SKIPPED -> notNeeded += unneeded ? 1 : 0;
      case PLANNED, WAITING, STARTING, RUNNING -> open++;
    }
  }

  /** How many have not ended. */
  public int open() {
    return open;
  }

  /** Whether one has failed or was cancelled. */
  public boolean isBad() {
    return failed + cancelled > 0;
  }

  /** Whether what has ended is enough for success, whatever becomes of the rest. */
  public boolean isGood(SuccessRule rule) {
    boolean clean = open == 0 && !isBad();
    return rule.isByNumber() ? succeeded >= rule.least() || clean : clean;
  }

  /** What a prerequisite that asks for success says. */
  Answer succeeded(SuccessRule rule) {
    if (isGood(rule)) {
      return all > 0 && notNeeded == all ? Answer.NO : Answer.YES;
    }
    boolean mayYet = open > 0 && (rule.isByNumber() || !isBad());
    return mayYet ? Answer.OPEN : Answer.STUCK;
  }

  /** What a prerequisite that asks for failure says. */
  Answer failed(SuccessRule rule) {
    boolean decided = rule.isByNumber() ? open == 0 && !isGood(rule) : failed > 0;
    if (decided && failed > 0) {
      return Answer.YES;
    }
    if (open > 0 && !isGood(rule)) {
      return Answer.OPEN;
    }
    return isGood(rule) ? Answer.NO : Answer.STUCK;
  }
}

package dev.purser.core.learning;

import dev.purser.core.history.PastRun;
import dev.purser.core.job.Job;
import java.util.List;

/**
 * How often the attempts of a job fail.
 *
 * @param chance of one attempt, 0 to 1
 * @param perAttempt whether it is known how many attempts runs took; else a run of the past counts
 *     as a whole, with its retries in its duration
 */
record Failures(double chance, boolean perAttempt) {
  /** So many runs are as much as what is known of all jobs together. */
  private static final double STRENGTH = 5;

  private static final double OF_ALL = 0.01;

  /** Learns from the ended runs of a job. */
  static Failures of(List<PastRun> runs) {
    boolean known = runs.stream().anyMatch(run -> run.attempts() > 0);
    double failed = 0;
    double all = 0;
    for (PastRun run : runs) {
      boolean fails = run.outcome() == PastRun.Outcome.FAILED;
      int attempts = known ? Math.max(1, run.attempts()) : 1;
      failed += attempts - 1 + (fails ? 1 : 0);
      all += attempts;
    }
    return new Failures((failed + STRENGTH * OF_ALL) / (all + STRENGTH), known);
  }

  /** How long one attempt of a run of the past took, in milliseconds, at least one. */
  long attemptMillis(PastRun run, Job job) {
    int attempts = perAttempt ? Math.max(1, run.attempts()) : 1;
    long waits = 0;
    for (int tried = 1; tried < attempts; tried++) {
      waits += job.retry().pauseAfter(tried).toMillis();
    }
    return Math.max(1, (run.millis() - Math.min(waits, run.millis())) / attempts);
  }
}

package dev.purser.core.definition;

import java.util.List;

/**
 * Which of a stream's jobs must succeed for it to succeed. A job that is skipped counts as done.
 *
 * @param any whether one that succeeds is enough
 * @param jobs their names; empty for all jobs
 */
public record SuccessRule(boolean any, List<String> jobs) {
  /** Every job must. */
  public static final SuccessRule ALL = new SuccessRule(false, List.of());

  /** Copies the list. */
  public SuccessRule {
    jobs = List.copyOf(jobs);
  }

  /** Whether a job of this name counts. */
  public boolean counts(String job) {
    return jobs.isEmpty() || jobs.contains(job);
  }

  @Override
  public String toString() {
    return any ? "any" : jobs.isEmpty() ? "all" : String.join(", ", jobs);
  }
}

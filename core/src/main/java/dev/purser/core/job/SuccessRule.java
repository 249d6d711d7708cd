package dev.purser.core.job;

import java.util.List;

/**
 * Which of a stream's jobs, or of the parts of a run, must succeed for it to succeed. What is
 * skipped counts as done.
 *
 * @param least how many that succeed are enough; 0 for all that count
 * @param jobs names of those that count; empty for all
 */
public record SuccessRule(int least, List<String> jobs) {
  /** Every one must. */
  public static final SuccessRule ALL = new SuccessRule(0, List.of());

  /** One is enough. */
  public static final SuccessRule ANY = new SuccessRule(1, List.of());

  /** Copies the list. */
  public SuccessRule {
    jobs = List.copyOf(jobs);
  }

  /** So many are enough. */
  public static SuccessRule atLeast(int least) {
    return new SuccessRule(least, List.of());
  }

  /** Whether a few are enough. */
  public boolean isByNumber() {
    return least > 0;
  }

  /** Whether a job of this name counts. */
  public boolean counts(String job) {
    return jobs.isEmpty() || jobs.contains(job);
  }

  @Override
  public String toString() {
    if (least > 1) {
      return "at least " + least;
    }
    return least == 1 ? "any" : jobs.isEmpty() ? "all" : String.join(", ", jobs);
  }
}

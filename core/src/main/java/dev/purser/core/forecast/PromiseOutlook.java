package dev.purser.core.forecast;

import dev.purser.core.commitment.Promised;

/**
 * What the forecast says of a promise. Times are epoch milliseconds; 0 where most samples do not
 * have them.
 *
 * @param promised which
 * @param standing how it stands
 * @param start likely first start of its end runs (median)
 * @param earliestStart one sample in ten starts earlier
 * @param latestStart one sample in ten starts later
 * @param end likely end (median), or when it was done
 * @param earliestEnd one sample in ten ends earlier
 * @param latestEnd one sample in ten ends later
 * @param chanceLate share of the samples that break it, 0 to 1; NaN where nobody can say
 * @param chanceFailed share of the samples in which an end run fails, 0 to 1
 * @param hangsOn on what it hangs, so that it has no likely end
 * @param ifAnswered whether its times hold only if people do as they usually do
 * @param samples how often it was played
 */
public record PromiseOutlook(
    Promised promised,
    Standing standing,
    long start,
    long earliestStart,
    long latestStart,
    long end,
    long earliestEnd,
    long latestEnd,
    double chanceLate,
    double chanceFailed,
    RunOutlook.HangsOn hangsOn,
    boolean ifAnswered,
    int samples) {

  /** How a promise stands. */
  public enum Standing {
    /** Done in time. */
    KEPT,
    /** Done, but too late. */
    MISSED,
    /** Not done, and its time has passed. */
    LATE,
    /** Not done, and nothing moves until a person acts, or a file comes that is overdue. */
    STALLED,
    /** Not done yet. */
    OPEN
  }

  /** Whether it can be said how likely it is to be late. */
  public boolean canSayLate() {
    return !Double.isNaN(chanceLate);
  }
}

package dev.purser.core.forecast;

import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.util.Locale;

/**
 * What the forecast says of a run.
 *
 * @param run which
 * @param state the state in which most samples end
 * @param host where most samples place it; empty where none starts it
 * @param start likely first start (median of the samples that start it), epoch milliseconds; 0
 *     where most do not
 * @param earliestStart one sample in ten starts it earlier; 0 where most do not
 * @param latestStart one sample in ten starts it later; 0 where most do not
 * @param end likely end (median); 0 where most do not end it
 * @param earliestEnd one sample in ten ends earlier; 0 where most do not end it
 * @param latestEnd one sample in ten ends later; 0 where most do not end it
 * @param chanceLate share of the samples that miss its finish-by, 0 to 1; 0 where it has none, NaN
 *     where nobody can say because it hangs on something
 * @param chanceFailed share of the samples that fail, 0 to 1
 * @param hangsOn on what it hangs, so that it has no likely end
 * @param ifAnswered whether its times hold only if people answer, or have failures go on, as they
 *     usually do
 * @param samples how often it was played
 */
public record RunOutlook(
    RunSpec run,
    RunState state,
    String host,
    long start,
    long earliestStart,
    long latestStart,
    long end,
    long earliestEnd,
    long latestEnd,
    double chanceLate,
    double chanceFailed,
    HangsOn hangsOn,
    boolean ifAnswered,
    int samples) {
  /** On what a run hangs of which nobody can say when it comes. */
  public enum HangsOn {
    /** On nothing: it has likely times, or none for other reasons. */
    NOTHING,
    /** A person must do something first. */
    PERSON,
    /** A file must come that is overdue, or of which nothing is known. */
    FILE;

    /** The word in the API; empty for nothing. */
    public String word() {
      return this == NOTHING ? "" : name().toLowerCase(Locale.ROOT);
    }
  }

  /** Whether it can be said how likely it is to be late. */
  public boolean canSayLate() {
    return !Double.isNaN(chanceLate);
  }
}

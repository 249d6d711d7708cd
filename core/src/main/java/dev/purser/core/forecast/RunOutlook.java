package dev.purser.core.forecast;

import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;

/**
 * What the forecast says of a run.
 *
 * @param run which
 * @param state the state in which most samples end
 * @param host where most samples place it; empty where none starts it
 * @param start likely first start (median of the samples that start it), epoch milliseconds; 0
 *     where most do not
 * @param end likely end (median); 0 where most do not end it
 * @param earliestEnd one sample in ten ends earlier; 0 where most do not end it
 * @param latestEnd one sample in ten ends later; 0 where most do not end it
 * @param chanceLate share of the samples that miss its finish-by, 0 to 1; 0 where it has none
 * @param chanceFailed share of the samples that fail, 0 to 1
 */
public record RunOutlook(
    RunSpec run,
    RunState state,
    String host,
    long start,
    long end,
    long earliestEnd,
    long latestEnd,
    double chanceLate,
    double chanceFailed) {}

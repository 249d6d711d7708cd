package dev.purser.core.forecast;

import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * Every attempt succeeds and takes as long as it did before: a duration drawn from the job's
 * history; without one, from the even spread over {@code usually}; without that, {@link
 * Outcomes#UNKNOWN_DURATION}. People answer, and have failures go on, as they did where enough of
 * that is known, else not at all.
 */
public final class UsualOutcomes extends AsBefore {

  /** Takes what is known. */
  public UsualOutcomes(History history) {
    super(history);
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    return goingOn(run, attempt, 0, random);
  }

  @Override
  public Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
    String path = run.run().reference().path();
    return new Outcome(
        duration(run, path, elapsed, random),
        Outcomes.success(run),
        history().values().getOrDefault(path, Map.of()));
  }

  private long duration(RunSpec run, String path, long elapsed, SplittableRandom random) {
    long[] all = history().durations().get(path);
    long[] longer =
        all == null || elapsed <= 0
            ? all
            : Arrays.stream(all).filter(one -> one > elapsed).toArray();
    long[] known = longer != null && longer.length > 0 ? longer : all;
    if (known != null && known.length > 0) {
      return known[random.nextInt(known.length)];
    }
    Optional<Durations.Range> usually = run.run().job().usually();
    if (usually.isEmpty()) {
      return UNKNOWN_DURATION;
    }
    long low = usually.get().low().toMillis();
    long high = usually.get().high().toMillis();
    return low + (high > low ? random.nextLong(high - low + 1) : 0);
  }
}

package dev.purser.core.forecast;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * Every attempt succeeds and takes as long as it did before: a duration drawn from the job's
 * history; without one, from the even spread over {@code usually}; without that, {@link
 * Outcomes#UNKNOWN_DURATION}.
 */
public final class UsualOutcomes implements Outcomes {
  private final Map<String, long[]> durations;
  private final Map<String, FileTimes> fileTimes;
  private final Map<String, Map<String, String>> values;

  /**
   * Takes the history.
   *
   * @param durations by a job's full path, earlier durations in milliseconds
   * @param fileTimes by a watch's name, when its files have come
   * @param values by a job's full path, what it handed back last
   */
  public UsualOutcomes(
      Map<String, long[]> durations,
      Map<String, FileTimes> fileTimes,
      Map<String, Map<String, String>> values) {
    this.durations = Map.copyOf(durations);
    this.fileTimes = Map.copyOf(fileTimes);
    this.values = Map.copyOf(values);
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    return new Outcome(duration(run, random), Outcomes.success(run), values(run));
  }

  private long duration(RunSpec run, SplittableRandom random) {
    long[] known = durations.get(run.run().reference().path());
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

  private Map<String, String> values(RunSpec run) {
    return values.getOrDefault(run.run().reference().path(), Map.of());
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    FileTimes times = fileTimes.get(watch);
    return times == null
        ? new FileOutcome.AtOnce()
        : new FileOutcome.AsUsual(times, random.nextDouble());
  }
}

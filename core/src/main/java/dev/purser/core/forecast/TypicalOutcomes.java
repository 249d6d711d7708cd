package dev.purser.core.forecast;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * Every attempt succeeds and takes as long as is typical: the median of the job's history; without
 * one, the middle of {@code usually}; without that, {@link Outcomes#UNKNOWN_DURATION}. Nothing is
 * left to chance, so that two rehearsals differ only by what is done differently in them.
 */
public final class TypicalOutcomes implements Outcomes {
  private final Map<String, Long> durations = new HashMap<>();
  private final Map<String, FileTimes> fileTimes;
  private final Map<String, Map<String, String>> values;

  /**
   * Takes the history.
   *
   * @param durations by a job's full path, earlier durations in milliseconds
   * @param fileTimes by a watch's name, when its files have come
   * @param values by a job's full path, what it handed back last
   */
  public TypicalOutcomes(
      Map<String, long[]> durations,
      Map<String, FileTimes> fileTimes,
      Map<String, Map<String, String>> values) {
    durations.forEach(
        (path, all) -> {
          if (all.length > 0) {
            long[] sorted = all.clone();
            Arrays.sort(sorted);
            this.durations.put(path, sorted[sorted.length / 2]);
          }
        });
    this.fileTimes = Map.copyOf(fileTimes);
    this.values = Map.copyOf(values);
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    Long known = durations.isEmpty() ? null : durations.get(run.run().reference().path());
    if (known != null) {
      return new Outcome(known, Outcomes.success(run), values(run));
    }
    Optional<Durations.Range> usually = run.run().job().usually();
    long middle =
        usually
            .map(range -> (range.low().toMillis() + range.high().toMillis()) / 2)
            .orElse(UNKNOWN_DURATION);
    return new Outcome(middle, Outcomes.success(run), values(run));
  }

  private Map<String, String> values(RunSpec run) {
    return values.isEmpty()
        ? Map.of()
        : values.getOrDefault(run.run().reference().path(), Map.of());
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    FileTimes times = fileTimes.get(watch);
    return times == null ? new FileOutcome.AtOnce() : new FileOutcome.AsUsual(times, 0.5);
  }
}

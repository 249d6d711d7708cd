package dev.purser.core.forecast;

import dev.purser.core.board.Ending;
import dev.purser.core.board.RunSpec;
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
  private final Map<String, Long> fileDelays;
  private final Map<String, Map<String, String>> values;

  /**
   * Takes the history.
   *
   * @param durations by a job's full path, earlier durations in milliseconds
   * @param fileDelays by a watch's name, how long after the look-out began its file usually came
   * @param values by a job's full path, what it handed back last
   */
  public TypicalOutcomes(
      Map<String, long[]> durations,
      Map<String, Long> fileDelays,
      Map<String, Map<String, String>> values) {
    durations.forEach(
        (path, all) -> {
          if (all.length > 0) {
            long[] sorted = all.clone();
            Arrays.sort(sorted);
            this.durations.put(path, sorted[sorted.length / 2]);
          }
        });
    this.fileDelays = Map.copyOf(fileDelays);
    this.values = Map.copyOf(values);
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    Long known = durations.get(run.run().reference().path());
    if (known != null) {
      return new Outcome(known, Ending.exited(0), values(run));
    }
    Optional<Durations.Range> usually = run.run().job().usually();
    long middle =
        usually
            .map(range -> (range.low().toMillis() + range.high().toMillis()) / 2)
            .orElse(UNKNOWN_DURATION);
    return new Outcome(middle, Ending.exited(0), values(run));
  }

  private Map<String, String> values(RunSpec run) {
    return values.getOrDefault(run.run().reference().path(), Map.of());
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    Long delay = fileDelays.get(watch);
    return delay == null ? new FileOutcome.AtOnce() : new FileOutcome.After(delay);
  }
}

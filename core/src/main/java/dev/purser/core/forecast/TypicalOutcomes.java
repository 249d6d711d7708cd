package dev.purser.core.forecast;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * Every attempt succeeds and takes as long as is typical: the median of the job's history; without
 * one, the middle of {@code usually}; without that, {@link Outcomes#UNKNOWN_DURATION}. Nothing is
 * left to chance and nobody answers a question, so that two rehearsals differ only by what is done
 * differently in them.
 */
public final class TypicalOutcomes implements Outcomes {
  private final Map<String, Long> durations = new HashMap<>();
  private final History history;

  /** Takes what is known. */
  public TypicalOutcomes(History history) {
    this.history = history;
    history
        .durations()
        .forEach(
            (path, all) -> {
              if (all.length > 0) {
                long[] sorted = all.clone();
                Arrays.sort(sorted);
                this.durations.put(path, sorted[sorted.length / 2]);
              }
            });
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
    return history.values().isEmpty()
        ? Map.of()
        : history.values().getOrDefault(run.run().reference().path(), Map.of());
  }

  @Override
  public List<BoardEvent> planned() {
    return history.planned();
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    return history.file(watch, date, 0.5);
  }

  @Override
  public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
    return Optional.empty();
  }
}

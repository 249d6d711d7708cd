package dev.purser.wire.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;

/** Forecasts with their ranges, as clients see them. */
public final class ForecastViews {
  private ForecastViews() {}

  /**
   * When something is likely; each may be missing where nobody can say.
   *
   * @param p10 one time in ten it is earlier
   * @param p50 as often earlier as later
   * @param p90 one time in ten it is later
   */
  public record Spread(Instant p10, Instant p50, Instant p90) {}

  /**
   * What the rest of a day is likely to bring.
   *
   * @param runs those that had not ended
   * @param commitments what is promised of the date
   */
  public record DayForecast(List<RunForecast> runs, List<CommitmentForecast> commitments) {}

  /**
   * What is likely of a run.
   *
   * @param run its reference
   * @param finishBy when it is late; missing where it has no such time
   * @param lateChance of missing it, 0 to 1; missing where nobody can say
   * @param failChance 0 to 1
   * @param hangsOn on what it hangs, so that nobody can say when it ends: {@code person} or {@code
   *     file}; empty for nothing
   * @param restsOn on what the figures rest
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record RunForecast(
      String run,
      Spread start,
      Spread end,
      Instant finishBy,
      Double lateChance,
      double failChance,
      String hangsOn,
      String restsOn) {}

  /**
   * What is likely of a commitment.
   *
   * @param commitment its name
   * @param number which of the date's starts, from 1
   * @param by when it is promised; missing where too little is known for what is usual
   * @param standing {@code kept}, {@code missed}, {@code late}, {@code stalled} or {@code open}
   * @param start of its end job
   * @param lateChance 0 to 1; missing where nobody can say
   * @param failChance 0 to 1
   * @param hangsOn as of a run
   * @param restsOn on what the figures rest
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record CommitmentForecast(
      String commitment,
      int number,
      Instant by,
      String standing,
      Spread start,
      Spread end,
      Double lateChance,
      double failChance,
      String hangsOn,
      String restsOn) {}
}

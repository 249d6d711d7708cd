package dev.purser.wire.api;

import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** Runs of the past that forecasts rest on, as clients see them. */
public final class HistoryViews {
  private HistoryViews() {}

  /**
   * A run of the past, as it is imported and exported.
   *
   * @param job its full path
   * @param number which of the date's runs, from 1; 0 where nobody says
   * @param start null for one that never began
   * @param end null for one that runs
   * @param exitCode -1 where nobody says
   * @param attempts 0 where nobody says
   */
  public record PastRunView(
      String job,
      LocalDate date,
      Instant start,
      Instant end,
      String outcome,
      int number,
      Instant due,
      int exitCode,
      String host,
      int attempts) {}

  /**
   * Runs to import.
   *
   * @param tryOnly whether it is only looked what would be taken
   */
  public record ImportRequest(@Size(max = MOST_ROWS) List<PastRunView> runs, boolean tryOnly) {}

  /** So many runs are imported at once. */
  public static final int MOST_ROWS = 5_000;

  /**
   * What became of imported runs.
   *
   * @param taken how many were new, or would be
   * @param known how many were known already
   * @param refused why the others were refused, each with its place among them, from 1
   */
  public record ImportView(int taken, int known, List<String> refused) {}
}

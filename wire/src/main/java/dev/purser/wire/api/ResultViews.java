package dev.purser.wire.api;

import java.util.List;

/** Rows that queries of runs gave. */
public final class ResultViews {
  private ResultViews() {}

  /**
   * A result.
   *
   * @param number of the query among those of its attempt that gave rows, from 1
   * @param found how many rows there were
   * @param kept how many of them are kept, from the first on
   * @param complete whether the query has given all that it gives
   */
  public record ResultView(
      int attempt, int number, List<String> columns, long found, long kept, boolean complete) {}

  /**
   * The first rows of a result.
   *
   * @param rows as text; null where a row has nothing
   */
  public record ResultRowsView(ResultView result, List<List<String>> rows) {}
}

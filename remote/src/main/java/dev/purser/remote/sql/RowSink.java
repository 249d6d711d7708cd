package dev.purser.remote.sql;

import java.util.List;

/** Takes what statements give, as it comes; what it throws ends the statements. */
public interface RowSink {
  /** A line for the output. */
  void say(String line);

  /**
   * A query begins to give rows.
   *
   * @param number of the query among those that give rows, from 1
   * @param columns their names
   */
  void begin(int number, List<String> columns);

  /**
   * A row.
   *
   * @param values a {@code String}, {@code BigDecimal}, {@code Boolean} or null each
   */
  void row(List<Object> values);

  /**
   * A query has given all its rows.
   *
   * @param rows how many there were in all
   * @param whole whether all of them were handed over
   */
  void end(long rows, boolean whole);
}

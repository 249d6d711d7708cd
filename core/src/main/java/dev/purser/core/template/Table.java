package dev.purser.core.template;

import java.util.List;
import java.util.Map;

/**
 * Rows of values, one for each thing that a template makes.
 *
 * @param columns names of parameters, in order
 * @param rows in order
 * @param file in which its columns are named
 * @param line in that file, from 1
 */
public record Table(List<String> columns, List<Row> rows, String file, int line) {

  /** Columns and cells. */
  public Table {
    columns = List.copyOf(columns);
    rows = List.copyOf(rows);
  }

  /**
   * One row.
   *
   * @param number from 1
   * @param values by column
   * @param file in which it stands
   * @param line in that file, from 1
   * @param column in that file, from 1
   */
  public record Row(int number, Map<String, String> values, String file, int line, int column) {
    /** How a message names it: by its first value, where it has one. */
    public String inWords() {
      return "row "
          + number
          + values.entrySet().stream()
              .findFirst()
              .map(first -> " (" + first.getKey() + " " + first.getValue() + ")")
              .orElse("");
    }
  }
}

package dev.purser.core.template;

import dev.purser.core.problem.Problem;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** Reads a table from CSV (RFC 4180): a line of column names, then a line for each row. */
public final class CsvTable {
  /** More rows are refused: it is likelier that it is the wrong file. */
  public static final int MOST_ROWS = 20_000;

  private static final CSVFormat FORMAT =
      CSVFormat.RFC4180
          .builder()
          .setIgnoreSurroundingSpaces(true)
          .setIgnoreEmptyLines(false)
          .setTrim(true)
          .get();

  private CsvTable() {}

  /**
   * The table.
   *
   * @param text the CSV
   * @param file in which it stands, for messages
   * @param before lines of the file before its first one
   * @param problems takes what is wrong, with its line
   */
  public static Table read(String text, String file, int before, List<Problem> problems) {
    String plain = text.startsWith("\uFEFF") ? text.substring(1) : text;
    List<String> columns = new ArrayList<>();
    List<Table.Row> rows = new ArrayList<>();
    long line = 0;
    try (CSVParser parser = CSVParser.parse(new StringReader(plain), FORMAT)) {
      long begins = 1;
      for (CSVRecord record : parser) {
        line = before + begins;
        begins = parser.getCurrentLineNumber() + 1;
        if (record.size() == 1 && record.get(0).isBlank()) {
          continue;
        }
        if (columns.isEmpty()) {
          columns.addAll(columns(record, file, (int) line, problems));
        } else {
          rows.add(row(record, columns, rows.size() + 1, file, (int) line, problems));
        }
        if (rows.size() > MOST_ROWS) {
          problems.add(
              Problem.error(
                  file, (int) line, 1, "a table has at most " + MOST_ROWS + " rows; split it"));
          return new Table(columns, List.of(), file, before + 1);
        }
      }
    } catch (IOException | UncheckedIOException e) {
      problems.add(
          Problem.error(
              file,
              (int) Math.max(line + 1, before + 1),
              1,
              "this is not CSV: a quoted cell is not closed, or something follows its end quote;"
                  + " write \"\" for a quote inside one"));
    }
    if (columns.isEmpty()) {
      problems.add(
          Problem.error(
              file, before + 1, 1, "the table is empty; its first line names the columns"));
    }
    return new Table(columns, rows, file, before + 1);
  }

  private static List<String> columns(
      CSVRecord record, String file, int line, List<Problem> problems) {
    List<String> columns = new ArrayList<>();
    Set<String> seen = new HashSet<>();
    for (String cell : record) {
      if (!seen.add(cell)) {
        problems.add(
            Problem.error(
                file,
                line,
                1,
                cell.isEmpty()
                    ? "two columns have no name; the first line names each column"
                    : "two columns are named \"" + cell + "\""));
      }
      columns.add(cell);
    }
    return columns;
  }

  private static Table.Row row(
      CSVRecord record,
      List<String> columns,
      int number,
      String file,
      int line,
      List<Problem> problems) {
    Map<String, String> values = new LinkedHashMap<>();
    for (int i = 0; i < columns.size() && i < record.size(); i++) {
      values.put(columns.get(i), record.get(i));
    }
    if (record.size() != columns.size()) {
      problems.add(
          Problem.error(
              file,
              line,
              1,
              "row "
                  + number
                  + " has "
                  + record.size()
                  + (record.size() == 1 ? " cell" : " cells")
                  + "; the first line names "
                  + columns.size()
                  + (columns.size() == 1 ? " column" : " columns")));
    }
    return new Table.Row(number, values, file, line, 1);
  }
}

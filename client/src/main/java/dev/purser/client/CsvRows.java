package dev.purser.client;

import java.io.IOException;
import java.io.PushbackReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.util.List;
import org.apache.commons.csv.CSVException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** Reads CSV (RFC 4180) row by row, so that a file may have millions of them. */
final class CsvRows {
  private static final CSVFormat FORMAT =
      CSVFormat.RFC4180.builder().setIgnoreEmptyLines(true).get();

  private CsvRows() {}

  /** Takes a row; the header row is the first. */
  @FunctionalInterface
  interface Taker {
    /**
     * Takes a row.
     *
     * @param line the line on which it ends, from 1
     * @return whether there shall be more
     */
    boolean take(int line, List<String> cells);
  }

  /**
   * Reads all rows, or as many as are wanted.
   *
   * @return the line from which on it cannot be read as CSV, from 1; 0 where all could be
   * @throws IOException where the text itself cannot be read
   */
  static int read(Reader text, Taker taker) throws IOException {
    PushbackReader all = new PushbackReader(text);
    int first = all.read();
    if (first >= 0 && first != '\uFEFF') { // a mark that some programs put before a text
      all.unread(first);
    }
    CSVParser parser = FORMAT.parse(all);
    try {
      for (CSVRecord row : parser) {
        if (!taker.take((int) parser.getCurrentLineNumber(), row.toList())) {
          return 0;
        }
      }
      return 0;
    } catch (UncheckedIOException e) {
      if (e.getCause() instanceof CSVException) {
        return (int) Math.max(1, parser.getCurrentLineNumber());
      }
      throw e.getCause();
    }
  }
}

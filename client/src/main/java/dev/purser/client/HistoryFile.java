package dev.purser.client;

import dev.purser.core.history.HistoryRows;
import dev.purser.core.history.PastRun;
import dev.purser.core.problem.Problem;
import java.io.IOException;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.Map;
import java.util.function.Consumer;

/** A file of runs of the past, read row by row. */
final class HistoryFile {
  private HistoryFile() {}

  /**
   * Reads a file.
   *
   * @param names other names of jobs in it, by the name that the file uses
   * @param take is given each sound row
   * @param refuse is given each problem
   */
  static void read(
      Path file, Map<String, String> names, Consumer<PastRun> take, Consumer<Problem> refuse) {
    String name = file.toString();
    HistoryRows rows = new HistoryRows(name, names, Instant.now(Clock.systemUTC()), take, refuse);
    boolean[] header = {true};
    int broken =
        rows(
            file,
            (line, cells) -> {
              if (header[0]) {
                header[0] = false;
                return rows.header(cells);
              }
              rows.row(line, cells);
              return true;
            });
    if (broken > 0) {
      refuse.accept(HistoryRows.broken(name, broken));
    } else if (header[0]) {
      refuse.accept(Problem.error(name, 1, 1, "the file is empty"));
    }
  }

  /** Reads the rows of a file of CSV; returns the line from which on it is none, else 0. */
  static int rows(Path file, CsvRows.Taker taker) {
    try (Reader text = Files.newBufferedReader(file)) {
      return CsvRows.read(text, taker);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}

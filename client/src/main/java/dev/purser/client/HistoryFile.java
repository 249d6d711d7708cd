package dev.purser.client;

import dev.purser.core.history.HistoryRows;
import dev.purser.core.history.PastRun;
import dev.purser.core.problem.Problem;
import dev.purser.wire.api.HistoryViews;
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

  /** A run as the service takes it. */
  static HistoryViews.PastRunView view(PastRun run) {
    return new HistoryViews.PastRunView(
        run.path(),
        run.date(),
        instant(run.start()),
        instant(run.end()),
        run.outcome().word(),
        run.number(),
        instant(run.due()),
        run.exitCode(),
        run.host(),
        run.attempts());
  }

  /** A run as the service gives it. */
  static PastRun run(HistoryViews.PastRunView view) {
    int slash = view.job().lastIndexOf('/');
    return new PastRun(
        view.job().substring(0, slash),
        view.job().substring(slash + 1),
        view.date(),
        view.number(),
        millis(view.due()),
        millis(view.start()),
        millis(view.end()),
        PastRun.Outcome.of(view.outcome()).orElse(PastRun.Outcome.CANCELLED),
        view.exitCode(),
        view.host(),
        view.attempts());
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  private static long millis(Instant at) {
    return at == null ? 0 : at.toEpochMilli();
  }
}

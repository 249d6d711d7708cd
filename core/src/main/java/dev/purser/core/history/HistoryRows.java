package dev.purser.core.history;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.Fields;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Reads runs of the past from rows of cells under a header: {@code job,date,start,end,outcome} and
 * optionally {@code number,due,exit-code,host,attempts}, in any order. A row that is wrong is told
 * with its line and left out; the others are read. Rows are handed on one by one, so that there may
 * be millions of them.
 */
public final class HistoryRows {
  /** The columns that must be there. */
  public static final List<String> MUST = List.of("job", "date", "start", "end", "outcome");

  /** The columns that may be there. */
  public static final List<String> MAY = List.of("number", "due", "exit-code", "host", "attempts");

  private static final Duration LONGEST = Duration.ofDays(31);
  private static final int MOST_ATTEMPTS = 10_000;
  private static final int MOST_NUMBER = 999_999;

  private final String file;
  private final Map<String, String> names;
  private final Instant now;
  private final Consumer<PastRun> take;
  private final Consumer<Problem> refuse;
  private final Map<String, Integer> columns = new HashMap<>();
  private List<String> row = List.of();
  private List<String> wrong = List.of();

  /**
   * Prepares to read a file.
   *
   * @param file its name, for problems
   * @param names other names of jobs in it, by the name that the file uses
   * @param now what begins or ends later is refused
   * @param take is given each sound row, in the order of the file
   * @param refuse is given each problem
   */
  public HistoryRows(
      String file,
      Map<String, String> names,
      Instant now,
      Consumer<PastRun> take,
      Consumer<Problem> refuse) {
    this.file = file;
    this.names = Map.copyOf(names);
    this.now = now;
    this.take = take;
    this.refuse = refuse;
  }

  /** Takes the header row; where it is wrong, no row can be read. */
  public boolean header(List<String> header) {
    List<String> known = columns();
    boolean sound = true;
    for (int i = 0; i < header.size(); i++) {
      if (columns.putIfAbsent(header.get(i), i) != null) {
        sound = headerError("the column \"" + header.get(i) + "\" is there twice");
      } else if (!known.contains(header.get(i))) {
        refuse.accept(
            Problem.warning(
                file,
                1,
                1,
                "the column \""
                    + header.get(i)
                    + "\" is not read"
                    + Nearest.hint(header.get(i), known)));
      }
    }
    List<String> lacking = MUST.stream().filter(must -> !columns.containsKey(must)).toList();
    if (!lacking.isEmpty()) {
      sound =
          headerError(
              "the header row lacks "
                  + String.join(", ", lacking)
                  + "; expected "
                  + String.join(",", MUST)
                  + " and optionally "
                  + String.join(",", MAY));
    }
    return sound;
  }

  private boolean headerError(String message) {
    refuse.accept(Problem.error(file, 1, 1, message));
    return false;
  }

  /**
   * Takes a row.
   *
   * @param line from 1
   */
  public void row(int line, List<String> cells) {
    row = cells;
    wrong = new ArrayList<>();
    if (cells.size() != columns.size()) {
      refuse.accept(
          Problem.error(
              file,
              line,
              1,
              "this row has " + cells.size() + " cells, but the header row has " + columns.size()));
      return;
    }
    String path = names.getOrDefault(cell("job"), cell("job"));
    if (!path.contains("/") || !Fields.isPath(path)) {
      wrong("job", path, "STREAM/JOB, such as passenger/night-manifest/file-manifest");
    }
    LocalDate date = date();
    long start = instant("start");
    long end = instant("end");
    long due = instant("due");
    Optional<PastRun.Outcome> outcome = outcome(end);
    int number = whole("number", 0, 1, MOST_NUMBER);
    int exitCode = whole("exit-code", -1, -1, Integer.MAX_VALUE);
    int attempts = whole("attempts", 0, 0, MOST_ATTEMPTS);
    if (wrong.isEmpty()) {
      checkTimes(start, end, outcome.orElse(PastRun.Outcome.SUCCEEDED));
    }
    if (!wrong.isEmpty()) {
      refuse.accept(Problem.error(file, line, 1, String.join("; ", wrong)));
      return;
    }
    int slash = path.lastIndexOf('/');
    take.accept(
        new PastRun(
            path.substring(0, slash),
            path.substring(slash + 1),
            date,
            number,
            due,
            start,
            end,
            outcome.orElse(PastRun.Outcome.SUCCEEDED),
            exitCode,
            cell("host"),
            attempts));
  }

  private void checkTimes(long start, long end, PastRun.Outcome outcome) {
    boolean ran = outcome == PastRun.Outcome.SUCCEEDED || outcome == PastRun.Outcome.FAILED;
    if (start == 0 && ran) {
      wrong.add("it has no start; only what was skipped or cancelled may have none");
    } else if (end > 0 && end < start) {
      wrong.add("it ends before it starts");
    } else if (start > 0 && end - start > LONGEST.toMillis()) {
      wrong.add("it took more than 31 days");
    } else if (Math.max(start, end) > now.toEpochMilli()) {
      wrong.add("it lies in the future");
    }
  }

  private String cell(String column) {
    Integer place = columns.get(column);
    return place == null ? "" : row.get(place).strip();
  }

  private void wrong(String column, String text, String expected) {
    wrong.add("\"" + text + "\" in column " + column + " is not valid; expected " + expected);
  }

  private LocalDate date() {
    String text = cell("date");
    try {
      LocalDate date = LocalDate.parse(text);
      if (date.getYear() >= 1970 && date.getYear() <= 9999) {
        return date;
      }
    } catch (DateTimeException e) {
      // told below
    }
    wrong("date", text, "a date such as 2027-03-04");
    return LocalDate.EPOCH;
  }

  private long instant(String column) {
    String text = cell(column);
    if (text.isEmpty()) {
      return 0;
    }
    try {
      long at = OffsetDateTime.parse(text).toInstant().toEpochMilli();
      if (at > 0) {
        return at;
      }
    } catch (DateTimeException | ArithmeticException e) {
      // told below
    }
    wrong(column, text, "a time with its offset, such as 2027-03-04T21:30:00+01:00");
    return 0;
  }

  private Optional<PastRun.Outcome> outcome(long end) {
    String text = cell("outcome");
    Optional<PastRun.Outcome> outcome = PastRun.Outcome.of(text);
    boolean runs = end == 0 && (text.isEmpty() || text.equals("running"));
    if (outcome.isEmpty() && !runs) {
      wrong("outcome", text, String.join(", ", PastRun.Outcome.words()));
    }
    return outcome;
  }

  private int whole(String column, int otherwise, int least, int most) {
    String text = cell(column);
    if (text.isEmpty()) {
      return otherwise;
    }
    try {
      int number = Integer.parseInt(text);
      if (number >= least && number <= most) {
        return number;
      }
    } catch (NumberFormatException e) {
      // told below
    }
    wrong(column, text, "a whole number, " + least + " to " + most);
    return otherwise;
  }

  /** The problem of a file that is not CSV from some line on. */
  public static Problem broken(String file, int line) {
    return Problem.error(
        file,
        line,
        1,
        "this is not CSV from here on: a quote that opens a cell must be closed, and a quote in a"
            + " cell is written twice");
  }

  /** All columns, in the order in which they are written. */
  public static List<String> columns() {
    List<String> all = new ArrayList<>(MUST);
    all.addAll(MAY);
    return all;
  }

  /** The cells of a run, in the order of {@link #columns}; what nobody says is empty. */
  public static List<String> cells(PastRun run) {
    return List.of(
        run.path(),
        run.date().toString(),
        time(run.start()),
        time(run.end()),
        run.start() > 0 && run.end() == 0 ? "" : run.outcome().word(),
        run.number() == 0 ? "" : "" + run.number(),
        time(run.due()),
        run.exitCode() < 0 ? "" : "" + run.exitCode(),
        run.host(),
        run.attempts() == 0 ? "" : "" + run.attempts());
  }

  private static String time(long at) {
    return at == 0 ? "" : Instant.ofEpochMilli(at).toString();
  }
}

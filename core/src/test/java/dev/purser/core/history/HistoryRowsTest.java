package dev.purser.core.history;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.problem.Problem;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Runs of the past, row by row. */
class HistoryRowsTest {
  private static final Instant NOW = Instant.parse("2027-03-05T00:00:00Z");
  private static final String HEADER = "job,date,start,end,outcome";
  private static final String GOOD =
      "night/file,2027-03-04,2027-03-04T21:30:00+01:00,2027-03-04T21:40:00+01:00,succeeded";

  private final List<PastRun> taken = new ArrayList<>();
  private final List<Problem> problems = new ArrayList<>();

  private void read(String header, String... rows) {
    HistoryRows reader =
        new HistoryRows("h.csv", Map.of("old", "night/file"), NOW, taken::add, problems::add);
    if (reader.header(Arrays.asList(header.split(",", -1)))) {
      for (int i = 0; i < rows.length; i++) {
        reader.row(i + 2, Arrays.asList(rows[i].split(",", -1)));
      }
    }
  }

  @Test
  void whatIsWrittenIsReadAgain() {
    read(
        HEADER + ",number,due,exit-code,host,attempts",
        GOOD + ",2,2027-03-04T20:30:00Z,0,quay,3",
        "old,2027-03-04,2027-03-04T21:30:00+01:00,,,1,,,,",
        "night/file,2027-03-03,,,skipped,1,,,,");
    assertThat(problems).isEmpty();
    assertThat(taken).hasSize(3);
    assertThat(taken.get(1).path()).isEqualTo("night/file");
    assertThat(taken.get(1).end()).isZero();
    List<PastRun> before = List.copyOf(taken);
    String header = String.join(",", HistoryRows.columns());
    taken.clear();
    read(
        header,
        before.stream()
            .map(run -> String.join(",", HistoryRows.cells(run)))
            .toArray(String[]::new));
    assertThat(taken).containsExactlyElementsOf(before);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          file,2027-03-04,2027-03-04T21:30:00Z,2027-03-04T21:40:00Z,succeeded      | "file" in column job is not valid; expected STREAM/JOB
          night/file,4.3.2027,2027-03-04T21:30:00Z,2027-03-04T21:40:00Z,succeeded  | "4.3.2027" in column date
          night/file,2027-03-04,2027-03-04T21:30:00,,                              | expected a time with its offset
          night/file,2027-03-04,2027-03-04T21:40:00Z,2027-03-04T21:30:00Z,failed   | it ends before it starts
          night/file,2027-03-04,2027-03-06T21:40:00Z,,                             | it lies in the future
          night/file,2027-01-04,2027-01-04T21:40:00Z,2027-03-04T21:40:00Z,failed   | it took more than 31 days
          night/file,2027-03-04,,2027-03-04T21:40:00Z,succeeded                    | it has no start
          night/file,2027-03-04,2027-03-04T21:30:00Z,2027-03-04T21:40:00Z,fine     | expected succeeded, failed, skipped, cancelled
          night/file,2027-03-04,2027-03-04T21:30:00Z                               | this row has 3 cells, but the header row has 5
          ../x,2027-03-04,2027-03-04T21:30:00Z,2027-03-04T21:40:00Z,succeeded      | "../x" in column job
          """)
  void aWrongRowIsToldWithItsLineAndLeftOut(String row, String expected) {
    read(HEADER, GOOD, row, GOOD.replace("03-04,", "03-03,"));
    assertThat(taken).hasSize(2);
    assertThat(problems)
        .singleElement()
        .satisfies(
            problem -> {
              assertThat(problem.toString()).contains(expected);
              assertThat(problem.line()).isEqualTo(3);
            });
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          job,date,start,end           | the header row lacks outcome; expected job,date
          job,date,start,end,outcome,job | the column "job" is there twice
          """)
  void withoutASoundHeaderNothingIsRead(String header, String expected) {
    read(header, GOOD);
    assertThat(taken).isEmpty();
    assertThat(problems).anySatisfy(problem -> assertThat(problem.message()).contains(expected));
  }
}

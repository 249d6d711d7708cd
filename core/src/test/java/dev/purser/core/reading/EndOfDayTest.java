package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Kind;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** 24:00 ends a day and begins none. */
class EndOfDayTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("t.yaml", "host: pier\n---\n" + text)), DATE);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "at: \"24:00\"                          | x: 1 | nothing starts at 24:00; write \"00:00\"",
        "at: [\"06:00\", \"24:00\"]           | x: 1 | nothing starts at 24:00; write \"00:00\"",
        "at: \"06:00\", day-begins: \"24:00\" | x: 1 | expected 00:00 of the day that begins then",
        "at: \"06:00\" | not-before: \"24:00\"       | expected 00:00 of the day that begins then",
        "at: \"25:00\" | x: 1                         | is not a time of day",
        "at: \"24:01\" | x: 1                         | is not a time of day",
      })
  void nothingBeginsAtTheEndOfTheDay(String schedule, String job, String said) {
    String text =
        "stream: a/b\nschedule: { days: every day, "
            + schedule
            + ", zone: UTC }\njobs: { go: { host: pier, run: x"
            + (job.startsWith("x") ? "" : ", " + job)
            + " } }\n";
    assertThat(check(text).problems()).extracting(Problem::message).anyMatch(m -> m.contains(said));
  }

  @Test
  void aJobMayHaveTheWholeDay() {
    Definitions all =
        check(
                "stream: a/b\nschedule: { days: every day, at: \"21:30\", zone: UTC, start-by:"
                    + " \"24:00\" }\njobs: { go: { host: pier, run: x, start-by: \"24:00\","
                    + " finish-by: \"24:00\" } }\n")
            .definitions();
    PlannedRun run = new Planner(all).plan(DATE).get(0);
    Instant end = Instant.parse("2027-03-05T00:00:00Z");
    assertThat(run.startBy()).contains(end);
    assertThat(run.finishBy()).contains(end);
  }

  @Test
  void startsAFileAndACapacityMayLastUntilThen() {
    DefinitionCheck.Result checked =
        check(
            "stream: a/b\nschedule: { days: every day, every: 6h between 06:00 and 24:00, zone: UTC"
                + " }\njobs: { go: { host: pier, run: x } }\n---\nfile-watch: f\nhost: pier\npath:"
                + " /a/*.csv\nexpected: { days: every day, by: \"24:00\", zone: UTC }\n---\ncapacity:"
                + " c\nunits: 1\nspans: [ { from: \"18:00\", to: \"24:00\", units: 5 } ]\n");
    assertThat(checked.problems()).isEmpty();
    Definitions all = checked.definitions();
    assertThat(new Planner(all).plan(DATE))
        .extracting(run -> run.due().toString())
        .containsExactly("2027-03-04T06:00:00Z", "2027-03-04T12:00:00Z", "2027-03-04T18:00:00Z");
    FileWatch watch = (FileWatch) all.document(Kind.FILE_WATCH, "f").orElseThrow().value();
    assertThat(watch.expected().orElseThrow().ends(DATE)).isEqualTo("2027-03-05T00:00:00Z");
    Capacity capacity = (Capacity) all.document(Kind.CAPACITY, "c").orElseThrow().value();
    assertThat(capacity.unitsAt(Instant.parse("2027-03-04T23:59:59Z"))).isEqualTo(5);
    assertThat(capacity.unitsAt(Instant.parse("2027-03-05T00:00:00Z"))).isEqualTo(1);
  }
}

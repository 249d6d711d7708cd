package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Prerequisites that contradict themselves, and values that may not be there yet. */
class PrerequisiteCheckTest {
  private static final String STREAM =
      """
      host: quay-north
      ---
      stream: day/load
      schedule: { days: every day, at: "06:00", zone: UTC }
      jobs:
        first: { host: quay-north, run: x }
        a: { host: quay-north, run: x }
        b: { host: quay-north, run: x, waits-for: a ended }
        z:
          host: quay-north
          run: ${run}
          waits-for: WAITS
      """;

  private static List<String> said(String waits, String run) {
    return DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("f", STREAM.replace("WAITS", waits).replace("${run}", run))),
            LocalDate.of(2027, 3, 1))
        .problems()
        .stream()
        .map(Problem::toString)
        .toList();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          a succeeded and a failed                              | it can never start
          (a succeeded and b succeeded) and a failed            | it can never start
          (b failed and a failed) or (a succeeded and a failed) | that part can never be met
          a ended with code 0 to 3 and a ended with code 4, 5   | it can never start
          a succeeded and not a succeeded                       | it can never start
          a running and a ended                                 | it can never start
          a skipped and a failed                                | it can never start
          value n of a > 5 and value n of a < 3                 | it can never start
          value n of a > 5 and value n of a <= 5                | it can never start
          value n of a = 5 and value n of a = 6                 | it can never start
          value n of a = "x" and value n of a = "y"             | it can never start
          not a failed and (b ended or (a running and a ended)) | that part can never be met
          b succeeded and not z running                         | asks whether it is running itself
          """)
  void whatCanNeverBeIsSaidAtTheJob(String waits, String expected) {
    List<String> said = said(waits, "x");
    assertThat(said).singleElement().asString().contains(expected);
    assertThat(said.get(0)).startsWith("f:9:3: warning: day/load/z ");
  }

  @ParameterizedTest
  @CsvSource({
    "a succeeded and b failed",
    "a succeeded or a failed",
    "a succeeded and a skipped",
    "not a succeeded and not a failed and b ended",
    "a ended with code 0 to 3 and a ended with code 3",
    "value n of a > 5 and value n of a < 6",
    "value n of a >= 5 and value n of a <= 5",
    "value n of a != 5 and value n of a != 6",
    "value n of a > 5 and value m of a < 3",
    "a succeeded and a failed on the previous business date"
  })
  void whatCanBeIsNot(String waits) {
    assertThat(said(waits, "x")).noneMatch(one -> one.contains("at once"));
  }

  @ParameterizedTest
  @CsvSource({
    "b ended, a, true",
    "b ended, b, true",
    "b ended, first, false",
    "not b running, b, false",
    "a ended on the previous business date, a, false"
  })
  void aValueIsThereOnlyOfWhatIsWaitedFor(String waits, String of, boolean waitedFor) {
    List<String> said = said(waits, "./go ${value rows of " + of + "}");
    if (waitedFor) {
      assertThat(said).isEmpty();
    } else {
      assertThat(said)
          .singleElement()
          .asString()
          .startsWith("f:11:")
          .endsWith(
              "day/load/z uses a value of day/load/"
                  + of
                  + " but does not wait for it: the value may not be there yet; add \""
                  + of
                  + " succeeded\" to its waits-for");
    }
  }
}

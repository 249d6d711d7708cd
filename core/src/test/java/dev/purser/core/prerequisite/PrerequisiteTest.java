package dev.purser.core.prerequisite;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.phrase.PhraseException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PrerequisiteTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          close-bookings succeeded                           | close-bookings succeeded
          a succeeded and (b failed or c skipped)            | a succeeded and (b failed or c skipped)
          ((a succeeded))                                    | a succeeded
          a ended or b ended and c failed                    | a ended or b ended and c failed
          not (a failed or b failed)                         | not (a failed or b failed)
          file harbour-feed arrived and not x/y failed       | file harbour-feed arrived and not x/y failed
          file succeeded                                     | file succeeded
          A Succeeded AND b failed                           | A succeeded and b failed
          (a failed or b failed) or c failed                 | (a failed or b failed) or c failed
          a ended with code 0 to 4                           | a ended with code 0 to 4
          a ended with code 8, 0 to 3, 2 and b failed        | a ended with code 0 to 3, 8 and b failed
          a/b succeeded on the previous business date        | a/b succeeded on the previous business date
          tide/import succeeded within 12h if planned        | tide/import succeeded within 12h if planned
          not a running or b ended with code 3 within 90m    | not a running or b ended with code 3 within 1h30m
          value rows of load > 1000                          | value rows of load > 1000
          value rows of load >= -2.5 on the previous business date if planned | value rows of load >= -2.5 on the previous business date if planned
          value Kind of x/load != "empty (or not)"           | value Kind of x/load != "empty (or not)"
          value succeeded and value failed                   | value succeeded and value failed
          """)
  void thePrintReadsBackToTheSame(String text, String printed) {
    Prerequisite parsed = PrerequisiteParser.parse(text).prerequisite();
    assertThat(parsed).hasToString(printed);
    assertThat(PrerequisiteParser.parse(printed).prerequisite()).isEqualTo(parsed);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          a succeded                 | 3  | did you mean "succeeded"
          a succeeded adn b failed   | 13 | did you mean "and"
          a succeeded and            | 16 | a job's name
          file feed arived           | 11 | did you mean "arrived"
          (a failed                  | 10 | ends too early
          not not a failed           | 5  | says nothing
          a ended with code 0 to 400 | 19 | are not exit codes
          a ended with code          | 18 | are not exit codes
          a succeeded within ages    | 20 | expected a duration
          a running within 2h        | 11 | a job is running now or not at all
          a succeeded on the previos business date | 20 | did you mean "previous"
          value rows load > 1        | 12 | expected of
          value rows of load => 1    | 21 | in double quotes
          value rows of load > many  | 22 | in double quotes
          value rows of load >       | 21 | a number, or a text
          """)
  void whatCannotBeReadIsPointedAt(String text, int column, String message) {
    assertThatThrownBy(() -> PrerequisiteParser.parse(text))
        .isInstanceOfSatisfying(
            PhraseException.class, e -> assertThat(e.column()).isEqualTo(column))
        .hasMessageContaining(message);
  }

  @Test
  void answersCombineAsWritten() {
    for (Answer a : Answer.values()) {
      for (Answer b : Answer.values()) {
        assertThat(a.and(b)).isEqualTo(b.and(a)).isLessThanOrEqualTo(a);
        assertThat(a.or(b)).isEqualTo(b.or(a)).isGreaterThanOrEqualTo(a);
      }
    }
    assertThat(Answer.STUCK.not()).isEqualTo(Answer.YES);
    assertThat(Answer.OPEN.not()).isEqualTo(Answer.OPEN);
    assertThat(Answer.YES.not()).isEqualTo(Answer.NO);
  }

  @ParameterizedTest
  @CsvSource({
    "1000, >, 999, true", "1000, >, 1000.0, false", "1000, =, 1000.0, true", "9, <, 10, true",
    "9, >=, 10, false", "abc, <, abd, true", "9a, <, 10a, false", "no, !=, yes, true",
    "1e3, =, 1000, false", "-3, <=, -3, true"
  })
  void numbersCompareAsNumbersAndAllElseAsText(
      String value, String sign, String operand, boolean holds) {
    assertThat(Comparison.of(sign).orElseThrow().holds(value, operand)).isEqualTo(holds);
  }
}

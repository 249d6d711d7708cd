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
}

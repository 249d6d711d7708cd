package dev.purser.core.alert;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UnusualTest {
  /** Ten values: the first and the last are the lowest and the highest. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          0 | 100 2 3 4 5 6 7 8 9 200      | 50          |
          0 | 100 120 130 140 150 150 150 150 150 200 | 99  | its last 10 were from 100 to 200
          0 | 100 120 130 140 150 150 150 150 150 200 | 200 |
          0 | 100 120 130 140 150 150 150 150 150 200 | 200.01 | its last 10 were from 100 to 200
          20 | 100 120 130 140 150 150 150 150 150 200 | 240 |
          20 | 100 120 130 140 150 150 150 150 150 200 | 79  | its last 10 were from 100 to 200
          20 | -10 -9 -8 -7 -6 -5 -4 -3 -2 -1          | -13 | its last 10 were from -10 to -1
          20 | -10 -9 -8 -7 -6 -5 -4 -3 -2 -1          | -12 |
          0 | a a a a a a a a a b                     | b   |
          0 | a a a a a a a a a b                     | c   | none of its last 10 was that
          0 | 1 2 3 4 5 6 7 8 9 10                    | x   | none of its last 10 was that
          0 | a 2 3 4 5 6 7 8 9 10                    | 99  | none of its last 10 was that
          0 | 1 2 3 4 5 6 7 8 9                       | 99  |
          """)
  void whatItsLastDatesHandedBackSaysWhatIsUsual(
      int beyond, String before, String value, String why) {
    assertThat(
            new Unusual("rows", beyond).why(value, Arrays.asList(before.split(" "))).orElse(null))
        .isEqualTo(why);
  }

  @Test
  void aHostileNumberIsOnlyText() {
    List<String> before = Collections.nCopies(30, "1");
    assertThat(new Unusual("rows", 0).why("1e999999999", before))
        .contains("none of its last 30 was that");
    assertThat(new Unusual("rows", 0).why("9".repeat(100_000), before)).isPresent();
  }
}

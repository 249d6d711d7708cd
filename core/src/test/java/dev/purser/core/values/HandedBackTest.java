package dev.purser.core.values;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class HandedBackTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      ignoreLeadingAndTrailingWhitespace = true,
      textBlock =
          """
          rows=3              | {rows=3}          | ''
          ' rows = 3 '        | {rows=3}          | ''
          a=1~a=2             | {a=2}             | ''
          a=                  | {a=}              | ''
          a=b=c               | {a=b=c}           | ''
          a=1~~b=2            | {a=1, b=2}        | ''
          nonsense            | {}                | line 1 is not a line NAME=VALUE
          a=1~3x=2~=          | {a=1}             | line 2 is not a line NAME=VALUE (and 1 more)
          """)
  void linesAreReadAndTheRestIsTold(String text, String values, String problem) {
    HandedBack read = HandedBack.of(text.replace('~', '\n'));
    assertThat(read.values()).hasToString(values);
    assertThat(read.problem()).contains(problem);
    assertThat(read.problem().isEmpty()).isEqualTo(problem.isEmpty());
  }

  @Test
  void noMoreAndNoLongerOnesAreTakenThanCanBeKept() {
    String many =
        IntStream.range(0, HandedBack.MOST_VALUES + 5)
            .mapToObj(i -> "v" + i + "=" + i)
            .collect(Collectors.joining("\n"));
    HandedBack read = HandedBack.of(many + "\nv0=again");
    assertThat(read.values()).hasSize(HandedBack.MOST_VALUES).containsEntry("v0", "again");
    assertThat(read.problem()).contains("line 101 is one value more than 100 (and 4 more)");
    HandedBack tooLong = HandedBack.of("a=" + "x".repeat(HandedBack.LONGEST + 1) + "\nb=1");
    assertThat(tooLong.values()).hasToString("{b=1}");
    assertThat(tooLong.problem()).contains("line 1 is longer than 1000 characters");
  }
}

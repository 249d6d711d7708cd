package dev.purser.core.problem;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ShortenTest {
  @Test
  void ofManyNamesSomeAreNamedAndTheOthersCounted() {
    assertThat(Shorten.names(List.of(), 2)).isEmpty();
    assertThat(Shorten.names(List.of("a", "b"), 2)).isEqualTo("a, b");
    assertThat(Shorten.names(List.of("a", "b", "c", "d"), 2)).isEqualTo("a, b and 2 more");
  }

  @ParameterizedTest
  @CsvSource({"quay, 4, quay", "quays, 4, qua…", "a😀b, 3, a…", "a😀b, 4, a😀b", "ab, 1, …"})
  void aTextThatIsTooLongIsCutBetweenLetters(String text, int most, String shorter) {
    assertThat(Shorten.text(text, most)).isEqualTo(shorter).hasSizeLessThanOrEqualTo(most);
  }
}

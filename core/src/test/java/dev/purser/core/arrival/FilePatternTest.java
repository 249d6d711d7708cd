package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.pattern.FilePattern;
import dev.purser.core.phrase.PhraseException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FilePatternTest {
  @ParameterizedTest
  @CsvSource({
    "*.csv, feed.csv, true",
    "*.csv, feed.csv.part, false",
    "*.csv, .feed.csv, false", // a name that many programs give to what they still write
    ".*.csv, .feed.csv, true",
    "*, .hidden, false",
    "feed-?.csv, feed-1.csv, true",
    "feed-?.csv, feed-12.csv, false",
    "feed-[1-3].csv, feed-2.csv, true",
    "feed-[1-3].csv, feed-4.csv, false",
    "feed-[!1-3].csv, feed-4.csv, true",
    "feed-[a-].csv, feed--.csv, true",
    "'feed.{csv,txt}', feed.txt, true",
    "'feed.{csv,txt}', 'feed.csv,txt', false",
    "'a,b', 'a,b', true",
    "a}b, a}b, true",
    "feed\\*.csv, feed*.csv, true",
    "feed\\*.csv, feed1.csv, false",
    "fe+d(1)^$|.csv, fe+d(1)^$|.csv, true",
    "FEED.csv, feed.CSV, false"
  })
  void aPatternMeansNames(String pattern, String name, boolean meant) {
    assertThat(FilePattern.of(pattern, true).matches(name)).isEqualTo(meant);
  }

  @Test
  void caseCountsOrNotAsTheWatchSays() {
    assertThat(FilePattern.of("BLÅ-[A-C]*.csv", false).matches("blå-b1.CSV")).isTrue();
    assertThat(FilePattern.of("*.csv", true).matches("two\nlines.csv")).isTrue();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "''      | expected a name or a pattern",
        "feed-[1 | is never closed",
        "{a,b    | is never closed",
        "{a{b}}  | stands within another one",
        "a/b     | holds no slash",
        "a\\     | needs a character after it",
        "[z-a]   | ends before it begins"
      })
  void whatCannotBeReadIsSaid(String pattern, String message) {
    assertThatThrownBy(() -> FilePattern.of(pattern, true))
        .isInstanceOf(PhraseException.class)
        .hasMessageContaining(message);
  }
}

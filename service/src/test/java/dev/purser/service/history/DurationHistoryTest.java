package dev.purser.service.history;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DurationHistoryTest {
  /** Of so many runs that took 1, 2, 3 ... seconds, in any order. */
  @ParameterizedTest
  @CsvSource({
    "4, 95, 0",
    "5, 95, 5",
    "5, 1, 1",
    "20, 95, 19",
    "20, 50, 10",
    "100, 99, 99",
    "100, 1, 1",
    "50, 90, 45"
  })
  void aShareOfTheRunsTookAtMostThis(int runs, int percent, long seconds) {
    long[] all = LongStream.range(0, runs).map(i -> runs - i).toArray();
    assertThat(DurationHistory.share(all, percent)).isEqualTo(seconds);
  }
}

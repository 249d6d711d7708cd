package dev.purser.core.advice;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is worth being told as a help. Ends are minutes, 0 for none; chances are of being late. */
class HelpsTest {
  private static PromiseOutlook outlook(long end, double chanceLate) {
    return new PromiseOutlook(
        null,
        PromiseOutlook.Standing.OPEN,
        1,
        1,
        1,
        end * 60_000,
        end * 60_000,
        end * 60_000,
        chanceLate,
        0,
        RunOutlook.HangsOn.NOTHING,
        false,
        100);
  }

  @ParameterizedTest
  @CsvSource({
    "100, 0.83, 90, 0.12, true",
    "100, 0.48, 99, 0.48, true",
    "100, 0.48, 99, 0.50, false",
    "100, 0.48, 70, 0.50, false",
    "100, 0.48, 100, 0.44, false",
    "100, 0.48, 100, 0.42, true",
    "100, 0.48, 101, 0.42, true",
    "0, NaN, 130, 1.0, true",
    "100, 0.48, 0, NaN, false",
    "100, NaN, 90, 0.2, true",
    "100, NaN, 100, 0.2, false",
  })
  void aHelpIsKeptMoreOftenOrEarlierAndNoLessOften(
      long end, double chance, long endThen, double chanceThen, boolean helps) {
    assertThat(Helps.isBetter(outlook(end, chance), outlook(endThen, chanceThen))).isEqualTo(helps);
  }
}

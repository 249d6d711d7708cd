package dev.purser.core.advice;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import java.util.Map;
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

  /** Few draws said 52 % and minute 102 before; many have told 47 % and minute 101. */
  @ParameterizedTest
  @CsvSource({
    "102, 0.52,  90, 0.20, 101, 0.47, 89,  0.15",
    "102, 0.52, 101, 0.52, 101, 0.47, 100, 0.47",
    "102, 0.52,  60, 0.01, 101, 0.47, 59,  0",
    "0,   NaN,  130, 1.00, 0,   NaN,  130, 1",
    "102, 0.52,  90, 0.20, 0,   NaN,  90,  0.20",
    "0,   NaN,   90, 0.20, 101, 0.47, 90,  0.20",
  })
  void whatItGainsIsTakenFromWhatIsToldBesides(
      long end,
      double chance,
      long endThen,
      double chanceThen,
      long endTold,
      double chanceTold,
      long endShown,
      double chanceShown) {
    Helps.Help help =
        new Helps.Help(null, outlook(end, chance), outlook(endThen, chanceThen), Map.of());
    PromiseOutlook told = outlook(endTold, chanceTold);
    assertThat(help.end(told)).isEqualTo(endShown * 60_000);
    assertThat(help.chanceLate(told)).isCloseTo(chanceShown, within(1e-9));
  }
}

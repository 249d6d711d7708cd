package dev.purser.service.commitment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.forecast.PromiseOutlook.Standing;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Of which kind the alert of a promise is, and that it does not flutter. */
class DangerTest {
  private final Alerts alerts = mock(Alerts.class);
  private final Danger danger = new Danger(alerts, Clock.systemUTC());

  private Optional<AlertKind> at(int minutes, Standing standing, double chance) {
    danger.look(
        List.of(
            Foreseen.of(Foreseen.promised("filed", Foreseen.DATE), standing, Foreseen.BY, chance)),
        Foreseen.BEGIN.plus(Duration.ofMinutes(minutes)));
    return Optional.ofNullable(danger.current().orElseThrow().get("filed@2027-03-04"))
        .map(Danger.Now::kind);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          30  | OPEN    | 0.1 |
          30  | OPEN    | 0.4 | WILL_BE_LATE
          -700 | OPEN   | 0.4 | WILL_BE_LATE
          -721 | OPEN   | 0.9 |
          30  | STALLED | NaN | STALLED
          -30 | STALLED | NaN |
          130 | STALLED | NaN | LATE
          130 | LATE    | 1   | LATE
          130 | KEPT    | 0   |
          130 | MISSED  | 1   |
          """)
  void aPromiseHasOneAlertOfTheKindThatHoldsNow(
      int minutes, Standing standing, double chance, AlertKind expected) {
    assertThat(at(minutes, standing, chance)).isEqualTo(Optional.ofNullable(expected));
  }

  @Test
  void aWarningIsTakenBackWhenItHasBeenCalmForTenMinutes() {
    assertThat(at(0, Standing.OPEN, 0.5)).contains(AlertKind.WILL_BE_LATE);
    assertThat(at(1, Standing.OPEN, 0.3)).as("not below half").contains(AlertKind.WILL_BE_LATE);
    assertThat(at(20, Standing.OPEN, 0.1)).as("calm from now").contains(AlertKind.WILL_BE_LATE);
    assertThat(at(29, Standing.OPEN, 0.1)).contains(AlertKind.WILL_BE_LATE);
    assertThat(at(29, Standing.OPEN, 0.25)).as("not calm").contains(AlertKind.WILL_BE_LATE);
    assertThat(at(35, Standing.OPEN, 0.1)).as("calm anew").contains(AlertKind.WILL_BE_LATE);
    assertThat(at(45, Standing.OPEN, 0.1)).isEmpty();
    assertThat(at(46, Standing.OPEN, 0.3)).as("nobody is warned again").isEmpty();
  }

  @Test
  void aServiceThatStartsAnewGoesOnFromItsOpenAlerts() {
    AlertRow open = new AlertRow();
    open.reference = "filed@2027-03-04";
    when(alerts.openAbout(any())).thenReturn(List.of(open));
    assertThat(at(0, Standing.OPEN, 0.3)).contains(AlertKind.WILL_BE_LATE);
  }
}

package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SiteClockTest {
  @ParameterizedTest
  @CsvSource({
    "Europe/Oslo,      2027-03-04T20:30:00.987654Z, 2027-03-04 21:30:00 Oslo",
    "America/New_York, 2027-03-04T04:30:00Z,        2027-03-03 23:30:00 New York",
    "UTC,              9999-12-31T23:59:59Z,        9999-12-31 23:59:59 UTC",
  })
  void aTimeIsSaidByTheSitesClockWithItsDateAndPlace(String zone, Instant at, String said) {
    Settings settings = mock(Settings.class);
    when(settings.zone()).thenReturn(ZoneId.of(zone));
    assertThat(new SiteClock(settings).at(at)).isEqualTo(said);
  }
}

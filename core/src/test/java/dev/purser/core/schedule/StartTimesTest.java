package dev.purser.core.schedule;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class StartTimesTest {
  /** Clock changes from the tz database: Oslo 2027-03-28 and 2027-10-31, Sydney 2027-10-03. */
  @ParameterizedTest
  @CsvSource({
    "Europe/Oslo,      2027-03-04, 21:30, 2027-03-04T20:30:00Z, NONE",
    "Europe/Oslo,      2027-03-28, 02:30, 2027-03-28T01:00:00Z, SKIPPED",
    "Europe/Oslo,      2027-03-28, 03:00, 2027-03-28T01:00:00Z, NONE",
    "Europe/Oslo,      2027-10-31, 02:30, 2027-10-31T00:30:00Z, TWICE",
    "Australia/Sydney, 2027-10-03, 02:15, 2027-10-02T16:00:00Z, SKIPPED",
    "UTC,              2028-02-29, 00:00, 2028-02-29T00:00:00Z, NONE"
  })
  void aStartTimeHappensOnceWhateverTheClockDoes(
      ZoneId zone, LocalDate day, LocalTime time, Instant at, StartTimes.Shift shift) {
    assertThat(StartTimes.of(day, time, zone)).isEqualTo(new StartTimes.Start(at, shift));
  }

  @Test
  void aDeadlineIsTheFirstTimeTheClockShowsItAfterTheStart() {
    ZoneId oslo = ZoneId.of("Europe/Oslo");
    Instant start = Instant.parse("2027-03-04T20:30:00Z");
    assertThat(StartTimes.firstAfter(start, LocalTime.of(7, 0), oslo))
        .isEqualTo(Instant.parse("2027-03-05T06:00:00Z"));
    assertThat(StartTimes.firstAfter(start, LocalTime.of(22, 0), oslo))
        .isEqualTo(Instant.parse("2027-03-04T21:00:00Z"));
  }

  @ParameterizedTest
  @CsvSource({"90s,1m30s", "4m,4m", "1h30m,1h30m", "2d,2d", "0s,0s", "3600s,1h"})
  void durationsPrintInTheFormThatIsRead(String text, String printed) {
    Duration duration = Durations.parse(text).orElseThrow();
    assertThat(Durations.print(duration)).isEqualTo(printed);
    assertThat(Durations.parse(printed)).contains(duration);
  }

  @ParameterizedTest
  @CsvSource({"4", "m4", "4 m", "-4m", "''", "4m5h"})
  void whatIsNoDurationIsNotTakenForOne(String text) {
    assertThat(Durations.parse(text)).isEmpty();
  }

  @Test
  void aRangeGoesFromTheShorterToTheLonger() {
    assertThat(Durations.parseRange("4m to 9m"))
        .contains(new Durations.Range(Duration.ofMinutes(4), Duration.ofMinutes(9)));
    assertThat(Durations.parseRange("9m to 4m")).isEmpty();
  }
}

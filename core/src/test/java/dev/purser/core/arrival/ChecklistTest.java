package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.FileWatch;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ChecklistTest {
  private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
  private static final LocalDate THURSDAY = LocalDate.of(2027, 3, 4);
  private static final FileTimes USUALLY =
      new FileTimes(
          OSLO,
          new long[] {
            hours(18), hours(18) + 60_000, hours(18) + 120_000, hours(18) + 180_000, hours(19)
          });

  private static long hours(int hours) {
    return Duration.ofHours(hours).toMillis();
  }

  private static FileWatch watch(int setOf) {
    FileWatch.Whole usual = FileWatch.Whole.USUAL;
    return new FileWatch(
        "feed",
        "Feed",
        new FileWatch.Place.OnHost("quay-north"),
        "/in/*.csv",
        new FileWatch.Whole(usual.stillFor(), 1, "", "", "", setOf),
        Optional.of(
            new FileWatch.Expected(
                DayRuleParser.parse("weekdays"),
                LocalTime.of(17, 0),
                LocalTime.of(2, 0),
                OSLO,
                "")),
        FileWatch.Handling.USUAL);
  }

  private static Instant at(String time, int daysLater) {
    return THURSDAY.plusDays(daysLater).atTime(LocalTime.parse(time)).atZone(OSLO).toInstant();
  }

  /** Due by 02:00 of the next day, usually there at 18:02. */
  @ParameterizedTest
  @CsvSource(
      nullValues = "-",
      value = {
        "-,     0, 16:00, 0, expected",
        "-,     0, 18:30, 0, expected",
        "-,     0, 19:01, 0, overdue",
        "-,     0, 02:01, 1, missing",
        "18:00, 0, 18:01, 0, in time",
        "02:30, 1, 03:00, 1, late"
      })
  void aFileStandsByItsTimesAndByWhenItUsuallyComes(
      String came, int cameLater, String now, int nowLater, String standing) {
    List<Instant> all = came == null ? List.of() : List.of(at(came, cameLater));
    Checklist.Entry entry =
        Checklist.of(watch(1), THURSDAY, Calendars.NONE, USUALLY, all, at(now, nowLater));
    assertThat(entry.standing().word()).isEqualTo(standing);
    assertThat(entry.by()).contains(at("02:00", 1));
    assertThat(entry.usually()).contains(at("18:02", 0));
  }

  @Test
  void aSetCountsOnceItIsComplete() {
    Instant now = at("03:00", 1);
    List<Instant> two = List.of(at("18:00", 0), at("18:01", 0));
    assertThat(Checklist.of(watch(3), THURSDAY, Calendars.NONE, null, two, now).standing())
        .isEqualTo(Checklist.Standing.MISSING);
    List<Instant> three = List.of(at("18:00", 0), at("19:01", 0), at("18:30", 0));
    assertThat(Checklist.of(watch(3), THURSDAY, Calendars.NONE, null, three, now).came())
        .contains(at("19:01", 0));
  }

  @Test
  void onOtherDaysAndWithoutATimeNothingIsMissed() {
    Instant now = at("12:00", 20);
    LocalDate saturday = THURSDAY.plusDays(2);
    assertThat(Checklist.of(watch(1), saturday, Calendars.NONE, USUALLY, List.of(), now).standing())
        .isEqualTo(Checklist.Standing.NOT_EXPECTED);
    FileWatch whenever = FileWatch.of("feed", "h", "/in/*.csv");
    assertThat(Checklist.of(whenever, THURSDAY, Calendars.NONE, USUALLY, List.of(), now).standing())
        .isEqualTo(Checklist.Standing.ANY_TIME);
  }

  /**
   * Whoever sends a file goes by the clock on the wall, before a change of the clocks and after.
   */
  @ParameterizedTest
  @CsvSource({
    "2026-10-24, 2026-10-24T08:04:00Z, 2026-10-24T10:04:00+02:00",
    "2026-10-25, 2026-10-25T09:04:00Z, 2026-10-25T10:04:00+01:00",
    "2026-10-26, 2026-10-26T09:04:00Z, 2026-10-26T10:04:00+01:00",
    "2027-03-28, 2027-03-28T08:04:00Z, 2027-03-28T10:04:00+02:00"
  })
  void theTimesOfFilesAreThoseOfTheClockOnTheWall(
      LocalDate date, Instant at, OffsetDateTime local) {
    long after = FileTimes.afterMidnight(date, at, OSLO);
    FileTimes times = new FileTimes(OSLO, new long[] {after});
    assertThat(times.at(date, 0.5)).isEqualTo(at).isEqualTo(local.toInstant());
    LocalDate usual = LocalDate.of(2026, 7, 1);
    LocalTime told = times.at(usual, 0.5).atZone(OSLO).toLocalTime();
    assertThat(told).isEqualTo(local.toLocalTime());
  }

  @Test
  void aFileIsExpectedAtATimeThatIsStillToComeOrNobodyCanSay() {
    FileTimes times = new FileTimes(OSLO, new long[] {hours(6), hours(8)});
    long six = at("06:00", 0).toEpochMilli();
    assertThat(times.expected(THURSDAY, 0.4, six - 1)).contains(six);
    assertThat(times.expected(THURSDAY, 0.4, six)).contains(six + hours(2));
    assertThat(times.expected(THURSDAY, 1, six - 1)).contains(six + hours(2));
    assertThat(times.expected(THURSDAY, 0.5, six + hours(2))).isEmpty();
    long[] unsorted = {3, 1, 2};
    assertThat(new FileTimes(OSLO, unsorted).afterMidnight()).containsExactly(1, 2, 3);
    assertThat(Arrays.equals(unsorted, new long[] {3, 1, 2})).isTrue();
  }
}

package dev.purser.core.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.board.Pier;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Stream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

/** What schedules of every form give on a date, clock changes of both hemispheres among them. */
class ScheduleTableTest {

  static List<String> cases() throws IOException {
    return Files.readAllLines(Path.of("src/test/resources/days/starts.txt")).stream()
        .filter(line -> !line.startsWith("#"))
        .toList();
  }

  static Schedule schedule(String keys, String zone) {
    String days = keys.contains("windows:") || keys.contains("cron:") ? "" : "days: every day, ";
    Stream stream =
        Pier.read(
                "host: h\n",
                "stream: s\nschedule: { "
                    + days
                    + keys
                    + ", zone: "
                    + zone
                    + " }\njobs: { j: { host: h, run: x } }\n")
            .stream("s")
            .orElseThrow();
    return stream.schedule().get(0);
  }

  private static String starts(Schedule schedule, LocalDate date) {
    return StartTimes.of(schedule, date, Calendars.NONE).stream()
        .map(
            start ->
                start.at()
                    + (start.shift() == StartTimes.Shift.NONE
                        ? ""
                        : "!" + start.shift().name().toLowerCase(Locale.ROOT)))
        .collect(Collectors.joining(" "));
  }

  @ParameterizedTest
  @MethodSource("cases")
  void aScheduleStartsAtTheInstantsThatItsClockMeans(String row) {
    String[] parts = row.split(" \\| ");
    assertThat(starts(schedule(parts[0], parts[1]), LocalDate.parse(parts[2]))).isEqualTo(parts[3]);
  }

  /** The day of Oslo has 23 hours on 28 March 2027 and 25 on 31 October. */
  @ParameterizedTest
  @CsvSource({
    "1h, 2027-03-04, 24",
    "1h, 2027-03-28, 23",
    "1h, 2027-10-31, 25",
    "15m, 2027-03-28, 92",
    "6h, 2027-03-28, 4",
    "6h, 2027-10-31, 5",
    "1d, 2027-03-28, 1"
  })
  void windowsLeaveNoGapAndDoNotOverlap(String length, LocalDate date, int count) {
    Schedule schedule = schedule("windows: " + length, "Europe/Oslo");
    List<Window> windows =
        StartTimes.of(schedule, date, Calendars.NONE).stream()
            .map(start -> start.window().orElseThrow())
            .toList();
    assertThat(windows).hasSize(count);
    for (int i = 1; i < count; i++) {
      assertThat(windows.get(i).start()).isEqualTo(windows.get(i - 1).end());
    }
    Instant next =
        StartTimes.of(schedule, date.plusDays(1), Calendars.NONE)
            .get(0)
            .window()
            .orElseThrow()
            .start();
    assertThat(windows.get(count - 1).end()).isEqualTo(next);
  }

  @Test
  void aWindowOfABusinessDayLastsUntilTheNextOne() {
    Schedule schedule = schedule("windows: 1 business day, day-begins: \"06:00\"", "Europe/Oslo");
    StartTimes.Start friday =
        StartTimes.of(schedule, LocalDate.of(2027, 3, 5), Calendars.NONE).get(0);
    assertThat(friday.window().orElseThrow().start()).isEqualTo("2027-03-05T05:00:00Z");
    assertThat(friday.window().orElseThrow().end()).isEqualTo("2027-03-08T05:00:00Z");
    assertThat(friday.at()).isEqualTo("2027-03-08T05:00:00Z");
    assertThat(friday.window().orElseThrow().after()).hasToString("Optional[2027-03-04#1]");
  }

  @ParameterizedTest
  @CsvSource({
    "1, 1, 2027-03-03#24",
    "1, 2, 2027-03-04#1",
    "3, 2, 2027-03-03#23",
    "30, 1, 2027-03-02#19"
  })
  void aWindowComesAfterTheOneThatIsAsFarBackAsMayBeOpenAtOnce(
      int atATime, int number, String after) {
    Schedule schedule = schedule("windows: 1h, at-a-time: " + atATime, "UTC");
    assertThat(
            StartTimes.of(schedule, LocalDate.of(2027, 3, 4), Calendars.NONE)
                .get(number - 1)
                .window()
                .orElseThrow()
                .after()
                .orElseThrow())
        .hasToString(after);
  }

  @Test
  void theFirstWindowOfASeriesComesAfterNone() {
    Schedule schedule = schedule("windows: 1h, from: 2027-03-04", "UTC");
    List<StartTimes.Start> starts =
        StartTimes.of(schedule, LocalDate.of(2027, 3, 4), Calendars.NONE);
    assertThat(starts.get(0).window().orElseThrow().after()).isEmpty();
    assertThat(starts.get(1).window().orElseThrow().after()).isPresent();
  }

  /** Date, start, not-before, and when the job may start, all on the clock of UTC. */
  @ParameterizedTest
  @CsvSource({
    "00:00, 06:00, 23:00, 2027-03-04T23:00:00Z",
    "00:00, 21:30, 23:00, 2027-03-04T23:00:00Z",
    "00:00, 21:30, 01:00, 2027-03-05T01:00:00Z",
    "00:00, 23:30, 23:00, 2027-03-04T23:30:00Z",
    "06:00, 21:30, 01:00, 2027-03-05T01:00:00Z",
    "06:00, 01:30, 03:00, 2027-03-05T03:00:00Z",
    "00:00, 06:00, 06:00, 2027-03-04T06:00:00Z"
  })
  void notBeforeIsTheTimeOnTheStartsBusinessDateOrTheFirstAfterIt(
      String dayBegins, LocalTime start, LocalTime notBefore, Instant expected) {
    Schedule schedule = schedule("at: \"" + start + "\", day-begins: \"" + dayBegins + "\"", "UTC");
    LocalDate date = LocalDate.of(2027, 3, 4);
    Instant at = StartTimes.onDate(schedule, date, start).at();
    assertThat(StartTimes.notBefore(schedule, date, at, notBefore)).isEqualTo(expected);
  }

  /** A start after midnight that belongs to the day before does not wait for nearly a day. */
  @Test
  void aTimeThatHasJustPassedCountsAsPassedOnWhateverDateTheStartIs() {
    Schedule schedule = schedule("every: 30m between 23:00 and 01:00", "UTC");
    LocalDate date = LocalDate.of(2027, 3, 4);
    Instant start = Instant.parse("2027-03-05T00:30:00Z");
    LocalTime passed = LocalTime.of(0, 5);
    assertThat(StartTimes.notBefore(schedule, date, start, passed)).isEqualTo(start);
    assertThat(StartTimes.notBefore(schedule, date, start, LocalTime.of(0, 45)))
        .isEqualTo(Instant.parse("2027-03-05T00:45:00Z"));
  }

  /** Fields of POSIX crontab, the days and times that they mean. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          0 6 * * *            | every day                                   | 06:00
          30 21 * * 1-5        | weekdays                                    | 21:30
          0 0 1,15 * *         | 1st, 15th day of month                      | 00:00
          0 0 1,15 * 3         | 1st, 15th day of month or wednesday         | 00:00
          0 12 * 2 *           | 1 february to 29 february                   | 12:00
          0 12 13 2 5          | (13th day of month or friday) and 1 february to 29 february | 12:00
          */20 6-7 * * 0       | sunday                                      | 06:00, 06:20, 06:40, 07:00, 07:20, 07:40
          5 0-23/12 * * 7      | sunday                                      | 00:05, 12:05
          15,45 4 * 1,12 1,2   | monday, tuesday and 1 january to 31 january, 1 december to 31 december | 04:15, 04:45
          """)
  void cronFieldsAreSaidInADayRuleAndTimes(String fields, String days, String times) {
    Cron cron = Cron.parse(fields);
    assertThat(cron.days()).hasToString(days);
    assertThat(new Times.At(cron.times())).hasToString(times);
    assertThat(Cron.parse("* * * * *").times()).hasSize(1_440);
  }

  @ParameterizedTest
  @CsvSource({
    "'0 6 * *', expected five fields",
    "'0 6 * * * *', expected five fields",
    "'60 6 * * *', not the five fields of a POSIX crontab",
    "'0 24 * * *', not the five fields of a POSIX crontab",
    "'0 6 32 * *', not the five fields of a POSIX crontab",
    "'0 6 * 13 *', not the five fields of a POSIX crontab",
    "'0 6 * * 8', not the five fields of a POSIX crontab",
    "'0 6 L * *', not the five fields of a POSIX crontab",
    "'a b c d e', not the five fields of a POSIX crontab",
    "'@daily', expected five fields"
  })
  void whatIsNoCronIsRefused(String fields, String message) {
    assertThatThrownBy(() -> Cron.parse(fields))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(message);
  }
}

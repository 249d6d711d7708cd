package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.FileWatch;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** When people are told of files, and in which words. */
class FileTroubleTest {
  private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
  private static final LocalDate THURSDAY = LocalDate.of(2027, 3, 4);
  private static final Instant NOW = THURSDAY.atTime(6, 30).atZone(OSLO).toInstant();

  private static FileWatch watch(int setOf) {
    FileWatch.Whole usual = FileWatch.Whole.USUAL;
    return new FileWatch(
        "harbour-feed",
        "Berth list",
        new FileWatch.Place.OnHost("quay-north"),
        "/in/*.csv",
        new FileWatch.Whole(usual.stillFor(), 1, "", "", "", setOf),
        Optional.of(
            new FileWatch.Expected(
                DayRuleParser.parse("weekdays"),
                LocalTime.MIDNIGHT,
                LocalTime.of(6, 15),
                OSLO,
                "")),
        FileWatch.Handling.USUAL);
  }

  private static Optional<Instant> at(String time) {
    return time == null
        ? Optional.empty()
        : Optional.of(THURSDAY.atTime(LocalTime.parse(time)).atZone(OSLO).toInstant());
  }

  private static List<FileTrouble> of(
      List<Checklist.Entry> days, List<Arrival> arrivals, List<FileTrouble.Blind> blind) {
    FileWatch watch = watch(1);
    return FileTrouble.of(days, arrivals, Map.of(watch.name(), watch), blind, NOW, OSLO);
  }

  // ---- what has not come

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      textBlock =
          """
          MISSING      | 1 | 0 | -     | -     | has not come by 06:15
          MISSING      | 1 | 0 | 05:40 | 05:55 | has not come by 06:15; usually it comes at 05:40
          MISSING      | 3 | 2 | 05:40 | 05:55 | only 2 of 3 files have come by 06:15; usually it comes at 05:40
          OVERDUE      | 1 | 0 | 05:40 | 05:55 | has not come yet, and nearly always has by 05:55; it is due by 06:15
          EXPECTED     | 1 | 0 | 05:40 | 05:55 | -
          IN_TIME      | 1 | 1 | 05:40 | 05:55 | -
          LATE         | 1 | 1 | 05:40 | 05:55 | -
          CAME         | 1 | 1 | -     | -     | -
          ANY_TIME     | 1 | 0 | -     | -     | -
          NOT_EXPECTED | 1 | 0 | -     | -     | -
          """)
  void aFileThatShouldBeThereIsMissedBeforeAndAfterItsTime(
      Checklist.Standing standing,
      int setOf,
      int count,
      String usually,
      String usuallyBy,
      String text) {
    Checklist.Entry entry =
        new Checklist.Entry(
            watch(setOf),
            THURSDAY,
            standing,
            at("06:15"),
            at(usually),
            at(usuallyBy),
            Optional.empty(),
            count);
    List<FileTrouble> all = of(List.of(entry), List.of(), List.of());
    if (text == null) {
      assertThat(all).isEmpty();
    } else {
      String word = standing == Checklist.Standing.MISSING ? "missing" : "overdue";
      assertThat(all).extracting(FileTrouble::text).containsExactly(text);
      assertThat(all.get(0).about()).isEqualTo("file harbour-feed@2027-03-04 " + word);
    }
  }

  // ---- what has come and is not well

  private static Arrival arrival(
      long id, ArrivalState state, String note, long run, Duration found, Duration since) {
    return new Arrival(
        id,
        "harbour-feed",
        "quay-north",
        "/in/a.csv",
        Optional.of(THURSDAY),
        0,
        0,
        "",
        "",
        NOW.minus(found).toEpochMilli(),
        0,
        state,
        NOW.minus(since).toEpochMilli(),
        run,
        0,
        note);
  }

  /** It rests for 10 s and people are patient for a minute; it may grow for an hour. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      textBlock =
          """
          SEEN        | is empty            |  5 |  60 s | -
          SEEN        | is empty            |  5 |  71 s | /in/a.csv on quay-north: is empty
          SEEN        | waits for a.csv.ok  |  5 |  71 s | /in/a.csv on quay-north: waits for a.csv.ok
          SETTLING    | -                   | 59 |  10 s | -
          SETTLING    | -                   | 61 |  10 s | /in/a.csv on quay-north has not rested since it was found at 05:29
          READY       | -                   | 99 | 999 s | -
          TAKEN       | -                   | 99 | 999 s | -
          """)
  void aFileThatIsNotWholeForLongIsTold(
      ArrivalState state, String note, int foundMinutes, String since, String text) {
    Duration time = Duration.ofSeconds(Long.parseLong(since.replace(" s", "")));
    Arrival one =
        arrival(7, state, note == null ? "" : note, 0, Duration.ofMinutes(foundMinutes), time);
    List<FileTrouble> all = of(List.of(), List.of(one), List.of());
    if (text == null) {
      assertThat(all).isEmpty();
    } else {
      assertThat(all).extracting(FileTrouble::text).containsExactly(text);
      assertThat(all.get(0).about()).isEqualTo("arrival 7");
    }
  }

  @Test
  void unprocessedFilesAreToldTogetherAndAQuestionAtOnce() {
    Duration long1 = Duration.ofMinutes(61);
    Duration short1 = Duration.ofMinutes(59);
    Arrival asked = arrival(1, ArrivalState.UNPROCESSED, "again?", 0, long1, Duration.ZERO);
    Arrival old = arrival(2, ArrivalState.UNPROCESSED, "exit code 3", 41, long1, long1);
    Arrival young = arrival(3, ArrivalState.UNPROCESSED, "exit code 3", 42, long1, short1);
    assertThat(of(List.of(), List.of(young), List.of())).isEmpty();
    assertThat(of(List.of(), List.of(asked), List.of()))
        .extracting(FileTrouble::text)
        .containsExactly(
            "a file was not processed, and somebody must decide: try again, put aside, or mark as"
                + " done");
    List<FileTrouble> both = of(List.of(), List.of(asked, old, young), List.of());
    assertThat(both).hasSize(1);
    assertThat(both.get(0).about()).isEqualTo("file harbour-feed unprocessed");
    assertThat(both.get(0).text()).startsWith("2 files were not processed");
  }

  @Test
  void filesOfAWatchThatIsNotDefinedAnyMoreAreNobodysTrouble() {
    Arrival one =
        arrival(1, ArrivalState.UNPROCESSED, "", 0, Duration.ofDays(1), Duration.ofDays(1));
    assertThat(FileTrouble.of(List.of(), List.of(one), Map.of(), List.of(), NOW, OSLO)).isEmpty();
  }

  // ---- where nobody can look

  @ParameterizedTest
  @CsvSource({"59, false", "60, false", "61, true"})
  void aDirectoryThatCannotBeReadForAMinuteIsTold(int seconds, boolean told) {
    FileTrouble.Blind blind =
        new FileTrouble.Blind(
            watch(1), "quay-north", "the directory /in does not exist", NOW.minusSeconds(seconds));
    List<FileTrouble> all = of(List.of(), List.of(), List.of(blind));
    assertThat(all).hasSize(told ? 1 : 0);
    if (told) {
      assertThat(all.get(0).about()).isEqualTo("file harbour-feed on quay-north");
      assertThat(all.get(0).text()).isEqualTo("nobody can look: the directory /in does not exist");
    }
  }
}

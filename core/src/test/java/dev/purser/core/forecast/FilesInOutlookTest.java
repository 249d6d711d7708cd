package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** When a file usually comes decides when what waits for it is likely to start. */
class FilesInOutlookTest {
  private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

  /** Due at 21:30; the file usually comes between 22:00 and 22:40. */
  private static final Definitions DEFINITIONS =
      Pier.definitions(
          """
          build: { host: quay-north, run: x, usually: 10m to 10m, waits-for: file harbour-feed arrived }
          send: { host: quay-north, run: x, usually: 5m to 5m, waits-for: build succeeded }
          """);

  private static final FileTimes TIMES =
      new FileTimes(OSLO, millis("22:00", "22:10", "22:20", "22:30", "22:40"));

  private static long[] millis(String... times) {
    return Stream.of(times)
        .mapToLong(time -> LocalTime.parse(time).toNanoOfDay() / 1_000_000)
        .toArray();
  }

  private static long at(String time) {
    return Pier.DATE.atTime(LocalTime.parse(time)).atZone(OSLO).toInstant().toEpochMilli();
  }

  private static String clock(long millis) {
    return Instant.ofEpochMilli(millis).atZone(OSLO).toLocalTime().toString();
  }

  private static RunOutlook outlook(Outcomes outcomes, String from, String job) {
    List<RunSpec> specs = Pier.specs(DEFINITIONS, Pier.DATE, 1);
    Board board = Outlook.boardOf(DEFINITIONS, specs, Instant.ofEpochMilli(at(from)));
    return of(board, outcomes, job);
  }

  private static RunOutlook of(Board board, Outcomes outcomes, String job) {
    long id =
        board.runs().stream()
            .filter(run -> run.run().reference().job().equals(job))
            .findFirst()
            .orElseThrow()
            .id();
    return new Outlook(board, outcomes, 7)
        .play(List.of(), 101, Long.MAX_VALUE).stream()
            .filter(one -> one.run().id() == id)
            .findFirst()
            .orElseThrow();
  }

  @Test
  void theMiddleOfItsTimesIsTheLikelyStart() {
    Outcomes usual = new UsualOutcomes(Map.of(), Map.of("harbour-feed", TIMES), Map.of());
    RunOutlook build = outlook(usual, "20:00", "build");
    assertThat(clock(build.start())).isEqualTo("22:20");
    assertThat(clock(build.end())).isEqualTo("22:30");
    assertThat(clock(outlook(usual, "20:00", "send").end())).isEqualTo("22:35");
  }

  @Test
  void oneRehearsalTakesTheTypicalTime() {
    Outcomes typical = new TypicalOutcomes(Map.of(), Map.of("harbour-feed", TIMES), Map.of());
    assertThat(clock(outlook(typical, "20:00", "build").start())).isEqualTo("22:20");
  }

  @Test
  void withoutAHistoryAFileIsAssumedToBeThere() {
    Outcomes unknown = new UsualOutcomes(Map.of(), Map.of(), Map.of());
    assertThat(clock(outlook(unknown, "20:00", "build").start())).isEqualTo("21:30");
  }

  /** Ever later while it does not come: half as long again as it is late, five minutes at least. */
  @ParameterizedTest
  @CsvSource({"22:00, 22:20", "22:19, 22:20", "22:21, 22:26", "22:40, 22:50", "23:20, 23:50"})
  void aFileThatIsLateIsExpectedLater(String now, String expected) {
    Outcomes typical = new TypicalOutcomes(Map.of(), Map.of("harbour-feed", TIMES), Map.of());
    List<RunSpec> specs = Pier.specs(DEFINITIONS, Pier.DATE, 1);
    Board board = Outlook.boardOf(DEFINITIONS, specs, Instant.ofEpochMilli(at("20:00")));
    board.turn(new BoardEvent.TimeReached(at(now)));
    assertThat(clock(of(board, typical, "build").start())).isEqualTo(expected);
  }

  @Test
  void onceItIsThereNothingIsGuessed() {
    Outcomes usual = new UsualOutcomes(Map.of(), Map.of("harbour-feed", TIMES), Map.of());
    List<RunSpec> specs = Pier.specs(DEFINITIONS, Pier.DATE, 1);
    Board board = Outlook.boardOf(DEFINITIONS, specs, Instant.ofEpochMilli(at("20:00")));
    board.turn(new BoardEvent.TimeReached(at("21:40")));
    board.turn(
        new BoardEvent.FileSeen(
            at("21:41"), specs.get(0).id(), "harbour-feed", FileSight.GROWING, "/in/a.csv"));
    assertThat(clock(of(board, usual, "build").start())).isEqualTo("22:20");
    board.turn(
        new BoardEvent.FileArrived(at("21:42"), specs.get(0).id(), "harbour-feed", "/in/a.csv"));
    assertThat(clock(of(board, usual, "build").start())).isEqualTo("21:42");
  }

  @ParameterizedTest
  @CsvSource({"0, 22:00", "0.3, 22:10", "0.5, 22:20", "0.9, 22:40", "1, 22:40"})
  void aPartOfItsTimesIsATimeOfTheDate(double part, String time) {
    assertThat(clock(TIMES.at(Pier.DATE, part).toEpochMilli())).isEqualTo(time);
  }

  @Test
  void timesAreOfTheWallClockAndMayBeOfTheDayBefore() {
    FileTimes early = new FileTimes(OSLO, new long[] {-3_600_000, 7_200_000});
    LocalDate gap = LocalDate.of(2027, 3, 28); // 02:00 is skipped there
    assertThat(early.at(gap, 0)).isEqualTo(Instant.parse("2027-03-27T22:00:00Z"));
    assertThat(early.at(gap, 1)).isEqualTo(Instant.parse("2027-03-28T01:00:00Z"));
    assertThat(early).isEqualTo(new FileTimes(OSLO, new long[] {7_200_000, -3_600_000}));
    assertThat(early).hasToString("2 times in Europe/Oslo");
  }
}

package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Set;
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
    Outcomes usual =
        new UsualOutcomes(History.of(Map.of(), Map.of("harbour-feed", TIMES), Map.of()));
    RunOutlook build = outlook(usual, "20:00", "build");
    assertThat(clock(build.start())).isEqualTo("22:20");
    assertThat(clock(build.end())).isEqualTo("22:30");
    assertThat(clock(outlook(usual, "20:00", "send").end())).isEqualTo("22:35");
  }

  @Test
  void oneRehearsalTakesTheTypicalTime() {
    Outcomes typical =
        new TypicalOutcomes(History.of(Map.of(), Map.of("harbour-feed", TIMES), Map.of()));
    assertThat(clock(outlook(typical, "20:00", "build").start())).isEqualTo("22:20");
  }

  @Test
  void withoutAHistoryAFileIsAssumedToBeThere() {
    Outcomes unknown = new UsualOutcomes(History.NONE);
    assertThat(clock(outlook(unknown, "20:00", "build").start())).isEqualTo("21:30");
  }

  private static Board lookingSince(String from, String now) {
    List<RunSpec> specs = Pier.specs(DEFINITIONS, Pier.DATE, 1);
    Board board = Outlook.boardOf(DEFINITIONS, specs, Instant.ofEpochMilli(at(from)));
    board.turn(new BoardEvent.TimeReached(at(now)));
    return board;
  }

  /** One of its times that are still to come; once it never was later, nobody can say. */
  @ParameterizedTest
  @CsvSource({"22:00, 22:30", "22:19, 22:30", "22:21, 22:40", "22:40, never", "23:20, never"})
  void aFileIsExpectedAtATimeThatIsStillToCome(String now, String expected) {
    History history = History.of(Map.of(), Map.of("harbour-feed", TIMES), Map.of());
    RunOutlook build = of(lookingSince("20:00", now), new TypicalOutcomes(history), "build");
    if (expected.equals("never")) {
      assertThat(build.start() + build.end()).isZero();
      assertThat(build.hangsOn()).isEqualTo(RunOutlook.HangsOn.FILE);
    } else {
      assertThat(clock(build.start())).isEqualTo(expected);
      assertThat(build.hangsOn()).isEqualTo(RunOutlook.HangsOn.NOTHING);
    }
  }

  private static History today(boolean come, boolean overdue) {
    Set<History.DatedFile> file = Set.of(new History.DatedFile("harbour-feed", Pier.DATE));
    return new History(
        Map.of(),
        Map.of(),
        Map.of(),
        Map.of("harbour-feed", TIMES),
        come ? file : Set.of(),
        overdue ? file : Set.of());
  }

  /**
   * Overdue files hold up what is due later too, and what follows it; files that are there do not.
   */
  @Test
  void whatIsKnownOfTodaysFilesCounts() {
    Board early = lookingSince("20:00", "20:30");
    for (String job : List.of("build", "send")) {
      RunOutlook late = of(early, new UsualOutcomes(today(false, true)), job);
      assertThat(late.hangsOn()).isEqualTo(RunOutlook.HangsOn.FILE);
      assertThat(late.end()).isZero();
      assertThat(of(early, new UsualOutcomes(today(true, false)), job).hangsOn())
          .isEqualTo(RunOutlook.HangsOn.NOTHING);
    }
    assertThat(clock(of(early, new UsualOutcomes(today(true, false)), "build").start()))
        .isEqualTo("21:30");
  }

  @Test
  void aFileThatIsWaitedForAndOfWhichNothingIsKnownIsNotPromised() {
    RunOutlook build = of(lookingSince("20:00", "21:40"), new UsualOutcomes(History.NONE), "build");
    assertThat(build.hangsOn()).isEqualTo(RunOutlook.HangsOn.FILE);
    assertThat(build.start()).isZero();
  }

  /** The outlook and what an act would do say the same of the same missing file. */
  @ParameterizedTest
  @CsvSource({"22:00, true", "23:00, false"})
  void whatAnActWouldDoSaysTheSame(String now, boolean comes) {
    History history = today(false, !comes);
    Board board = lookingSince("20:00", now);
    assertThat(of(board, new UsualOutcomes(history), "send").end() > 0).isEqualTo(comes);
    WhatIf.Effect effect =
        WhatIf.of(
            board,
            new TypicalOutcomes(history),
            List.of(
                new BoardEvent.PersonActed(
                    at(now), board.runs().get(0).id(), Action.PRIORITY, "ida", "", 70)),
            at(now) + 86_400_000L);
    assertThat(effect.finishes().stream().allMatch(one -> one.after() > 0 == comes)).isTrue();
  }

  @Test
  void onceItIsThereNothingIsGuessed() {
    Outcomes usual =
        new UsualOutcomes(History.of(Map.of(), Map.of("harbour-feed", TIMES), Map.of()));
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

package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.job.Where;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class BoardTest {
  /** What a follower does once its feeder has ended in each way. */
  @ParameterizedTest
  @CsvSource({
    "a succeeded,                       SUCCEEDED, STARTING",
    "a succeeded,                       FAILED,    WAITING",
    "a succeeded,                       CANCELLED, WAITING",
    "a succeeded,                       SKIPPED,   STARTING",
    "a failed,                          SUCCEEDED, SKIPPED",
    "a failed,                          FAILED,    STARTING",
    "a failed,                          CANCELLED, WAITING",
    "a failed,                          SKIPPED,   SKIPPED",
    "a ended,                           SUCCEEDED, STARTING",
    "a ended,                           FAILED,    STARTING",
    "a ended,                           CANCELLED, STARTING",
    "a ended,                           SKIPPED,   STARTING",
    "a skipped,                         SUCCEEDED, SKIPPED",
    "a skipped,                         FAILED,    WAITING",
    "a skipped,                         SKIPPED,   STARTING",
    "not a failed,                      SUCCEEDED, STARTING",
    "not a failed,                      FAILED,    SKIPPED",
    "not a succeeded,                   FAILED,    STARTING",
    "a failed or a succeeded,           FAILED,    STARTING",
    "a failed and file harbour-feed arrived, SUCCEEDED, SKIPPED",
    "night2/z succeeded,                SUCCEEDED, WAITING"
  })
  void aFollowerGoesByHowItsFeederEnded(String waitsFor, RunState end, RunState then) {
    Pier pier =
        new Pier(
            Pier.read(
                """
                host: quay-north
                ---
                host: quay-south
                ---
                file-watch: harbour-feed
                host: quay-north
                path: /srv/in/x
                """,
                """
                stream: night
                schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
                jobs:
                  a: { host: quay-north, run: x }
                  b: { host: quay-north, run: x, waits-for: "%s" }
                ---
                stream: night2
                schedule: { days: 2020-01-01, at: "21:30", zone: Europe/Oslo }
                jobs:
                  z: { host: quay-north, run: x }
                """
                    .formatted(waitsFor)));
    pier.at(0).begin("a");
    switch (end) {
      case SUCCEEDED -> pier.end("a", 0);
      case FAILED -> pier.end("a", 1);
      default -> {
        pier.act("a", Action.CANCEL);
        pier.end("a", 143);
        if (end == RunState.SKIPPED) {
          pier.act("a", Action.SKIP);
        }
      }
    }
    assertThat(pier.state("b")).isEqualTo(then);
    if (then == RunState.WAITING) {
      assertThat(pier.why("b")).startsWith("It waits: ");
    }
  }

  @Test
  void aFailedAttemptIsTriedAgainAfterItsWaitUntilNoneIsLeft() {
    Pier pier = new Pier("a: { host: quay-north, run: x, retry: { times: 2, wait: 1m } }");
    pier.at(0).begin("a").end("a", 3);
    assertThat(pier.state("a")).isEqualTo(RunState.WAITING);
    assertThat(pier.why("a"))
        .isEqualTo("It waits: attempt 1 exit code 3; it is tried again at 21:31 Oslo");
    assertThat(pier.board.nextWake()).isEqualTo(Pier.minute(1));
    pier.at(1).begin("a").end("a", 3);
    pier.at(2).begin("a").end("a", 3);
    assertThat(pier.state("a")).isEqualTo(RunState.FAILED);
    assertThat(pier.why("a"))
        .isEqualTo(
            "It failed at 21:32 Oslo: exit code 3, after 3 attempts;"
                + " it stays so until a person reruns or skips it");
    assertThat(pier.given(Instruction.StartAttempt.class)).hasSize(3);
    pier.act("a", Action.RERUN);
    assertThat(pier.status("a").attempts()).isEqualTo(4);
    assertThat(pier.status("a").budget()).isEqualTo(6);
  }

  @ParameterizedTest
  @CsvSource({"true, WAITING", "false, FAILED"})
  void whatRunsTooLongIsStoppedAndTriedAgainOnlyWhereTheJobSaysSo(boolean on, RunState then) {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x, stop-after: 20m,"
                + " retry: { times: 1, wait: 1m, on-stop-after: "
                + on
                + " } }");
    pier.at(0).begin("a").at(20);
    assertThat(pier.given(Instruction.StopAttempt.class))
        .containsExactly(new Instruction.StopAttempt(1, 1, Where.onHost("quay-north"), 10_000));
    pier.end("a", 143);
    assertThat(pier.state("a")).isEqualTo(then);
    assertThat(pier.status("a").note()).contains("stopped after 20m");
  }

  @Test
  void anAttemptOfAnotherNumberOrASecondEndChangesNothing() {
    Pier pier = new Pier("a: { host: quay-north, run: x, retry: { times: 1, wait: 0s } }");
    pier.at(0).begin("a").end("a", 1);
    assertThat(pier.status("a").attempts()).isEqualTo(2);
    pier.apply(new BoardEvent.AttemptEnded(pier.board.now(), 1, 1, Ending.exited(0)));
    assertThat(pier.state("a")).isEqualTo(RunState.STARTING);
    pier.begin("a").end("a", 0);
    assertThat(pier.apply(new BoardEvent.AttemptEnded(pier.board.now(), 1, 2, Ending.exited(1))))
        .isEmpty();
  }

  @Test
  void newsThatComeLateTellWhenItReallyHappened() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\nb: { host: quay-north, run: x, waits-for: a succeeded }");
    pier.at(0);
    long late = Pier.minute(30);
    pier.apply(new BoardEvent.AttemptBegan(late, 1, 1, Pier.minute(1)));
    pier.apply(new BoardEvent.AttemptEnded(late, 1, 1, Ending.exited(0), Pier.minute(6), Map.of()));
    assertThat(pier.status("a").started()).isEqualTo(Pier.minute(1));
    assertThat(pier.status("a").ended()).isEqualTo(Pier.minute(6));
    assertThat(pier.status("a").since()).isEqualTo(late);
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
    pier.apply(new BoardEvent.AttemptBegan(late, 2, 1, late + 5_000));
    assertThat(pier.status("b").started()).isEqualTo(late);
    pier.apply(new BoardEvent.AttemptEnded(late, 2, 1, Ending.exited(0), Pier.minute(2), Map.of()));
    assertThat(pier.status("b").ended()).isEqualTo(late);
  }

  @Test
  void anEmptyOrGrowingFileIsNotTakenForData() {
    Pier pier = new Pier("a: { host: quay-north, run: x, waits-for: file harbour-feed arrived }");
    assertThat(pier.given(Instruction.WatchFile.class)).isEmpty();
    pier.at(0);
    assertThat(pier.given(Instruction.WatchFile.class)).hasSize(1);
    assertThat(pier.why("a"))
        .isEqualTo("It waits: file harbour-feed on quay-north: nothing has come yet");
    pier.apply(seen(pier, FileSight.EMPTY));
    assertThat(pier.why("a")).contains("/srv/in/feed-1.csv is there but empty or too small");
    pier.apply(seen(pier, FileSight.GROWING));
    assertThat(pier.why("a")).contains("still changing; it must rest for 10s");
    assertThat(pier.state("a")).isEqualTo(RunState.WAITING);
    pier.apply(
        new BoardEvent.FileArrived(pier.board.now(), 1, "harbour-feed", "/srv/in/feed-1.csv"));
    assertThat(pier.state("a")).isEqualTo(RunState.STARTING);
    assertThat(pier.given(Instruction.UnwatchFile.class)).hasSize(1);
  }

  private static BoardEvent seen(Pier pier, FileSight sight) {
    return new BoardEvent.FileSeen(
        pier.board.now(), 1, "harbour-feed", sight, "/srv/in/feed-1.csv");
  }

  @Test
  void aCapacityIsNeverOverdrawnAndWhyNamesWhoHoldsIt() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x, takes: { ledger-slots: 1 } }
            b: { host: quay-south, run: x, takes: { ledger-slots: 1 } }
            """);
    pier.at(0).begin("a");
    assertThat(pier.why("b"))
        .isEqualTo(
            "It waits: it needs 1 of capacity ledger-slots, where 0 of 1 are free;"
                + " held by night/a@2027-03-04#1");
    pier.end("a", 1);
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
  }

  @Test
  void workIsPlacedOnTheLeastLoadedHostThatIsConnected() {
    Pier pier =
        new Pier(
            """
            a: { host: any of quays, run: x }
            b: { host: any of quays, run: x }
            c: { host: any of quays, run: x }
            """);
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-south"));
    pier.at(0);
    assertThat(pier.given(Instruction.StartAttempt.class))
        .extracting(start -> start.where().word())
        .containsOnly("quay-north");
    Pier both = new Pier("a: { host: any of quays, run: x }\nb: { host: any of quays, run: x }");
    both.at(0);
    assertThat(both.given(Instruction.StartAttempt.class))
        .extracting(start -> start.where().word())
        .containsExactly("quay-north", "quay-south");
  }

  @Test
  void aRunWhoseHostIsAwayWaitsForItAndStartsWhenItComes() {
    Pier pier = new Pier("a: { host: quay-north, run: x }");
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-north"));
    pier.at(0);
    assertThat(pier.why("a"))
        .isEqualTo("It waits: host quay-north is not connected since 20:30 Oslo");
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-north", Set.of()));
    assertThat(pier.state("a")).isEqualTo(RunState.STARTING);
  }

  @Test
  void anApprovalWaitsForAPersonOnceNothingElseIsMissing() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            ask: { approve: May the manifest be filed?, waits-for: a succeeded }
            b: { host: quay-north, run: x, waits-for: ask succeeded }
            """);
    pier.at(0).begin("a");
    assertThat(pier.act("ask", Action.APPROVE))
        .hasAtLeastOneElementOfType(Instruction.Refused.class);
    pier.end("a", 0);
    assertThat(pier.given(Instruction.AskPerson.class)).hasSize(1);
    assertThat(pier.why("ask"))
        .isEqualTo("It waits: a person must answer: May the manifest be filed?");
    pier.act("ask", Action.APPROVE);
    assertThat(pier.state("ask")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
  }

  @Test
  void alertsOpenOnceAndCloseWhenTheirReasonIsGone() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x, usually: 2m to 5m, start-by: \"21:40\","
                + " finish-by: \"22:00\" }");
    pier.act("a", Action.HOLD);
    pier.at(0).at(10);
    assertThat(pier.alerts)
        .containsExactly("LATE not started by 21:40 Oslo: it waits: it is held by ida: because");
    pier.act("a", Action.RELEASE);
    pier.begin("a");
    assertThat(pier.given(Instruction.CloseAlert.class)).hasSize(1);
    pier.at(15).at(30).at(31);
    assertThat(pier.alerts)
        .containsExactly(
            "LATE not started by 21:40 Oslo: it waits: it is held by ida: because",
            "LONG_RUNNING has been running for longer than 5m",
            "LATE not finished by 22:00 Oslo: it has been running on quay-north since 21:40 Oslo");
    pier.end("a", 1);
    assertThat(pier.alerts).last().isEqualTo("FAILED exit code 1");
    pier.act("a", Action.RERUN);
    pier.begin("a").end("a", 0);
    assertThat(pier.status("a").openAlerts()).isEmpty();
    assertThat(pier.given(Instruction.CloseAlert.class)).hasSize(4);
  }

  @Test
  void aRunAddedLaterIsWhatEarlierRunsWaitFor() {
    Pier pier =
        new Pier(
            Pier.definitions(
                "a: { host: quay-north, run: x, waits-for: b succeeded }\nb: { host: quay-north, run: x }"));
    Board board = new Board();
    List<RunSpec> specs = Pier.specs(pier.definitions, Pier.DATE, 1);
    board.turn(pier.events.get(0));
    board.turn(new BoardEvent.HostSeen(0, "quay-north", Set.of()));
    board.turn(new BoardEvent.RunsPlanned(Pier.DUE, specs.subList(0, 1)));
    assertThat(board.why(1).sentence()).contains("night/b is not planned on 2027-03-04");
    board.turn(new BoardEvent.RunsPlanned(Pier.DUE, specs.subList(1, 2)));
    assertThat(board.why(1).sentence()).contains("night/b is starting");
  }

  @Test
  void closedDatesAreForgottenButForWhatIsOpen() {
    Pier pier = new Pier("a: { host: quay-north, run: x }\nb: { host: quay-south, run: x }");
    pier.apply(
        new BoardEvent.RunsPlanned(
            pier.board.now(), Pier.specs(pier.definitions, Pier.DATE.plusDays(1), 10)));
    pier.at(0).begin("a").end("a", 0);
    pier.apply(new BoardEvent.DatesClosed(pier.board.now(), Pier.DATE.plusDays(1)));
    assertThat(pier.board.size()).isEqualTo(4);
    pier.begin("b").end("b", 0);
    pier.apply(new BoardEvent.DatesClosed(pier.board.now(), Pier.DATE.plusDays(1)));
    assertThat(pier.board.size()).isEqualTo(2);
    pier.apply(new BoardEvent.TimeReached(Pier.DUE + 86_400_000));
    assertThat(pier.board.status(10).orElseThrow().state()).isEqualTo(RunState.STARTING);
  }

  @Test
  void withdrawnRunsLeaveUnlessTheyHaveBegun() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\nb: { host: quay-south, run: x, waits-for: a succeeded }");
    pier.at(0);
    pier.apply(
        new BoardEvent.RunsPlanned(
            pier.board.now(), Pier.specs(pier.definitions, Pier.DATE.plusDays(1), 10)));
    pier.apply(new BoardEvent.RunsWithdrawn(pier.board.now(), List.of(1L, 2L, 10L)));
    assertThat(pier.board.runs()).extracting(RunSpec::id).containsExactly(1L, 2L, 11L);
  }

  /**
   * Random days: whatever happens, a copy of the board taken at any moment and a board restored
   * from its records give the same instructions for what follows, and so does a replay from the
   * start.
   */
  @ParameterizedTest
  @ValueSource(
      longs = {
        2, 17, 1, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 18, 19, 20, 21, 22, 23, 24, 25,
        26, 27, 28, 29, 30
      })
  void aReplayACopyAndARestoredBoardGiveTheSame(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    Pier pier = new Pier(RandomDay.definitions(random, 12));
    List<List<Instruction>> given = RandomDay.play(pier, random, 150);
    Board again = new Board();
    pier.events.stream().limit(4).forEach(again::turn);
    int middle = given.size() / 2;
    for (int i = 0; i < given.size(); i++) {
      BoardEvent event = pier.events.get(i + 4);
      if (i == middle) {
        again = random.nextBoolean() ? new Board(again) : restored(again, pier);
      }
      assertThat(withoutWakes(again.turn(event))).isEqualTo(withoutWakes(given.get(i)));
    }
    for (RunSpec run : pier.board.runs()) {
      assertThat(again.status(run.id())).isEqualTo(pier.board.status(run.id()));
      assertThat(again.why(run.id())).isEqualTo(pier.board.why(run.id()));
    }
  }

  private static List<Instruction> withoutWakes(List<Instruction> all) {
    return all.stream().filter(one -> !(one instanceof Instruction.WakeAt)).toList();
  }

  private static Board restored(Board board, Pier pier) {
    Board fresh = new Board();
    fresh.turn(pier.events.get(0));
    for (String host : List.of("quay-north", "quay-south")) {
      if (board.isUp(host)) {
        fresh.turn(new BoardEvent.HostSeen(0, host, Set.of()));
      }
    }
    board.holds().forEach((scope, note) -> fresh.turn(new BoardEvent.HoldPlaced(0, scope, note)));
    board
        .capacity("ledger-slots")
        .set()
        .ifPresent(many -> fresh.turn(new BoardEvent.CapacitySet(0, "ledger-slots", many)));
    List<BoardEvent.Restored> runs =
        board.runs().stream()
            .map(run -> new BoardEvent.Restored(run, board.status(run.id()).orElseThrow()))
            .toList();
    fresh.turn(new BoardEvent.RunsRestored(board.now(), runs));
    return fresh;
  }

  /**
   * A due run that nothing keeps is starting: {@code why} has reasons for every waiting run, and
   * nothing waits that has none. Units are never taken beyond what there was when they were taken.
   */
  @ParameterizedTest
  @MethodSource("seeds")
  void everyWaitingRunHasAReasonAndNoCapacityIsOverdrawn(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    Pier pier = new Pier(RandomDay.definitions(random, 12));
    int takenBefore = 0;
    for (int step = 0; step < 150; step++) {
      RandomDay.play(pier, random, 1);
      for (RunSpec run : pier.board.runs()) {
        RunState state = pier.board.status(run.id()).orElseThrow().state();
        if (state != RunState.PLANNED) { // what is due later may have something in its way already
          assertThat(pier.board.why(run.id()).reasons().isEmpty())
              .as(step + ": " + run.run().reference() + " " + state)
              .isEqualTo(state != RunState.WAITING);
        }
      }
      BoardView.CapacityState slots = pier.board.capacity("ledger-slots");
      assertThat(slots.taken()).isGreaterThanOrEqualTo(0);
      boolean reopened =
          slots.holders().stream()
              .anyMatch(id -> pier.board.run(id).orElseThrow().run().job().isStep());
      if (!reopened) {
        assertThat(slots.taken()).isLessThanOrEqualTo(Math.max(slots.units(), takenBefore));
      }
      takenBefore = slots.taken();
    }
  }

  /** Whoever does what {@code why} names, again and again, comes to an end where all has ended. */
  @ParameterizedTest
  @MethodSource("seeds")
  void doingWhatWhyNamesMakesProgressToTheEnd(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    Pier pier = new Pier(RandomDay.definitions(random, 12));
    RandomDay.play(pier, random, 60);
    pier.apply(new BoardEvent.TimeReached(Math.max(pier.board.now(), Pier.minute(10))));
    Helper helper = new Helper(pier);
    for (int round = 0; round < 400 && helper.isOpen(); round++) {
      helper.doWhatIsNamed();
    }
    assertThat(helper.open()).as("what is still open").isEmpty();
  }

  static java.util.stream.LongStream seeds() {
    return java.util.stream.LongStream.rangeClosed(31, 90);
  }
}

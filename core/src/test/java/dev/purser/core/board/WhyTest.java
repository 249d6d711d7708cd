package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.why.Why;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What people read when they ask why. */
class WhyTest {
  @Test
  void aRunThatIsNotDueSaysWhenItIs() {
    Pier pier = new Pier("a: { host: quay-north, run: x }");
    assertThat(pier.why("a")).isEqualTo("It is due at 21:30 Oslo");
    pier.act("a", Action.HOLD);
    assertThat(pier.why("a")).isEqualTo("It is due at 21:30 Oslo, and is held by ida: because");
  }

  /** Whoever looks before the night sees what will not come right by itself, and nothing else. */
  @Test
  void whatStandsInTheWayOfARunIsSaidBeforeItIsDue() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x, waits-for: a succeeded }
            c: { host: quay-north, run: x, waits-for: b succeeded and file harbour-feed arrived }
            """);
    assertThat(pier.why("c")).isEqualTo("It is due at 21:30 Oslo");
    assertThat(pier.board.why(pier.id("c")).hangsOnPerson()).isFalse();
    pier.act("b", Action.HOLD);
    assertThat(pier.why("b")).isEqualTo("It is due at 21:30 Oslo, and is held by ida: because");
    assertThat(pier.why("c"))
        .isEqualTo(
            "It is due at 21:30 Oslo; in its way already: night/b is held by ida: because and due"
                + " at 21:30 Oslo");
    pier.act("b", Action.CANCEL);
    assertThat(pier.why("c"))
        .startsWith("It is due at 21:30 Oslo; in its way already: night/b was cancelled by ida");
    assertThat(pier.board.why(pier.id("c")).reasons()).hasSize(1);
  }

  /** Since when is said of the cause, not of the run that it keeps waiting. */
  @Test
  void sinceIsTheCausesOwn() {
    Pier pier =
        new Pier(
            """
            early: { host: quay-south, run: x, takes: { ledger-slots: 1 } }
            late: { host: quay-north, run: x, takes: { ledger-slots: 1 } }
            alone: { host: quay-north, run: x }
            """);
    pier.apply(new BoardEvent.HostDrained(Pier.minute(-20), "quay-north", "drained by ida: disk"));
    pier.at(0).begin("early").at(30);
    Why.Reason drained = pier.board.why(pier.id("alone")).reasons().get(0);
    assertThat(drained.since()).isEqualTo(Pier.minute(-20));
    assertThat(drained.who()).isEqualTo("an operator");
    assertThat(drained.text())
        .isEqualTo(
            "host quay-north takes no new work since 21:10 Oslo, it was drained by ida: disk");
    pier.apply(new BoardEvent.HostReturned(Pier.minute(31), "quay-north"));
    Why.Reason taken = pier.board.why(pier.id("late")).reasons().get(0);
    assertThat(taken.what()).isEqualTo(Why.What.CAPACITY);
    assertThat(taken.since()).isEqualTo(Pier.minute(0));
    pier.act("late", Action.HOLD);
    assertThat(pier.board.why(pier.id("late")).reasons().get(0).since()).isZero();
  }

  @Test
  void theTreeGoesDownToWhatIsReallyMissingAndSaysWhoCanChangeIt() {
    Pier pier =
        new Pier(
            """
            close: { host: quay-north, run: x }
            build: { host: quay-north, run: x, waits-for: close succeeded and file harbour-feed arrived }
            file: { host: quay-south, run: x, waits-for: build succeeded }
            """);
    pier.at(0).begin("close").at(5).end("close", 2);
    Why why = pier.board.why(pier.id("file"));
    assertThat(why.sentence())
        .isEqualTo("It waits: night/build is itself waiting since 21:30 Oslo");
    Why.Reason build = why.reasons().get(0);
    assertThat(build.run()).isEqualTo(pier.id("build"));
    assertThat(build.who()).isEmpty();
    assertThat(build.below())
        .extracting(Why.Reason::text)
        .containsExactly(
            "night/close failed at 21:35 Oslo (exit code 2)",
            "file harbour-feed on quay-north: nothing has come yet");
    assertThat(build.below())
        .extracting(Why.Reason::who)
        .containsExactly("an operator", "whoever sends the file");
    assertThat(build.below().get(0).since()).isEqualTo(Pier.minute(5));
    assertThat(why.hangsOnPerson()).isTrue();
  }

  @Test
  void whatComesByItselfHangsOnNobody() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x, retry: { times: 1, wait: 10m } }
            b: { host: quay-north, run: x, waits-for: a succeeded }
            """);
    pier.at(0).begin("a").end("a", 1);
    assertThat(pier.board.why(pier.id("b")).hangsOnPerson()).isFalse();
    assertThat(pier.why("b")).isEqualTo("It waits: night/a is itself waiting since 21:30 Oslo");
  }

  @Test
  void ofSeveralWaysAllAreNamed() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-south, run: x }
            c: { host: quay-south, run: x, waits-for: a failed or b failed }
            """);
    pier.at(0).begin("a").begin("b");
    assertThat(pier.why("c"))
        .isEqualTo(
            "It waits: night/a has been running on quay-north since 21:30 Oslo, or night/b has been"
                + " running on quay-south since 21:30 Oslo");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          HOLD    | It waits: it is held by ida: because
          SKIP    | It was skipped by ida: because
          CANCEL  | It was cancelled by ida: because; it stays so until a person reruns or skips it
          """)
  void whatAPersonDidIsSaidWithNameAndReason(Action action, String sentence) {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x, waits-for: b succeeded }\nb: { host: quay-north, run: x }");
    pier.at(0).begin("b");
    pier.act("a", action);
    assertThat(pier.why("a")).startsWith(sentence);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          EXITED      | 0   |             | succeeded
          EXITED      | 3   |             | exit code 3
          EXITED      | 127 |             | exit code 127 (the command was not found)
          EXITED      | 126 |             | exit code 126 (the command could not be executed)
          EXITED      | 143 |             | exit code 143 (as after signal SIGTERM)
          EXITED      | 137 |             | exit code 137 (as after signal SIGKILL)
          NOT_STARTED | -1  | disk is full | could not be started: disk is full
          LOST        | -1  |             | was lost
          """)
  void howAnAttemptEndedIsSaidPlainly(Ending.Kind kind, int code, String note, String words) {
    assertThat(new Ending(kind, code, note == null ? "" : note).inWords()).isEqualTo(words);
  }

  @Test
  void aHostThatIsAwayIsNamedAlsoWhereOnlyItCouldLookForAFile() {
    Pier pier = new Pier("a: { host: any of quays, run: x, waits-for: file harbour-feed arrived }");
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-north"));
    pier.at(0);
    assertThat(pier.why("a"))
        .isEqualTo("It waits: file harbour-feed: host quay-north is not connected, nobody looks");
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-south"));
    pier.apply(
        new BoardEvent.FileArrived(pier.board.now(), 1, "harbour-feed", "/srv/in/feed-1.csv"));
    assertThat(pier.why("a"))
        .isEqualTo(
            "It waits: no host of quays is free for it: quay-north is not connected since 20:30 Oslo,"
                + " quay-south is not connected since 21:30 Oslo");
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-south", Set.of()));
    assertThat(pier.why("a")).isEqualTo("It has been sent to quay-south and is starting there");
  }

  /** Doing what why names first makes progress, until everything has ended. */
  @Test
  void doingWhatWhyNamesBringsTheDayToItsEnd() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x, waits-for: a succeeded and file harbour-feed arrived }
            ask: { approve: Go on?, waits-for: b succeeded }
            c: { host: quay-south, run: x, waits-for: ask succeeded, takes: { ledger-slots: 1 } }
            """);
    pier.act("c", Action.HOLD);
    pier.at(0).begin("a").end("a", 1);
    for (int step = 0;
        step < 20 && !pier.board.runs().stream().allMatch(r -> ended(pier, r));
        step++) {
      for (RunSpec run : pier.board.runs()) {
        help(pier, run);
      }
    }
    assertThat(pier.board.runs()).allMatch(run -> ended(pier, run));
  }

  private static boolean ended(Pier pier, RunSpec run) {
    return pier.board.status(run.id()).orElseThrow().state() == RunState.SUCCEEDED;
  }

  private static void help(Pier pier, RunSpec run) {
    String job = run.run().reference().job();
    String why = pier.why(job);
    if (why.contains("failed at")) {
      pier.board.actions(run.id()).stream()
          .filter(action -> action == Action.RERUN)
          .forEach(action -> pier.act(job, action));
    } else if (why.contains("is starting there")) {
      pier.begin(job).end(job, 0);
    } else if (why.contains("held by")) {
      pier.act(job, Action.RELEASE);
    } else if (why.contains("a person must answer")) {
      pier.act(job, Action.APPROVE);
    } else if (why.contains("nothing has come yet")) {
      pier.apply(
          new BoardEvent.FileArrived(
              pier.board.now(), run.id(), "harbour-feed", "/srv/in/feed-1.csv"));
    }
  }

  @Test
  void whatIsPossibleNowIsWhatTheBoardTakes() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\nb: { host: quay-north, run: x, waits-for: a succeeded }");
    pier.at(0).begin("a");
    for (String job : List.of("a", "b")) {
      for (Action action : Action.values()) {
        Board copy = new Board(pier.board);
        boolean possible = pier.board.actions(pier.id(job)).contains(action);
        List<Instruction> given =
            copy.turn(
                new BoardEvent.PersonActed(
                    copy.now(),
                    pier.id(job),
                    action,
                    "ida",
                    "",
                    action == Action.START_AT ? Pier.minute(5) : 60));
        assertThat(given.stream().noneMatch(Instruction.Refused.class::isInstance))
            .as(action + " on " + job)
            .isEqualTo(possible);
      }
    }
  }

  /** What is seen of a file, and what people read of it. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      textBlock =
          """
          ABSENT     | -                                     | nothing has come yet
          EMPTY      | /in/a.csv                             | /in/a.csv is there but empty or too small
          INCOMPLETE | /in/a.csv waits for /in/a.csv.done    | /in/a.csv waits for /in/a.csv.done
          INCOMPLETE | 2 of 3 files are there                | 2 of 3 files are there
          GROWING    | /in/a.csv                             | /in/a.csv is there but still changing; it must rest for 10s
          USED       | /in/a.csv                             | /in/a.csv is there but another run has used it
          UNREADABLE | the directory /in does not exist      | the directory /in does not exist
          """)
  void aRunThatWaitsForAFileSaysWhatIsSeenOfIt(FileSight sight, String seen, String text) {
    Pier pier = new Pier("a: { host: quay-north, run: x, waits-for: file harbour-feed arrived }");
    pier.at(1);
    pier.apply(
        new BoardEvent.FileSeen(
            Pier.minute(2), pier.id("a"), "harbour-feed", sight, seen == null ? "" : seen));
    Why.Reason reason = pier.board.why(pier.id("a")).reasons().get(0);
    assertThat(reason.text()).isEqualTo("file harbour-feed on quay-north: " + text);
    assertThat(reason.who()).isEqualTo("whoever sends the file");
  }

  @Test
  void nobodyLooksWhereTheHostIsAway() {
    Pier pier = new Pier("a: { host: quay-south, run: x, waits-for: file harbour-feed arrived }");
    pier.apply(new BoardEvent.HostLost(Pier.minute(0), "quay-north"));
    pier.at(1);
    assertThat(pier.why("a"))
        .isEqualTo("It waits: file harbour-feed: host quay-north is not connected, nobody looks");
  }
}

package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** On which host work is placed, and what becomes of it when a host goes away. */
class HostsTest {
  private static Pier pier(String jobs) {
    return pier("", jobs);
  }

  /** Two hosts in group quays, the first with what is given besides. */
  private static Pier pier(String north, String jobs) {
    return new Pier(
        Pier.read(
            "host: quay-north\nlabels: quay\n" + north,
            "host: quay-south\nlabels: quay\n",
            "host-group: quays\nlabels: quay\n",
            "stream: night\nschedule: { days: every day, at: \"21:30\", zone: Europe/Oslo }\njobs:\n"
                + jobs.indent(2)));
  }

  private static List<String> started(Pier pier) {
    return pier.given(Instruction.StartAttempt.class).stream()
        .map(
            start ->
                pier.board.run(start.run()).orElseThrow().run().reference().job()
                    + " on "
                    + start.where().word())
        .toList();
  }

  private static Pier lose(Pier pier, String host) {
    pier.apply(new BoardEvent.HostLost(pier.board.now(), host));
    return pier;
  }

  private static Pier back(Pier pier, String host) {
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), host, Set.of()));
    return pier;
  }

  private static Pier lostEnd(Pier pier, String job) {
    pier.apply(
        new BoardEvent.AttemptEnded(
            pier.board.now(),
            pier.id(job),
            pier.status(job).attempts(),
            new Ending(Ending.Kind.LOST, -1, "its host knows nothing of it")));
    return pier;
  }

  // ---- whether there is one at all

  @Test
  void whatIsStillToComeIsToldWhyItWouldHaveNoHost() {
    Pier pier =
        pier(
            """
            south: { host: quay-south, run: x }
            either: { host: any of quays, run: x }
            ask: { approve: May we? }
            """);
    assertThat(noHost(pier, "south")).as("it is there").isEmpty();
    lose(pier, "quay-south");
    assertThat(noHost(pier, "south"))
        .isEqualTo("host quay-south is not connected since 20:30 Oslo");
    assertThat(AlertCause.ofHosts(pier.id("south"), pier.board)).isEqualTo("host quay-south");
    assertThat(noHost(pier, "either")).as("the other is there").isEmpty();
    pier.apply(new BoardEvent.HostDrained(pier.board.now(), "quay-north", "drained by ida"));
    assertThat(noHost(pier, "either"))
        .isEqualTo(
            "no host of quays is free for it: quay-north takes no new work since 20:30 Oslo, it was"
                + " drained by ida, quay-south is not connected since 20:30 Oslo");
    assertThat(AlertCause.ofHosts(pier.id("either"), pier.board)).as("one is up").isEmpty();
    assertThat(noHost(pier, "ask")).as("it needs none").isEmpty();
    back(pier, "quay-south").at(0);
    pier.begin("south");
    lose(pier, "quay-south");
    assertThat(noHost(pier, "south")).as("it has begun").isEmpty();
  }

  private static String noHost(Pier pier, String job) {
    return pier.board.noHost(pier.id(job)).map(Why.Reason::text).orElse("");
  }

  // ---- room

  @Test
  void theLeastLoadedHostIsTakenAndAFullOneIsLeftOut() {
    Pier pier =
        pier(
            "at-most: 2\n",
            """
            a: { host: any of quays, run: x }
            b: { host: any of quays, run: x }
            c: { host: any of quays, run: x }
            d: { host: quay-north, run: x }
            e: { host: quay-north, run: x }
            """);
    pier.at(0);
    assertThat(started(pier))
        .containsExactly("a on quay-north", "b on quay-south", "c on quay-north");
    assertThat(pier.why("d"))
        .isEqualTo("It waits: host quay-north has all the 2 attempts that it takes at once");
    pier.begin("a").end("a", 0);
    assertThat(pier.state("d")).isEqualTo(RunState.STARTING);
    assertThat(pier.state("e")).isEqualTo(RunState.WAITING);
    pier.finishAll();
    assertThat(pier.state("e")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void whoWaitsForRoomIsServedByRankAndNobodyOvertakes() {
    Pier pier =
        pier(
            "at-most: 1\n",
            """
            first: { host: quay-north, run: x }
            low: { host: quay-north, run: x, priority: 10 }
            high: { host: quay-north, run: x, priority: 90 }
            late: { host: quay-north, run: x, priority: 90, not-before: "21:35" }
            """);
    pier.at(0);
    pier.at(10).finishAll();
    assertThat(started(pier))
        .containsExactly(
            "high on quay-north", "late on quay-north", "first on quay-north", "low on quay-north");
  }

  @Test
  void aRunThatIsHeldOrCancelledInTheLineLetsTheNextGo() {
    Pier pier =
        pier(
            "at-most: 1\n",
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x }
            c: { host: quay-north, run: x }
            d: { host: quay-north, run: x }
            """);
    pier.at(0);
    pier.act("b", Action.HOLD);
    pier.act("c", Action.CANCEL);
    pier.begin("a").end("a", 0);
    assertThat(pier.state("d")).isEqualTo(RunState.STARTING);
    pier.act("b", Action.RELEASE);
    pier.begin("d").end("d", 0);
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
  }

  // ---- drain

  @Test
  void aDrainedHostFinishesWhatItHasAndTakesNothingNewUntilItReturns() {
    Pier pier =
        pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x, not-before: "21:31" }
            c: { host: any of quays, run: x, not-before: "21:31" }
            """);
    pier.at(0);
    pier.apply(new BoardEvent.HostDrained(pier.board.now(), "quay-north", "drained by ida: disk"));
    pier.at(1);
    assertThat(started(pier)).containsExactly("a on quay-north", "c on quay-south");
    assertThat(pier.why("b"))
        .isEqualTo(
            "It waits: host quay-north takes no new work since 21:30 Oslo, it was drained by ida: disk");
    pier.begin("a").end("a", 0);
    assertThat(pier.state("a")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.board.drainedHosts()).isEqualTo(Map.of("quay-north", "drained by ida: disk"));
    pier.apply(new BoardEvent.HostReturned(pier.board.now(), "quay-north"));
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
  }

  // ---- lost hosts

  @Test
  void workThatMayBeRepeatedGoesElsewhereOnceItsHostHasBeenAwayTooLong() {
    Pier pier =
        pier(
            "lost-after: 3m\n",
            """
            may: { host: any of quays, run: x, may-repeat: yes }
            not: { host: any of quays, run: x }
            third: { host: any of quays, run: x, may-repeat: yes, not-before: "21:31" }
            """);
    pier.at(0).begin("may");
    pier.at(1).begin("third");
    lose(pier, "quay-north").at(3);
    assertThat(pier.status("may").where().word()).isEqualTo("quay-north");
    assertThat(pier.why("may")).contains("that host has not been connected since 21:31 Oslo");
    pier.at(4);
    assertThat(pier.status("may").where().word()).isEqualTo("quay-south");
    assertThat(pier.status("may").attempts()).isEqualTo(2);
    assertThat(pier.status("may").moves()).isEqualTo(1);
    assertThat(pier.status("third").where().word()).isEqualTo("quay-south");
    assertThat(pier.status("not").attempts()).isEqualTo(1);
  }

  @Test
  void workThatMayNotBeRepeatedStaysWithItsHostHoweverLongThatIsAway() {
    Pier pier = pier("a: { host: any of quays, run: x }");
    pier.at(0).begin("a");
    lose(pier, "quay-north").at(600);
    assertThat(pier.state("a")).isEqualTo(RunState.RUNNING);
    back(pier, "quay-north").end("a", 0);
    assertThat(pier.state("a")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void aHostThatIsBackInTimeKeepsItsWork() {
    Pier pier = pier("lost-after: 3m\n", "a: { host: any of quays, run: x, may-repeat: yes }");
    pier.at(0).begin("a");
    lose(pier, "quay-north").at(2);
    back(pier, "quay-north").at(10);
    lose(pier, "quay-north").at(12);
    assertThat(pier.status("a").where().word()).isEqualTo("quay-north");
    assertThat(pier.status("a").attempts()).isEqualTo(1);
  }

  /** The stop that its host was not told belongs to the attempt that was lost. */
  @Test
  void whatWasToBeReplacedAndIsLostMovesAndTakesTheNewVersion() {
    Pier pier = pier("lost-after: 3m\n", "a: { host: any of quays, run: x, may-repeat: yes }");
    pier.at(0).begin("a");
    pier.apply(new BoardEvent.AttemptsReplaced(pier.board.now(), List.of(pier.id("a")), "by ada"));
    lose(pier, "quay-north").at(4);
    assertThat(pier.status("a").where().word()).isEqualTo("quay-south");
    assertThat(pier.status("a").attempts()).isEqualTo(2);
    assertThat(pier.status("a").stopping()).isEqualTo(RunStatus.Stopping.NO);
    assertThat(pier.given(Instruction.TakeVersion.class)).hasSize(1);
    pier.begin("a").end("a", 0);
    assertThat(pier.state("a")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void whereNoOtherHostIsThereItWaitsForOne() {
    Pier pier = pier("lost-after: 3m\n", "a: { host: any of quays, run: x, may-repeat: yes }");
    lose(pier, "quay-south").at(0).begin("a");
    lose(pier, "quay-north").at(30);
    assertThat(pier.state("a")).isEqualTo(RunState.RUNNING);
    back(pier, "quay-south");
    assertThat(pier.status("a").where().word()).isEqualTo("quay-south");
  }

  @ParameterizedTest
  @CsvSource({"'{ of-run: 2, of-job: 9 }', 2", "'{ of-run: 9, of-job: 1 }', 1", "yes, 3", "no, 0"})
  void aRunMovesOnlySoOften(String repeat, int moves) {
    Pier pier = pier("a: { host: any of quays, run: x, may-repeat: " + repeat + " }");
    pier.at(0);
    for (int i = 0; i < 12 && pier.state("a").isActive(); i++) {
      pier.begin("a");
      lostEnd(pier, "a");
    }
    assertThat(pier.status("a").moves()).isEqualTo(moves);
    assertThat(pier.state("a")).isEqualTo(RunState.FAILED);
  }

  @Test
  void whatIsBeingCancelledOnAHostThatDoesNotComeBackEnds() {
    Pier pier = pier("lost-after: 3m\n", "a: { host: quay-north, run: x }");
    pier.at(0).begin("a");
    pier.act("a", Action.CANCEL);
    lose(pier, "quay-north").at(4);
    assertThat(pier.state("a")).isEqualTo(RunState.CANCELLED);
  }

  @Test
  void aSecondCancelSaysWhatBecomesOfTheFirst() {
    Pier pier = pier("a: { host: quay-north, run: x, grace: 40s }");
    pier.at(0).begin("a");
    pier.act("a", Action.CANCEL);
    assertThat(refusal(pier, Action.FAIL))
        .isEqualTo(
            "is being stopped already (cancelled by ida: because); a process that does not end by"
                + " itself is forced 40s after it was asked to");
    lose(pier, "quay-north");
    assertThat(refusal(pier, Action.CANCEL))
        .isEqualTo(
            "is being stopped already (cancelled by ida: because); its host quay-north is away, and"
                + " is told when it is back");
    assertThat(refusal(pier, Action.RERUN)).startsWith("a run that is running cannot be rerun");
  }

  private static String refusal(Pier pier, Action action) {
    pier.instructions.clear();
    pier.act("a", action);
    return pier.given(Instruction.Refused.class).get(0).reason();
  }

  // ---- parts

  private static Pier parts(String rest) {
    return pier(
        """
        sweep: { host: each of quays, run: x%s }
        after: { host: quay-north, run: x, waits-for: sweep succeeded }
        """
            .formatted(rest));
  }

  @Test
  void aRunOnEachHostHasAPartOnEachAndEndsWithTheLast() {
    Pier pier = parts("");
    pier.at(0);
    assertThat(started(pier))
        .containsExactly("quay-north on quay-north", "quay-south on quay-south");
    assertThat(pier.state("sweep")).isEqualTo(RunState.RUNNING);
    pier.begin("quay-north").end("quay-north", 0);
    assertThat(pier.state("after")).isEqualTo(RunState.WAITING);
    pier.begin("quay-south").end("quay-south", 0);
    assertThat(pier.state("sweep")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("after")).isEqualTo(RunState.STARTING);
  }

  @ParameterizedTest
  @CsvSource({
    "'', FAILED",
    "', succeeds-if: all', FAILED",
    "', succeeds-if: any', SUCCEEDED",
    "', succeeds-if: at least 1', SUCCEEDED",
    "', succeeds-if: at least 2', FAILED"
  })
  void itEndsAsTheJobSaysWhenOnePartFails(String rule, RunState state) {
    Pier pier = parts(rule);
    pier.at(0).begin("quay-north").end("quay-north", 3).begin("quay-south").end("quay-south", 0);
    assertThat(pier.state("sweep")).isEqualTo(state);
    if (state == RunState.FAILED) {
      pier.act("quay-north", Action.RERUN);
      pier.begin("quay-north").end("quay-north", 0);
      assertThat(pier.state("sweep")).isEqualTo(RunState.SUCCEEDED);
      assertThat(pier.state("after")).isEqualTo(RunState.STARTING);
    }
  }

  @Test
  void someOfAGroupAreDifferentHostsAlsoWhenOneOfThemComesLater() {
    Pier pier = pier("pair: { host: 2 of quays, run: x, retry: { times: 1, wait: 1s } }");
    lose(pier, "quay-south").at(0);
    assertThat(started(pier)).containsExactly("part-1 on quay-north");
    assertThat(pier.why("part-2")).contains("quay-north is taken by another part");
    back(pier, "quay-south");
    assertThat(started(pier)).containsExactly("part-1 on quay-north", "part-2 on quay-south");
    pier.finishAll();
    assertThat(pier.state("pair")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void whatTheWholeWaitsForIsWaitedForOnceAndTakesAreOfEachPart() {
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\nlabels: quay\n",
                "host: quay-south\nlabels: quay\n",
                "host-group: quays\nlabels: quay\n",
                "capacity: slots\nunits: 1\n",
                "stream: night\nschedule: { days: every day, at: \"21:30\", zone: Europe/Oslo }\n"
                    + "jobs:\n"
                    + "  first: { host: quay-north, run: x }\n"
                    + "  sweep: { host: each of quays, run: x, takes: { slots: 1 },"
                    + " waits-for: first succeeded }\n"));
    pier.at(0);
    assertThat(pier.state("quay-south")).isEqualTo(RunState.WAITING);
    pier.begin("first").end("first", 0);
    assertThat(pier.board.capacity("slots").taken()).isEqualTo(1);
    assertThat(pier.why("quay-south")).contains("capacity slots");
    pier.finishAll();
    assertThat(pier.state("sweep")).isEqualTo(RunState.SUCCEEDED);
  }
}

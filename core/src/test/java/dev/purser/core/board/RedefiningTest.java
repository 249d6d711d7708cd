package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Runs on the board take another version of their definition. */
class RedefiningTest {
  private static final String BEFORE =
      """
      close: { host: quay-north, run: ./close.sh }
      build: { host: quay-north, run: ./build.sh, waits-for: close succeeded }
      file: { host: quay-north, run: ./file.sh, waits-for: build succeeded }
      """;

  private static List<Instruction> take(Pier pier, String jobs) {
    return pier.apply(
        new BoardEvent.RunsRedefined(pier.board.now(), specs(pier, jobs), "takes revision 7"));
  }

  private static List<RunSpec> specs(Pier pier, String jobs) {
    Definitions after = Pier.definitions(jobs);
    List<PlannedRun> wanted = new Planner(after).plan(Pier.DATE);
    List<RunSpec> specs = new ArrayList<>();
    for (RunSpec before : pier.board.runs()) {
      Optional<PlannedRun> same =
          wanted.stream()
              .filter(run -> run.reference().equals(before.run().reference()))
              .findFirst();
      new Planner(after)
          .renewed(before.run(), same)
          .ifPresent(run -> specs.add(new RunSpec(before.id(), run, before.longAfter())));
    }
    return specs;
  }

  private static String command(Pier pier, String job) {
    return pier.board.run(pier.id(job)).orElseThrow().run().job().work().inWords();
  }

  @Test
  void whatWaitsTakesItAndWhatRunsGoesOn() {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    take(pier, BEFORE.replace(".sh", "-2.sh"));
    assertThat(command(pier, "close")).contains("close.sh");
    assertThat(command(pier, "build")).contains("build-2.sh");
    assertThat(pier.state("close")).isEqualTo(RunState.RUNNING);
    pier.end("close", 0);
    assertThat(pier.state("build")).isEqualTo(RunState.STARTING);
  }

  @ParameterizedTest
  @CsvSource({
    "''                              , STARTING",
    "close succeeded                 , STARTING",
    "close failed                    , SKIPPED",
    "file succeeded                  , WAITING",
    "close succeeded and file failed , WAITING"
  })
  void whatItWaitsForIsAskedAnew(String waitsFor, RunState expected) {
    String hang = "build: { host: quay-north, run: ./build.sh, waits-for: file succeeded }\n";
    String rest =
        "close: { host: quay-north, run: ./close.sh }\n"
            + "file: { host: quay-north, run: ./file.sh, waits-for: late succeeded }\n"
            + "late: { host: quay-north, run: ./late.sh, not-before: \"23:00\" }\n";
    Pier pier = new Pier(hang + rest).at(0).begin("close").end("close", 0);
    assertThat(pier.state("build")).isEqualTo(RunState.WAITING);
    String now =
        waitsFor.isEmpty()
            ? "build: { host: quay-north, run: ./build.sh }\n"
            : hang.replace("file succeeded", waitsFor);
    take(pier, now + rest);
    assertThat(pier.state("build")).isEqualTo(expected);
  }

  @Test
  void aFailedRunIsMendedAndRunAgain() {
    Pier pier = new Pier(BEFORE).at(0).begin("close").end("close", 3);
    take(pier, BEFORE.replace("./close.sh", "./close.sh --again, retry: { times: 2, wait: 1m }"));
    assertThat(pier.state("close")).isEqualTo(RunState.FAILED);
    pier.act("close", Action.RERUN);
    assertThat(pier.state("close")).isEqualTo(RunState.STARTING);
    assertThat(command(pier, "close")).contains("--again");
    assertThat(pier.status("close").budget()).isEqualTo(4);
  }

  @Test
  void whatIsOverStaysAsItWas() {
    Pier pier = new Pier(BEFORE).at(0).begin("close").end("close", 0);
    pier.act("file", Action.SKIP);
    take(pier, BEFORE.replace(".sh", "-2.sh"));
    assertThat(command(pier, "close")).contains("close.sh");
    assertThat(command(pier, "file")).contains("file.sh");
  }

  @Test
  void whatPeopleSaidStays() {
    Pier pier = new Pier(BEFORE).at(0);
    pier.act("build", Action.HOLD);
    pier.act("build", Action.PRIORITY, 90);
    pier.act("file", Action.START_AT, Pier.minute(90));
    take(pier, BEFORE.replace(".sh", "-2.sh").replace("close succeeded", "close succeeded"));
    assertThat(pier.status("build").hold()).contains("held by ida");
    assertThat(pier.status("build").priority()).isEqualTo(90);
    assertThat(pier.state("file")).isEqualTo(RunState.PLANNED);
    assertThat(pier.status("file").due()).isEqualTo(Pier.minute(90));
    assertThat(command(pier, "file")).contains("file-2.sh");
  }

  @Test
  void aLaterTimeSendsItBackToThePlan() {
    Pier pier = new Pier(BEFORE).at(10);
    take(pier, BEFORE.replace("./build.sh,", "./build.sh, not-before: \"23:00\","));
    assertThat(pier.state("build")).isEqualTo(RunState.PLANNED);
    pier.begin("close").end("close", 0).at(89);
    assertThat(pier.state("build")).isEqualTo(RunState.PLANNED);
    pier.at(90);
    assertThat(pier.state("build")).isEqualTo(RunState.STARTING);
  }

  @Test
  void aFileThatHasArrivedIsKeptAndAnotherOneIsLookedFor() {
    String watch = "take: { host: quay-north, run: ./take.sh, waits-for: file %s arrived }\n";
    Pier pier = new Pier(watch.formatted("harbour-feed")).at(0);
    pier.apply(
        new BoardEvent.FileSeen(
            pier.board.now(),
            pier.id("take"),
            "harbour-feed",
            dev.purser.core.run.FileSight.GROWING,
            "/srv/in/feed-1.csv"));
    take(pier, watch.formatted("harbour-feed").replace("./take.sh", "./take-2.sh"));
    assertThat(pier.status("take").files().get(0).path()).isEqualTo("/srv/in/feed-1.csv");
    List<Instruction> out = take(pier, "take: { host: quay-north, run: ./take.sh }\n");
    assertThat(out).hasAtLeastOneElementOfType(Instruction.UnwatchFile.class);
    assertThat(pier.state("take")).isEqualTo(RunState.STARTING);
    assertThat(pier.status("take").files()).isEmpty();
  }

  @Test
  void capacitiesAreTakenByTheNewVersion() {
    String both =
        """
        one: { host: quay-north, run: ./one.sh, takes: { ledger-slots: 1 } }
        two: { host: quay-north, run: ./two.sh, takes: { ledger-slots: 1 } }
        """;
    Pier pier = new Pier(both).at(0);
    assertThat(pier.state("two")).isEqualTo(RunState.WAITING);
    take(pier, both.replace("./two.sh, takes: { ledger-slots: 1 }", "./two.sh"));
    assertThat(pier.state("two")).isEqualTo(RunState.STARTING);
    pier.begin("one").end("one", 0).begin("two").end("two", 0);
    assertThat(pier.state("one")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void aDeadlineThatIsLaterNowEndsItsAlert() {
    Pier pier = new Pier("late: { host: quay-north, run: ./l.sh, finish-by: \"22:00\" }").at(0);
    pier.begin("late").at(31).end("late", 1);
    assertThat(pier.status("late").openAlerts()).hasSize(2);
    List<Instruction> out =
        take(pier, "late: { host: quay-north, run: ./l.sh, finish-by: \"23:00\" }");
    assertThat(out).hasAtLeastOneElementOfType(Instruction.CloseAlert.class);
    assertThat(pier.status("late").openAlerts()).hasSize(1);
  }

  @Test
  void aRunningAttemptIsStoppedAndTriedAgain() {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    List<Instruction> out =
        pier.apply(
            new BoardEvent.AttemptsReplaced(
                pier.board.now(), List.of(pier.id("close"), pier.id("build"), 99L), "by ada"));
    assertThat(out).filteredOn(Instruction.StopAttempt.class::isInstance).hasSize(1);
    assertThat(pier.status("close").stopping()).isEqualTo(RunStatus.Stopping.REPLACED);
    pier.apply(
        new BoardEvent.AttemptsReplaced(
            pier.board.now(), List.of(pier.id("close")), "by ada once more"));
    assertThat(pier.given(Instruction.StopAttempt.class)).hasSize(1);
    pier.end("close", 143);
    assertThat(pier.given(Instruction.TakeVersion.class)).hasSize(1);
    assertThat(pier.state("close")).isEqualTo(RunState.STARTING);
    assertThat(pier.status("close").attempts()).isEqualTo(2);
    pier.begin("close").end("close", 1);
    assertThat(pier.state("close")).isEqualTo(RunState.FAILED); // it still has no retry
  }

  @ParameterizedTest
  @CsvSource({"0, SUCCEEDED", "143, STARTING", "1, STARTING"})
  void whatEndedWellBeforeItWasStoppedIsOver(int code, RunState expected) {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    pier.apply(
        new BoardEvent.AttemptsReplaced(pier.board.now(), List.of(pier.id("close")), "by ada"));
    pier.end("close", code);
    assertThat(pier.state("close")).isEqualTo(expected);
  }

  @Test
  void aCancelBeatsAReplacement() {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    pier.apply(
        new BoardEvent.AttemptsReplaced(pier.board.now(), List.of(pier.id("close")), "by ada"));
    pier.act("close", Action.CANCEL);
    pier.end("close", 143);
    assertThat(pier.state("close")).isEqualTo(RunState.CANCELLED);
  }

  @Test
  void nobodyStopsWhatCannotBeReached() {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-north"));
    pier.apply(
        new BoardEvent.AttemptsReplaced(pier.board.now(), List.of(pier.id("close")), "by ada"));
    assertThat(pier.status("close").stopping()).isEqualTo(RunStatus.Stopping.NO);
  }

  /** What was written of a board after it took another version says the same when it is read. */
  @Test
  void takenUpFromItsRecordsItIsTheSame() {
    Pier pier = new Pier(BEFORE).at(0).begin("close");
    String after = BEFORE.replace(".sh", "-2.sh").replace("build succeeded", "close succeeded");
    take(pier, after);
    Board again = new Board();
    again.apply(Outlook.site(pier.definitions, pier.board.now()));
    again.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-north", Set.of()));
    again.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-south", Set.of()));
    again.turn(
        new BoardEvent.RunsRestored(
            pier.board.now(),
            pier.board.runs().stream()
                .map(run -> new BoardEvent.Restored(run, pier.board.status(run.id()).orElseThrow()))
                .toList()));
    BoardEvent end =
        new BoardEvent.AttemptEnded(
            pier.board.now(), pier.id("close"), 1, dev.purser.core.run.Ending.exited(0));
    List<Instruction> expected = pier.board.turn(end);
    assertThat(again.turn(end)).isEqualTo(expected);
    assertThat(expected).filteredOn(Instruction.StartAttempt.class::isInstance).hasSize(2);
    for (RunSpec run : pier.board.runs()) {
      assertThat(again.status(run.id())).isEqualTo(pier.board.status(run.id()));
    }
  }
}

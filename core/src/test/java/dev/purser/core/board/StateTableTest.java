package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.Locale;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Every state met by every event: what the state is afterwards, or that nothing changes. */
class StateTableTest {
  private static final String JOBS =
      """
      feeder: { host: quay-south, run: x }
      job: { host: quay-north, run: x, waits-for: feeder succeeded, stop-after: 10m }
      """;

  private static Pier in(RunState state) {
    Pier pier = new Pier(JOBS);
    if (state == RunState.PLANNED) {
      return pier;
    }
    pier.at(0).begin("feeder");
    if (state == RunState.WAITING) {
      return pier;
    }
    if (state == RunState.SKIPPED) {
      pier.act("job", Action.SKIP);
      return pier;
    }
    pier.at(1).end("feeder", 0);
    if (state == RunState.STARTING) {
      return pier;
    }
    pier.begin("job");
    switch (state) {
      case SUCCEEDED -> pier.end("job", 0);
      case FAILED -> pier.end("job", 3);
      case CANCELLED -> {
        pier.act("job", Action.CANCEL);
        pier.end("job", 143);
      }
      default -> {}
    }
    return pier;
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      useHeadersInDisplayName = true,
      textBlock =
          """
          STATE     | due     | feeder-ends | began   | exit-0    | exit-3 | not-started | lost   | stop-after | hold | release | skip    | cancel    | rerun    | approve | refuse | start | rerun-from | succeed | fail | priority | start-at
          planned   | waiting | -           | -       | -         | -      | -           | -      | waiting    | held | refused | skipped | cancelled | refused  | refused | refused | starting | refused | succeeded | failed | - | planned
          waiting   | -       | starting    | -       | -         | -      | -           | -      | -          | held | refused | skipped | cancelled | refused  | refused | refused | starting | refused | succeeded | failed | - | planned
          starting  | -       | -           | running | succeeded | failed | failed      | failed | -          | refused | refused | refused | stopping | refused | refused | refused | refused | refused | stopping | stopping | refused | refused
          running   | -       | -           | -       | succeeded | failed | failed      | failed | stopping   | refused | refused | refused | stopping | refused | refused | refused | refused | refused | stopping | stopping | refused | refused
          succeeded | -       | -           | -       | -         | -      | -           | -      | -          | refused | refused | refused | refused  | starting | refused | refused | refused | starting | refused | failed | refused | refused
          failed    | -       | -           | -       | -         | -      | -           | -      | -          | refused | refused | skipped | refused  | starting | refused | refused | refused | starting | succeeded | refused | refused | refused
          cancelled | -       | -           | -       | -         | -      | -           | -      | -          | refused | refused | skipped | refused  | starting | refused | refused | refused | starting | succeeded | failed | refused | refused
          skipped   | -       | -           | -       | -         | -      | -           | -      | -          | refused | refused | refused | refused  | waiting  | refused | refused | refused | waiting | succeeded | failed | refused | refused
          """)
  void everyStateMeetsEveryEvent(
      String state,
      String due,
      String feederEnds,
      String began,
      String exit0,
      String exit3,
      String notStarted,
      String lost,
      String stopAfter,
      String hold,
      String release,
      String skip,
      String cancel,
      String rerun,
      String approve,
      String refuse,
      String start,
      String rerunFrom,
      String succeed,
      String fail,
      String priority,
      String startAt) {
    RunState from = RunState.of(state).orElseThrow();
    check(from, due, pier -> pier.at(pier.board.now() < Pier.DUE ? 0 : 1));
    check(from, feederEnds, pier -> pier.end("feeder", 0));
    check(from, began, pier -> pier.begin("job"));
    check(from, exit0, pier -> pier.end("job", 0));
    check(from, exit3, pier -> pier.end("job", 3));
    check(from, notStarted, pier -> ended(pier, Ending.Kind.NOT_STARTED));
    check(from, lost, pier -> ended(pier, Ending.Kind.LOST));
    check(from, stopAfter, pier -> pier.at(11));
    check(from, hold, pier -> pier.act("job", Action.HOLD));
    check(from, release, pier -> pier.act("job", Action.RELEASE));
    check(from, skip, pier -> pier.act("job", Action.SKIP));
    check(from, cancel, pier -> pier.act("job", Action.CANCEL));
    check(from, rerun, pier -> pier.act("job", Action.RERUN));
    check(from, approve, pier -> pier.act("job", Action.APPROVE));
    check(from, refuse, pier -> pier.act("job", Action.REFUSE));
    check(from, start, pier -> pier.act("job", Action.START));
    check(from, rerunFrom, pier -> pier.act("job", Action.RERUN_FROM));
    check(from, succeed, pier -> pier.act("job", Action.SUCCEED));
    check(from, fail, pier -> pier.act("job", Action.FAIL));
    check(from, priority, pier -> pier.act("job", Action.PRIORITY, 70));
    check(from, startAt, pier -> pier.act("job", Action.START_AT, Pier.minute(60)));
  }

  private static void ended(Pier pier, Ending.Kind kind) {
    pier.apply(
        new BoardEvent.AttemptEnded(
            pier.board.now(),
            pier.id("job"),
            pier.status("job").attempts(),
            new Ending(kind, -1, "")));
  }

  private static void check(
      RunState from, String expected, java.util.function.Consumer<Pier> event) {
    Pier pier = in(from);
    assertThat(pier.state("job")).isEqualTo(from);
    pier.instructions.clear();
    event.accept(pier);
    RunStatus status = pier.status("job");
    boolean refused = !pier.given(Instruction.Refused.class).isEmpty();
    assertThat(refused).isEqualTo(expected.equals("refused"));
    switch (expected) {
      case "-", "refused" -> assertThat(status.state()).isEqualTo(from);
      case "held" -> {
        assertThat(status.state()).isEqualTo(from);
        assertThat(status.isHeld()).isTrue();
      }
      case "stopping" -> {
        assertThat(status.state()).isEqualTo(from);
        assertThat(status.stopping()).isNotEqualTo(RunStatus.Stopping.NO);
        assertThat(pier.given(Instruction.StopAttempt.class)).hasSize(1);
      }
      default ->
          assertThat(status.state()).isEqualTo(RunState.valueOf(expected.toUpperCase(Locale.ROOT)));
    }
  }
}

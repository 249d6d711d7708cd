package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Only ola may answer: ida gets round the question by no way. */
class NamedQuestionsTest {
  private static final String WORLD =
      """
      stream: inner
      jobs:
        ask: { approve: May it go?, answer: { by: [ola] } }
      ---
      stream: night
      schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
      jobs:
        shall: { approve: Shall it?, answer: { by: [ola] } }
        anybody: { approve: Anyone? }
        next: { host: quay-north, run: x, waits-for: shall succeeded }
        last: { host: quay-north, run: x, waits-for: next succeeded }
        step: { stream: inner }
        over: { host: quay-north, run: x, waits-for: step succeeded }
        free: { host: quay-north, run: x, waits-for: anybody succeeded }
      """;

  private static Pier pier() {
    Definitions definitions = Pier.read(Pier.SITE, WORLD);
    Pier pier = new Pier(definitions);
    pier.at(0);
    return pier;
  }

  private static List<Instruction> act(Pier pier, String job, Action action, String who) {
    return pier.apply(
        new BoardEvent.PersonActed(pier.board.now(), pier.id(job), action, who, "because", 0));
  }

  private static String refusal(Pier pier, String job, Action action, String who) {
    return act(pier, job, action, who).stream()
        .filter(Instruction.Refused.class::isInstance)
        .map(one -> ((Instruction.Refused) one).reason())
        .findFirst()
        .orElse("");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "shall | APPROVE | ida may not decide this question; only ola may",
        "shall | REFUSE  | ida may not decide this question; only ola may",
        "shall | SUCCEED | ida may not decide this question; only ola may",
        "shall | FAIL    | ida may not decide this question; only ola may",
        "shall | SKIP    | ida may not decide this question; only ola may",
        "shall | CANCEL  | ida may not decide this question; only ola may",
        "ask   | SKIP    | ida may not decide this question; only ola may",
        "next  | START   | it cannot be started at once: it follows the question night/shall",
        "last  | START   | it cannot be started at once: it follows the question night/shall",
        "over  | START   | it cannot be started at once: it follows the question night/step/ask",
        "step  | CANCEL  | the step cannot be cancelled: it holds the question night/step/ask",
        "step  | SUCCEED | the step cannot be marked as succeeded: it holds the question night/step/ask",
      })
  void whoMayNotAnswerGetsRoundByNoWay(String job, Action action, String said) {
    Pier pier = pier();
    RunState before = pier.state(job);
    assertThat(refusal(pier, job, action, "ida")).startsWith(said);
    assertThat(pier.state(job)).isEqualTo(before);
    assertThat(pier.state("ask")).isEqualTo(RunState.WAITING);
    assertThat(refusal(pier(), job, action, "ola")).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({
    "anybody,SKIP",
    "anybody,APPROVE",
    "free,START",
    "shall,HOLD",
    "next,HOLD",
    "next,SKIP"
  })
  void allElseIsForEverybody(String job, Action action) {
    assertThat(refusal(pier(), job, action, "ida")).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({"APPROVE", "SKIP", "REFUSE"})
  void onceItIsAnsweredNobodyIsKeptBack(Action how) {
    Pier pier = pier();
    act(pier, "next", Action.HOLD, "ida");
    act(pier, "shall", how, "ola");
    assertThat(refusal(pier, "next", Action.START, "ida").isEmpty())
        .isEqualTo(how != Action.REFUSE);
  }

  /** A no that ola gave is not made a yes by ida. */
  @ParameterizedTest
  @CsvSource({"SUCCEED", "SKIP"})
  void anAnswerIsNotTurnedRound(Action action) {
    Pier pier = pier();
    act(pier, "shall", Action.REFUSE, "ola");
    assertThat(refusal(pier, "shall", action, "ida"))
        .isEqualTo("ida may not decide this question; only ola may");
    assertThat(pier.state("shall")).isEqualTo(RunState.FAILED);
  }

  /** What several runs are acted on for is decided once, when all is said. */
  @ParameterizedTest
  @CsvSource({"a,b", "b,a"})
  void anActionOnManyIsDecidedAsOne(String first, String second) {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x, waits-for: a succeeded }
            c: { host: quay-north, run: x, waits-for: b succeeded }
            """);
    pier.at(0).begin("a").end("a", 1);
    assertThat(pier.state("a")).isEqualTo(RunState.FAILED);
    long now = pier.board.now();
    List<Instruction> given =
        pier.board.turn(
            new BoardEvent.PersonActed(now, pier.id(first), Action.SKIP, "ida", ""),
            new BoardEvent.PersonActed(now, pier.id(second), Action.SKIP, "ida", ""));
    assertThat(given)
        .filteredOn(Instruction.StartAttempt.class::isInstance)
        .extracting(one -> ((Instruction.StartAttempt) one).run())
        .containsExactly(pier.id("c"));
    assertThat(pier.state("b")).isEqualTo(RunState.SKIPPED);
  }

  @ParameterizedTest
  @CsvSource({"0,false", "-3600000,false", "-90000000,true", "-900000000000,true"})
  void aStartTimeThatIsLongPastIsRefused(long from, boolean refused) {
    Pier pier = new Pier("a: { host: quay-north, run: x }\n");
    long at = pier.board.now() + from;
    List<Instruction> given = pier.act("a", Action.START_AT, at);
    assertThat(given.stream().anyMatch(Instruction.Refused.class::isInstance)).isEqualTo(refused);
  }
}

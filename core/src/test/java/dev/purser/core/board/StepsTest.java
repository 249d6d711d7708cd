package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.run.Action;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Streams that run as steps of others. */
class StepsTest {
  private static final String INNER =
      """
      stream: fuel/bunkering
      asks-for: [port]
      jobs:
        count: { host: quay-north, run: "count ${port}" }
        order: { host: quay-north, run: x, waits-for: count succeeded }
        survey: { host: quay-south, run: x }
      """;

  private static Definitions definitions(String inner, String visit) {
    return Pier.read(
        "host: quay-north\n---\nhost: quay-south\n",
        inner,
        """
        stream: port-call
        schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
        parameters: { port: brannoch }
        jobs:
          arrive: { host: quay-north, run: x }
          fuel: { stream: fuel/bunkering, waits-for: arrive succeeded, parameters: { port: "${port}-quay" } VISIT }
          leave: { host: quay-north, run: x, waits-for: fuel succeeded }
          sorry: { host: quay-north, run: x, waits-for: fuel failed }
        """
            .replace("VISIT", visit));
  }

  private static Pier pier() {
    return new Pier(definitions(INNER, ""));
  }

  private static Pier inTheStep() {
    Pier pier = pier();
    pier.at(0).begin("arrive").end("arrive", 0);
    return pier;
  }

  @Test
  void whatIsBelowAStepIsNamedByItsPathAndGivenTheStepsValues() {
    Pier pier = pier();
    RunSpec count = pier.board.run(pier.id("count")).orElseThrow();
    assertThat(count.run().reference()).hasToString("port-call/fuel/count@2027-03-04#1");
    assertThat(count.run().parameters().of("port"))
        .contains(new Parameters.Effective("brannoch-quay", Parameters.Origin.STEP));
    assertThat(pier.board.below(pier.id("fuel")))
        .containsExactly(pier.id("count"), pier.id("order"), pier.id("survey"));
    assertThat(pier.board.above(count.id())).contains(pier.id("fuel"));
  }

  @Test
  void nothingBelowStartsBeforeTheStepAndItsEndIsTheirs() {
    Pier pier = pier();
    pier.at(0);
    assertThat(pier.why("count"))
        .contains("its step port-call/fuel@2027-03-04#1 is itself waiting");
    pier.begin("arrive").end("arrive", 0);
    assertThat(pier.state("fuel")).isEqualTo(RunState.RUNNING);
    assertThat(pier.state("count")).isEqualTo(RunState.STARTING);
    assertThat(pier.state("order")).isEqualTo(RunState.WAITING);
    assertThat(pier.why("fuel")).contains("0 of 3 below it have ended");
    pier.finishAll();
    assertThat(pier.state("fuel")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("leave")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("sorry")).isEqualTo(RunState.SKIPPED);
  }

  @Test
  void aFailureBelowFailsTheStepOnceNothingMovesAndARerunSetsItGoingAgain() {
    Pier pier = inTheStep();
    pier.begin("count").end("count", 3);
    assertThat(pier.state("fuel")).as("survey still runs").isEqualTo(RunState.RUNNING);
    pier.begin("survey").end("survey", 0);
    assertThat(pier.state("fuel")).isEqualTo(RunState.FAILED);
    assertThat(pier.status("fuel").note()).isEqualTo("count failed");
    assertThat(pier.state("sorry")).isEqualTo(RunState.STARTING);
    assertThat(pier.state("leave")).isEqualTo(RunState.WAITING);
    pier.act("count", Action.RERUN);
    assertThat(pier.state("fuel")).isEqualTo(RunState.RUNNING);
    pier.finishAll();
    assertThat(pier.state("fuel")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("leave")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void whichJobsMustSucceedCanBeSaid() {
    Pier pier = new Pier(definitions(INNER.replace("jobs:", "succeeds-if: survey\njobs:"), ""));
    pier.at(0).begin("arrive").end("arrive", 0);
    pier.begin("count").end("count", 3).begin("survey").end("survey", 0);
    assertThat(pier.state("fuel")).isEqualTo(RunState.SUCCEEDED);
    Pier any = new Pier(definitions(INNER.replace("jobs:", "succeeds-if: any\njobs:"), ""));
    any.at(0).begin("arrive").end("arrive", 0);
    any.begin("survey")
        .end("survey", 3)
        .begin("count")
        .end("count", 0)
        .begin("order")
        .end("order", 3);
    assertThat(any.state("fuel")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void cancellingAStepStopsEverythingBelowIt() {
    Pier pier = inTheStep();
    pier.begin("count").begin("survey");
    pier.instructions.clear();
    pier.act("fuel", Action.CANCEL);
    assertThat(pier.given(Instruction.StopAttempt.class)).hasSize(2);
    assertThat(pier.state("order")).isEqualTo(RunState.CANCELLED);
    assertThat(pier.state("fuel")).as("until they have stopped").isEqualTo(RunState.RUNNING);
    pier.act("fuel", Action.CANCEL);
    assertThat(pier.given(Instruction.Refused.class).get(0).reason())
        .isEqualTo(
            "is being stopped already (cancelled by ida: because); it ends when all below it has");
    pier.end("count", 143).end("survey", 143);
    assertThat(pier.state("fuel")).isEqualTo(RunState.CANCELLED);
    assertThat(pier.why("fuel")).startsWith("It was cancelled by ida: because");
    pier.act("fuel", Action.RERUN);
    pier.finishAll();
    assertThat(pier.state("leave")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void aStepThatIsSkippedOrLeftOutTakesAllBelowItAlong() {
    Pier pier = pier();
    pier.act("fuel", Action.SKIP);
    pier.at(0).finishAll();
    for (String job : List.of("fuel", "count", "order", "survey")) {
      assertThat(pier.state(job)).isEqualTo(RunState.SKIPPED);
    }
    assertThat(pier.state("leave")).isEqualTo(RunState.SUCCEEDED);
    Pier out = new Pier(definitions(INNER, ", only-on: monday"));
    assertThat(Pier.DATE.getDayOfWeek()).isEqualTo(java.time.DayOfWeek.THURSDAY);
    out.at(0).finishAll();
    assertThat(out.status("count").note())
        .contains("its step port-call/fuel is left out", "monday");
    assertThat(out.state("leave")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void holdingAStepKeepsWhatIsBelowFromStarting() {
    Pier pier = inTheStep();
    pier.act("fuel", Action.HOLD);
    pier.begin("count").end("count", 0);
    assertThat(pier.state("order")).isEqualTo(RunState.WAITING);
    assertThat(pier.why("order"))
        .contains("held with its step: port-call/fuel@2027-03-04#1 is held by ida");
    assertThat(pier.board.actions(pier.id("order"))).doesNotContain(Action.RELEASE);
    pier.act("fuel", Action.RELEASE);
    assertThat(pier.state("order")).isEqualTo(RunState.STARTING);
  }

  @Test
  void holdingTheStreamHoldsWhatItsStepsRunButNoStreamOfALikeName() {
    Pier pier = inTheStep();
    pier.apply(
        new BoardEvent.HoldPlaced(
            pier.board.now(), new HoldScope(HoldScope.Kind.STREAM, "port-call"), "held by ida"));
    pier.begin("count").end("count", 0);
    assertThat(pier.why("order")).contains("held with the stream port-call, which was held by ida");
    assertThat(new HoldScope(HoldScope.Kind.STREAM, "port").holds(pier.board.runs().get(0)))
        .isFalse();
  }

  @Test
  void markingAStepStopsWhatRunsAndGoesOn() {
    Pier pier = inTheStep();
    pier.begin("count").begin("survey");
    pier.act("fuel", Action.SUCCEED);
    pier.end("count", 143).end("survey", 143);
    assertThat(pier.state("fuel")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("leave")).isEqualTo(RunState.STARTING);
  }

  @Test
  void aRunBelowAStepThatHasNotBegunCannotBeStartedAlone() {
    Pier pier = pier();
    pier.at(0);
    assertThat(pier.board.actions(pier.id("order"))).doesNotContain(Action.START);
    pier.begin("arrive").end("arrive", 0);
    pier.act("order", Action.START);
    assertThat(pier.state("order")).isEqualTo(RunState.STARTING);
  }

  @Test
  void stepsInStepsWork() {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n",
            "stream: c\njobs: { x: { host: quay-north, run: x } }\n",
            "stream: b\njobs: { deep: { stream: c }, y: { host: quay-north, run: x, waits-for: b-deep ended if planned } }\n"
                .replace("b-deep", "deep"),
            """
            stream: a
            schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
            jobs:
              one: { stream: b }
              two: { host: quay-north, run: x, waits-for: a/one/deep/x succeeded and one succeeded }
            """);
    Pier pier = new Pier(definitions);
    pier.at(0);
    assertThat(pier.board.run(pier.id("x")).orElseThrow().run().reference())
        .hasToString("a/one/deep/x@2027-03-04#1");
    assertThat(pier.state("deep")).isEqualTo(RunState.RUNNING);
    pier.finishAll();
    for (RunSpec run : pier.board.runs()) {
      assertThat(pier.board.state(run.id())).contains(RunState.SUCCEEDED);
    }
    assertThat(Pier.specs(definitions, LocalDate.of(2027, 3, 5), 90)).hasSize(5);
  }
}

package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunState;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Overlap, retries, ends, approvals, checks before work, values, and the rarer prerequisites. */
class DecisionsTest {
  private static final String EVERY_TEN =
      """
      stream: night
      schedule: { days: every day, every: 10m between 21:30 and 22:00, zone: Europe/Oslo }
      jobs: { j: { host: quay-north, run: x, overlap: %s } }
      """;

  private static Pier overlapping(String overlap) {
    Pier pier = new Pier(Pier.read("host: quay-north\n", EVERY_TEN.formatted(overlap)));
    pier.at(0).begin("j");
    return pier;
  }

  private static RunState number(Pier pier, int number) {
    return pier.board.runs().stream()
        .filter(run -> run.run().reference().number() == number)
        .map(run -> pier.board.state(run.id()).orElseThrow())
        .findFirst()
        .orElseThrow();
  }

  private static String whyOf(Pier pier, int number) {
    return pier.board.why(pier.board.runs().get(number - 1).id()).sentence();
  }

  @Test
  void aJobThatMustNotOverlapItselfWaitsIsSkippedReplacesOrIsAllowedSoMany() {
    Pier wait = overlapping("wait");
    wait.at(10).at(20);
    assertThat(List.of(number(wait, 2), number(wait, 3)))
        .containsExactly(RunState.WAITING, RunState.WAITING);
    assertThat(whyOf(wait, 2))
        .contains("must not overlap itself, and night/j@2027-03-04#1 is at work");
    wait.end("j", 0);
    assertThat(List.of(number(wait, 2), number(wait, 3)))
        .containsExactly(RunState.STARTING, RunState.WAITING);

    Pier skip = overlapping("skip");
    skip.at(10);
    assertThat(number(skip, 2)).isEqualTo(RunState.SKIPPED);
    assertThat(whyOf(skip, 2)).contains("night/j@2027-03-04#1 is still at work");
    skip.end("j", 0).at(20);
    assertThat(number(skip, 3)).isEqualTo(RunState.STARTING);

    Pier replace = overlapping("replace");
    replace.at(10);
    assertThat(replace.given(Instruction.StopAttempt.class)).hasSize(1);
    assertThat(number(replace, 2)).isEqualTo(RunState.WAITING);
    replace.end("j", 143);
    assertThat(number(replace, 1)).isEqualTo(RunState.CANCELLED);
    assertThat(number(replace, 2)).isEqualTo(RunState.STARTING);

    Pier allow = overlapping("allow 2");
    allow.at(10).at(20);
    assertThat(List.of(number(allow, 2), number(allow, 3)))
        .containsExactly(RunState.STARTING, RunState.WAITING);
  }

  /** #1 fails and is tried again while #2 is at work: a later run is not what it may end. */
  @ParameterizedTest
  @CsvSource({"skip", "replace"})
  void aRetryOfAnEarlierRunNeitherEndsNorIsEndedByALaterOne(String manner) {
    String jobs = "j: { host: quay-north, run: x, retry: { times: 1, wait: 15m }, overlap: %s }";
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\n",
                """
                stream: night
                schedule: { days: every day, every: 10m between 21:30 and 21:40, zone: Europe/Oslo }
                jobs:
                """
                    + jobs.formatted(manner).indent(2)));
    pier.at(0).begin("j");
    pier.at(5).end("j", 3);
    pier.at(10);
    assertThat(number(pier, 2)).isEqualTo(RunState.STARTING);
    pier.at(20);
    assertThat(number(pier, 1)).as("its retry waits").isEqualTo(RunState.WAITING);
    assertThat(number(pier, 2)).isEqualTo(RunState.STARTING);
    long second = pier.board.runs().get(1).id();
    pier.apply(new BoardEvent.AttemptEnded(pier.board.now(), second, 1, Ending.exited(0)));
    assertThat(number(pier, 1)).isEqualTo(RunState.STARTING);
  }

  @Test
  void aRetryHappensOnItsCodesWithAGrowingWait() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x, succeeds-with: 0 to 4, retry: { times: 9, wait: 1m, growing-to: 5m, on: 75 } }");
    pier.at(0);
    for (long minutes : List.of(1L, 2L, 4L, 5L, 5L)) {
      pier.begin("a").end("a", 75);
      assertThat(pier.status("a").retryAt())
          .isEqualTo(pier.board.now() + Duration.ofMinutes(minutes).toMillis());
      pier.apply(new BoardEvent.TimeReached(pier.status("a").retryAt()));
    }
    Board copy = new Board(pier.board);
    pier.begin("a").end("a", 3);
    assertThat(pier.state("a")).isEqualTo(RunState.SUCCEEDED);
    copy.turn(new BoardEvent.AttemptEnded(copy.now(), pier.id("a"), 6, Ending.exited(76)));
    assertThat(copy.state(pier.id("a"))).contains(RunState.FAILED);
  }

  @Test
  void aPersonsWordEndsARunAndItsProcess() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\nb: { host: quay-north, run: x, waits-for: a succeeded }");
    pier.at(0).begin("a");
    pier.act("a", Action.SUCCEED);
    assertThat(pier.given(Instruction.StopAttempt.class)).hasSize(1);
    assertThat(pier.state("b")).as("until the process is gone").isEqualTo(RunState.WAITING);
    pier.end("a", 143);
    assertThat(pier.state("a")).isEqualTo(RunState.SUCCEEDED);
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-north"));
    pier.act("b", Action.FAIL);
    assertThat(pier.state("b")).as("nobody can stop it there").isEqualTo(RunState.FAILED);
  }

  /** Dates and parameters are filled in beforehand, and what jobs hand back once it is asked. */
  @Test
  void aQuestionIsAskedWithItsValues() {
    Pier pier =
        new Pier(
            Pier.read(
                Pier.SITE,
                """
                stream: night
                parameters: { port: skerry }
                schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
                jobs:
                  load: { host: quay-north, run: x }
                  none: { host: quay-north, run: x }
                  ask:
                    approve: ${value rows of load} rows for ${port} on ${date}, ${value odd of none} odd?
                    waits-for: load succeeded
                """));
    assertThat(pier.board.work(pier.id("ask")))
        .isEqualTo(
            "${value rows of load} rows for skerry on 2027-03-04, ${value odd of none} odd?");
    pier.at(0).begin("load").end("load", 0, Map.of("rows", "41"));
    String asked = "41 rows for skerry on 2027-03-04, ${value odd of none} odd?";
    assertThat(pier.board.work(pier.id("ask"))).isEqualTo(asked);
    assertThat(pier.why("ask")).contains(asked);
    assertThat(pier.given(Instruction.AskPerson.class))
        .singleElement()
        .satisfies(one -> assertThat(one.question()).isEqualTo(asked));
  }

  @Test
  void aQuestionRemindsAndLapses() {
    Pier pier =
        new Pier(
            """
            ask: { approve: "Agreed?", answer: { by: [ida, per], remind: 30m, lapses: 2h, then: skip } }
            b: { host: quay-north, run: x, waits-for: ask succeeded }
            """);
    pier.at(0);
    assertThat(pier.why("ask")).contains("Agreed?", "it lapses at 23:30 Oslo, which means skip");
    pier.at(29);
    assertThat(pier.given(Instruction.OpenAlert.class)).isEmpty();
    pier.at(30);
    assertThat(pier.given(Instruction.OpenAlert.class))
        .singleElement()
        .satisfies(alert -> assertThat(alert.kind()).isEqualTo(AlertKind.APPROVAL));
    List<Instruction> refused =
        pier.apply(
            new BoardEvent.PersonActed(
                pier.board.now(), pier.id("ask"), Action.APPROVE, "ola", ""));
    assertThat(refused.toString()).contains("ola may not decide this question; only ida, per may");
    pier.at(120);
    assertThat(pier.state("ask")).isEqualTo(RunState.SKIPPED);
    assertThat(pier.status("ask").note()).isEqualTo("not answered within 2h, and has lapsed");
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
    assertThat(pier.given(Instruction.CloseAlert.class)).hasSize(1);
  }

  @Test
  void aQuestionThatIsHeldDoesNotLapse() {
    Pier pier = new Pier("ask: { approve: Agreed?, answer: { lapses: 1h } }");
    pier.at(0);
    pier.act("ask", Action.HOLD);
    pier.at(61);
    assertThat(pier.state("ask")).isEqualTo(RunState.WAITING);
    pier.act("ask", Action.RELEASE);
    pier.at(120);
    assertThat(pier.state("ask")).isEqualTo(RunState.WAITING);
    pier.at(121);
    assertThat(pier.state("ask")).isEqualTo(RunState.FAILED);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          value rows of a > 0       | rows=3   | starting | is about
          value rows of a > 0       | rows=0   | skipped  | rows of night/a is 0
          value rows of a > 0       | other=1  | failed   | night/a handed back no value rows
          not value kind of a = "x" | kind=x   | skipped  | nothing to do
          not value kind of a = "x" | kind=y   | starting |
          """)
  void aComparisonDecidesWhetherThereIsAnythingToDo(
      String check, String values, String state, String note) {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\n"
                + "b: { host: quay-north, run: x, waits-for: a succeeded, only-if: '"
                + check
                + "' }\nc: { host: quay-north, run: x, waits-for: b succeeded }");
    String[] pair = values.split("=");
    pier.at(0).begin("a").end("a", 0, Map.of(pair[0], pair[1]));
    assertThat(pier.state("b").word()).isEqualTo(state);
    if (note != null && !state.equals("starting")) {
      assertThat(pier.why("b")).contains(note);
    }
    assertThat(pier.state("c"))
        .isEqualTo(state.equals("skipped") ? RunState.STARTING : RunState.WAITING);
  }

  @Test
  void aCheckByCommandSkipsOrFailsTheRun() {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x, only-if: ./any-new.sh }\nb: { host: quay-north, run: x, waits-for: a succeeded }");
    pier.at(0).begin("a");
    Board copy = new Board(pier.board);
    end(pier.board, pier.id("a"), new Ending(Ending.Kind.NOTHING_TO_DO, 1, ""));
    assertThat(pier.why("a"))
        .contains("nothing to do: its check before work says so (./any-new.sh)");
    assertThat(pier.state("b")).isEqualTo(RunState.STARTING);
    end(copy, pier.id("a"), new Ending(Ending.Kind.CHECK_FAILED, 127, ""));
    assertThat(copy.why(pier.id("a")).sentence())
        .contains("check before work failed with exit code 127");
  }

  private static void end(Board board, long run, Ending ending) {
    board.turn(new BoardEvent.AttemptEnded(board.now(), run, 1, ending));
  }

  /** What a run that waits for something of "a" does, once "a" has ended in some way. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          a ended with code 0 to 4        | 0  | starting
          a ended with code 1 to 4        | 0  | skipped
          a ended with code 1 to 4        | 3  | starting
          a ended with code 1 to 4        | 9  | waiting
          value n of a > 5                | 0  | starting
          value n of a > 50               | 0  | skipped
          not value n of a > 50           | 0  | starting
          value m of a > 5                | 0  | waiting
          not a running                   | 0  | starting
          a running                       | 0  | starting
          not (a running or a failed)     | 3  | skipped
          a failed or value n of a < 8    | 0  | starting
          """)
  void thePrerequisiteDecides(String prerequisite, int code, String state) {
    Pier pier =
        new Pier(
            "a: { host: quay-north, run: x }\nb: { host: quay-north, run: x, waits-for: '"
                + prerequisite
                + "' }");
    pier.at(0).begin("a");
    pier.end("a", code, Map.of("n", "7"));
    RunState end = pier.state("b");
    assertThat(end.word()).isEqualTo(state);
    assertThat(pier.board.why(pier.id("b")).reasons().isEmpty()).isEqualTo(end != RunState.WAITING);
  }

  @Test
  void runningIsAskedOfTheMoment() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x, not-before: "21:40" }
            with: { host: quay-north, run: x, waits-for: a running }
            without: { host: quay-north, run: x, waits-for: not a running, not-before: "21:41" }
            """);
    pier.at(0);
    assertThat(pier.state("with")).isEqualTo(RunState.WAITING);
    pier.at(10);
    assertThat(pier.state("with")).isEqualTo(RunState.STARTING);
    pier.at(11);
    assertThat(pier.why("without")).contains("night/a is starting, and this must not be");
    pier.begin("a").end("a", 0);
    assertThat(pier.state("without")).isEqualTo(RunState.STARTING);
  }

  @Test
  void theRunOfThePreviousBusinessDateIsMeantAcrossTheWeekend() {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n",
            """
            stream: s
            schedule: { days: weekdays, at: "21:30", zone: Europe/Oslo }
            jobs:
              a: { host: quay-north, run: x }
              b: { host: quay-north, run: x, waits-for: a succeeded on the previous business date }
            """);
    Pier pier = new Pier(Definitions.none());
    pier.apply(dev.purser.core.forecast.Outlook.site(definitions, pier.board.now()));
    pier.apply(
        new BoardEvent.RunsPlanned(
            pier.board.now(), Pier.specs(definitions, Pier.DATE.plusDays(1), 10)));
    pier.apply(
        new BoardEvent.RunsPlanned(
            pier.board.now(), Pier.specs(definitions, Pier.DATE.plusDays(4), 20)));
    pier.at(24 * 60).finishAll();
    pier.apply(new BoardEvent.DatesClosed(pier.board.now(), Pier.DATE.plusDays(3)));
    assertThat(pier.board.run(10)).as("still looked at from Monday").isPresent();
    pier.at(4 * 24 * 60);
    assertThat(pier.board.state(21)).contains(RunState.STARTING);
    assertThat(pier.board.why(11).sentence())
        .contains("s/a is not planned on 2027-03-04, the previous business date");
  }

  @Test
  void withinLooksBackOverDates() {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n",
            """
            stream: tide
            schedule: { days: "2027-03-04", at: ["09:00", "15:00"], zone: Europe/Oslo }
            jobs: { import: { host: quay-north, run: x } }
            ---
            stream: s
            schedule: { days: every day, at: ["21:30"], zone: Europe/Oslo }
            jobs: { b: { host: quay-north, run: x, waits-for: tide/import succeeded within 12h } }
            """);
    Pier pier = new Pier(definitions);
    pier.apply(
        new BoardEvent.RunsPlanned(
            pier.board.now(), Pier.specs(definitions, Pier.DATE.plusDays(1), 10)));
    pier.at(-6 * 60).at(-5 * 60).finishAll();
    pier.at(0);
    assertThat(pier.board.state(pier.id("b"))).contains(RunState.STARTING);
    pier.at(24 * 60);
    assertThat(pier.board.why(10).sentence())
        .contains("no run of tide/import has succeeded within 12h, and none is to come");
  }

  @Test
  void whatIsOptionalIsNotWaitedForWhereItIsNotPlanned() {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n",
            """
            stream: rare
            schedule: { days: monday, at: "06:00", zone: Europe/Oslo }
            jobs: { r: { host: quay-north, run: x } }
            ---
            stream: s
            schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
            jobs:
              must: { host: quay-north, run: x, waits-for: rare succeeded }
              may: { host: quay-north, run: x, waits-for: rare succeeded if planned and value n of rare/r > 1 if planned }
            """);
    Pier pier = new Pier(definitions);
    pier.at(0);
    assertThat(pier.state("may")).isEqualTo(RunState.STARTING);
    assertThat(pier.why("must")).contains("rare is not planned on 2027-03-04");
  }

  @Test
  void aStreamADepartmentOrAJobIsHeldUntilItIsReleased() {
    for (HoldScope scope :
        List.of(
            new HoldScope(HoldScope.Kind.STREAM, "night"),
            new HoldScope(HoldScope.Kind.JOB, "night/a"),
            new HoldScope(HoldScope.Kind.DEPARTMENT, ""))) {
      Pier pier = new Pier("a: { host: quay-north, run: x }");
      pier.apply(new BoardEvent.HoldPlaced(pier.board.now(), scope, "held by ida: works"));
      pier.at(0);
      assertThat(pier.why("a"))
          .contains("held with the " + scope + ", which was held by ida: works");
      assertThat(pier.board.holds()).containsOnlyKeys(scope);
      pier.apply(new BoardEvent.HoldLifted(pier.board.now(), scope));
      assertThat(pier.state("a")).isEqualTo(RunState.STARTING);
    }
  }

  @Test
  void itAndAllThatFollowsAreRunAgain() {
    Pier pier =
        new Pier(
            """
            a: { host: quay-north, run: x }
            b: { host: quay-north, run: x, waits-for: a succeeded }
            c: { host: quay-north, run: x, waits-for: b succeeded }
            d: { host: quay-north, run: x }
            """);
    pier.at(0).finishAll();
    pier.act("a", Action.RERUN_FROM);
    assertThat(List.of(pier.state("a"), pier.state("b"), pier.state("c"), pier.state("d")))
        .containsExactly(RunState.STARTING, RunState.WAITING, RunState.WAITING, RunState.SUCCEEDED);
    assertThat(pier.status("c").note()).contains("rerun after night/a@2027-03-04#1");
    pier.finishAll();
    assertThat(pier.status("c").attempts()).isEqualTo(2);
  }

  @Test
  void anotherStartTimeMovesARunBothWays() {
    Pier pier =
        new Pier("a: { host: quay-north, run: x, waits-for: b succeeded }\nb: { approve: Yes? }");
    pier.act("a", Action.START_AT, Pier.minute(30));
    pier.at(29);
    assertThat(pier.state("a")).isEqualTo(RunState.PLANNED);
    assertThat(pier.why("a")).contains("It is due at 22:00 Oslo");
    pier.at(30);
    assertThat(pier.state("a")).isEqualTo(RunState.WAITING);
    pier.act("a", Action.START_AT, Pier.minute(60));
    assertThat(pier.state("a")).isEqualTo(RunState.PLANNED);
    pier.act("a", Action.START_AT, Pier.minute(1));
    assertThat(pier.state("a")).isEqualTo(RunState.WAITING);
  }
}

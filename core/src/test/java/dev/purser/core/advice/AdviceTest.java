package dev.purser.core.advice;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dev.purser.core.board.Board;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.TypicalOutcomes;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/**
 * The chain that decides a promise, what makes the difference to the usual, and what would help.
 */
class AdviceTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final long NINE = Instant.parse("2027-03-04T21:00:00Z").toEpochMilli();
  private static final long MINUTE = 60_000;
  private static final Definitions ALL =
      DefinitionCheck.check(
              Definitions.none(),
              List.of(
                  new SourceFile(
                      "f",
                      """
                      host: quay
                      ---
                      capacity: slots
                      units: 1
                      ---
                      stream: inner
                      jobs:
                        one: { host: quay, run: x }
                        two: { host: quay, run: x, waits-for: one succeeded }
                      ---
                      stream: night
                      paused: no
                      schedule: { days: every day, at: "21:00", zone: UTC }
                      jobs:
                        short: { host: quay, run: x }
                        long: { host: quay, run: x }
                        step: { stream: inner, waits-for: short succeeded }
                        build: { host: quay, run: x, waits-for: long succeeded and step succeeded, takes: { slots: 1 } }
                        file: { host: quay, run: x, waits-for: build succeeded }
                        apart: { host: quay, run: x, waits-for: short succeeded }
                      ---
                      stream: other
                      paused: no
                      schedule: { days: every day, at: "21:29", zone: UTC }
                      jobs: { hog: { host: quay, run: x, takes: { slots: 1 } } }
                      ---
                      commitment: filed
                      of: night/file
                      within: 1h
                      ---
                      commitment: hogged
                      of: other/hog
                      within: 25m
                      """)),
              DATE)
          .definitions();

  private static final Map<String, long[]> MINUTES =
      Map.of(
          "night/short", of(5),
          "night/step/one", of(6),
          "night/step/two", of(7),
          "night/long", of(30),
          "night/build", of(10),
          "night/file", of(2),
          "night/apart", of(90),
          "other/hog", of(20));

  private static long[] of(int minutes) {
    return new long[] {minutes * MINUTE};
  }

  private static final TypicalOutcomes TYPICAL =
      new TypicalOutcomes(History.of(MINUTES, Map.of(), Map.of()));

  private final Board board = new Board();
  private final List<Promised> promised =
      new Promises(ALL, Map.of()).of(DATE, new Planner(ALL).plan(DATE));

  AdviceTest() {
    List<RunSpec> specs = new ArrayList<>();
    new Planner(ALL).plan(DATE).forEach(run -> specs.add(new RunSpec(specs.size() + 1L, run, 0)));
    board.apply(Outlook.site(ALL, NINE - 1));
    board.turn(new BoardEvent.HostSeen(NINE - 1, "quay", Set.of()));
    board.turn(new BoardEvent.RunsPlanned(NINE - 1, specs));
  }

  private Promised promise(String name) {
    return promised.stream()
        .filter(one -> one.commitment().name().equals(name))
        .findFirst()
        .orElseThrow();
  }

  private Course course() {
    Promised filed = promise("filed");
    return Course.of(
        board, TYPICAL, filed, Lineage.of(ALL, filed.commitment()), NINE + 600 * MINUTE);
  }

  private long id(String path) {
    return board.runs().stream()
        .filter(run -> run.run().reference().path().equals(path))
        .findFirst()
        .orElseThrow()
        .id();
  }

  private static List<String> names(List<Course.Leg> legs) {
    return legs.stream().map(leg -> leg.run().run().reference().path()).toList();
  }

  @Test
  void theChainThatDecidesGoesBackToTheFirstRun() {
    Course course = course();
    assertThat(names(course.chain())).containsExactly("night/long", "night/build", "night/file");
    assertThat(course.legs())
        .doesNotContainKey(id("night/apart"))
        .doesNotContainKey(id("other/hog"));
    assertThat(course.legs().get(id("night/build")).waitsFor())
        .contains(id("night/long"), id("night/step/two"));
    // the step is done at 21:18, and build starts at 21:49, when the units are free
    assertThat(course.legs().get(id("night/step/two")).slack()).isEqualTo(31 * MINUTE);
    assertThat(course.legs().get(id("night/short")).slack()).isEqualTo(31 * MINUTE);
    assertThat(course.legs().get(id("night/file")).slack()).isZero();
  }

  @Test
  void theCausesAddUpToTheDifference() {
    Course course = course();
    long end = course.legs().get(id("night/file")).end();
    assertThat(end).isEqualTo(NINE + 61 * MINUTE);
    long usualEnd = NINE + 40 * MINUTE;
    List<Causes.Cause> causes =
        Causes.of(
            course,
            usualEnd,
            run -> run.run().reference().job().equals("long") ? 27 * MINUTE : -1,
            Causes.Records.none());
    assertThat(causes)
        .extracting(Causes.Cause::text)
        .containsExactly(
            "ran longer than usual",
            "waited for units of slots",
            "all else: on other days other runs decide");
    assertThat(causes.stream().mapToLong(Causes.Cause::millis).sum()).isEqualTo(end - usualEnd);
    assertThat((double) causes.get(1).millis()).isCloseTo(19.0 * MINUTE, within(1.0));
  }

  private List<Helps.Help> helps(String name) {
    return new Helps(board, TYPICAL, promised, 3, board.now() + 600 * MINUTE)
        .of(promise(name), course());
  }

  private static String act(Helps.Help help) {
    return help.remedy() instanceof Remedy.OnRun on ? on.action().word() : help.remedy().toString();
  }

  /** The hog holds the only unit until 21:49: with one more, build starts at 21:30. */
  @Test
  void moreUnitsHelpWhereOthersHoldThem() {
    List<Helps.Help> helps = helps("filed");
    assertThat(helps)
        .filteredOn(help -> help.remedy() instanceof Remedy.MoreUnits)
        .singleElement()
        .satisfies(
            help -> {
              Remedy.MoreUnits more = (Remedy.MoreUnits) help.remedy();
              assertThat(more.capacity()).isEqualTo("slots");
              assertThat(more.units()).isEqualTo(2);
              assertThat(help.after().end()).isEqualTo(NINE + 42 * MINUTE);
              assertThat(help.cost()).isEmpty();
            });
  }

  @Test
  void aDrainedHostIsReturned() {
    board.turn(new BoardEvent.HostDrained(NINE - 1, "quay", "ida: a new disk"));
    assertThat(helps("filed"))
        .filteredOn(help -> help.remedy() instanceof Remedy.HostReturned)
        .singleElement()
        .satisfies(help -> assertThat(help.after().end()).isPositive());
  }

  @Test
  void whatIsOnRecordSaysWhyARunWaited() {
    List<Causes.Cause> causes =
        Causes.of(
            course(),
            NINE + 40 * MINUTE,
            run -> -1,
            (run, from, to) ->
                run.run().reference().job().equals("build") && to - from == 19 * MINUTE
                    ? Optional.of("was held")
                    : Optional.empty());
    assertThat(causes).extracting(Causes.Cause::text).contains("was held");
  }

  @Test
  void aFailureIsRerunAndThatIsFoundOutOnACopy() {
    board.turn(new BoardEvent.TimeReached(NINE));
    long run = id("night/long");
    board.turn(new BoardEvent.AttemptBegan(NINE, run, 1));
    board.turn(new BoardEvent.AttemptEnded(NINE + MINUTE, run, 1, Ending.exited(3)));
    List<Helps.Help> helps = helps("filed");
    assertThat(helps)
        .extracting(AdviceTest::act)
        .contains(Action.RERUN.word(), Action.SUCCEED.word());
    assertThat(helps).allSatisfy(help -> assertThat(help.after().end()).isPositive());
    assertThat(board.state(run)).contains(RunState.FAILED);
  }
}

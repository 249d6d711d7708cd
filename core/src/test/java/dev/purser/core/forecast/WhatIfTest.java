package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.Action;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What an action would do: the sentences, and that nothing is done. */
class WhatIfTest {
  private static final TypicalOutcomes TYPICAL = new TypicalOutcomes(History.NONE);
  private static final String JOBS =
      """
      first: { host: quay-north, run: x, usually: 10m }
      second: { host: quay-north, run: x, usually: 20m, waits-for: first succeeded, finish-by: "22:05" }
      third: { host: quay-south, run: x, usually: 5m, takes: { ledger-slots: 1 } }
      fourth: { host: quay-south, run: x, usually: 5m, takes: { ledger-slots: 1 }, not-before: "21:31" }
      ask: { approve: "Yes?", waits-for: first succeeded }
      last: { host: quay-north, run: x, usually: 1m, waits-for: ask succeeded }
      """;

  private static Pier running() {
    Pier pier = new Pier(JOBS);
    pier.at(0).begin("first").begin("third").at(2);
    return pier;
  }

  private static String said(Pier pier, BoardEvent... change) {
    WhatIf.Effect effect =
        WhatIf.of(pier.board, TYPICAL, List.of(change), pier.board.now() + 86_400_000L);
    return String.join("\n", effect.sentences());
  }

  private static BoardEvent act(Pier pier, String job, Action action, long argument) {
    return new BoardEvent.PersonActed(pier.board.now(), pier.id(job), action, "ida", "", argument);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          first  | cancel  | It touches 1 run: night/first@2027-03-04#1 is stopped while it is running.
          first  | cancel  | It blocks 1 run: they will wait for a person: night/second@2027-03-04#1.
          first  | cancel  | Expected to miss the finish-by with this: night/second@2027-03-04#1.
          second | start   | night/second@2027-03-04#1 starts at once.
          second | start   | Expected to miss
          second | skip    | night/second@2027-03-04#1 goes from waiting to skipped.
          second | skip    | The last run of 2027-03-04 is expected to end at 21:40 instead of 22:00: 20m earlier
          second | hold    | night/second@2027-03-04#1 stays waiting.
          second | hold    | 3 runs of it wait for a person then.
          third  | cancel  | 1 run ends earlier, the most night/fourth@2027-03-04#1 by 3m.
          first  | approve | Not possible: night/first@2027-03-04#1: a run that is running cannot be approved
          """)
  void itSaysWhatFollows(String job, String action, String sentence) {
    Pier pier = running();
    String said = said(pier, act(pier, job, Action.of(action).orElseThrow(), 0));
    if (sentence.equals("Expected to miss")) {
      assertThat(said).doesNotContain(sentence);
    } else {
      assertThat(said).contains(sentence);
    }
  }

  @Test
  void anAnswerFreesWhatWaitsForIt() {
    Pier pier = running();
    pier.at(10).end("first", 0);
    assertThat(said(pier, act(pier, "ask", Action.APPROVE, 0)))
        .contains("night/ask@2027-03-04#1 goes from waiting to succeeded")
        .contains("night/last@2027-03-04#1 starts at once");
  }

  @Test
  void aRerunFreesWhatIsStuck() {
    Pier pier = running();
    pier.at(10).end("first", 3);
    assertThat(said(pier, act(pier, "first", Action.RERUN, 0)))
        .contains("It frees 1 run that would otherwise wait for a person: night/second@");
  }

  @Test
  void capacityHoldsAndStartsAreLookedAheadAtToo() {
    Pier pier = running();
    assertThat(said(pier, new BoardEvent.CapacitySet(pier.board.now(), "ledger-slots", 2)))
        .contains("night/fourth@2027-03-04#1 starts at once");
    assertThat(
            said(
                pier,
                new BoardEvent.HoldPlaced(
                    pier.board.now(),
                    new HoldScope(HoldScope.Kind.STREAM, "night"),
                    "held by ida")))
        .contains("It changes no run")
        .contains("It blocks");
    List<RunSpec> specs = new ArrayList<>();
    new Planner(pier.definitions)
        .byHand(
            pier.definitions.stream("night").orElseThrow(),
            Planner.ByHand.of(
                java.util.Optional.empty(),
                Pier.DATE,
                9,
                java.time.Instant.ofEpochMilli(pier.board.now()),
                java.time.ZoneId.of("UTC")))
        .forEach(run -> specs.add(new RunSpec(-1L - specs.size(), run, 0)));
    assertThat(said(pier, new BoardEvent.RunsPlanned(pier.board.now(), specs)))
        .contains("It touches 6 runs", "night/first@2027-03-04#9 starts at once");
  }

  @ParameterizedTest
  @ValueSource(strings = {"first", "second", "third", "ask"})
  void nothingIsDone(String job) {
    Pier pier = running();
    Board before = new Board(pier.board);
    for (Action action : Action.values()) {
      said(pier, act(pier, job, action, pier.board.now() + 60_000));
    }
    for (RunSpec run : pier.board.runs()) {
      assertThat(pier.board.status(run.id())).isEqualTo(before.status(run.id()));
    }
  }

  @Test
  void twoRehearsalsSideBySideSayWhatMovedAndWhy() {
    Rehearsal usual = rehearsal(10);
    Rehearsal slow = rehearsal(30);
    List<Compared.Row> rows = Compared.of(usual, slow);
    assertThat(rows).hasSize(6);
    assertThat(rows.stream().filter(Compared.Row::differs).map(row -> row.run().job()))
        .contains("first", "second")
        .doesNotContain("third", "fourth");
    Compared.Row second =
        rows.stream().filter(row -> row.run().job().equals("second")).findFirst().orElseThrow();
    assertThat(second.second().orElseThrow().because()).isEqualTo("night/first@2027-03-04#1 ended");
    assertThat(second.second().orElseThrow().start() - second.first().orElseThrow().start())
        .isEqualTo(20 * 60_000L);
  }

  private static Rehearsal rehearsal(int minutes) {
    Pier pier = new Pier(JOBS);
    TypicalOutcomes outcomes =
        new TypicalOutcomes(
            History.of(Map.of("night/first", new long[] {minutes * 60_000L}), Map.of(), Map.of()));
    Rehearsal rehearsal = new Rehearsal(pier.board, outcomes, new java.util.SplittableRandom(1));
    rehearsal.play(Pier.minute(24 * 60));
    return rehearsal;
  }
}

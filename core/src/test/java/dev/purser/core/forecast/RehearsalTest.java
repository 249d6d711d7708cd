package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class RehearsalTest {
  private static final FixedOutcomes.Known KNOWN =
      new FixedOutcomes.Known(
          Set.of("night/close", "night/ask"), Set.of("night/ask"), Set.of("harbour-feed"));
  private static final String JOBS =
      """
      close: { host: quay-north, run: x, usually: 4m to 9m }
      build:
        host: any of quays
        run: x
        waits-for: close succeeded and file harbour-feed arrived
        retry: { times: 1, wait: 1m }
        finish-by: "22:00"
      ask: { approve: "File it?", waits-for: build succeeded }
      mend: { host: quay-north, run: x, waits-for: build failed }
      """;
  private static final UsualOutcomes USUAL = new UsualOutcomes(History.NONE);
  private static final Instant BEFORE = Instant.ofEpochMilli(Pier.DUE - 1000);

  private static Rehearsal rehearse(Definitions definitions, Outcomes outcomes) {
    List<RunSpec> specs = Pier.specs(definitions, Pier.DATE, 1);
    Board board = Outlook.boardOf(definitions, List.of(), BEFORE);
    Rehearsal rehearsal = new Rehearsal(board, outcomes, new SplittableRandom(7));
    rehearsal.apply(new BoardEvent.RunsPlanned(BEFORE.toEpochMilli(), specs));
    rehearsal.play(Long.MAX_VALUE);
    return rehearsal;
  }

  private static String line(Rehearsal rehearsal, RunSpec run) {
    var status = rehearsal.board().status(run.id()).orElseThrow();
    long minutes = status.ended() == 0 ? -1 : (status.ended() - Pier.DUE) / 60_000;
    return run.run().reference().job() + " " + status.state().word() + " " + minutes;
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      textBlock =
          """
          'close: 4m succeeded\nbuild: 10m succeeded'              ; close succeeded 4, build succeeded 14, ask succeeded 14, mend skipped 14
          'close: 4m\nbuild: [10m failed, 5m succeeded]'           ; close succeeded 4, build succeeded 20, ask succeeded 20, mend skipped 20
          'night/close: 4m\nbuild: 2m failed\nmend: 3m succeeded'  ; close succeeded 4, build failed 9, ask waiting -1, mend succeeded 12
          'close: 30s failed'                                      ; close failed 0, build waiting -1, ask waiting -1, mend waiting -1
          'close: 4m\nbuild: 1m\nfile harbour-feed: \"21:50\"'     ; close succeeded 4, build succeeded 21, ask succeeded 21, mend skipped 21
          'close: 4m\nbuild: 1m\nfile harbour-feed: never'         ; close succeeded 4, build waiting -1, ask waiting -1, mend waiting -1
          """)
  void aDatePlaysThroughAsTheFileSays(String durations, String expected) {
    Definitions definitions = Pier.definitions(JOBS);
    FixedOutcomes.Reading reading =
        FixedOutcomes.read(
            "d.yaml",
            durations.replace("\\n", "\n"),
            FixedOutcomes.Known.of(
                definitions, List.of("night/close", "night/build", "night/ask", "night/mend")),
            USUAL);
    assertThat(reading.problems()).isEmpty();
    Rehearsal rehearsal = rehearse(definitions, reading.outcomes());
    List<String> lines = new ArrayList<>();
    rehearsal.board().runs().forEach(run -> lines.add(line(rehearsal, run)));
    assertThat(String.join(", ", lines)).isEqualTo(expected);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      textBlock =
          """
          close: four minutes   ; expected a duration and an outcome
          close: 4m exploded    ; expected a duration and an outcome
          clos: 4m              ; unknown job "clos"
          file harbour-feed: noon ; expected a time
          file harbor-feed: never ; unknown file watch "harbor-feed"; did you mean "harbour-feed"?
          close: 4m exit code 256 ; expected a duration and an outcome
          close: never          ; only a question is never answered
          close: [4m, never]    ; only a question is never answered
          'close: 4m\nclose: 5m' ; this name is given twice
          [a]                   ; expected lines such as
          """)
  void whatCannotBeReadInTheFileIsNamed(String text, String message) {
    assertThat(FixedOutcomes.read("d.yaml", text.replace("\\n", "\n"), KNOWN, USUAL).problems())
        .singleElement()
        .satisfies(problem -> assertThat(problem.message()).contains(message));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "# nothing yet", "ask: never", "night/ask: [20m approved, never]"})
  void whatSaysNothingOrOnlyOfQuestionsIsSound(String text) {
    assertThat(FixedOutcomes.read("d.yaml", text, KNOWN, USUAL).problems()).isEmpty();
  }

  @Test
  void theEventsOfADayFedToAFreshBoardGiveTheSameInstructions() {
    Definitions definitions = Pier.definitions(JOBS);
    Rehearsal rehearsal = rehearse(definitions, USUAL);
    Board again = Outlook.boardOf(definitions, List.of(), BEFORE);
    rehearsal.events().forEach(again::turn);
    for (RunSpec run : rehearsal.board().runs()) {
      assertThat(again.status(run.id())).isEqualTo(rehearsal.board().status(run.id()));
    }
  }

  @Test
  void theOutlookGivesLikelyTimesARangeAndTheChanceOfBeingLate() {
    Definitions definitions = Pier.definitions(JOBS);
    Outcomes history =
        new UsualOutcomes(
            History.of(
                Map.of("night/build", new long[] {600_000, 600_000, 600_000, 3_600_000}),
                Map.of(),
                Map.of()));
    Board board = Outlook.boardOf(definitions, List.of(), BEFORE);
    List<RunSpec> specs = Pier.specs(definitions, Pier.DATE, 1);
    List<RunOutlook> outlooks = new Outlook(board, history, 7).play(specs, 400, Long.MAX_VALUE - 1);
    RunOutlook close = outlooks.get(0);
    assertThat(close.start()).isEqualTo(Pier.DUE);
    assertThat(close.end()).isBetween(Pier.minute(6), Pier.minute(7));
    assertThat(close.earliestEnd()).isBetween(Pier.minute(4), Pier.minute(5));
    assertThat(close.latestEnd()).isBetween(Pier.minute(8), Pier.minute(9));
    assertThat(outlooks.get(1).chanceLate()).isBetween(0.18, 0.32);
    assertThat(outlooks.get(3).state()).isEqualTo(RunState.SKIPPED);
    assertThat(board.size()).isZero();
    assertThat(new Outlook(board, history, 7).play(specs, 400, Long.MAX_VALUE - 1))
        .isEqualTo(outlooks);
  }

  @Test
  void anOutlookFromAMomentOfTheDayKnowsWhatRunsAlreadyAndWhatIsHeld() {
    Pier pier = new Pier(JOBS);
    pier.at(0).begin("close").at(8);
    List<RunOutlook> outlooks =
        new Outlook(pier.board, USUAL, 1).play(List.of(), 50, Pier.minute(600));
    assertThat(outlooks.get(0).end()).isBetween(Pier.minute(8), Pier.minute(9));
    pier.act("build", Action.HOLD);
    outlooks = new Outlook(pier.board, USUAL, 1).play(List.of(), 50, Pier.minute(600));
    assertThat(outlooks.get(1).state()).isEqualTo(RunState.WAITING);
    assertThat(outlooks.get(1).hangsOn()).isEqualTo(RunOutlook.HangsOn.PERSON);
    assertThat(outlooks.get(1).canSayLate()).isFalse();
  }

  @Test
  void aDurationsFileSaysAnswersChecksCodesAndValues() {
    Definitions definitions =
        Pier.definitions(
            """
            count: { host: quay-north, run: x }
            load: { host: quay-north, run: x, waits-for: count ended with code 3, only-if: ./check }
            big: { host: quay-north, run: x, waits-for: value rows of count > 1000 }
            ask: { approve: "Yes?", answer: { lapses: 2h } }
            never: { approve: "No?", answer: { lapses: 1h, then: skip } }
            """);
    FixedOutcomes.Reading reading =
        FixedOutcomes.read(
            "d.yaml",
            """
            count: { goes: 5m exit code 3, values: { rows: 1200 } }
            load: 2s nothing to do
            ask: 20m refused
            never: never
            """,
            FixedOutcomes.Known.of(
                definitions, List.of("night/count", "night/load", "night/ask", "night/never")),
            USUAL);
    assertThat(reading.problems()).isEmpty();
    Rehearsal rehearsal = rehearse(definitions, reading.outcomes());
    Map<String, String> ends = new java.util.HashMap<>();
    for (RunSpec run : rehearsal.board().runs()) {
      var status = rehearsal.board().status(run.id()).orElseThrow();
      ends.put(run.run().reference().job(), status.state().word() + " " + status.note());
    }
    assertThat(ends.get("load")).contains("skipped nothing to do");
    assertThat(ends.get("big")).startsWith("succeeded");
    assertThat(ends.get("ask")).contains("failed refused by rehearsal");
    assertThat(ends.get("never")).contains("skipped not answered within 1h");
  }

  /** What its job takes for success is success, as usual and by an author's word; so is failure. */
  @Test
  void aJobWithItsOwnCodesIsForecastByThem() {
    Definitions definitions =
        Pier.definitions(
            """
            usual: { host: quay-north, run: x, succeeds-with: "3 to 5" }
            said: { host: quay-north, run: x, succeeds-with: "3 to 5" }
            bad: { host: quay-north, run: x, succeeds-with: "0 to 2" }
            """);
    FixedOutcomes.Reading reading =
        FixedOutcomes.read(
            "d.yaml",
            "said: 4m succeeded\nbad: 1m failed\n",
            FixedOutcomes.Known.of(definitions, List.of("night/usual", "night/said", "night/bad")),
            USUAL);
    Rehearsal rehearsal = rehearse(definitions, reading.outcomes());
    Map<String, String> ends = new java.util.TreeMap<>();
    for (RunSpec run : rehearsal.board().runs()) {
      var status = rehearsal.board().status(run.id()).orElseThrow();
      ends.put(run.run().reference().job(), status.state().word() + " " + status.exitCode());
    }
    assertThat(ends)
        .isEqualTo(Map.of("usual", "succeeded 3", "said", "succeeded 3", "bad", "failed 3"));
  }

  @Test
  void aDurationsFileThatCannotBeUsedIsPointedAt() {
    FixedOutcomes.Reading reading =
        FixedOutcomes.read(
            "d.yaml",
            "count: 4m maybe\nload: { gos: 1m }\n",
            new FixedOutcomes.Known(Set.of("night/count", "night/load"), Set.of(), Set.of()),
            USUAL);
    assertThat(reading.problems().toString())
        .contains("d.yaml:1:8", "4m succeeded, 30s failed", "d.yaml:2:9", "expected \"goes\"");
  }
}

package dev.purser.core.alerting;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertText;
import dev.purser.core.alert.Urgency;
import dev.purser.core.board.Pier;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Rules of alerts: how they are read, which holds, and what they ask for. */
class AlertRulesTest {
  private static final String SITE =
      """
      host: pier
      ---
      recipient: desk
      mail: [desk@brannoch.example]
      ---
      recipient: harbour
      mail: [harbour@brannoch.example]
      ---
      alerts-of: site
      alerts:
        - { kind: failed, urgency: urgent }
        - { kind: late, none: yes }
        - { kind: started }
        - { kind: host, tell: [harbour] }
      ---
      alerts-of: department Passenger services
      alerts: [ { kind: started, none: yes }, { kind: late, urgency: note } ]
      ---
      stream: inner
      alerts: [ { kind: retried, say: "again: ${title}" } ]
      jobs: { one: { host: pier, run: x } }
      ---
      stream: night
      department: Passenger services
      alerts:
        - { kind: value, when: value rows < 1000, tell: [desk] }
        - { kind: value, when: value state = "partial" }
      jobs:
        load:
          host: pier
          run: x
          alerts: [ { kind: failed, none: yes }, { kind: too-quick, below: 30 % } ]
        step: { stream: inner }
        file: { host: pier, run: x }
      ---
      stream: other
      jobs: { x: { host: pier, run: x } }
      """;
  private static final Definitions ALL = definitions();

  private static Definitions definitions() {
    DefinitionCheck.Result result = check(SITE);
    assertThat(result.isSound()).as(result.problems().toString()).isTrue();
    return result.definitions();
  }

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("t.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          night/load     | FAILED    | job night/load                | true
          night/file     | FAILED    | site                          | false
          night/file     | LATE      | department Passenger services | false
          other/x        | LATE      | site                          | true
          night/file     | STARTED   | department Passenger services | true
          other/x        | STARTED   | site                          | false
          other/x        | SUCCEEDED | built in                      | true
          other/x        | STALLED   | built in                      | false
          night/step/one | RETRIED   | stream night/step             | false
          night/step/one | VALUE     | stream night                  | false
          night/step/one | LATE      | department Passenger services | false
          """)
  void theNearestLevelThatSaysAnythingOfAKindHolds(
      String job, AlertKind kind, String origin, boolean off) {
    AlertRules.Effective found = ALL.alertRules().ofJob(job).get(kind);
    assertThat(found.origin()).isEqualTo(origin);
    assertThat(found.isOff()).isEqualTo(off);
  }

  @Test
  void whatBelongsToNoStreamHasTheRulesOfTheSite() {
    assertThat(ALL.alertRules().ofSite().get(AlertKind.HOST).rule().tell())
        .containsExactly("harbour");
    assertThat(ALL.alertRules().ofStream("night").get(AlertKind.VALUE).rules()).hasSize(2);
    assertThat(ALL.alertRules().ofJob("other/x").get(AlertKind.FAILED).rule().isUrgent())
        .isEqualTo(Urgency.URGENT);
    assertThat(ALL.alertRules().isAnyByRuleOnly()).isTrue();
    assertThat(Definitions.none().alertRules().isAnyByRuleOnly()).isFalse();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          kind: faild                                    | unknown kind of alert "faild"; did you mean "failed"?
          kind: failed, urgency: high                    | unknown urgency "high"; expected note, warning, urgent
          kind: failed, tell: [dsk]                      | dsk
          kind: failed, none: yes, say: x                | with none: yes there is nothing to say of "say"
          kind: failed, below: 20 %                      | "below" goes with kind: too-quick only
          kind: late, when: value rows < 3               | "when" goes with kind: value only
          kind: too-quick, below: 0                      | cannot read "0"; expected a part of the usual duration, 1 to 99 %
          kind: too-quick, below: half                   | cannot read "half"
          kind: value                                    | needs a comparison of what the job hands back
          kind: value, when: rows < 3                    | needs a comparison of what the job hands back
          kind: value, when: value rows < many           | needs a comparison of what the job hands back
          kind: failed, say: "${titel}"                  | nobody fills ${titel}
          kind: failed, say: "${title"                   | nobody fills ${title
          kind: failed, say: "$${titel} ${value rows}"   |
          urgency: note                                  | has no "kind"
          kind: failed }, { kind: failed                 | there are two rules of kind failed; one says all of it
          """)
  void whatIsWrongIsSaidAtItsPlace(String rule, String said) {
    DefinitionCheck.Result result =
        check(
            "host: pier\n---\nrecipient: desk\nmail: [d@brannoch.example]\n---\nstream: a\nalerts: [ { "
                + rule
                + " } ]\njobs: { one: { host: pier, run: x } }\n");
    assertThat(result.isSound()).isEqualTo(said == null);
    if (said != null) {
      assertThat(result.problems()).extracting(Problem::message).anyMatch(m -> m.contains(said));
    }
  }

  private static List<String> kinds(List<RunJudge.Asked> asked) {
    return asked.stream().map(one -> one.kind().word()).toList();
  }

  /** A run that began at 21:30 and ended so many seconds later. */
  private static RunStatus ended(Pier pier, RunSpec run, int seconds, Map<String, String> values) {
    long began = Pier.DUE;
    pier.apply(new BoardEvent.AttemptBegan(began, run.id(), 1));
    pier.apply(
        new BoardEvent.AttemptEnded(
            began + seconds * 1_000L,
            run.id(),
            1,
            Ending.exited(0),
            began + seconds * 1_000L,
            values));
    return pier.board.status(run.id()).orElseThrow();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          29  | 100 | 2000 | full    | succeeded, too-quick
          30  | 100 | 2000 | full    | succeeded
          1   | 0   | 2000 | full    | succeeded
          90  | 100 | 999  | full    | succeeded, value
          90  | 100 | 999  | partial | succeeded, value, value
          90  | 100 |      | full    | succeeded
          """)
  void whatARunThatEndsIsToldOf(int took, int usual, String rows, String state, String expected) {
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\n---\nhost: quay-south\n",
                """
                stream: night
                schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
                alerts:
                  - { kind: succeeded }
                  - { kind: too-quick, below: 30 % }
                  - { kind: value, when: value rows < 1000 }
                  - { kind: value, when: value state = "partial" }
                jobs: { load: { host: quay-north, run: x } }
                """));
    pier.at(0);
    RunSpec run = pier.board.run(pier.id("load")).orElseThrow();
    Map<String, String> values =
        rows == null ? Map.of("state", state) : Map.of("rows", rows, "state", state);
    RunStatus status = ended(pier, run, took, values);
    List<RunJudge.Asked> asked =
        RunJudge.ended(
            pier.definitions.alertRules().ofJob("night/load"),
            run,
            status,
            usual * 1_000L,
            any -> List.of());
    assertThat(String.join(", ", kinds(asked))).isEqualTo(expected);
    if (expected.contains("too-quick")) {
      assertThat(asked.get(1).text())
          .isEqualTo("was done in 29s, and usually takes 1m40s: was there anything to do?");
    }
    if (expected.endsWith("value, value")) {
      assertThat(asked.get(2).text())
          .isEqualTo("handed back state = partial; people are told of value state = \"partial\"");
    }
  }

  @Test
  void ownWordsAreFilledAndWhatIsNotThereSaysSo() {
    assertThat(
            AlertText.fill(
                "$${title}: ${title} has ${value rows} rows, ${value cars} cars",
                name -> "<" + name + ">",
                name -> name.equals("rows") ? Optional.of("3 $1") : Optional.empty()))
        .isEqualTo("${title}: <title> has 3 $1 rows, (no cars) cars");
  }
}

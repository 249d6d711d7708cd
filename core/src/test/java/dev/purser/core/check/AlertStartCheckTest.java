package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AlertStartCheckTest {
  private static final String WORLD =
      """
      host: h
      ---
      stream: a
      alerts: [ %s ]
      jobs: { j: { host: h, run: x } }
      ---
      stream: b
      alerts: [ %s ]
      jobs: { j: { host: h, run: x } }
      """;

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  private static final String NONE = "{ kind: started, none: yes }";

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          { kind: failed, do: { start: b } } | { kind: late, do: { start: a } } | a → b → a
          { kind: failed, do: { start: a } } | { kind: started, none: yes }     | a → a
          """)
  void aCircleThatCanBeSeenIsRefused(String first, String second, String circle) {
    assertThat(check(WORLD.formatted(first, second)).problems())
        .filteredOn(Problem::isError)
        .anySatisfy(
            problem ->
                assertThat(problem.message())
                    .contains("alerts start streams in a circle: " + circle));
  }

  /** A rule of the site holds for the stream that it starts as well. */
  @Test
  void aRuleOfTheSiteMustNotMeanTheStreamThatItStarts() {
    String site = "\n---\nalerts-of: site\nalerts: [ { kind: failed, do: { start: b } } ]\n";
    assertThat(check(WORLD.formatted(NONE, NONE) + site).problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains("circle: b → b"));
    assertThat(check(WORLD.formatted(NONE, "{ kind: failed }") + site).problems())
        .filteredOn(Problem::isError)
        .isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          { kind: failed, do: { rerun: 0 } }                        | a whole number from 1 to 20
          { kind: failed, do: { rerun: 1, cancel: yes } }           | a rule does one thing
          { kind: failed, do: { after: 5m } }                       | a rule does one thing
          { kind: failed, do: { rerun: 2, at-most: 3 } }            | "rerun" says how often itself
          { kind: failed, do: { cancel: no } }                      | does nothing; leave "do" out
          { kind: failed, do: { mark: done } }                      | expected succeeded or failed
          { kind: failed, do: { start: c } }                        | unknown stream "c"
          { kind: failed, do: { start: b, after: 25h } }            | it is done within 24h
          { kind: failed, do: { rerun: 1, with: { a: b } } }        | "with" goes with "start" only
          { kind: failed, do: { start: b, with: { a: "${rnu}" } } } | nobody fills ${rnu}
          { kind: failed, none: yes, do: { rerun: 1 } }             | with none: yes there is nothing
          { kind: host, do: { cancel: yes } }                       | is about no run
          { kind: waits-long }                                      | says how long is long
          { kind: failed, longer-than: 5m }                         | goes with kind: long-running or waits-long only
          { kind: waits-long, longer-than: 0s }                     | at least 1s
          """)
  void whatCannotBeDoneIsRefused(String rule, String message) {
    assertThat(check(WORLD.formatted(rule, NONE)).problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
  }

  @Test
  void whatIsDoneIsReadAsWritten() {
    DefinitionCheck.Result result =
        check(
            WORLD.formatted(
                "{ kind: failed, do: { start: b, with: { what: \"${run}\" }, after: 5m, at-most: 2 } }",
                NONE));
    AlertAct act =
        result
            .definitions()
            .alertRules()
            .ofStream("a")
            .get(AlertKind.FAILED)
            .rule()
            .act()
            .orElseThrow();
    assertThat(act.inWords()).isEqualTo("starts b after 5m, 2 times at the most");
    assertThat(act.with()).containsEntry("what", "${run}");
  }
}

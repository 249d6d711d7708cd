package dev.purser.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.reading.SourceFile;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a start by hand asks for and what it does not. */
class HandStartTest {
  private static final LocalDate THURSDAY = LocalDate.of(2027, 3, 4);
  private static final String WORLD =
      """
      host: pier
      ---
      stream: inner
      jobs:
        own: { host: pier, run: x, days: monday }
        only: { host: pier, run: x, only-on: monday }
      ---
      stream: night
      schedule: { days: friday, at: "21:30", zone: UTC }
      jobs:
        plain: { host: pier, run: x }
        later: { host: pier, run: x, not-before: "22:15" }
        early: { host: pier, run: x, not-before: "05:00" }
        own: { host: pier, run: x, days: monday }
        only: { host: pier, run: x, only-on: monday, waits-for: plain succeeded }
        step: { stream: inner }
      """;

  private final Definitions all =
      DefinitionCheck.check(Definitions.none(), List.of(new SourceFile("t.yaml", WORLD)), THURSDAY)
          .definitions();
  private final Stream night = all.stream("night").orElseThrow();

  private Map<String, PlannedRun> start(String job, boolean following, String... ignoring) {
    Set<StartCondition> set = EnumSet.noneOf(StartCondition.class);
    for (String word : ignoring) {
      set.add(StartCondition.of(word).orElseThrow());
    }
    return new Planner(all)
            .byHand(
                night,
                new Planner.ByHand(
                    Optional.of(job).filter(name -> !name.isEmpty()).flatMap(night::job),
                    following,
                    Map.of(),
                    THURSDAY,
                    1,
                    Instant.parse("2027-03-04T14:00:00Z"),
                    ZoneOffset.UTC,
                    set))
            .stream()
            .collect(
                Collectors.toMap(
                    run -> run.reference().path().replaceFirst("^night/", ""), run -> run));
  }

  @Test
  void daysAreNotAskedAndNotBeforeAndOnlyOnAreKept() {
    Map<String, PlannedRun> runs = start("", false);
    assertThat(runs.keySet())
        .containsExactlyInAnyOrder(
            "plain", "later", "early", "own", "only", "step", "step/own", "step/only");
    assertThat(runs.get("plain").due()).isEqualTo("2027-03-04T14:00:00Z");
    assertThat(runs.get("later").due()).isEqualTo("2027-03-04T22:15:00Z");
    assertThat(runs.get("early").due()).isEqualTo("2027-03-04T14:00:00Z");
    assertThat(runs.get("own").leftOut()).isEmpty();
    assertThat(runs.get("only").leftOut()).startsWith("it is due only on monday");
    assertThat(runs.get("step/only").leftOut()).startsWith("it is due only on monday");
  }

  @ParameterizedTest
  @CsvSource({"not-before,14:00,true", "only-on,22:15,false", "not-before+only-on,14:00,false"})
  void whatIsToBeIgnoredIsLeftOut(String ignoring, String due, boolean leftOut) {
    Map<String, PlannedRun> runs = start("", false, ignoring.split("\\+"));
    assertThat(runs.get("later").due()).isEqualTo("2027-03-04T" + due + ":00Z");
    assertThat(runs.get("only").leftOut().isEmpty()).isEqualTo(!leftOut);
    assertThat(runs.get("step/only").leftOut().isEmpty()).isEqualTo(!leftOut);
  }

  @Test
  void oneJobAloneIgnoresItsPrerequisitesAndNothingElse() {
    PlannedRun only = start("only", false).get("only");
    assertThat(only.waived()).isTrue();
    assertThat(only.leftOut()).isNotEmpty();
    assertThat(start("later", false).get("later").due()).isEqualTo("2027-03-04T22:15:00Z");
    assertThat(start("plain", true)).containsOnlyKeys("plain", "only");
  }
}

package dev.purser.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Schedules of several entries, and jobs that narrow them. */
class SeveralEntriesTest {
  private static final LocalDate THURSDAY = LocalDate.of(2027, 3, 4);

  private static Planner planner(String schedule, String jobs) {
    Definitions definitions =
        Pier.read(
            "host: h\n",
            "stream: s\nschedule:\n" + schedule.indent(2) + "jobs:\n" + jobs.indent(2));
    return new Planner(definitions);
  }

  private static List<String> plan(Planner planner, LocalDate date) {
    return planner.plan(date).stream()
        .map(
            run ->
                run.reference().job()
                    + "#"
                    + run.reference().number()
                    + " "
                    + run.due().toString().substring(5, 16)
                    + (run.leftOut().isEmpty() ? "" : " left out")
                    + (run.parameters().names().isEmpty() ? "" : " " + run.parameters()))
        .toList();
  }

  @Test
  void entriesAreNumberedInTheOrderOfTimeWithParametersOfTheirOwn() {
    Planner planner =
        planner(
            """
            - { days: every day, at: ["12:00", "06:00"], zone: UTC }
            - { days: thursday, at: "09:00", zone: UTC, parameters: { deck: north } }
            """,
            "j: { host: h, run: x }");
    assertThat(plan(planner, THURSDAY))
        .containsExactly("j#1 03-04T06:00", "j#2 03-04T09:00 {deck=north}", "j#3 03-04T12:00");
    assertThat(plan(planner, THURSDAY.plusDays(1)))
        .containsExactly("j#1 03-05T06:00", "j#2 03-05T12:00");
  }

  @Test
  void twoEntriesThatHitTheSameInstantAreOneRunUnlessTheirParametersDiffer() {
    Planner planner =
        planner(
            """
            - { days: every day, at: "06:00", zone: UTC }
            - { days: thursday, at: "07:00", zone: Europe/Oslo }
            - { days: thursday, at: "06:00", zone: UTC, parameters: { deck: north } }
            """,
            "j: { host: h, run: x }");
    assertThat(plan(planner, THURSDAY))
        .containsExactly("j#1 03-04T06:00", "j#2 03-04T06:00 {deck=north}");
  }

  @Test
  void timesThatAClockChangeBringsTogetherAreOneRun() {
    Planner planner =
        planner(
            "{ days: every day, at: [\"02:00\", \"02:30\", \"03:00\"], zone: Europe/Oslo }",
            "j: { host: h, run: x }");
    assertThat(plan(planner, LocalDate.of(2027, 3, 28))).containsExactly("j#1 03-28T01:00");
    assertThat(plan(planner, THURSDAY)).hasSize(3);
  }

  @ParameterizedTest
  @CsvSource({"2027-03-03, 0", "2027-03-04, 1", "2027-03-05, 1", "2027-03-06, 0"})
  void anEntryHoldsFromItsFirstDateToItsLast(LocalDate date, int runs) {
    Planner planner =
        planner(
            "{ days: every day, at: \"06:00\", zone: UTC, from: 2027-03-04, to: 2027-03-05 }",
            "j: { host: h, run: x }");
    assertThat(planner.plan(date)).hasSize(runs);
    assertThat(planner.starts(stream(planner), THURSDAY.minusDays(9), THURSDAY.plusDays(9)))
        .hasSize(2);
  }

  private static dev.purser.core.definition.Stream stream(Planner planner) {
    return planner.definitions().stream("s").orElseThrow();
  }

  @Test
  void workBeforeTheDaysBeginningBelongsToTheDateBefore() {
    Planner planner =
        planner(
            "{ days: thursday, at: [\"01:30\", \"21:30\"], day-begins: \"06:00\", zone: UTC }",
            "j: { host: h, run: x, finish-by: \"03:00\" }");
    List<PlannedRun> runs = planner.plan(THURSDAY);
    assertThat(plan(planner, THURSDAY)).containsExactly("j#1 03-04T21:30", "j#2 03-05T01:30");
    assertThat(runs.get(1).finishBy().orElseThrow()).isEqualTo("2027-03-05T03:00:00Z");
    assertThat(plan(planner, THURSDAY.plusDays(1))).isEmpty();
  }

  @Test
  void aJobMayBeNarrowedHaveDaysOfItsOwnOrAGate() {
    Planner planner =
        planner(
            "{ days: weekdays, at: \"06:00\", zone: UTC }",
            """
            all: { host: h, run: x }
            first: { host: h, run: x, only-on: 1st thursday of month }
            own: { host: h, run: x, days: saturday }
            gate: { host: h, run: x, not-before: "23:00" }
            """);
    assertThat(plan(planner, THURSDAY))
        .containsExactly("all#1 03-04T06:00", "first#1 03-04T06:00", "gate#1 03-04T23:00");
    assertThat(plan(planner, LocalDate.of(2027, 3, 5)))
        .containsExactly("all#1 03-05T06:00", "first#1 03-05T06:00 left out", "gate#1 03-05T23:00");
    assertThat(plan(planner, LocalDate.of(2027, 3, 6))).containsExactly("own#1 03-06T06:00");
    assertThat(planner.plan(LocalDate.of(2027, 3, 5)).get(1).leftOut())
        .isEqualTo(
            "it is due only on 1st thursday of month, and 2027-03-05 is not one of them: the 1st thursday"
                + " of the month 2027-03-01 to 2027-03-31 is 2027-03-04; this is not a thursday: it is a"
                + " Friday");
  }

  @Test
  void aStartByHandHasTheParametersOfTheFirstEntryAndTheLastWindowThatHasEnded() {
    Planner entries =
        planner(
            """
            - { days: monday, at: "06:00", zone: UTC, parameters: { deck: north } }
            - { days: friday, at: "06:00", zone: UTC, parameters: { deck: south } }
            """,
            "j: { host: h, run: \"x ${deck}\" }");
    Instant now = Instant.parse("2027-03-04T13:00:00Z");
    ZoneId zone = ZoneId.of("UTC");
    assertThat(
            entries
                .byHand(
                    stream(entries), Planner.ByHand.of(Optional.empty(), THURSDAY, 1, now, zone))
                .get(0)
                .parameters()
                .values())
        .containsExactly(Map.entry("deck", "north"));
    Planner windows =
        planner("{ windows: 6h, zone: UTC }", "j: { host: h, run: \"x ${window.end}\" }");
    assertThat(window(windows, THURSDAY, now))
        .isEqualTo("2027-03-04T06:00:00Z to 2027-03-04T12:00:00Z");
    assertThat(window(windows, THURSDAY.minusDays(1), now))
        .isEqualTo("2027-03-03T18:00:00Z to 2027-03-04T00:00:00Z");
    assertThat(window(windows, THURSDAY.plusDays(1), now))
        .isEqualTo("2027-03-05T00:00:00Z to 2027-03-05T06:00:00Z");
  }

  private static String window(Planner planner, LocalDate date, Instant now) {
    Window window =
        planner
            .byHand(
                stream(planner),
                Planner.ByHand.of(Optional.empty(), date, 9, now, ZoneId.of("UTC")))
            .get(0)
            .start()
            .window()
            .orElseThrow();
    assertThat(window.after()).isEmpty();
    return window.start() + " to " + window.end();
  }

  @Test
  void aSpanGivesWhatItsDatesGive() {
    Planner planner =
        planner(
            """
            - { days: weekdays except last business day of month, every: 2h between 22:00 and 04:00, zone: Europe/Oslo }
            - { cron: "0 6 1,15 * 5", zone: UTC, from: 2027-03-10 }
            """,
            "j: { host: h, run: x, only-on: monday }\nk: { host: h, run: x, days: sunday }");
    List<PlannedRun> whole = planner.plan(stream(planner), THURSDAY, THURSDAY.plusDays(60));
    List<PlannedRun> parts = new java.util.ArrayList<>();
    for (int i = 0; i <= 60; i++) {
      parts.addAll(planner.plan(stream(planner), THURSDAY.plusDays(i)));
    }
    assertThat(whole).isEqualTo(parts).hasSizeGreaterThan(100);
  }

  @Test
  void whatLiesPastTheCalendarsEndIsAGuess() {
    Definitions definitions =
        Pier.read(
            """
            host: h
            ---
            holiday-calendar: closed
            holidays: [ { day: 2027-03-02 } ]
            known-to: 2027-03-03
            ---
            business-calendar: office
            without: [closed]
            ---
            stream: s
            calendar: office
            schedule: { days: business days, at: "06:00", zone: UTC }
            jobs: { j: { host: h, run: x } }
            """);
    Planner planner = new Planner(definitions);
    assertThat(planner.starts(stream(planner), THURSDAY.minusDays(3), THURSDAY))
        .extracting(start -> start.date() + " " + start.guess())
        .containsExactly("2027-03-01 false", "2027-03-03 false", "2027-03-04 true");
  }
}

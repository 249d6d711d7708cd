package dev.purser.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PlannerTest {
  private static final String WORLD =
      """
      host: quay-north
      ---
      holiday-calendar: brannoch
      holidays: [ { day: 2027-03-05, name: Founders' Day } ]
      ---
      business-calendar: office
      without: [brannoch]
      ---
      stream: tide/import
      calendar: office
      schedule: { days: business days, at: ["16:00", "04:00"], zone: Europe/Oslo }
      jobs:
        fetch: { host: quay-north, run: x, start-by: "04:30", finish-by: "05:00" }
        load: { host: quay-north, run: x, waits-for: fetch succeeded }
      ---
      stream: by-hand
      jobs:
        one: { host: quay-north, run: x, waits-for: tide/import succeeded }
      """;
  private final Definitions definitions = Pier.read(WORLD);
  private final Planner planner = new Planner(definitions);

  @ParameterizedTest
  @CsvSource({"2027-03-04, 4", "2027-03-05, 0", "2027-03-06, 0", "2027-03-08, 4"})
  void aHolidayAndAWeekendPlanNothing(LocalDate date, int runs) {
    assertThat(planner.plan(date)).hasSize(runs);
  }

  @Test
  void eachStartTimeGivesASetOfRunsInTheOrderOfTheClock() {
    List<PlannedRun> runs = planner.plan(Pier.DATE);
    assertThat(runs.stream().map(run -> run.reference() + " " + run.due()))
        .containsExactly(
            "tide/import/fetch@2027-03-04#1 2027-03-04T03:00:00Z",
            "tide/import/load@2027-03-04#1 2027-03-04T03:00:00Z",
            "tide/import/fetch@2027-03-04#2 2027-03-04T15:00:00Z",
            "tide/import/load@2027-03-04#2 2027-03-04T15:00:00Z");
  }

  @Test
  void deadlinesAreTheFirstTimesAfterEachStart() {
    List<PlannedRun> runs = planner.plan(Pier.DATE);
    assertThat(runs.get(0).startBy()).contains(Instant.parse("2027-03-04T03:30:00Z"));
    assertThat(runs.get(0).finishBy()).contains(Instant.parse("2027-03-04T04:00:00Z"));
    assertThat(runs.get(2).finishBy()).contains(Instant.parse("2027-03-05T04:00:00Z"));
  }

  @Test
  void aStreamWithoutAScheduleIsPlannedByPeopleOnly() {
    var stream = definitions.stream("by-hand").orElseThrow();
    assertThat(planner.plan(stream, Pier.DATE)).isEmpty();
    Instant now = Instant.parse("2027-03-04T12:00:00Z");
    ZoneId zone = ZoneId.of("UTC");
    PlannedRun whole =
        planner.byHand(stream, Planner.ByHand.of(Optional.empty(), Pier.DATE, 3, now, zone)).get(0);
    assertThat(whole.reference()).hasToString("by-hand/one@2027-03-04#3");
    assertThat(whole.waived()).isFalse();
    assertThat(whole.ties().wholeStreams().get("tide/import").jobs())
        .containsExactly("tide/import/fetch", "tide/import/load");
    PlannedRun alone =
        planner
            .byHand(stream, Planner.ByHand.of(stream.job("one"), Pier.DATE, 3, now, zone))
            .get(0);
    assertThat(alone.waived()).isTrue();
  }

  @Test
  void aRunTakenUpAgainFromRecordsIsTheRunThatWasPlanned() {
    for (PlannedRun run : planner.plan(Pier.DATE)) {
      assertThat(
              planner.again(
                  run.reference(),
                  new Planner.Kept(
                      run.due(),
                      run.start(),
                      run.startBy(),
                      run.finishBy(),
                      run.zone(),
                      run.waived(),
                      run.leftOut(),
                      Optional.of(run.parameters()),
                      run.assumed())))
          .isEqualTo(run);
    }
  }

  @ParameterizedTest
  @CsvSource({
    "passenger/night-manifest/file-manifest@2027-03-04#1, passenger/night-manifest, file-manifest, 1",
    "night-manifest/file-manifest@2027-03-04, night-manifest, file-manifest, 1",
    "a/b@2027-03-04#12, a, b, 12"
  })
  void aReferenceReadsAsItPrints(String text, String stream, String job, int number) {
    RunReference reference = RunReference.parse(text).orElseThrow();
    assertThat(reference).isEqualTo(new RunReference(stream, job, Pier.DATE, number));
    assertThat(RunReference.parse(reference.toString())).contains(reference);
  }

  @ParameterizedTest
  @CsvSource({"file-manifest@2027-03-04", "a/b", "a/b@2027-02-30", "a/b@today", "''"})
  void whatIsNoReferenceIsNotTakenForOne(String text) {
    assertThat(RunReference.parse(text)).isEmpty();
  }
}

package dev.purser.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DutyTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 4);

  private static final String NIGHT =
      """
      recipient: desk
      mail: [a@b.example]
      ---
      recipient: ola
      mail: [ola@b.example]
      ---
      recipient: kari
      mail: [kari@b.example]
      ---
      recipient: berit
      mail: [berit@b.example]
      ---
      duty: night
      zone: Europe/Oslo
      shifts:
        - { from: "07:00", to: "19:00", who: desk }
        - { from: "19:00", to: "07:00", who: [ola, kari, berit], turns: 1 week on monday from 2027-03-01 }
      replacements:
        - { from: 2027-03-09, to: 2027-03-10, of: kari, by: berit }
      """;

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("a.yaml", text)), TODAY);
  }

  private static Duty night() {
    DefinitionCheck.Result result = check(NIGHT);
    assertThat(result.problems()).isEmpty();
    return result.definitions().duty("night").orElseThrow();
  }

  /** A shift belongs to the date on which it begins; so does a replacement. */
  @ParameterizedTest
  @CsvSource({
    "2027-03-01T05:59:00Z, berit", // Monday 06:59: the week before goes on
    "2027-03-01T06:00:00Z, desk",
    "2027-03-01T18:00:00Z, ola",
    "2027-03-08T05:59:00Z, ola",
    "2027-03-08T18:00:00Z, kari",
    "2027-03-09T05:00:00Z, kari", // the shift of the 8th
    "2027-03-09T18:00:00Z, berit",
    "2027-03-11T05:00:00Z, berit", // the shift of the 10th
    "2027-03-11T18:00:00Z, kari",
    "2027-03-15T18:00:00Z, berit",
    "2027-03-22T18:00:00Z, ola",
    "2027-02-22T18:00:00Z, berit", // before the first turn, the turns go on backwards
    "9999-12-30T18:00:00Z, kari",
  })
  void eachMomentHasItsPeople(Instant at, String who) {
    assertThat(night().at(at, Calendars.NONE)).containsExactly(who);
  }

  /** In the night on which the clocks go forward there are 11 hours from 19:00 to 07:00. */
  @Test
  void theClocksChangeWithinAShift() {
    List<Duty.Stretch> all =
        night()
            .between(
                Instant.parse("2027-03-27T12:00:00Z"),
                Instant.parse("2027-03-28T12:00:00Z"),
                Calendars.NONE);
    assertThat(all).hasSize(3);
    assertThat(Duration.between(all.get(1).from(), all.get(1).to())).hasHours(11);
    assertThat(all).extracting(Duty.Stretch::who).doesNotContain(List.of());
  }

  /** Whoever has it at a moment is who the stretch says that holds the moment. */
  @Test
  void stretchesAndMomentsAgree() {
    Duty duty = night();
    Instant from = Instant.parse("2027-03-01T00:00:00Z");
    for (Duty.Stretch one : duty.between(from, from.plus(Duration.ofDays(60)), Calendars.NONE)) {
      for (Instant at = one.from(); at.isBefore(one.to()); at = at.plus(Duration.ofMinutes(59))) {
        assertThat(duty.at(at, Calendars.NONE)).as("" + at).isEqualTo(one.who());
      }
      assertThat(duty.at(one.to().minusMillis(1), Calendars.NONE)).isEqualTo(one.who());
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          "07:00", to: "19:00", who: desk | "08:00", to: "19:00", who: desk | nobody is on duty from 2027-03-04 07:00 to 2027-03-04 08:00 (Europe/Oslo), and 399 times more
          who: desk }                     | days: weekdays, who: desk }     | nobody is on duty from 2027-03-06 07:00 to 2027-03-06 19:00
          who: desk }                     | who: bosun }                    | unknown recipient or duty "bosun"
          who: desk }                     | who: person O }                 | does not name a person
          who: desk }                     | who: night }                    | is a member of itself
          turns: 1 week on monday from    | turns: 1 fortnight from         | expected how long a turn lasts
          turns: 1 week on monday from 2027-03-01 | turns: 0 days from 2027-03-01 | expected how long a turn lasts
          turns: 1 week on monday from 2027-03-01 | turns: 1 week on monday from 2027-02-30 | expected how long a turn lasts
          [ola, kari, berit]              | ola                             | turns need two or more
          [ola, kari, berit]              | [ola, ola]                      | named twice
          of: kari                        | of: desk-2                      | has no shift of this duty
          to: 2027-03-10                  | to: 2027-03-01                  | lies before "from"
          duty: night                     | duty: desk                      | is a recipient and a duty
          """)
  void whatLeavesAGapOrMeansNobodyIsRefused(String replace, String with, String message) {
    assertThat(check(NIGHT.replace(replace, with)).problems())
        .filteredOn(Problem::isError)
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
  }
}

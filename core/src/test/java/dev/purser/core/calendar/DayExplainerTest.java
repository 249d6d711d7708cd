package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DayExplainerTest {
  private static final Calendars OFFICE = DayWorld.CALENDARS.meaning("brannoch-office");

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          business days                            | 2027-03-29 | it is Founders' Day (brannoch), closed in brannoch-office
          business days                            | 2027-03-27 | it is a Saturday, on which brannoch-office does not work
          business days                            | 2027-01-02 | it is a Saturday, but a working day all the same in brannoch-office
          business days                            | 2027-03-30 | it is a business day of brannoch-office (Tuesday)
          holidays of sound                        | 2027-03-26 | it is Quiet Friday (skerry)
          holidays of near                         | 2027-07-05 | it is Lantern Day (observed) (near)
          holidays of brannoch                     | 2027-03-30 | it is not a holiday of brannoch
          last business day of month               | 2027-03-31 | it is the last business day of the month 2027-03-01 to 2027-03-31
          1st, last business day of month          | 2027-03-30 | the 1st, last business day of the month 2027-03-01 to 2027-03-31 are 2027-03-01, 2027-03-31
          2nd business day of month                | 2027-05-03 | the 2nd business day of the month 2027-05-01 to 2027-05-31 is 2027-05-05; this is not a business day: it is Lamplighters' Monday (brannoch), closed in brannoch-office
          5th friday of month                      | 2027-03-05 | there is no 5th friday of the month 2027-03-01 to 2027-03-31
          last day of trading-month                | 2031-01-01 | no trading-month is known there
          15th day of month moved to next business day | 2027-05-17 | moved here from 2027-05-15 (a Saturday, on which brannoch-office does not work)
          15th day of month moved to next business day | 2027-05-15 | picked by "15th day of month", but moved to 2027-05-17: it is a Saturday, on which brannoch-office does not work
          15th day of month moved to next business day | 2027-04-15 | picked by "15th day of month", and a business day, so it stays
          3 business days before last day of month | 2027-03-25 | 3 business days before 2027-03-31 (Wednesday)
          2 days before easter                     | 2027-03-25 | it is not one of the days; the one before is 2026-04-03; the next is 2027-03-26
          easter                                   | 2027-03-25 | Easter Sunday is 2027-03-28
          monday, wednesday                        | 2027-03-26 | it is a Friday
          every 2 weeks on friday from 2027-01-01  | 2027-01-08 | it is not one of the days; the one before is 2027-01-01; the next is 2027-01-15
          business days except holidays of skerry  | 2027-02-18 | excepted: it is Seal Day (skerry)
          business days except monday              | 2027-03-29 | it is Founders' Day (brannoch), closed in brannoch-office
          weekends or 1st day of month             | 2027-03-02 | it is a Tuesday
          """)
  void aReasonSaysWhatDecides(String rule, LocalDate day, String reason) {
    assertThat(DayExplainer.inOneLine(DayExplainer.explain(DayRuleParser.parse(rule), day, OFFICE)))
        .isEqualTo(reason);
  }

  @Test
  void aCalendarIsAsGoodAsTheWorstOfThoseItIsBuiltOn() {
    Calendars calendars =
        DayWorld.of(
            """
            holiday-calendar: a
            holidays: [ { day: 1 january } ]
            known-to: 2028-12-31
            ---
            holiday-calendar: b
            with: [a]
            known-to: 2027-06-30
            ---
            business-calendar: c
            without: [b]
            ---
            business-calendar: d
            working: business days of c and every day
            """);
    assertThat(calendars.knownTo("a")).contains(LocalDate.of(2028, 12, 31));
    assertThat(calendars.knownTo("d")).contains(LocalDate.of(2027, 6, 30));
    assertThat(calendars.withAllBelow("d")).containsExactly("a", "b", "c", "d");
    assertThat(calendars.knownTo(DayRuleParser.parse("monday"))).isEqualTo(Optional.empty());
    assertThat(calendars.meaning("d").knownTo(DayRuleParser.parse("last business day of month")))
        .contains(LocalDate.of(2027, 6, 30));
    assertThat(calendars.knownTo(DayRuleParser.parse("easter except holidays of a")))
        .contains(LocalDate.of(2028, 12, 31));
  }

  @Test
  void aCalendarWithoutAnyBusinessDayIsNoEndlessSearch() {
    Calendars calendars =
        DayWorld.of("business-calendar: never\nworking: 2020-01-01\n").meaning("never");
    LocalDate day = LocalDate.of(2027, 1, 1);
    for (String rule :
        new String[] {
          "easter moved to next business day", "3 business days after easter",
          "last business day of year", "every 2 business days from 2026-01-01"
        }) {
      assertThat(DayRuleParser.parse(rule).pick(day, day.plusYears(1), calendars).size()).isZero();
    }
  }
}

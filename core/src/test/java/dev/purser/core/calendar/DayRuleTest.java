package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.phrase.PhraseException;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class DayRuleTest {
  private static final Calendars CALENDARS =
      DayWorld.of(
          """
          holiday-calendar: brannoch
          holidays:
            - { day: 1 january, name: New Year }
            - { day: 2027-03-02, name: Founders' Day }
            - { day: 24 december to 26 december, name: Yule }
          ---
          business-calendar: brannoch-office
          without: [brannoch]
          extra: [2027-03-06]
          """);

  /** Expected dates were read off a printed calendar: 1 March 2027 is a Monday. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          every day                                   | 2027-03-01 | 2027-03-03 | 2027-03-01 2027-03-02 2027-03-03
          weekdays                                    | 2027-03-05 | 2027-03-08 | 2027-03-05 2027-03-08
          weekends                                    | 2027-03-05 | 2027-03-08 | 2027-03-06 2027-03-07
          monday, wednesday                           | 2027-03-01 | 2027-03-10 | 2027-03-01 2027-03-03 2027-03-08 2027-03-10
          business days                               | 2027-03-01 | 2027-03-06 | 2027-03-01 2027-03-02 2027-03-03 2027-03-04 2027-03-05
          business days of brannoch-office            | 2027-03-01 | 2027-03-07 | 2027-03-01 2027-03-03 2027-03-04 2027-03-05 2027-03-06
          holidays of brannoch                        | 2027-03-01 | 2027-12-31 | 2027-03-02 2027-12-24 2027-12-25 2027-12-26
          holidays of brannoch-office                 | 2027-01-01 | 2027-03-31 | 2027-01-01 2027-03-02
          days of brannoch-office except friday       | 2027-03-03 | 2027-03-07 | 2027-03-03 2027-03-04 2027-03-06
          2027-03-04                                  | 2027-03-01 | 2027-03-31 | 2027-03-04
          2027-03-04 to 2027-03-06                    | 2027-03-05 | 2027-03-31 | 2027-03-05 2027-03-06
          2027-12-24, 2027-12-31                      | 2027-12-01 | 2027-12-31 | 2027-12-24 2027-12-31
          24 december                                 | 2026-01-01 | 2027-12-31 | 2026-12-24 2027-12-24
          last monday of march                        | 2027-01-01 | 2028-12-31 | 2027-03-29 2028-03-27
          30 december to 2 january                    | 2027-12-29 | 2028-01-05 | 2027-12-30 2027-12-31 2028-01-01 2028-01-02
          29 february                                 | 2027-01-01 | 2028-12-31 | 2028-02-29
          1st day of month                            | 2027-02-15 | 2027-04-15 | 2027-03-01 2027-04-01
          31st day of month                           | 2027-03-01 | 2027-06-30 | 2027-03-31 2027-05-31
          last day of month                           | 2028-02-01 | 2028-03-31 | 2028-02-29 2028-03-31
          1st business day of month                   | 2027-05-01 | 2027-05-31 | 2027-05-03
          last business day of month                  | 2027-02-01 | 2027-02-28 | 2027-02-26
          2nd last business day of month              | 2027-03-01 | 2027-03-31 | 2027-03-30
          2nd tuesday of month                        | 2027-03-01 | 2027-04-30 | 2027-03-09 2027-04-13
          5th friday of month                         | 2027-03-01 | 2027-05-31 | 2027-04-30
          last friday of year                         | 2027-01-01 | 2027-12-31 | 2027-12-31
          1st business day of year                    | 2027-01-01 | 2027-12-31 | 2027-01-01
          2nd last business day of quarter            | 2027-01-01 | 2027-06-30 | 2027-03-30 2027-06-29
          1st day of week                             | 2027-03-03 | 2027-03-16 | 2027-03-08 2027-03-15
          weekdays and 1st day of month or sunday     | 2027-03-01 | 2027-03-07 | 2027-03-01 2027-03-07
          weekdays except (monday or friday)          | 2027-03-01 | 2027-03-07 | 2027-03-02 2027-03-03 2027-03-04
          weekdays except monday or monday            | 2027-03-01 | 2027-03-03 | 2027-03-01 2027-03-02 2027-03-03
          """)
  void aRulePicksTheDaysThatItsWordsSay(
      String rule, LocalDate from, LocalDate to, String expected) {
    List<LocalDate> days = Arrays.stream(expected.split(" ")).map(LocalDate::parse).toList();
    DayRule parsed = DayRuleParser.parse(rule);
    assertThat(parsed.pick(from, to, CALENDARS).days()).isEqualTo(days);
    assertThat(DayRuleParser.parse(parsed.toString())).isEqualTo(parsed);
  }

  @Test
  void aRuleWithoutACalendarMeansTheStreamsCalendar() {
    Calendars office = CALENDARS.meaning("brannoch-office");
    LocalDate day = LocalDate.of(2027, 1, 1);
    DayRule rule = DayRuleParser.parse("1st business day of year");
    assertThat(rule.pick(day, day.plusDays(9), office).days())
        .containsExactly(LocalDate.of(2027, 1, 4));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "every day except (weekdays and (monday or 2027-03-04))",
        "monday or weekdays and tuesday except friday",
        "weekdays except (holidays of brannoch except 24 december)",
        "2nd last business day of quarter or (monday or tuesday)",
        "1 day after (15th day of month moved to next business day)",
        "(monday or easter) moved to nearest business day of brannoch-office within month",
        "1st, 3rd last business day of brannoch-office of trading-month",
        "every 2 weeks on monday, friday from 2027-01-01",
        "3 business days of brannoch-office before (monday except easter)",
        "rrule \"FREQ=MONTHLY;BYDAY=-1FR\" from 2027-01-01"
      })
  void theCanonicalPrintMeansTheSame(String rule) {
    DayRule parsed = DayRuleParser.parse(rule);
    assertThat(DayRuleParser.parse(parsed.toString())).isEqualTo(parsed);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          wekdays                        | 1  | did you mean "weekdays"
          weekdays exept monday          | 10 | did you mean "except"
          1st busines day of month       | 5  | did you mean "business"
          last day of mont               | 13 | did you mean "month"
          2027-02-30                     | 1  | no such day
          31 febuary                     | 4  | did you mean "february"
          31 february                    | 1  | no such day
          (weekdays                      | 10 | ends too early
          2027-03-05 to 2027-03-01       | 1  | before it begins
          business days of               | 17 | a calendar's name
          0th day of month               | 1  | counting starts at 1st
          every 0 days from 2027-01-01   | 7  | the least is 1
          every 3 days                   | 13 | ends too early; expected from
          every 2 wekes from 2027-01-01  | 9  | did you mean "weeks"
          every 2 weeks on fryday from 2027-01-01 | 18 | did you mean "friday"
          every blue moon                | 7  | expected day, weekday, business day
          3 days befor easter            | 8  | did you mean "before"
          3 busines days before easter   | 3  | did you mean "business"
          2 days after                   | 13 | ends too early
          easter moved to nxt business day | 17 | did you mean "next"
          easter moved to next business day within week | 42 | cannot read "week" here; expected month
          1st, 2st friday of monht       | 20 | did you mean "month"
          1st, friday of month           | 6  | expected 1st, 2nd, last
          1st day of 2027                | 12 | cannot read
          rrule FREQ=DAILY               | 7  | an RFC 5545 rule in double quotes
          rrule "FREQ=HOURLY"            | 7  | a day rule picks whole days
          rrule "FREQ=SOMETIMES"         | 7  | not an RFC 5545 rule
          rrule "FREQ=MONTHLY"           | 7  | add where it begins
          rrule "FREQ=DAILY;INTERVAL=2"  | 7  | add where it begins
          weekdays except                | 16 | ends too early
          monday tuesday                 | 8  | cannot read "tuesday" here
          """)
  void aRuleThatCannotBeReadSaysWhereAndWhatCouldStandThere(
      String rule, int column, String message) {
    assertThatThrownBy(() -> DayRuleParser.parse(rule))
        .isInstanceOfSatisfying(
            PhraseException.class, e -> assertThat(e.column()).isEqualTo(column))
        .hasMessageContaining(message);
  }

  @Test
  void aRuleThatIsTooLongOrTooDeepIsRefusedAtOnce() {
    assertThatThrownBy(() -> DayRuleParser.parse("monday or ".repeat(1_001) + "monday"))
        .hasMessageContaining("at most 10000");
    assertThatThrownBy(() -> DayRuleParser.parse("(".repeat(1_000) + "monday" + ")".repeat(1_000)))
        .hasMessageContaining("nested deeper than 100");
    assertThatThrownBy(() -> DayRuleParser.parse("1 day after ".repeat(800) + "easter"))
        .hasMessageContaining("nested deeper than 100");
    assertThatThrownBy(
            () -> DayRuleParser.parse("easter" + " moved to next business day".repeat(300)))
        .hasMessageContaining("more often than 100");
  }
}

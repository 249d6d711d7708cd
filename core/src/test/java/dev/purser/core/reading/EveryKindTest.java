package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.CalendarSource;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.Good;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Repeat;
import dev.purser.core.job.Retry;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.schedule.IfMissed;
import dev.purser.core.schedule.Schedule;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Each kind of definition, read with everything it may say, and with as little as it may. */
class EveryKindTest {
  private static Object read(String text) {
    DefinitionReader.Reading reading =
        DefinitionReader.read(List.of(new SourceFile("one.yaml", text)));
    assertThat(reading.problems()).isEmpty();
    return reading.documents().get(0).value();
  }

  @Test
  void aHolidayCalendarKnowsItsDaysByName() {
    HolidayCalendar calendar =
        (HolidayCalendar)
            read(
                """
                holiday-calendar: skerry
                title: Holidays of the Skerries
                holidays:
                  - { day: 1 august to 3 august, name: Skerry Regatta }
                  - { day: 2027-05-17 }
                """);
    assertThat(calendar.holidays())
        .extracting(h -> h.days() + ": " + h.name())
        .containsExactly("1 august to 3 august: Skerry Regatta", "2027-05-17: ");
    assertThat(calendar.good()).isEqualTo(Good.FOR_EVER);
  }

  @Test
  void aHolidayCalendarMaySayALot() {
    HolidayCalendar calendar =
        (HolidayCalendar)
            read(
                """
                holiday-calendar: skerry
                with: brannoch
                holidays: [ { day: easter, name: Egg Day, observed: no } ]
                observance: { saturday: friday before, sunday: monday after }
                known-to: 2028-12-31
                warn: 90d
                source: { connection: council, path: /skerry.ics, every: 12h }
                """);
    assertThat(calendar.with()).containsExactly("brannoch");
    assertThat(calendar.observance()).hasToString("saturday: friday before, sunday: monday after");
    assertThat(calendar.holidays().get(0).observed()).isFalse();
    assertThat(calendar.good())
        .isEqualTo(
            new Good(Optional.of(LocalDate.of(2028, 12, 31)), Optional.of(Duration.ofDays(90))));
    assertThat(calendar.source())
        .contains(new CalendarSource("council", "/skerry.ics", Duration.ofHours(12)));
  }

  @Test
  void aFetchedCalendarThatWasNeverFetchedIsKnownToNothing() {
    HolidayCalendar calendar =
        (HolidayCalendar) read("holiday-calendar: s\nsource: { connection: council }\n");
    assertThat(calendar.good().knownTo()).contains(LocalDate.of(1970, 1, 1));
  }

  @Test
  void aBusinessCalendarSaysWhatIsWorked() {
    BusinessCalendar calendar =
        (BusinessCalendar)
            read(
                "business-calendar: pier\nworking: monday, saturday\nwithout: brannoch, skerry\nextra: 2027-01-03, 2027-02-06\n");
    assertThat(calendar.working()).hasToString("monday, saturday");
    assertThat(calendar.without()).containsExactly("brannoch", "skerry");
    assertThat(calendar.extra())
        .extracting(DayRule::toString)
        .containsExactly("2027-01-03, 2027-02-06");
    assertThat(((BusinessCalendar) read("business-calendar: plain\n")).working())
        .hasToString("weekdays");
  }

  @Test
  void aPeriodIsGivenByItsStartsOrByWeeks() {
    assertThat(((NamedPeriod) read("period: financial-year\nstarts: 1 july\n")).starts())
        .hasToString("1 july");
    NamedPeriod months =
        (NamedPeriod)
            read("period: trading-month\nweeks: 4-4-5\nyears: [2026-12-28, 2027-12-27]\n");
    assertThat(months.starts().toString()).startsWith("2026-12-28, 2027-01-25, 2027-02-22, ");
    assertThat(months.good().knownTo()).contains(LocalDate.of(2028, 12, 24));
  }

  @Test
  void aScheduleMayHaveSeveralEntriesOfEveryForm() {
    Stream stream =
        (Stream)
            read(
                """
                stream: a
                paused: no
                schedule:
                  - { days: weekdays, at: ["06:00", "12:00:30"], zone: Europe/Oslo, parameters: { deck: north } }
                  - { days: weekends, every: 15m between 06:00 and 20:00, zone: Europe/Oslo, if-missed: skip }
                  - { cron: "*/20 6-7 * * 1-5", zone: UTC, from: 2027-01-01, to: 2027-12-31, start-by: "09:00" }
                  - { days: easter, at: "01:30", day-begins: "06:00", zone: UTC }
                jobs: { j: { host: h, run: x, days: friday, only-on: 1st friday of month, not-before: "23:00" } }
                """);
    assertThat(stream.paused()).contains(false);
    assertThat(stream.schedule())
        .extracting(Schedule::toString)
        .containsExactly(
            "weekdays, 06:00, 12:00:30 Europe/Oslo",
            "weekends, every 15m between 06:00 and 20:00 Europe/Oslo",
            "weekdays, 06:00, 06:20, 06:40, 07:00, 07:20, 07:40 UTC, from 2027-01-01, to 2027-12-31",
            "easter, 01:30 UTC");
    assertThat(stream.schedule())
        .extracting(Schedule::ifMissed)
        .containsExactly(IfMissed.RUN, IfMissed.SKIP, IfMissed.RUN, IfMissed.RUN);
    assertThat(stream.job("j").orElseThrow().onlyOn().orElseThrow())
        .hasToString("1st friday of month");
    assertThat(stream.job("j").orElseThrow().notBefore()).contains(LocalTime.of(23, 0));
  }

  @ParameterizedTest
  @CsvSource({
    "15m, windows of 15m",
    "1h, windows of 1h",
    "1d, windows of 1d",
    "1 day, windows of 1d",
    "1 business day, windows of 1 business day"
  })
  void aScheduleMayCutTimeIntoWindows(String length, String printed) {
    Stream stream =
        (Stream)
            read(
                "stream: a\nschedule: { windows: "
                    + length
                    + ", at-a-time: 3, zone: UTC }\njobs: { j: { host: h, run: \"x ${window.start}\" } }\n");
    assertThat(stream.schedule().get(0).times()).hasToString(printed);
  }

  @Test
  void aJobMaySayALotOrLittle() {
    Stream stream =
        (Stream)
            read(
                """
                stream: a/b
                jobs:
                  full:
                    title: Full
                    host: quay-north
                    run: ./full
                    usually: 4m
                    stop-after: 1h30m
                    grace: 30s
                    retry: { times: 2 }
                    start-by: "21:45"
                    finish-by: "07:00"
                    takes: { slots: 2 }
                    directory: /srv
                    environment: { A: 1 }
                    may-repeat: yes
                  bare: { host: any of quays, run: x }
                """);
    Job full = stream.job("full").orElseThrow();
    assertThat(full.retry())
        .isEqualTo(new Retry(2, Duration.ofMinutes(1), Optional.empty(), ExitCodes.ANY, false));
    assertThat(full.stopAfter()).contains(Duration.ofMinutes(90));
    assertThat(full.finishBy()).contains(LocalTime.of(7, 0));
    assertThat(full.environment()).containsEntry("A", "1");
    assertThat(full.repeat()).isEqualTo(Repeat.USUAL);
    Job bare = stream.job("bare").orElseThrow();
    assertThat(bare.retry()).isEqualTo(Retry.NEVER);
    assertThat(bare.grace()).isEqualTo(Duration.ofSeconds(10));
    assertThat(bare.waitsFor()).isEmpty();
    assertThat(stream.schedule()).isEmpty();
    assertThat(stream.pathOf(bare)).isEqualTo("a/b/bare");
  }

  @Test
  void theRestIsReadAsWritten() {
    assertThat(read("host: quay-north\nlabels: [quay, north]\n"))
        .isEqualTo(
            new HostDefinition("quay-north", "quay-north", java.util.Set.of("quay", "north")));
    assertThat(read("capacity: slots\nunits: 3\n"))
        .isEqualTo(new Capacity("slots", "slots", 3, ZoneOffset.UTC, List.of()));
    assertThat(read("file-watch: f\nhost: h\npath: /in/x-*.csv\n"))
        .isEqualTo(FileWatch.of("f", "h", "/in/x-*.csv"));
    Recipient desk =
        (Recipient) read("recipient: desk\nmail: a@b.example, c@d.example\nreceives: late\n");
    assertThat(desk.addresses("mail")).containsExactly("a@b.example", "c@d.example");
    assertThat(desk.receives()).containsExactly(AlertKind.LATE);
    assertThat(((Recipient) read("recipient: all\n")).receives())
        .hasSize(AlertKind.values().length);
    HostGroup quays = (HostGroup) read("host-group: quays\nlabels: [quay, open]\n");
    assertThat(quays.contains("x", List.of("quay", "open", "north"))).isTrue();
    assertThat(quays.contains("x", List.of("quay"))).isFalse();
    HostGroup listed = (HostGroup) read("host-group: two\nhosts: [a, b]\n");
    assertThat(listed.contains("a", List.of())).isTrue();
    assertThat(listed.contains("c", List.of())).isFalse();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          capacity: c\\nunits: many                         | expected a whole number from 0 to 1000000
          capacity: c                                       | has no "units"
          holiday-calendar: h\\nholidays: all               | expected a list for "holidays"
          holiday-calendar: h\\nholidays: [ { day: business dys } ] | did you mean "business"
          business-calendar: b\\nworking: last day of monht | did you mean "month"
          business-calendar: b\\nextra: [soon]              | cannot read "soon" here
          file-watch: f\\nhost: h\\npath: /in/*/x.csv       | * and ? may stand only in the last part
          file-watch: f\\nhost: h\\npath: /in/x\\nminimum-size: 0 | at least 1
          file-watch: f\\nhost: h\\npath: /in/${run}        | unknown placeholder ${run}
          recipient: r\\nwebhook: ftp://x                   | expected an http:// or https:// address
          host-group: g\\nhosts: [a]\\nlabels: [b]          | either labels or hosts
          stream: s\\njobs: []                              | expected a mapping for "jobs"
          stream: s\\njobs:\\n  j: text                     | must be a mapping with keys
          stream: s\\njobs:\\n  J j: { host: h, run: x }    | is not a valid name for a job
          stream: s\\njobs:\\n  j: { run: x }               | has no "host" to run on
          stream: s\\njobs:\\n  j: { host: two words, run: x } | expected a host's name, or any of, each of
          stream: s\\njobs:\\n  j: { host: h }              | needs exactly one of run (a command), call (an operation
          stream: s\\njobs:\\n  j: { host: h, run: x, may-repeat: maybe } | expected true or false
          stream: s\\njobs:\\n  j: { host: h, run: x, takes: { c: none } } | expected a whole number of units
          stream: s\\njobs:\\n  j: { host: h, run: x, secrets: { PASSWORD: "Hunter 2!" } } | the secret itself stands in no definition
          stream: s\\njobs:\\n  j: { host: h, run: x, secrets: { PURSER_RUN: a } } | is not a variable that may hold a secret
          stream: s\\njobs:\\n  j: { host: h, run: x, secrets: { a-b: a } } | expected a name such as STORE_PASSWORD
          stream: s\\njobs:\\n  j: { host: h, run: x, secrets: { A: a }, secret-files: { A: b } } | the variable A is given twice
          stream: s\\njobs:\\n  j: { host: h, run: x, environment: { A: a }, secrets: { A: b } } | the variable A is given twice
          stream: s\\njobs:\\n  j: { approve: ok, secrets: { A: b } } | leave "secrets" out
          stream: s\\nstream: t\\njobs: {}                  | "stream" is given twice
          stream: s\\nparameters: { a: [1] }\\njobs: {}     | expected plain text for "a"
          stream: s\\nschedule: { days: weekdays, at: ["07:00", "07:00"], zone: UTC }\\njobs: {} | is given twice
          """)
  void whatAKindDoesNotAllowIsRefusedWithWhatItWants(String text, String message) {
    DefinitionReader.Reading reading =
        DefinitionReader.read(List.of(new SourceFile("one.yaml", text.replace("\\n", "\n"))));
    assertThat(reading.problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
    assertThat(reading.documents()).isEmpty();
    assertThat(reading.broken()).hasSize(1);
  }
}

package dev.purser.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.AlertKind;
import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.HolidayCalendar;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.List;
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
    assertThat(calendar.holidayOn(LocalDate.of(2030, 8, 2))).contains("Skerry Regatta");
    assertThat(calendar.holidayOn(LocalDate.of(2027, 5, 17))).contains("");
    assertThat(calendar.holidayOn(LocalDate.of(2028, 5, 17))).isEmpty();
  }

  @Test
  void aBusinessCalendarSaysWhatIsWorked() {
    BusinessCalendar calendar =
        (BusinessCalendar)
            read(
                "business-calendar: pier\nworking: monday, saturday\nwithout: brannoch, skerry\nextra: 2027-01-03\n");
    assertThat(calendar.working()).containsExactlyInAnyOrder(DayOfWeek.MONDAY, DayOfWeek.SATURDAY);
    assertThat(calendar.without()).containsExactly("brannoch", "skerry");
    assertThat(calendar.extra()).containsExactly(LocalDate.of(2027, 1, 3));
    assertThat(((BusinessCalendar) read("business-calendar: plain\n")).working()).hasSize(5);
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
    assertThat(full.retry()).isEqualTo(new Retry(2, Duration.ofMinutes(1), false));
    assertThat(full.stopAfter()).contains(Duration.ofMinutes(90));
    assertThat(full.finishBy()).contains(LocalTime.of(7, 0));
    assertThat(full.environment()).containsEntry("A", "1");
    assertThat(full.mayRepeat()).isTrue();
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
    assertThat(read("capacity: slots\nunits: 3\n")).isEqualTo(new Capacity("slots", "slots", 3));
    assertThat(read("file-watch: f\nhost: h\npath: /in/x-*.csv\n"))
        .isEqualTo(new FileWatch("f", "f", "h", "/in/x-*.csv", Duration.ofSeconds(10), 1));
    Recipient desk =
        (Recipient) read("recipient: desk\nmail: a@b.example, c@d.example\nreceives: late\n");
    assertThat(desk.mail()).containsExactly("a@b.example", "c@d.example");
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
          holiday-calendar: h\\nholidays: [ { day: business days of x } ] | cannot depend on another calendar
          business-calendar: b\\nworking: last day of month | expected weekdays, every day, or a list
          business-calendar: b\\nextra: [soon]              | "soon" is no date
          file-watch: f\\nhost: h\\npath: /in/*/x.csv       | * may stand only in the last part
          file-watch: f\\nhost: h\\npath: /in/x\\nminimum-size: 0 | at least 1
          file-watch: f\\nhost: h\\npath: /in/${run}        | unknown placeholder ${run}
          recipient: r\\nwebhook: ftp://x                   | expected an http:// or https:// address
          host-group: g\\nhosts: [a]\\nlabels: [b]          | either labels or hosts
          stream: s\\njobs: []                              | expected a mapping for "jobs"
          stream: s\\njobs:\\n  j: text                     | must be a mapping with keys
          stream: s\\njobs:\\n  J j: { host: h, run: x }    | is no name for a job
          stream: s\\njobs:\\n  j: { run: x }               | has no "host" to run on
          stream: s\\njobs:\\n  j: { host: two words, run: x } | expected a host's name or "any of GROUP"
          stream: s\\njobs:\\n  j: { host: h }              | needs exactly one of run (a command) and approve
          stream: s\\njobs:\\n  j: { host: h, run: x, may-repeat: maybe } | expected true or false
          stream: s\\njobs:\\n  j: { host: h, run: x, takes: { c: none } } | expected a whole number of units
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

package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Placement;
import dev.purser.core.job.Retry;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

class DefinitionCheckTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 1);
  private static final String SITE =
      """
      host: quay-north
      labels: [quay]
      ---
      holiday-calendar: brannoch
      holidays:
        - { day: 24 december, name: Yule Eve }
      ---
      business-calendar: brannoch-office
      without: [brannoch]
      ---
      host-group: quays
      labels: [quay]
      ---
      capacity: ledger-slots
      units: 2
      ---
      file-watch: harbour-feed
      host: quay-north
      path: /srv/in/feed-${date | yyyyMMdd}-*.csv
      still-for: 2s
      """;
  private static final String STREAM =
      """
      stream: passenger/night-manifest
      calendar: brannoch-office
      schedule:
        days: business days except 1st business day of year
        at: "21:30"
        zone: Europe/Oslo
      jobs:
        close-bookings:
          host: quay-north
          run: ./close-bookings.sh ${date}
          usually: 4m to 9m
        build-manifest:
          host: any of quays
          waits-for: close-bookings succeeded and file harbour-feed arrived
          run: ./build-manifest.sh
          takes: { ledger-slots: 1 }
          retry: { times: 3, wait: 1m, on-stop-after: true }
          stop-after: 20m
      """;

  private static DefinitionCheck.Result check(String... texts) {
    List<SourceFile> files = new java.util.ArrayList<>();
    for (int i = 0; i < texts.length; i++) {
      files.add(new SourceFile("f" + i + ".yaml", texts[i]));
    }
    return DefinitionCheck.check(Definitions.none(), files, TODAY);
  }

  @Test
  void soundDefinitionsAreReadWhole() {
    DefinitionCheck.Result result = check(SITE, STREAM);
    assertThat(result.problems()).isEmpty();
    Stream stream = result.definitions().stream("passenger/night-manifest").orElseThrow();
    Job build = stream.job("build-manifest").orElseThrow();
    assertThat(build.placement()).isEqualTo(new Placement.AnyOf("quays"));
    assertThat(build.retry())
        .isEqualTo(new Retry(3, Duration.ofMinutes(1), Optional.empty(), ExitCodes.ANY, true));
    assertThat(build.takes()).containsEntry("ledger-slots", 1);
    assertThat(stream.schedule().get(0).days())
        .hasToString("business days except 1st business day of year");
  }

  @Test
  void theTextOfADefinitionReadsBackToTheSameDefinition() {
    for (Document document : check(SITE, STREAM).definitions().documents()) {
      DefinitionReader.Reading again =
          DefinitionReader.read(List.of(new SourceFile("again.yaml", document.text())));
      assertThat(again.problems()).isEmpty();
      assertThat(again.documents().get(0).value()).isEqualTo(document.value());
    }
  }

  /** Each row breaks one line of a sound file. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          calendar: brannoch-office        | calendar: branoch-office              | 2  | 11 | did you mean "brannoch-office"
          zone: Europe/Oslo                | zone: Europe/Olso                     | 6  | 9  | did you mean "Europe/Oslo"
          host: any of quays               | host: any of quay                     | 13 | 18 | did you mean "quays"
          host: quay-north                 | host: quay-nort                       | 9  | 11 | did you mean "quay-north"
          usually: 4m to 9m                | usualy: 4m to 9m                      | 11 | 5  | did you mean "usually"
          usually: 4m to 9m                | usually: 9m to 4m                     | 11 | 14 | expected a duration
          stop-after: 20m                  | stop-after: soon                      | 18 | 17 | expected a duration
          waits-for: close-bookings        | waits-for: close-booking              | 14 | 16 | did you mean "close-bookings"
          file harbour-feed                | file harbor-feed                      | 14 | 50 | did you mean "harbour-feed"
          days: business days except 1st   | days: business days exept 1st         | 4  | 23 | did you mean "except"
          days: business days              | days: business days of skerry         | 4  | 26 | unknown calendar "skerry"
          days: business days              | days: 1st day of trading-month or business days | 4 | 20 | unknown period "trading-month"
          days: business days              | days: 1st business day of brannoch-offce of month or business days | 4 | 29 | did you mean "brannoch-office"
          zone: Europe/Oslo                | zone: PST                             | 6  | 9  | it is now called "America/Los_Angeles"
          at: "21:30"                      | every: 15m betwen 06:00 and 20:00     | 5  | 10 | expected something like 15m between 06:00 and 20:00
          at: "21:30"                      | every: 10s                            | 5  | 10 | must be from 1m to 24h
          at: "21:30"                      | at-a-time: 2                          | 4  | 3  | exactly one of at, every, cron and windows
          at: "21:30"                      | cron: "0 6 * * 1-5"                   | 4  | 9  | cron says the days itself
          at: "21:30"                      | windows: 1h                           | 4  | 9  | windows leave no gap
          zone: Europe/Oslo                | if-missed: walk                       | 6  | 14 | there is run, run once, skip
          zone: Europe/Oslo                | from: tomorrow                        | 6  | 9  | expected a date
          usually: 4m to 9m                | only-on: 1st fryday of month          | 11 | 18 | did you mean "friday"
          usually: 4m to 9m                | not-before: late                      | 11 | 17 | expected a time of day
          takes: { ledger-slots: 1 }       | takes: { ledger-slots: 3 }            | 12 | 3  | which has only 2
          at: "21:30"                      | at: "25:30"                           | 5  | 7  | not a time of day
          run: ./build-manifest.sh         | rn: x                                 | 15 | 5  | unknown key "rn"
          run: ./close-bookings.sh ${date} | run: x ${dat}                         | 10 | 14 | did you mean "date"
          build-manifest:                  | close-bookings:                       | 12 | 3  | two entries of "jobs" are named
          retry: { times: 3,               | retry: { times: 300,                  | 17 | 21 | from 0 to 99
          retry: { times: 3,               | retry: { on: 300, times: 3,           | 17 | 18 | expected exit codes such as 0, 3 to 5
          retry: { times: 3,               | retry: { growing-to: 1s, times: 3,    | 17 | 26 | at least as long as "wait"
          usually: 4m to 9m                | overlap: stop                         | 11 | 14 | expected wait, skip, replace or allow 3
          usually: 4m to 9m                | priority: 101                         | 11 | 15 | from 0 to 100
          usually: 4m to 9m                | succeeds-with: 4 to 2                 | 11 | 20 | expected exit codes
          usually: 4m to 9m                | approve: Really?                      | 8  | 3  | it has run and approve
          usually: 4m to 9m                | answer: { remind: 1h }                | 11 | 13 | "answer" belongs to "approve"
          usually: 4m to 9m                | only-if: value n of build-manifst > 0 | 11 | 25 | did you mean "build-manifest"
          usually: 4m to 9m                | only-if: value n of build-manifest > many | 11 | 42 | a text in double quotes
          usually: 4m to 9m                | only-if: value n of build-manifest > 0 and build-manifest failed | 11 | 14 | compares values only
          usually: 4m to 9m                | only-if: ./check.sh ${moon}           | 11 | 27 | unknown placeholder ${moon}
          usually: 4m to 9m                | parameters: { a: "${b}" }             | 11 | 17 | unknown placeholder ${b}
          run: ./close-bookings.sh ${date} | run: x ${value rows of biuld-manifest} | 10 | 28 | did you mean "build-manifest"
          file harbour-feed arrived        | build-manifest succeeded within 99d   | 14 | 77 | reaches back 31d at most
          jobs:                            | succeeds-if: [close-boking]~jobs:   | 7  | 15 | did you mean "close-bookings"
          """)
  void whatIsWrongIsNamedWithItsPlaceAndTheNearestThingThatExists(
      String right, String wrong, int line, int column, String message) {
    assertThat(STREAM).contains(right);
    DefinitionCheck.Result result = check(SITE, STREAM.replace(right, wrong.replace("~", "\n")));
    assertThat(result.isSound()).isFalse();
    assertThat(result.problems())
        .anySatisfy(
            problem -> {
              assertThat(problem.message()).contains(message);
              assertThat(problem.line()).isEqualTo(line);
              assertThat(problem.column()).isEqualTo(column);
              assertThat(problem.file()).isEqualTo("f1.yaml");
            });
  }

  @Test
  void everyErrorOfAFileIsReportedAtOnce() {
    String broken =
        STREAM
            .replace("Europe/Oslo", "Europe/Olso")
            .replace("quay-north", "quay-nort")
            .replace("stop-after: 20m", "stop-after: soon");
    assertThat(check(SITE, broken).problems()).hasSizeGreaterThanOrEqualTo(2);
    assertThat(check(SITE, broken, "stream: x\njobs: {}\nfoo: 1\n---\nnothing: 1\n").problems())
        .extracting(Problem::file)
        .contains("f1.yaml", "f2.yaml");
  }

  @Test
  void aCircleIsPrintedWhole() {
    String circle =
        """
        stream: a
        jobs:
          one: { host: quay-north, run: x, waits-for: three succeeded }
          two: { host: quay-north, run: x, waits-for: one succeeded }
          three: { host: quay-north, run: x, waits-for: b/two succeeded }
        ---
        stream: b
        jobs:
          two: { host: quay-north, run: x, waits-for: a/two succeeded }
        """;
    assertThat(check(SITE, circle).problems())
        .extracting(Problem::message)
        .containsExactly("prerequisites go in a circle: a/one → a/three → b/two → a/two → a/one");
  }

  @Test
  void aRuleThatNeverPicksADayIsAWarning() {
    DefinitionCheck.Result result =
        check(SITE, STREAM.replace("business days except 1st business day of year", "2020-01-01"));
    assertThat(result.isSound()).isTrue();
    assertThat(result.problems())
        .extracting(Problem::message)
        .contains(
            "the day rule \"2020-01-01\" picks no day in the next 2 years:"
                + " the last day it picks is 2020-01-01");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          31st day of february                   | no day is picked by both "31st day of month" and "1 february to 29 february"
          business days and weekends             | no day is picked by both "business days" and "weekends"
          monday except weekdays                 | "weekdays" takes every day out of "monday"
          rrule "FREQ=DAILY;COUNT=2" from 2020-01-01 | the last day it picks is 2020-01-02
          2040-05-01                             | the first day it picks is 2040-05-01
          """)
  void aRuleThatNeverPicksSaysWhy(String rule, String reason) {
    DefinitionCheck.Result result =
        check(SITE, STREAM.replace("business days except 1st business day of year", rule));
    assertThat(result.problems())
        .anySatisfy(
            problem -> assertThat(problem.message()).contains("picks no day").contains(reason));
  }

  @Test
  void aZoneThatHasBeenRenamedIsTakenWithItsPresentName() {
    DefinitionCheck.Result result = check(SITE, STREAM.replace("Europe/Oslo", "Europe/Kiev"));
    assertThat(result.isSound()).isTrue();
    assertThat(result.problems())
        .singleElement()
        .satisfies(
            problem -> {
              assertThat(problem.message())
                  .isEqualTo("\"Europe/Kiev\" is called \"Europe/Kyiv\" now; both mean the same");
              assertThat(problem.line()).isEqualTo(6);
            });
    assertThat(check(SITE, STREAM.replace("Europe/Oslo", "Asia/Kolkata")).problems()).isEmpty();
  }

  @Test
  void aPrerequisiteThatIsNotPlannedOnSomeDatesIsAWarningWithTheDates() {
    String daily =
        """
        stream: fuel/report
        schedule: { days: every day, at: "23:00", zone: Europe/Oslo }
        jobs:
          report:
            host: quay-north
            run: x
            waits-for: passenger/night-manifest succeeded
        """;
    assertThat(check(SITE, STREAM, daily).problems())
        .singleElement()
        .satisfies(
            problem ->
                assertThat(problem.message())
                    .contains("not planned on 2027-03-06, 2027-03-07, 2027-03-13"));
  }

  @Test
  @Timeout(5)
  void filesThatAreTooLargeOrExplodeAreRefusedQuickly() {
    String huge = "stream: a\nabout: " + "x".repeat(50_000_000) + "\n";
    assertThat(check(huge).problems().get(0).message()).contains("at most 4000000");
    StringBuilder bomb = new StringBuilder("stream: a\nparameters:\n  a0: &a0 [x, x]\n");
    for (int i = 1; i < 60; i++) {
      bomb.append("  a%d: &a%d [*a%d, *a%d]\n".formatted(i, i, i - 1, i - 1));
    }
    assertThat(check(bomb.toString()).problems().get(0).message()).contains("alias");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          'stream: [a'                    | this is not valid YAML
          'just text'                     | expected a definition
          'stream: A B'                   | is not a valid name
          'strem: a'                      | did you mean "stream"
          'host-group: g'                 | either labels or hosts
          'stream: s\nschedule: { windows: 7h, zone: UTC }\njobs: { j: { host: quay-north, run: x } }' | a length that divides a day
          'stream: s\nschedule: { windows: 1h, zone: UTC, if-missed: skip }\njobs: { j: { host: quay-north, run: x } }' | every window is run
          'stream: s\nschedule: { cron: "0 6 * *", zone: UTC }\njobs: { j: { host: quay-north, run: x } }' | expected five fields
          'stream: s\nschedule: { cron: "0 25 * * *", zone: UTC }\njobs: { j: { host: quay-north, run: x } }' | not the five fields of a POSIX crontab
          'stream: s\nschedule: []\njobs: { j: { host: quay-north, run: x } }' | at least one entry
          'stream: s\nschedule: [ { windows: 1h, zone: UTC }, { days: monday, at: "06:00", zone: UTC } ]\njobs: { j: { host: quay-north, run: x } }' | can have no other entry
          'stream: s\nschedule: { days: monday, at: "06:00", zone: UTC, from: 2027-02-01, to: 2027-01-01 }\njobs: { j: { host: quay-north, run: x } }' | ends (2027-01-01) before it begins
          'holiday-calendar: h'           | needs holidays, or other calendars
          'holiday-calendar: h\nholidays: []\nobservance: { saturday: sometime }' | expected something like saturday: friday before
          'holiday-calendar: h\nholidays: []\nwith: [h]' | calendars are built on themselves: h → h
          'holiday-calendar: h\nsource: { connection: c }' | unknown connection "c"
          'holiday-calendar: brannoch-office\nholidays: []' | are both named "brannoch-office"
          'business-calendar: a\nworking: business days of b\n---\nbusiness-calendar: b\nworking: last day of p\n---\nperiod: p\nstarts: 1st business day of a of month' | a → b → period p → a
          'business-calendar: c\nextra: [2027-13-01]' | no such day
          'period: months\nstarts: 1 july' | too like a word of the day rules
          'period: p'                     | either starts or weeks
          'period: p\nweeks: 4-4-x\nyears: [2027-01-04]' | expected weeks: 4-4-5
          'connection: c\naddress: ftp://x' | expected http://HOST, https://HOST, sftp://HOST or jdbc:mariadb
          'recipient: r\nmail: nobody'    | not an e-mail address
          'recipient: r\nreceives: lat'   | did you mean "late"
          'file-watch: w\nhost: quay-north\npath: in/x' | expected an absolute path
          'stream: a\njobs:\n  j: { approve: yes?, host: quay-north }' | runs on no host
          """)
  void otherDefinitionsAreHeldToTheirRulesToo(String text, String message) {
    DefinitionCheck.Result result = check(SITE, text.replace("\\n", "\n"));
    assertThat(result.problems())
        .anySatisfy(p -> assertThat(p.message()).contains(message))
        .allSatisfy(p -> assertThat(p.line()).isPositive());
  }

  @Test
  void whatIsInUseIsKnownWithItsUsers() {
    Definitions all = check(SITE, STREAM).definitions();
    assertThat(DefinitionCheck.usersOf(all, Kind.HOLIDAY_CALENDAR, "brannoch"))
        .containsExactly("brannoch-office");
    assertThat(DefinitionCheck.usersOf(all, Kind.STREAM, "passenger/night-manifest")).isEmpty();
  }

  private static final String PLAIN =
      """
      host: h
      ---
      stream: inner
      asks-for: [port]
      jobs: { count: { host: h, run: "x ${port}" }, report: { host: h, run: x, waits-for: count succeeded } }
      ---
      stream: other
      schedule: { days: weekdays, at: "06:00", zone: UTC }
      jobs: { load: { host: h, run: x }, rare: { host: h, run: x, days: monday } }
      ---
      stream: outer
      schedule: { days: every day, at: "07:00", zone: UTC }
      parameters: { berth: north }
      jobs:
        first: { host: h, run: x }
        visit: { stream: inner, parameters: { port: "${berth}" }, waits-for: first succeeded }
        last: { host: h, run: x, waits-for: visit succeeded }
      """;

  @Test
  void aStreamInAStreamIsSound() {
    DefinitionCheck.Result result = check(PLAIN);
    assertThat(result.problems()).isEmpty();
    assertThat(result.definitions().job("outer/visit/count")).isPresent();
    assertThat(result.definitions().streamAt("outer/visit").orElseThrow().path())
        .isEqualTo("outer/visit");
    assertThat(result.definitions().topOf("outer/visit/x").orElseThrow().path()).isEqualTo("outer");
  }

  /** Each row adds a document, or changes the sound ones, and is told what is wrong with that. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          port: "${berth}"       | x: "1"                       | which asks for "port"
          stream: inner,         | stream: iner,                | unknown stream "iner"; did you mean "inner"
          count: { host: h, run: "x ${port}" } | count: { stream: outer } | a stream is a step of itself: inner → outer → inner
          asks-for: [port]       | schedule: { days: every day, at: "05:00", zone: UTC }~asks-for: [port] | entry 1 of its schedule gives it no value
          first: { host: h, run: x } | first: { host: h, run: x, waits-for: outer/visit/count succeeded } | go in a circle
          first: { host: h, run: x } | first: { host: h, run: x, waits-for: last ended } | go in a circle
          berth: north           | berth: "${quay}", quay: "${berth}" | parameters go in a circle
          host: h, run: x, waits-for: visit succeeded | stream: inner, host: h, parameters: { port: a } | a job with "stream" runs on no host
          """)
  void whatIsWrongWithStepsIsSaid(String right, String wrong, String message) {
    assertThat(PLAIN).contains(right);
    DefinitionCheck.Result result = check(PLAIN.replace(right, wrong.replace("~", "\n")));
    assertThat(result.problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
    assertThat(result.isSound()).isFalse();
  }

  @Test
  void aStreamAndAStepMustNotShareAName() {
    String clash =
        PLAIN.replace("${berth}", "b")
            + "---\nstream: outer/visit\njobs: { x: { host: h, run: x } }\n";
    assertThat(check(clash).problems())
        .anySatisfy(p -> assertThat(p.message()).contains("has the name of a stream"))
        .anySatisfy(p -> assertThat(p.message()).contains("has the name of a step"));
  }

  /** Prerequisites that cannot be met on some dates, or ever. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          other/load succeeded                                   | other, which is not planned on 2027-03-06, 2027-03-07
          other/load succeeded if planned                        |
          other/load succeeded on the previous business date     |
          other/rare succeeded on the previous business date     | of the previous business date, which is not planned then for
          other/rare succeeded                                   | other/rare, which is not planned on 2027-03-02
          other/load succeeded within 4d                         |
          inner/count succeeded                                  | nothing leads to it: inner has no schedule
          visit/count succeeded                                  | unknown job or stream
          outer/visit/count succeeded                            |
          first succeeded and first failed                       | it can never start
          not other/load running                                 | which is not planned on
          """)
  void prerequisitesThatCannotBeMetAreWarnedOf(String prerequisite, String message) {
    DefinitionCheck.Result result =
        check(PLAIN.replace("waits-for: visit succeeded", "waits-for: " + prerequisite));
    if (message == null) {
      assertThat(result.problems()).isEmpty();
    } else {
      assertThat(result.problems())
          .anySatisfy(problem -> assertThat(problem.message()).contains(message));
    }
  }

  @Test
  void aJobMustNotAskForMoreThanThereEverIsAndNoCapacityBeTakenAway() {
    String capacity =
        "capacity: slots\nunits: 1\nspans: [{ from: \"22:00\", to: \"06:00\", units: 4 }]\n---\n";
    String jobs = PLAIN.replace("last: { host: h,", "last: { takes: { slots: 4 }, host: h,");
    assertThat(check(capacity + jobs).problems()).isEmpty();
    DefinitionCheck.Result before = check(capacity + jobs);
    DefinitionCheck.Result less =
        DefinitionCheck.check(
            before.definitions(),
            List.of(new SourceFile("less.yaml", "capacity: slots\nunits: 3\n")),
            TODAY);
    assertThat(less.problems())
        .singleElement()
        .satisfies(
            problem ->
                assertThat(problem.toString())
                    .contains("less.yaml:1:1", "outer/last takes 4", "which has only 3"));
  }

  @Test
  void aLevelThatLosesAValueIsHeldAgainstThoseWhoNeedIt() {
    String site = "parameters-of: site\nvalues: { outbox: /srv/out }\n---\n";
    DefinitionCheck.Result before =
        check(
            site
                + PLAIN.replace(
                    "first: { host: h, run: x }", "first: { host: h, run: \"x ${outbox}\" }"));
    assertThat(before.problems()).isEmpty();
    DefinitionCheck.Result after =
        DefinitionCheck.check(
            before.definitions(),
            List.of(new SourceFile("site.yaml", "parameters-of: site\nvalues: { inbox: /x }\n")),
            TODAY);
    assertThat(after.problems())
        .anySatisfy(
            p -> assertThat(p.message()).contains("unknown placeholder ${outbox}", "inbox"));
    assertThat(check("parameters-of: town\nvalues: { a: b }\n").problems())
        .anySatisfy(p -> assertThat(p.message()).contains("expected site, environment NAME or"));
  }

  private static List<Arguments> tooLong() {
    String stream = "stream: s\njobs: { j: { approve: y? } }\n";
    String deep = "n".repeat(90);
    return List.of(
        Arguments.of(stream + "title: " + "t".repeat(301), "\"title\" has 301 characters"),
        Arguments.of(stream + "department: " + "d".repeat(201), "at most 200 are taken"),
        Arguments.of(
            "stream: " + "s".repeat(201) + "\njobs: { j: { approve: y? } }\n",
            "\"stream\" has 201 characters"),
        Arguments.of(
            "stream: in\njobs: { %s: { stream: leaf } }\n---\nstream: leaf\njobs: { j: { approve: y? } }\n---\nstream: out\njobs: { %s: { stream: in } }\n---\nstream: top/%s\njobs: { z: { stream: out } }\n"
                .formatted(deep, deep, deep),
            "has a name of more than 200 characters"),
        Arguments.of(
            stream + "tags: [" + String.join(", ", Collections.nCopies(30, "night-tag-9")) + "]",
            "the tags have more than 240 characters together"),
        Arguments.of(
            stream + "schedule: { days: every day, at: \"21:00\", zone: UTC, from: 1969-12-31 }",
            "cannot use \"1969-12-31\" for \"from\""),
        Arguments.of(
            stream + "schedule: { days: every day, at: \"21:00\", zone: UTC, to: +10000-01-01 }",
            "expected a date such as"));
  }

  /** What would not fit where it is kept is refused where it is written. */
  @ParameterizedTest
  @MethodSource("tooLong")
  void whatIsTooLongIsRefusedWithItsPlace(String text, String message) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("f.yaml", text)), LocalDate.of(2027, 3, 4));
    assertThat(result.problems()).extracting(Problem::message).anyMatch(m -> m.contains(message));
    assertThat(result.isSound()).isFalse();
  }

  /**
   * Each of forty streams runs the next one twice: nobody wants to wait for the last of its runs.
   */
  @Test
  @Timeout(20)
  void stepsThatBecomeTooManyRunsAreRefusedBeforeAnybodyCountsThem() {
    StringBuilder text = new StringBuilder("stream: s40\njobs: { j: { approve: y? } }\n");
    for (int i = 0; i < 40; i++) {
      text.append(
          "---\nstream: s%d\njobs: { a: { stream: s%d }, b: { stream: s%d } }\n"
              .formatted(i, i + 1, i + 1));
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("f.yaml", text.toString())),
            LocalDate.of(2027, 3, 4));
    assertThat(result.problems())
        .extracting(Problem::message)
        .contains(
            "a start of s0 would have more than 100000 runs, with those of its steps; divide it")
        .noneMatch(message -> message.contains("a start of s30 "));
  }
}

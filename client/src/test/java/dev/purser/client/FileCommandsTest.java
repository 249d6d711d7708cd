package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

class FileCommandsTest {
  private static final String WORLD = "../demo/world";

  @TempDir private Path folder;

  private record Ran(int code, String out, String err) {
    JsonNode json() {
      return Service.JSON.readTree(out);
    }
  }

  private static Ran purser(String... arguments) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code = Purser.run(new PrintWriter(out), new PrintWriter(err), arguments);
    return new Ran(code, out.toString(), err.toString());
  }

  private static final Pattern SOUND =
      Pattern.compile("(?m)^sound: (\\d+) definitions(?:, \\d+ warnings?)?$");

  /** How many definitions were found sound. */
  private static int definitions(String out) {
    Matcher sound = SOUND.matcher(out);
    assertThat(sound.find()).as(out).isTrue();
    return Integer.parseInt(sound.group(1));
  }

  @ParameterizedTest
  @ValueSource(strings = {"2027-13-01", "2027-02-29", "tomorrow", "04.03.2027", "2027-3-4"})
  void aDateThatIsNoneIsAnsweredWithOneThatIs(String text) {
    Ran ran = purser("days", "weekdays", "--from", text, "--to", "2027-03-31");
    assertThat(ran.code()).isEqualTo(2);
    assertThat(ran.err())
        .contains("\"" + text + "\" is not a date; expected one such as 2027-03-04")
        .doesNotContain("java.");
  }

  @Test
  void theDemoWorldIsSound() {
    Ran ran = purser("check", WORLD);
    assertThat(ran.code()).isZero();
    assertThat(definitions(ran.out())).isGreaterThan(50);
  }

  @Test
  void daysAreListedWithTheirWeekdayAndHoliday() {
    Ran ran =
        purser(
            "days",
            "24 december",
            "--from",
            "2027-01-01",
            "--to",
            "2027-12-31",
            "--calendars",
            WORLD,
            "-o",
            "csv");
    assertThat(ran.out().lines())
        .containsExactly("date,weekday,holiday,guess", "2027-12-24,Friday,Yule (brannoch),false");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      textBlock =
          """
          days|wekdays|--from|2027-01-01|--to|2027-01-02                      ; 2 ; did you mean "weekdays"
          days|weekdays|--from|2027-01-02|--to|2027-01-01                     ; 2 ; is before --from
          days|business days of skery|--from|2027-01-01|--to|2027-01-02|--calendars|../demo/world ; 2 ; did you mean "skerry"
          days|weekends|--from|2027-01-04|--to|2027-01-05                     ; 1 ; picks no day
          days|last day of half-time|--from|2027-01-04|--to|2027-01-05|--calendars|../demo/world ; 2 ; unknown period "half-time"
          days|weekdays|--from|2027-01-01|--to|2327-01-02                     ; 2 ; more than 200 years
          days|weekdays|--calendar|nope                                       ; 2 ; unknown calendar "nope"
          days|holidays of skerry|--explain|2027-01-04|--calendars|../demo/world ; 1 ; this is a guess: the calendars are known only to 2026-12-31
          days|easter|--explain|2027-03-28                                    ; 0 ; is picked by "easter"
          calendars|import|nope.ics|--name|x                                  ; 2 ; there is no file
          calendars|import|../demo/crontab|--name|x                           ; 1 ; this is not an iCalendar file
          calendars|export|nope|--files|../demo/world                         ; 1 ; there is no calendar "nope"
          import|crontab|nope|--host|depot                                    ; 2 ; there is no file
          import|crontab|../demo/crontab                                      ; 2 ; missing required option
          import                                                              ; 2 ; crontab
          preview|../demo/world                                               ; 1 ; you are not logged in
          pause                                                               ; 2 ; missing required parameter
          days|weekdays|--from|yesterday|--to|2027-01-05                      ; 2 ; invalid value
          check|no-such-file.yaml                                             ; 2 ; there is no file
          outlook|--files|../demo/world|--days|1000                           ; 2 ; must be 1 to 400
          rehearse|--files|../demo/world|--date|2027-03-04|--durations|nope   ; 2 ; there is no file
          shw                                                                 ; 2 ; show
          runs                                                                ; 1 ; you are not logged in
          """)
  void whatCannotBeDoneIsSaidWithTheRightExitCode(String arguments, int code, String message) {
    Ran ran = purser(arguments.split("\\|"));
    assertThat(ran.code()).isEqualTo(code);
    assertThat(ran.out() + ran.err()).contains(message);
  }

  @Test
  void aRehearsalFollowsItsDurationsFile() throws IOException {
    Path durations = folder.resolve("durations.yaml");
    Files.writeString(
        durations,
        "close-bookings: 4m succeeded\nbuild-manifest: [30s failed, 6m succeeded]\ndraft-crew: 5m\npublish-crew: 1m\nfile-manifest: 30s failed\n");
    Ran ran =
        purser(
            "rehearse",
            "--files",
            WORLD,
            "--date",
            "2027-03-04",
            "--durations",
            durations.toString(),
            "-o",
            "json");
    assertThat(ran.code()).isZero();
    assertThat(of(ran, "build-manifest").get("state").asString()).isEqualTo("succeeded");
    assertThat(of(ran, "build-manifest").get("start").asString())
        .isEqualTo("2027-03-04T21:34:00+01:00");
    assertThat(of(ran, "build-manifest").get("end").asString())
        .isEqualTo("2027-03-04T21:41:30+01:00");
    assertThat(of(ran, "file-manifest").get("state").asString()).isEqualTo("failed");
    assertThat(of(ran, "file-manifest").get("host").asString()).isEqualTo("quay-north");
  }

  private static JsonNode of(Ran ran, String job) {
    for (JsonNode run : ran.json()) {
      if (run.get("reference").asString().contains("/" + job + "@")) {
        return run;
      }
    }
    throw new AssertionError(job);
  }

  @Test
  void theOutlookLeavesOutAHolidayAndMarksAClockChange() throws IOException {
    Ran holiday =
        purser("outlook", "--files", WORLD, "--from", "2027-03-29", "--days", "1", "-o", "json");
    assertThat(holiday.json().findValuesAsString("stream"))
        .contains("fleet/rosters")
        .doesNotContain("passenger/night-manifest");
    Path night = folder.resolve("night.yaml");
    Files.writeString(
        night,
        "host: h\n---\nstream: night\nschedule: { days: every day, at: \"02:30\", zone: Europe/Oslo }\njobs:\n  j: { host: h, run: x }\n");
    Ran change =
        purser(
            "outlook",
            "--files",
            night.toString(),
            "--from",
            "2027-03-27",
            "--days",
            "2",
            "-o",
            "json");
    assertThat(change.json().findValuesAsString("shift")).containsExactly("", "skipped");
    assertThat(change.json().findValuesAsString("due"))
        .containsExactly("2027-03-27T01:30:00Z", "2027-03-28T01:00:00Z");
  }

  @Test
  void aProblemIsPrintedSoThatAnEditorJumpsToIt() throws IOException {
    Path file = folder.resolve("bad.yaml");
    Files.writeString(file, "stream: a\njobs:\n  j: { host: h, run: x, wait-for: k succeeded }\n");
    Ran ran = purser("check", file.toString());
    assertThat(ran.code()).isEqualTo(1);
    assertThat(ran.out())
        .contains(
            file
                + ":3:25: error: unknown key \"wait-for\" in job \"j\"; did you mean \"waits-for\"?");
  }

  @Test
  void daysAfterWhatACalendarIsKnownToAreMarked() {
    Ran ran =
        purser(
            "days",
            "holidays of skerry",
            "--from",
            "2026-12-01",
            "--to",
            "2027-03-01",
            "--calendars",
            WORLD);
    assertThat(ran.out()).contains("2026-12-25  Friday    Yule (brannoch)").contains("a guess");
    assertThat(ran.err()).contains("what lies after 2026-12-31 is a guess");
  }

  @Test
  void twoRehearsalsAreComparedAndSayWhatMovedAndWhy() throws IOException {
    Path late = folder.resolve("late.yaml");
    Files.writeString(
        late,
        "arrive: 25m\ncount-cars: { goes: 3m, values: { cars: 0 } }\ncustoms: 20m approved\n"
            + "harbour/port-call/refuel/take-fuel: [1m exit code 75, 9m]\n");
    Ran ran =
        purser("rehearse", "--files", WORLD, "--date", "2027-03-03", "--compare", late.toString());
    assertThat(ran.code()).isZero();
    assertThat(ran.out())
        .contains("harbour/port-call/count-cars@2027-03-03#1")
        .contains("harbour/port-call/arrive@2027-03-03#1 ended")
        .contains("nothing to do: \"value cars of count-cars > 0\" does not hold")
        .doesNotContain("passenger/night-manifest/close-bookings")
        .containsPattern("\\d+ of \\d+ runs go otherwise");
    Ran alike =
        purser("rehearse", "--files", WORLD, "--date", "2027-03-03", "--compare-files", WORLD);
    assertThat(alike.out()).contains("both go alike", "0 of ");
    Files.writeString(late, "arive: 25m\n");
    Ran wrong =
        purser("rehearse", "--files", WORLD, "--date", "2027-03-03", "--compare", late.toString());
    assertThat(wrong.code()).isEqualTo(1);
    assertThat(wrong.err()).contains("unknown job \"arive\"");
  }

  @Test
  void aCrontabBecomesDefinitionsThatAreSound() throws IOException {
    Ran ran =
        purser("import", "crontab", "../demo/crontab", "--host", "depot", "--zone", "Europe/Oslo");
    assertThat(ran.code()).isEqualTo(1);
    assertThat(ran.err())
        .contains("3 jobs made, 2 lines not taken", "@reboot is not a time of day");
    Path file = Files.writeString(folder.resolve("depot.yaml"), ran.out());
    Ran check = purser("check", file.toString(), WORLD);
    assertThat(check.out()).contains("nobody would be told of alerts of imported/count-tanks");
    int made = definitions(check.out()) - definitions(purser("check", WORLD).out());
    assertThat(made).isEqualTo(3);
    Ran outlook =
        purser(
            "outlook",
            "--files",
            file.toString(),
            WORLD,
            "--from",
            "2027-03-04",
            "--days",
            "1",
            "--ics");
    assertThat(outlook.out())
        .startsWith("BEGIN:VCALENDAR")
        .contains("imported/count-tanks/count-tanks@2027-03-04#1".substring(0, 40))
        .doesNotContain("sweep");
  }

  @Test
  void aCalendarGoesOutAsICalendarAndComesBackAsADefinition() throws IOException {
    Ran out =
        purser(
            "calendars",
            "export",
            "brannoch",
            "--files",
            WORLD,
            "--from",
            "2027-01-01",
            "--to",
            "2028-12-31");
    Path ics = Files.writeString(folder.resolve("brannoch.ics"), out.out());
    Ran in = purser("calendars", "import", ics.toString(), "--name", "again", "--title", "Again");
    assertThat(in.code()).isZero();
    assertThat(in.out())
        .contains("holiday-calendar: again", "title: \"Again\"", "name: \"Founders' Day\"")
        .contains("day: \"24 december to 26 december\"");
    Path yaml = Files.writeString(folder.resolve("again.yaml"), in.out());
    Ran days =
        purser(
            "days",
            "holidays of again",
            "--from",
            "2027-01-01",
            "--to",
            "2027-12-31",
            "--calendars",
            yaml.toString(),
            "-o",
            "csv");
    assertThat(days.out().lines().count()).isEqualTo(9);
  }

  @Test
  void theOutlookShowsWindowsMovedDaysAndJobsThatAreLeftOut() {
    Ran ran =
        purser("outlook", "--files", WORLD, "--from", "2027-01-22", "--days", "1", "-o", "json");
    assertThat(of(ran, "close").get("state").asString()).isEqualTo("succeeded");
    assertThat(of(ran, "year-books").get("state").asString()).isEqualTo("skipped");
    List<String> references = ran.json().findValuesAsString("reference");
    assertThat(references.stream().filter(one -> one.startsWith("tide/levels/read"))).hasSize(4);
    assertThat(references.stream().filter(one -> one.startsWith("fuel/price-watch/ask")))
        .hasSize(58);
  }
}

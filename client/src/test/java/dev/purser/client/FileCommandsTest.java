package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
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

  @Test
  void theDemoWorldIsSound() {
    Ran ran = purser("check", WORLD);
    assertThat(ran.code()).isZero();
    assertThat(ran.out()).isEqualTo("sound: 38 definitions" + System.lineSeparator());
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
        .containsExactly("date,weekday,holiday,sure", "2027-12-24,Friday,Yule (brannoch),");
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
          days|weekdays|--from|yesterday|--to|2027-01-05                      ; 2 ; Invalid value
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
}

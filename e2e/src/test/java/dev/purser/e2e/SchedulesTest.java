package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Schedules with real processes: what people type, and what an outage does. */
class SchedulesTest {
  private static Harbour harbour;

  @BeforeAll
  static void open() throws IOException {
    // Noon, so that times a few seconds from now lie on one date whenever the test is run.
    String ahead = Harbour.clockAt(LocalTime.NOON).truncatedTo(ChronoUnit.SECONDS).toString();
    harbour = new Harbour(Map.of("PURSER_MISSED_AFTER", "2s", "PURSER_CLOCK_OFFSET", ahead));
    harbour.publish(
        """
        host: quay-north
        ---
        holiday-calendar: brannoch
        holidays: [ { day: 24 december, name: Yule Eve } ]
        ---
        business-calendar: brannoch-office
        without: [brannoch]
        """);
    harbour.startAgent("quay-north");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  private static String stream(String name, String schedule, String run) {
    return "stream: "
        + name
        + "\npaused: no\ncalendar: brannoch-office\nschedule: { "
        + schedule
        + ", zone: UTC }\njobs: { one: { host: quay-north, run: '"
        + run
        + "' } }\n";
  }

  private static Path file(String name, String text) throws IOException {
    return Files.writeString(harbour.home.resolve(name), text);
  }

  private static List<JsonNode> runs(String stream) {
    List<JsonNode> found = new ArrayList<>();
    harbour.get("/api/v1/runs?stream=" + stream + "&limit=1000").get("runs").forEach(found::add);
    return found;
  }

  private static LocalTime now() {
    return harbour.now().atOffset(ZoneOffset.UTC).toLocalTime();
  }

  private static LocalDate today() {
    return harbour.now().atOffset(ZoneOffset.UTC).toLocalDate();
  }

  private static String at(LocalTime time) {
    return "\"" + time.truncatedTo(ChronoUnit.SECONDS) + "\"";
  }

  @Test
  void startsThatPassWhileTheServiceIsDeadAreJudgedByTheirSchedules() throws Exception {
    LocalTime now = now();
    String times =
        "days: every day, at: [" + at(now.plusSeconds(6)) + ", " + at(now.plusSeconds(8)) + "]";
    harbour.publish(
        stream("missed/all", times, "true"),
        stream("missed/once", times + ", if-missed: run once", "true"),
        stream("missed/none", times + ", if-missed: skip", "true"));
    LocalDate today = today();
    assertThat(runs("missed/none").stream().filter(r -> isOn(r, today))).hasSize(2);
    harbour.killService();
    harbour.turnClock(Duration.ofSeconds(13));
    harbour.startService();
    Harbour.await("the agent is back", () -> harbour.isConnected("quay-north"), 30);
    Harbour.await("all ends", () -> ended("missed/all", today) && ended("missed/once", today), 30);
    assertThat(states("missed/all", today)).containsExactly("succeeded", "succeeded");
    assertThat(states("missed/once", today)).containsExactly("skipped", "succeeded");
    assertThat(states("missed/none", today)).containsExactly("skipped", "skipped");
    long first = runs("missed/once").get(0).get("id").asLong();
    assertThat(harbour.get("/api/v1/runs/" + first).get("moments").toString())
        .contains("missed while the service was away")
        .contains("a later one was too, and its schedule says to run once");
  }

  @Test
  void aServiceThatWasAwayForDaysMakesUpForThemAsEachScheduleSays() throws Exception {
    String early = "days: every day, at: \"00:00:01\"";
    harbour.publish(
        stream("away/all", early, "true"),
        stream("away/once", early + ", if-missed: run once", "true"),
        stream("away/none", early + ", if-missed: skip", "true"),
        stream("away/windows", "windows: 12h", "true"));
    LocalDate today = today();
    harbour.killService();
    harbour.sql("delete from run where stream like 'away/%'");
    harbour.sql("delete from planned_date");
    harbour.sql("insert into planned_date values ('" + today.minusDays(4) + "', now())");
    harbour.startService();
    Harbour.await("the agent is back", () -> harbour.isConnected("quay-north"), 30);
    Harbour.await(
        "what was missed is settled",
        () ->
            runs("away/all").size() == 5
                && settled("away/all", today)
                && settled("away/windows", today.minusDays(1)),
        60);
    assertThat(statesUntil("away/all", today))
        .containsExactly("succeeded", "succeeded", "succeeded", "succeeded");
    assertThat(statesUntil("away/once", today))
        .containsExactly("skipped", "skipped", "skipped", "succeeded");
    assertThat(statesUntil("away/none", today)).containsOnly("skipped").hasSize(4);
    // Three days of two, and the one before them that was due at their very beginning.
    assertThat(statesUntil("away/windows", today.minusDays(1)))
        .containsOnly("succeeded")
        .hasSize(7);
    assertThat(runs("away/all"))
        .extracting(r -> r.get("reference").asString())
        .doesNotHaveDuplicates();
  }

  private static boolean settled(String stream, LocalDate last) {
    return statesUntil(stream, last).stream()
        .noneMatch(s -> List.of("planned", "waiting", "starting", "running").contains(s));
  }

  private static List<String> statesUntil(String stream, LocalDate last) {
    return runs(stream).stream()
        .filter(run -> !LocalDate.parse(run.get("date").asString()).isAfter(last))
        .map(run -> run.get("state").asString())
        .toList();
  }

  @Test
  void whatAPausedStreamMissesIsJudgedWhenItGoesOn() throws Exception {
    LocalTime now = now();
    String times =
        "days: every day, at: [" + at(now.plusSeconds(15)) + ", " + at(now.plusSeconds(16)) + "]";
    LocalDate today = today();
    for (String stream : List.of("paused/once", "paused/none")) {
      String more = stream.endsWith("once") ? ", if-missed: run once" : ", if-missed: skip";
      harbour.publish(stream(stream, times + more, "true"));
      assertThat(harbour.purser("pause", stream, "--reason", "audit").code()).isZero();
    }
    harbour.killService();
    harbour.turnClock(Duration.ofSeconds(20));
    harbour.startService();
    Harbour.await("the agent is back", () -> harbour.isConnected("quay-north"), 30);
    assertThat(states("paused/once", today)).isEmpty();
    harbour.purser("resume", "paused/once");
    harbour.purser("resume", "paused/none");
    Harbour.await("it has run", () -> settled("paused/once", today), 20);
    assertThat(states("paused/once", today)).containsExactly("skipped", "succeeded");
    assertThat(states("paused/none", today)).containsExactly("skipped", "skipped");
  }

  private static boolean isOn(JsonNode run, LocalDate date) {
    return run.get("date").asString().equals(date.toString());
  }

  private static boolean ended(String stream, LocalDate date) {
    return states(stream, date).stream()
        .noneMatch(s -> List.of("planned", "waiting", "starting", "running").contains(s));
  }

  private static List<String> states(String stream, LocalDate date) {
    return runs(stream).stream()
        .filter(run -> isOn(run, date))
        .map(run -> run.get("state").asString())
        .toList();
  }

  @Test
  void windowsAreFilledInThroughTheCommandLineEachRunWithItsOwnBounds() throws Exception {
    harbour.publish(
        stream(
            "tide/levels",
            "windows: 6h, at-a-time: 2",
            "echo $PURSER_WINDOW_START to $PURSER_WINDOW_END"));
    LocalDate from = today().minusDays(2);
    Harbour.Ran filled = harbour.purser("windows", "tide/levels", "--fill-from", from.toString());
    assertThat(filled.out()).contains("windows of tide/levels were filled in");
    Harbour.await(
        "windows done",
        () ->
            harbour
                    .get("/api/v1/streams/windows?stream=tide/levels")
                    .toString()
                    .split("\"done\"")
                    .length
                > 8,
        40);
    JsonNode first =
        runs("tide/levels").stream().filter(run -> isOn(run, from)).findFirst().orElseThrow();
    Harbour.await("output", () -> !harbour.output(first.get("id").asLong()).isEmpty(), 10);
    assertThat(harbour.output(first.get("id").asLong()).strip())
        .isEqualTo(from + "T00:00:00Z to " + from + "T06:00:00Z");
    assertThat(harbour.purser("windows", "tide/levels", "--fill-from", from.toString()).out())
        .startsWith("0 windows");
  }

  @Test
  void aChangeIsPreviewedPublishedPausedLetGoAndFollowed() throws Exception {
    harbour.publish(
        stream("accounts/month-end", "days: last business day of month, at: \"20:00\"", "true"));
    Path change =
        file(
            "change.yaml",
            stream(
                "accounts/month-end", "days: last business day of month, at: \"21:00\"", "true"));
    Harbour.Ran preview = harbour.purser("preview", change.toString());
    assertThat(preview.code()).isZero();
    assertThat(preview.out())
        .contains("stream accounts/month-end  changed", "schedule.at: 20:00 → 21:00")
        .containsPattern("0 gained, 0 lost, 1[34] moved") // ends of months within 400 days
        .contains("it starts at 21:00 now, not 20:00");
    Path broken =
        file("broken.yaml", stream("x", "days: last busines day of month, at: \"21:00\"", "true"));
    Harbour.Ran refused = harbour.purser("preview", broken.toString());
    assertThat(refused.code()).isEqualTo(1);
    assertThat(refused.out()).contains("did you mean \"business\"", "cannot be published");
    assertThat(harbour.purser("next", "accounts/month-end", "--count", "2").out())
        .contains("it is the last business day of the month");
    assertThat(harbour.purser("pause", "accounts/month-end", "--reason", "audit").out())
        .contains("paused by admin: audit");
    assertThat(harbour.purser("streams", "month-end").out()).contains("paused by admin: audit");
    assertThat(harbour.purser("pause", "accounts/month-ed").out())
        .contains("did you mean \"accounts/month-end\"?");
    assertThat(harbour.purser("resume", "accounts/month-end").out()).contains("goes on");
    assertThat(harbour.purser("month", "--from", "2027-12-01").out())
        .contains("accounts/month-end")
        .contains("Yule Eve (brannoch)");
    Harbour.Ran export =
        harbour.purser(
            "calendars", "export", "brannoch", "--from", "2027-01-01", "--to", "2028-12-31");
    Path ics = file("brannoch.ics", export.out());
    Harbour.Ran imported = harbour.purser("calendars", "import", ics.toString(), "--name", "again");
    assertThat(imported.out())
        .contains("holiday-calendar: again", "day: \"24 december\"", "name: \"Yule Eve\"");
  }

  @Test
  void aCalendarProgramSubscribesWithANameAndAToken() throws Exception {
    harbour.publish(stream("feed/a", "days: business days, at: \"06:00\"", "true"));
    String all = harbour.bearer().get("Authorization").substring("Bearer ".length());
    assertThat(feed("feed/a", "admin:" + all).statusCode())
        .as("what opens everything does not belong into a calendar program")
        .isEqualTo(401);
    String token = harbour.purser("tokens", "new", "my calendar", "--feed").out().strip();
    HttpResponse<String> feed = feed("feed/a", "admin:" + token);
    assertThat(feed.statusCode()).isEqualTo(200);
    assertThat(feed.headers().firstValue("Content-Type").orElse("")).startsWith("text/calendar");
    assertThat(feed.body()).startsWith("BEGIN:VCALENDAR").contains("SUMMARY:feed/a");
    HttpResponse<String> stranger = feed("feed/a", "admin:" + Harbour.PASSWORD);
    assertThat(stranger.statusCode()).isEqualTo(401);
    HttpResponse<String> elsewhere =
        harbour.send("GET", "/api/v1/streams", null, basic("admin:" + token));
    assertThat(elsewhere.statusCode()).isEqualTo(401);
  }

  private static HttpResponse<String> feed(String stream, String nameAndToken) {
    return harbour.send("GET", "/api/v1/streams/feed?stream=" + stream, null, basic(nameAndToken));
  }

  private static Map<String, String> basic(String nameAndToken) {
    String encoded =
        Base64.getEncoder().encodeToString(nameAndToken.getBytes(StandardCharsets.UTF_8));
    return Map.of("Authorization", "Basic " + encoded);
  }
}

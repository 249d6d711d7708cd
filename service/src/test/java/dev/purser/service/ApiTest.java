package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The API's answers to what is right and, above all, to what is wrong. */
class ApiTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static String token = "";

  private final HttpClient http = HttpClient.newHttpClient();
  @LocalServerPort private int port;
  @Autowired private People people;

  @BeforeEach
  void signIn() {
    if (token.isEmpty()) {
      people.save("api-test", Role.ADMINISTRATOR, "long-enough-password", false);
      token = people.newToken("api-test", "test");
    }
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
        .header("Authorization", "Bearer " + token);
  }

  private HttpResponse<String> send(String method, String path, String body)
      throws IOException, InterruptedException {
    HttpRequest.Builder request = request(path);
    if (body == null || body.isBlank()) {
      request.method(method, HttpRequest.BodyPublishers.noBody());
    } else {
      request
          .header("Content-Type", "application/json")
          .method(method, HttpRequest.BodyPublishers.ofString(body));
    }
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          GET    | /api/v1/runs?state=runing                                   |                            | 400 | did you mean "running"?
          GET    | /api/v1/runs?limit=0                                        |                            | 400 | limit must be 1 to 1000, not 0
          GET    | /api/v1/runs?cursor=x                                       |                            | 400 | is no cursor of this list
          GET    | /api/v1/runs?date=tomorrow                                  |                            | 400 | date
          GET    | /api/v1/runs/999999                                         |                            | 404 | there is no run 999999
          GET    | /api/v1/runs/abc                                            |                            | 400 | abc
          GET    | /api/v1/runs/find?reference=nonsense                        |                            | 400 | is no run; expected one such as
          GET    | /api/v1/runs/find?reference=a/b@2027-03-04                  |                            | 404 | there is no run a/b@2027-03-04
          POST   | /api/v1/runs/999999/actions                                 | {"action":"hold"}          | 404 | there is no run
          POST   | /api/v1/runs/1/actions                                      | {"action":"hald"}          | 400 | did you mean "hold"?
          POST   | /api/v1/runs/1/actions                                      | {"action":                 | 400 | Failed to read request
          POST   | /api/v1/starts                                              | {"stream":"no/such"}       | 400 | there is no stream "no/such"
          POST   | /api/v1/starts                                              | {}                         | 400 | which stream is to be started?
          POST   | /api/v1/definitions                                         | {"files":[]}               | 400 | no file was given
          GET    | /api/v1/watches?date=tomorrow                               |                            | 400 | date
          POST   | /api/v1/watches/nothing/try                                 | {}                         | 404 | there is no file watch "nothing"
          GET    | /api/v1/arrivals?state=redy                                 |                            | 400 | did you mean "ready"?
          GET    | /api/v1/arrivals?watch=nothing                              |                            | 400 | there is no file watch "nothing"
          GET    | /api/v1/arrivals?changedSince=yesterday                     |                            | 400 | changedSince
          GET    | /api/v1/arrivals?before=x                                   |                            | 400 | before
          GET    | /api/v1/arrivals/999999                                     |                            | 404 | there is no arrival 999999
          GET    | /api/v1/arrivals/abc                                        |                            | 400 | abc
          POST   | /api/v1/arrivals/actions                                    | {"arrivals":[1],"action":"retri"} | 400 | did you mean "retry"?
          POST   | /api/v1/arrivals/actions                                    | {"arrivals":[],"action":"retry"}  | 400 | 1 to 1000 arrivals can be decided on at once, not 0
          POST   | /api/v1/arrivals/actions                                    | {"action":"done"}          | 400 | 1 to 1000 arrivals
          DELETE | /api/v1/definitions/steam?name=x                            |                            | 400 | did you mean "stream"?
          DELETE | /api/v1/definitions/stream?name=x                           |                            | 400 | there is no stream x
          GET    | /api/v1/calendars/nowhere/years/2027                        |                            | 404 | there is no calendar "nowhere"
          GET    | /api/v1/calendars/monday-to-friday/years/99                 |                            | 400 | the year must be 1900 to 2999
          GET    | /api/v1/days?rule=wekdays&from=2027-01-01&to=2027-01-31     |                            | 400 | column 1: cannot read "wekdays" here; did you mean "weekdays"?
          GET    | /api/v1/days?rule=weekdays&from=2027-01-31&to=2027-01-01    |                            | 400 | is no span of at most 20 years
          GET    | /api/v1/days?rule=last%20day%20of%20fiscal-half&from=2027-01-01&to=2027-01-31 | | 400 | unknown period "fiscal-half"
          GET    | /api/v1/days?rule=business%20days%20of%20nope&from=2027-01-01&to=2027-01-31 | | 400 | unknown calendar "nope"
          GET    | /api/v1/days?rule=easter&from=2027-01-01&to=2037-01-31&all=true | | 400 | at most two years
          GET    | /api/v1/days?rule=easter&from=2027-01-01&to=2027-01-31&calendar=nope | | 400 | unknown business calendar "nope"
          GET    | /api/v1/days/explain?rule=eastr&date=2027-01-01 | | 400 | did you mean "easter"?
          GET    | /api/v1/days/explain?rule=easter&date=yesterday | | 400 | date
          GET    | /api/v1/calendars/nowhere/export | | 404 | there is no calendar "nowhere"
          GET    | /api/v1/calendars/monday-to-friday/export?from=2027-02-01&to=2027-01-01 | | 400 | is no span
          POST   | /api/v1/calendars/import | {"name":"No Name","text":"x"} | 400 | needs a name of lower-case letters
          GET    | /api/v1/streams/one?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/next?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/next?stream=nope&count=0 | | 400 | count must be 1 to 1000
          GET    | /api/v1/streams/month?days=0 | | 400 | days must be 1 to 400
          GET    | /api/v1/streams/windows?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/feed?stream=nope | | 404 | there is no stream "nope"
          POST   | /api/v1/streams/pause | {} | 400 | which stream is meant?
          POST   | /api/v1/streams/pause | {"stream":"nope"} | 404 | there is no stream "nope"
          POST   | /api/v1/streams/resume | {"stream":"nope"} | 404 | there is no stream "nope"
          POST   | /api/v1/streams/windows/fill | {"stream":"nope"} | 400 | from which date
          POST   | /api/v1/streams/windows/fill | {"stream":"nope","from":"2027-01-01"} | 404 | there is no stream "nope"
          POST   | /api/v1/definitions/preview | {"files":[]} | 400 | no file was given
          POST   | /api/v1/definitions/preview | {"files":[{"name":"a","text":"x"}],"days":0} | 400 | days must be 1 to 1500
          POST   | /api/v1/definitions/from-crontab | {"text":"* * * * * x"} | 400 | on which host
          GET    | /api/v1/outlook?days=9999                                   |                            | 400 | days must be 1 to 400
          POST   | /api/v1/alerts/999999/actions                               | {"action":"close"}         | 404 | there is no alert
          POST   | /api/v1/hosts/Quay%20North/enrolment-token                  | {}                         | 400 | is no name for a host
          PUT    | /api/v1/people/ola                                          | {"role":"captain","password":"long-enough-1"} | 400 | unknown role "captain"
          PUT    | /api/v1/people/ola                                          | {"role":"viewer","password":"short"}          | 400 | at least 12 characters
          PUT    | /api/v1/people/Ola%20N                                      | {"role":"viewer","password":"long-enough-1"}  | 400 | is no name for a person
          DELETE | /api/v1/people/api-test                                     |                            | 409 | nobody can remove themselves
          DELETE | /api/v1/people/nobody-here                                  |                            | 404 | there is nobody named
          POST   | /api/v1/actions | {"action":"hold"} | 400 | 1 to 20000 runs can be acted on at once, not 0
          POST   | /api/v1/actions | {"action":"hod","runs":[1]} | 400 | did you mean "hold"?
          POST   | /api/v1/actions | {"action":"priority","runs":[1],"priority":300} | 400 | needs a priority from 0 to 100
          POST   | /api/v1/actions | {"action":"start-at","runs":[1]} | 400 | needs a start time such as
          POST   | /api/v1/what-if | {"action":"hold","scope":{"kind":"steam","name":"x"}} | 400 | did you mean "stream"?
          POST   | /api/v1/what-if | {"action":"skip","scope":{"kind":"stream","name":"x"}} | 400 | can be held and released only
          POST   | /api/v1/what-if | {"start":{"stream":"no/such"}} | 400 | there is no stream "no/such"
          POST   | /api/v1/what-if | {"start":{"stream":"no/such","andFollowing":true}} | 400 | which job is the start to go on from?
          POST   | /api/v1/holds | {"action":"hold"} | 400 | which job, stream or department?
          POST   | /api/v1/holds | {"action":"hold","scope":{"kind":"stream","name":"no/such"}} | 400 | there is no stream "no/such"
          POST   | /api/v1/holds | {"action":"release","scope":{"kind":"stream","name":"no/such"}} | 409 | is not held
          POST   | /api/v1/capacities | {} | 400 | which capacity, and how many units?
          POST   | /api/v1/capacities | {"capacity":{"name":"nope","units":1}} | 400 | there is no capacity "nope"
          POST   | /api/v1/capacities | {"capacity":{"name":"nope","units":-1}} | 400 | 0 units or more, not -1
          GET    | /api/v1/graph?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/starts/parameters?stream=nope | | 404 | there is no stream "nope"
          DELETE | /api/v1/filters/nope | | 404 | you keep no filter "nope"
          GET    | /api/v1/no-such-thing                                       |                            | 404 | no-such-thing
          """)
  void whatIsWrongIsAProblemThatSaysWhatWouldBeRight(
      String method, String path, String body, int status, String detail) throws Exception {
    HttpResponse<String> response = send(method, path, body);
    assertThat(response.statusCode()).isEqualTo(status);
    assertThat(response.headers().firstValue("Content-Type").orElse(""))
        .startsWith("application/problem+json");
    JsonNode problem = JSON.readTree(response.body());
    assertThat(problem.get("status").asInt()).isEqualTo(status);
    assertThat(problem.get("detail").asString()).contains(detail);
    assertThat(response.body()).doesNotContain("Exception").doesNotContain("dev.purser");
  }

  @Test
  void aGraphAFewLettersAndKeptFilters() throws Exception {
    json(
        "POST",
        "/api/v1/definitions",
        files(
            "host: api-host\n---\nstream: api/inner\njobs: { x: { host: api-host, run: x } }\n---\n"
                + "stream: api/graph\ntitle: Of the graph\ndepartment: Harbour\ntags: [port]\n"
                + "succeeds-if: [b]\njobs:\n  a: { host: api-host, run: x }\n  s: { stream: api/inner,"
                + " waits-for: a succeeded }\n  b: { host: api-host, run: x, waits-for: a failed or not"
                + " s succeeded or api/inner ended if planned, tags: [night] }\n"));
    assertThat(
            send(
                    "POST",
                    "/api/v1/starts",
                    "{\"stream\":\"api/graph\",\"parameters\":{},\"reason\":\"\"}")
                .statusCode())
        .isEqualTo(201);
    JsonNode graph = json("GET", "/api/v1/graph?stream=api/graph", null);
    assertThat(graph.get("nodes").findValuesAsString("kind"))
        .contains("command", "stream", "other");
    assertThat(graph.get("edges").findValuesAsString("label"))
        .containsExactly("succeeded", "failed", "not succeeded", "ended, if planned");
    assertThat(graph.at("/edges/1/alternative").asBoolean()).isTrue();
    assertThat(graph.get("succeedsIf").asString()).isEqualTo("b");
    JsonNode below = json("GET", "/api/v1/graph?stream=api/graph/s", null);
    assertThat(below.get("above").asString()).isEqualTo("api/graph");
    assertThat(below.at("/nodes/0/run/reference").asString()).startsWith("api/graph/s/x@");
    assertThat(json("GET", "/api/v1/find?text=ofgr", null).at("/0/name").asString())
        .isEqualTo("api/graph");
    assertThat(json("GET", "/api/v1/runs?tag=night&department=Harbour", null).get("total").asInt())
        .isEqualTo(1);
    assertThat(json("GET", "/api/v1/runs?tag=port&stream=api/graph", null).get("total").asInt())
        .isGreaterThanOrEqualTo(3);
    assertThat(json("GET", "/api/v1/runs?text=100%25", null).get("total").asInt()).isZero();
    json("PUT", "/api/v1/filters/mine", Map.of("name", "mine", "filter", "state=failed"));
    JsonNode kept =
        json("PUT", "/api/v1/filters/mine", Map.of("name", "mine", "filter", "state=waiting"));
    assertThat(kept.size()).isEqualTo(1);
    assertThat(kept.at("/0/filter").asString()).isEqualTo("state=waiting");
    assertThat(json("DELETE", "/api/v1/filters/mine", null).size()).isZero();
  }

  @Test
  void daysAndYearsAreWorkedOutByTheCore() throws Exception {
    JsonNode days =
        JSON.readTree(
            send(
                    "GET",
                    "/api/v1/days?rule=last%20day%20of%20month&from=2028-02-01&to=2028-03-31",
                    null)
                .body());
    assertThat(days.at("/days/0/date").asString()).isEqualTo("2028-02-29");
    assertThat(days.at("/days/1/date").asString()).isEqualTo("2028-03-31");
    assertThat(days.get("count").asInt()).isEqualTo(2);
    JsonNode year =
        JSON.readTree(send("GET", "/api/v1/calendars/monday-to-friday/years/2028", null).body());
    assertThat(year.get("days").size()).isEqualTo(366);
    assertThat(year.at("/days/0/open").asBoolean()).isFalse();
  }

  private JsonNode json(String method, String path, Object body) throws Exception {
    HttpResponse<String> response =
        send(method, path, body == null ? null : JSON.writeValueAsString(body));
    assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
    return JSON.readTree(response.body());
  }

  private static Map<String, Object> files(String text) {
    return Map.of("files", java.util.List.of(Map.of("name", "a.yaml", "text", text)));
  }

  @Test
  void aStreamsScheduleIsToldWithItsNextStartsAndItsMonth() throws Exception {
    json(
        "POST",
        "/api/v1/definitions",
        files(
            "host: api-host\n---\nholiday-calendar: api-closed\nholidays: [ { day: 25 december, name: Midwinter } ]\n"
                + "known-to: 2027-12-31\n---\nbusiness-calendar: api-office\nwithout: [api-closed]\n---\n"
                + "stream: api/a\ntitle: Of the API\ncalendar: api-office\n"
                + "schedule: { days: business days, at: \"06:00\", zone: Europe/Oslo }\n"
                + "jobs: { one: { host: api-host, run: x } }\n"));
    JsonNode one = json("GET", "/api/v1/streams/one?stream=api/a", null);
    assertThat(one.at("/schedule/0").asString()).isEqualTo("business days, 06:00 Europe/Oslo");
    assertThat(one.at("/pause/reason").asString()).isEqualTo("new: nobody has let it go yet");
    JsonNode next = json("GET", "/api/v1/streams/next?stream=api/a&count=400", null);
    assertThat(next.size()).isEqualTo(400);
    assertThat(next.at("/0/reason").asString()).startsWith("it is a business day of api-office");
    assertThat(next.get(399).get("guess").asBoolean()).isTrue();
    JsonNode month = json("GET", "/api/v1/streams/month?from=2027-12-20&days=10&text=api", null);
    assertThat(month.at("/streams/0/cells").size()).isEqualTo(10);
    assertThat(month.at("/streams/0/cells/0/starts").asInt()).isEqualTo(1);
    assertThat(month.at("/streams/0/cells/5/holiday").asString())
        .isEqualTo("Midwinter (api-closed)");
    assertThat(month.at("/streams/0/cells/5/starts").asInt()).isZero();
    JsonNode resumed =
        json("POST", "/api/v1/streams/resume", Map.of("stream", "api/a", "reason", "looked at"));
    assertThat(resumed.at("/stream/pause").isMissingNode()).isTrue();
    JsonNode paused =
        json("POST", "/api/v1/streams/pause", Map.of("stream", "api/a", "until", "2199-01-01"));
    assertThat(paused.at("/stream/pause/until").asString()).isEqualTo("2199-01-01");
    JsonNode calendars = json("GET", "/api/v1/calendars", null);
    assertThat(calendars.toString())
        .contains("\"name\":\"api-office\"")
        .contains("\"knownTo\":\"2027-12-31\"")
        .contains("\"usedBy\":[\"api/a\"]");
    JsonNode year = json("GET", "/api/v1/calendars/api-office/years/2028", null);
    assertThat(year.at("/days/3/guess").asBoolean()).isTrue();
    JsonNode explained =
        json(
            "GET",
            "/api/v1/days/explain?rule=business%20days%20except%20monday&date=2027-12-27&calendar=api-office",
            null);
    assertThat(explained.get("picked").asBoolean()).isFalse();
    assertThat(explained.at("/reason/below").size()).isEqualTo(2);
  }

  @Test
  void aPreviewTellsFieldsAndRunsAndFilesOfOtherKindsBecomeDefinitions() throws Exception {
    JsonNode preview =
        json(
            "POST",
            "/api/v1/definitions/preview",
            Map.of(
                "days",
                30,
                "files",
                java.util.List.of(
                    Map.of(
                        "name",
                        "p.yaml",
                        "text",
                        "host: pv\n---\nstream: pv/new\nschedule: { days: every day, at: \"06:00\", zone: UTC }\n"
                            + "jobs: { one: { host: pv, run: x }, two: { host: pv, run: x } }\n"))));
    assertThat(preview.get("gained").asInt()).isEqualTo(60);
    assertThat(preview.at("/streams/0/changes/0/reason").asString()).isEqualTo("the stream is new");
    assertThat(preview.at("/streams/0/paused").asBoolean()).isTrue();
    assertThat(preview.at("/definitions/0/action").asString()).isEqualTo("added");
    JsonNode crontab =
        json(
            "POST",
            "/api/v1/definitions/from-crontab",
            Map.of("text", "5 4 * * 1 /bin/tidy\n61 * * * * x\n", "host", "pv", "zone", "UTC"));
    assertThat(crontab.get("yaml").asString()).contains("stream: imported/tidy");
    assertThat(crontab.at("/problems/0/line").asInt()).isEqualTo(2);
    String ics =
        "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:A\r\nDTSTART;VALUE=DATE:20991224\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    JsonNode imported =
        json(
            "POST", "/api/v1/calendars/import", Map.of("name", "far", "title", "Far", "text", ics));
    assertThat(imported.get("yaml").asString())
        .contains("title: \"Far\"", "known-to: 2099-12-31", "day: \"2099-12-24\"");
    assertThat(
            json("POST", "/api/v1/calendars/import", Map.of("name", "bad", "text", "nothing"))
                .at("/problems/0/message")
                .asString())
        .contains("no iCalendar file");
    HttpResponse<String> export =
        send(
            "GET", "/api/v1/calendars/monday-to-friday/export?from=2027-01-01&to=2027-12-31", null);
    assertThat(export.headers().firstValue("Content-Disposition").orElse(""))
        .contains("monday-to-friday.ics");
  }

  @Test
  void checkingChangesNothing() throws Exception {
    String files =
        JSON.writeValueAsString(
            Map.of(
                "files",
                java.util.List.of(
                    Map.of("name", "a.yaml", "text", "capacity: only-checked\nunits: 1\n"))));
    JsonNode result = JSON.readTree(send("POST", "/api/v1/definitions/check", files).body());
    assertThat(result.get("sound").asBoolean()).isTrue();
    assertThat(result.get("revision").asLong()).isZero();
    assertThat(send("GET", "/api/v1/definitions", null).body()).doesNotContain("only-checked");
  }

  @Test
  void whoListensIsToldWhatHasChanged() throws Exception {
    HttpResponse<InputStream> stream =
        http.send(request("/api/v1/changes").build(), HttpResponse.BodyHandlers.ofInputStream());
    assertThat(stream.headers().firstValue("Content-Type").orElse(""))
        .startsWith("text/event-stream");
    String files =
        JSON.writeValueAsString(
            Map.of(
                "files",
                java.util.List.of(
                    Map.of(
                        "name",
                        "a.yaml",
                        "text",
                        "capacity: told\nunits: " + (1 + System.nanoTime() % 1000) + "\n"))));
    assertThat(send("POST", "/api/v1/definitions", files).statusCode()).isEqualTo(200);
    try (BufferedReader lines =
        new BufferedReader(new InputStreamReader(stream.body(), StandardCharsets.UTF_8))) {
      String line = lines.readLine();
      while (line != null && !line.contains("\"streams\"")) {
        line = lines.readLine();
      }
      assertThat(line).isNotNull();
    }
  }

  @Test
  void theConsolesPageIsServedForItsOwnAddressesOnly() throws Exception {
    for (String path :
        new String[] {
          "/",
          "/runs/7",
          "/calendars",
          "/streams/tide/levels",
          "/month",
          "/rules?rule=easter",
          "/changes"
        }) {
      HttpResponse<String> page = send("GET", path, null);
      assertThat(page.statusCode()).as(path).isEqualTo(200);
      assertThat(page.body()).contains("<div id=\"root\">");
      assertThat(page.headers().firstValue("Content-Security-Policy").orElse(""))
          .contains("default-src 'self'");
      assertThat(page.headers().firstValue("X-Content-Type-Options")).contains("nosniff");
    }
    assertThat(send("GET", "/agent/v1/nothing", null).statusCode()).isEqualTo(404);
  }
}

package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.springframework.web.bind.annotation.RequestMethod.GET;

import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import jakarta.validation.constraints.Max;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.beans.factory.annotation.Qualifier;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The API's answers to what is right and, above all, to what is wrong. */
class ApiTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static String token = "";

  private final HttpClient http = HttpClient.newHttpClient();
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;

  @Autowired
  @Qualifier("requestMappingHandlerMapping")
  private RequestMappingHandlerMapping mappings;

  @BeforeEach
  void signIn() {
    if (token.isEmpty()) {
      people.save("api-test", Role.ADMINISTRATOR, passwords.hash("long-enough-password"), false);
      token = tokens.make("api-test", "test", TokenScope.API, Tokens.USUAL).secret();
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
          GET    | /api/v1/runs?limit=0                                        |                            | 400 | limit must be at least 1, not 0
          GET    | /api/v1/runs?limit=99999                                    |                            | 400 | limit must be at most 1000, not 99999
          GET    | /api/v1/streams?limit=0                                     |                            | 400 | limit must be a number from 1 to 10000, not 0
          GET    | /api/v1/streams?after=x                                     |                            | 400 | "x" is not a place in this list
          GET    | /api/v1/alerts?limit=0                                      |                            | 400 | limit must be at least 1, not 0
          POST   | /api/v1/actions                                             | {"action":"start-at","runs":[1],"priority":-1} | 400 | priority must be at least 0, not -1
          POST   | /api/v1/definitions/check                                   | {"files":[{"name":"a"},{}]} | 400 | files[0].text is missing; files[1].name is missing; files[1].text is missing
          GET    | /api/v1/runs?date=%2B12345-01-01                            |                            | 400 | date: "+12345-01-01" is not a date such as 2027-03-04, of 1970 to 9999
          GET    | /api/v1/runs?from=1969-12-31                                |                            | 400 | from: "1969-12-31" is not a date
          POST   | /api/v1/starts | {"stream":"a","date":"0099-01-01"} | 400 | date: "0099-01-01" is not a date such as
          POST   | /api/v1/actions | {"action":"start-at","runs":[1],"startAt":"+99999-01-01T00:00:00Z"} | 400 | startAt: "+99999-01-01T00:00:00Z" is not a time such as
          POST   | /api/v1/actions | {"action":"hold","runs":["x"]} | 400 | the value of runs[0] is not of the kind
          POST   | /api/v1/actions | [1] | 400 | not
          GET    | /api/v1/runs/12x | | 400 | id cannot be "12x": expected a whole number
          GET    | /api/v1/runs?cursor=x                                       |                            | 400 | is not a cursor of this list
          GET    | /api/v1/runs?date=tomorrow                                  |                            | 400 | date
          GET    | /api/v1/runs/999999                                         |                            | 404 | there is no run 999999
          GET    | /api/v1/runs/abc                                            |                            | 400 | abc
          GET    | /api/v1/runs/find?reference=nonsense                        |                            | 400 | is not a run; expected one such as
          GET    | /api/v1/runs/find?reference=a/b@2027-03-04                  |                            | 404 | there is no run a/b@2027-03-04
          POST   | /api/v1/runs/999999/actions                                 | {"action":"hold"}          | 404 | there is no run
          POST   | /api/v1/runs/1/actions                                      | {"action":"hald"}          | 400 | did you mean "hold"?
          POST   | /api/v1/runs/1/actions                                      | {"action":                 | 400 | this is not JSON: see line 1, column 11
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
          GET    | /api/v1/calendars/monday-to-friday/years/99                 |                            | 400 | year must be at least 1900, not 99
          GET    | /api/v1/days?rule=wekdays&from=2027-01-01&to=2027-01-31     |                            | 400 | column 1: cannot read "wekdays" here; did you mean "weekdays"?
          GET    | /api/v1/days?rule=weekdays&from=2027-01-31&to=2027-01-01    |                            | 400 | is not a span of at most 20 years
          GET    | /api/v1/days?rule=last%20day%20of%20fiscal-half&from=2027-01-01&to=2027-01-31 | | 400 | unknown period "fiscal-half"
          GET    | /api/v1/days?rule=business%20days%20of%20nope&from=2027-01-01&to=2027-01-31 | | 400 | unknown calendar "nope"
          GET    | /api/v1/days?rule=easter&from=2027-01-01&to=2037-01-31&all=true | | 400 | at most two years
          GET    | /api/v1/days?rule=easter&from=2027-01-01&to=2027-01-31&calendar=nope | | 400 | unknown business calendar "nope"
          GET    | /api/v1/days/explain?rule=eastr&date=2027-01-01 | | 400 | did you mean "easter"?
          GET    | /api/v1/days/explain?rule=easter&date=yesterday | | 400 | date
          GET    | /api/v1/calendars/nowhere/export | | 404 | there is no calendar "nowhere"
          GET    | /api/v1/calendars/monday-to-friday/export?from=2027-02-01&to=2027-01-01 | | 400 | is not a span
          POST   | /api/v1/calendars/import | {"name":"No Name","text":"x"} | 400 | needs a name of lower-case letters
          GET    | /api/v1/commitments/nope%402027-03-04%232 | | 404 | there is no commitment nope
          GET    | /api/v1/commitments/nope%40today | | 400 | "nope@today" is not a commitment's name or a promise of it; right would be
          GET    | /api/v1/commitments/nope?number=0 | | 400 | number must be at least 1, not 0
          GET    | /api/v1/streams/one?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/next?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/next?stream=nope&count=0 | | 400 | count must be at least 1, not 0
          GET    | /api/v1/streams/month?days=0 | | 400 | days must be at least 1, not 0
          GET    | /api/v1/streams/windows?stream=nope | | 404 | there is no stream "nope"
          GET    | /api/v1/streams/feed?stream=nope | | 404 | there is no stream "nope"
          POST   | /api/v1/streams/pause | {} | 400 | which stream is meant?
          POST   | /api/v1/streams/pause | {"stream":"nope"} | 404 | there is no stream "nope"
          POST   | /api/v1/streams/pause | {"stream":"nope","until":""} | 404 | there is no stream "nope"
          GET    | /api/v1/streams/month?from=&days=0 | | 400 | days must be at least 1
          POST   | /api/v1/streams/resume | {"stream":"nope"} | 404 | there is no stream "nope"
          POST   | /api/v1/streams/windows/fill | {"stream":"nope"} | 400 | from which date
          POST   | /api/v1/streams/windows/fill | {"stream":"nope","from":"2027-01-01"} | 404 | there is no stream "nope"
          POST   | /api/v1/definitions/preview | {"files":[]} | 400 | no file was given
          POST   | /api/v1/definitions/preview | {"files":[{"name":"a","text":"x"}],"days":0} | 400 | days must be at least 1, not 0
          POST   | /api/v1/definitions/from-crontab | {"text":"* * * * * x"} | 400 | on which host
          GET    | /api/v1/outlook?days=9999                                   |                            | 400 | days must be at most 400, not 9999
          POST   | /api/v1/alerts/999999/actions                               | {"action":"close"}         | 404 | there is no alert
          POST   | /api/v1/hosts/Quay%20North/enrolment-token                  | {}                         | 400 | is not a valid name for a host
          PUT    | /api/v1/people/ola                                          | {"role":"captain","password":"long-enough-1"} | 400 | unknown role "captain"
          PUT    | /api/v1/people/ola                                          | {"role":"viewer","password":"short"}          | 400 | at least 12 characters
          PUT    | /api/v1/people/olav                                         | {"role":"viewer"}          | 400 | olav is new here and needs a first password
          PUT    | /api/v1/people/Ola%20N                                      | {"role":"viewer","password":"long-enough-1"}  | 400 | is not a valid name for a person
          DELETE | /api/v1/people/api-test                                     |                            | 409 | nobody can remove themselves
          DELETE | /api/v1/people/nobody-here                                  |                            | 404 | there is nobody named
          POST   | /api/v1/actions | {"action":"hold"} | 400 | 1 to 20000 runs can be acted on at once, not 0
          POST   | /api/v1/actions | {"action":"hod","runs":[1]} | 400 | did you mean "hold"?
          POST   | /api/v1/actions | {"action":"priority","runs":[1],"priority":300} | 400 | priority must be at most 100, not 300
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
          POST   | /api/v1/capacities | {"capacity":{"name":"nope","units":-1}} | 400 | units must be at least 0, not -1
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

  /** Every list ends somewhere: by pages, by a limit, or because there are never many. */
  @Test
  void everyListIsBounded() {
    List<String> without =
        mappings.getHandlerMethods().entrySet().stream()
            .filter(one -> one.getKey().getMethodsCondition().getMethods().contains(GET))
            .map(Map.Entry::getValue)
            .filter(one -> one.getBeanType().getPackageName().startsWith("dev.purser"))
            .filter(one -> one.getMethod().getGenericReturnType().getTypeName().contains("List<"))
            .filter(
                one ->
                    Arrays.stream(one.getMethod().getAnnotations())
                        .noneMatch(a -> a.annotationType().getSimpleName().equals("Paged")))
            .filter(
                one ->
                    Arrays.stream(one.getMethod().getParameters())
                        .noneMatch(p -> p.isAnnotationPresent(Max.class)))
            .map(one -> one.getMethod().getName())
            .toList();
    assertThat(without).containsExactly("find"); // the best of what has the letters
  }

  /** By a limit of one, the pages are the list, whichever way it is cut. */
  @ParameterizedTest
  @CsvSource({
    "people, name",
    "calendars, kind",
    "streams, stream",
    "audit, id",
    "definitions, name"
  })
  void thePagesOfAListAreTheList(String list, String known) throws Exception {
    for (String name : List.of("page-a", "page-b", "page-c")) {
      json("PUT", "/api/v1/people/" + name, Map.of("role", "viewer", "password", "long-enough-1"));
      json(
          "POST",
          "/api/v1/definitions",
          files(
              "host: api-host\n---\nstream: "
                  + name
                  + "\njobs: { x: { host: api-host, run: x } }\n"));
    }
    List<String> whole = json("GET", "/api/v1/" + list, null).findValuesAsString(known);
    List<String> inPages = new ArrayList<>();
    String path = "/api/v1/" + list + "?limit=" + (list.equals("audit") ? 3 : 1);
    while (!path.isEmpty() && inPages.size() < whole.size()) {
      HttpResponse<String> page = send("GET", path, null);
      assertThat(page.statusCode()).as(page.body()).isEqualTo(200);
      inPages.addAll(JSON.readTree(page.body()).findValuesAsString(known));
      path =
          page.headers()
              .firstValue("Link")
              .map(link -> link.replaceAll("<(.*)>; rel=\"next\"", "$1"))
              .orElse("");
    }
    assertThat(inPages.subList(0, whole.size())).isEqualTo(whole);
    if (!list.equals("audit")) {
      assertThat(path).isEmpty();
    }
  }

  /** It runs nothing itself: what it does is told, and its parts are below it. */
  @Test
  void aRunInPartsIsShownWithItsParts() throws Exception {
    json(
        "POST",
        "/api/v1/definitions",
        files(
            "host: part-a\n---\nhost: part-b\n---\nhost-group: api-parts\nhosts: [part-a, part-b]\n---\n"
                + "stream: api/parts\njobs:\n  sweep: { host: each of api-parts, run: \"./sweep ${date}\","
                + " succeeds-if: any }\n"));
    JsonNode started =
        JSON.readTree(send("POST", "/api/v1/starts", "{\"stream\":\"api/parts\"}").body());
    assertThat(started.get("runs").findValuesAsString("job"))
        .containsExactlyInAnyOrder("sweep", "part-a", "part-b");
    JsonNode whole = json("GET", "/api/v1/runs?stream=api/parts&job=sweep", null).at("/runs/0");
    assertThat(whole.get("shape").asString()).isEqualTo("runs");
    assertThat(whole.get("kind").asString()).isEqualTo("parts");
    JsonNode shown = json("GET", "/api/v1/runs/" + whole.get("id").asLong(), null);
    assertThat(shown.get("command").asString()).startsWith("./sweep ");
    assertThat(shown.get("below").findValuesAsString("job"))
        .containsExactlyInAnyOrder("part-a", "part-b");
    assertThat(shown.get("below").findValuesAsString("shape")).containsOnly("attempts");
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
        .contains("not an iCalendar file");
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

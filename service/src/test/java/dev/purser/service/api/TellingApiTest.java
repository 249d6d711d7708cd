package dev.purser.service.api;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.DeliveryRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.TellingRow;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Alerts, and who is told of them, through the API, by people of each role. */
class TellingApiTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final Map<Role, String> TOKENS = new java.util.EnumMap<>(Role.class);
  private static int runs = 8_000_000;

  private final HttpClient http = HttpClient.newHttpClient();
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private Publisher publisher;
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;

  @BeforeEach
  void open() {
    if (TOKENS.isEmpty()) {
      for (Role role : Role.values()) {
        String name = "telling-" + role.word();
        people.save(name, role, passwords.hash("long-enough-password"), false);
        TOKENS.put(role, tokens.make(name, "test", TokenScope.API, Tokens.USUAL).secret());
      }
      people.changeMail("telling-operator", "");
      String text =
          """
          recipient: tell-desk
          members: [person telling-operator]
          ---
          recipient: tell-other
          mail: [other@b.example]
          ---
          duty: tell-duty
          zone: Europe/Oslo
          shifts: [ { from: "07:00", to: "07:00", who: [tell-desk, tell-other], turns: 1 day from 2027-03-01 } ]
          ---
          host: buoy
          ---
          stream: tell/a
          department: Telling
          owner: tell-desk
          jobs: { j: { host: buoy, run: x } }
          ---
          stream: tell/b
          department: Telling
          owner: tell-other
          jobs: { j: { host: buoy, run: x } }
          """;
      assertThat(
              publisher
                  .publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test")
                  .sound())
          .isTrue();
    }
  }

  private HttpResponse<String> send(Role role, String method, String path, String body)
      throws IOException, InterruptedException {
    HttpRequest.BodyPublisher sent =
        body == null || body.isBlank()
            ? HttpRequest.BodyPublishers.noBody()
            : HttpRequest.BodyPublishers.ofString(body);
    return http.send(
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
            .header("Authorization", "Bearer " + TOKENS.get(role))
            .header("Content-Type", "application/json")
            .method(method, sent)
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  private JsonNode get(String path) throws IOException, InterruptedException {
    HttpResponse<String> answer = send(Role.VIEWER, "GET", path, null);
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
    return JSON.readTree(answer.body());
  }

  /** An alert about a run, as it may stand on record. */
  private AlertRow alert(String stream, String kind, String urgency, String title, long partOf) {
    return transactions.execute(
        any -> {
          AlertRow alert = new AlertRow();
          alert.kind = kind;
          alert.about = "run";
          alert.run = ++runs;
          alert.reference = stream + "/j@2027-03-04#" + runs;
          alert.stream = stream;
          alert.title = title;
          alert.text = "of " + title;
          alert.urgency = urgency;
          alert.rule = "built in";
          alert.ownKey = "run " + runs;
          alert.cause = "";
          alert.opened = Instant.now();
          alert.acknowledgedBy = "";
          alert.closedBecause = "";
          rows.persist(alert);
          rows.persist(AlertStepRow.of(alert, "opened", "", alert.text, alert.opened));
          TellingRow telling = TellingRow.of(alert);
          telling.partOf = partOf;
          rows.persist(telling);
          return alert;
        });
  }

  private List<Long> ids(String query) throws IOException, InterruptedException {
    List<Long> all = new ArrayList<>();
    get("/api/v1/alerts?department=Telling&" + query)
        .forEach(one -> all.add(one.get("id").asLong()));
    return all;
  }

  @Test
  void theListIsNarrowedByEverythingThatCanBeSaid() throws IOException, InterruptedException {
    AlertRow late = alert("tell/a", "late", "urgent", "Quayside", 0);
    AlertRow failed = alert("tell/b", "failed", "note", "Harbour", 0);
    AlertRow part = alert("tell/b", "failed", "warning", "Harbour gate", failed.id);
    assertThat(ids("kind=late")).contains(late.id).doesNotContain(failed.id);
    assertThat(ids("kind=late,failed")).contains(late.id, failed.id);
    assertThat(ids("urgency=note")).contains(failed.id).doesNotContain(late.id, part.id);
    assertThat(ids("stream=tell/a")).contains(late.id).doesNotContain(failed.id);
    assertThat(ids("stream=tell")).contains(late.id, failed.id);
    assertThat(ids("text=Harbour")).contains(failed.id, part.id).doesNotContain(late.id);
    assertThat(ids("heads=true")).contains(late.id, failed.id).doesNotContain(part.id);
    assertThat(ids("partOf=" + failed.id)).containsExactly(part.id);
    assertThat(ids("from=" + late.opened.plusSeconds(3_600))).isEmpty();
    assertThat(ids("to=" + late.opened.minusSeconds(3_600))).doesNotContain(late.id);
    AlertRow site = alert("", "host", "urgent", "Pier", 0);
    assertThat(get("/api/v1/alerts?department=Nobody")).as("not what belongs to nobody").isEmpty();
    assertThat(ids("limit=500")).contains(late.id, failed.id).doesNotContain(site.id);
    AlertRow step = alert("tell/a/inner", "late", "urgent", "Of a step", 0);
    assertThat(ids("limit=500")).contains(step.id);
    assertThat(ids("stream=tell/a")).contains(late.id, step.id);
    close(failed);
    assertThat(ids("heads=true")).as("it stands by itself now").contains(part.id);
    assertThat(ids("kind=failed")).doesNotContain(failed.id);
    assertThat(ids("kind=failed&closed=true")).contains(failed.id);
  }

  private void close(AlertRow alert) throws IOException, InterruptedException {
    HttpResponse<String> closed =
        send(
            Role.OPERATOR,
            "POST",
            "/api/v1/alerts/" + alert.id + "/actions",
            "{\"action\":\"close\",\"reason\":\"mended\"}");
    assertThat(closed.statusCode()).as(closed.body()).isEqualTo(200);
  }

  /** Told by a recipient that somebody is a member of is told. */
  @Test
  void mineAreThoseOfWhichIWasTold() throws IOException, InterruptedException {
    AlertRow mine = alert("tell/a", "late", "warning", "Mine", 0);
    AlertRow other = alert("tell/b", "late", "warning", "Not mine", 0);
    transactions.executeWithoutResult(
        any -> {
          rows.persist(notice(mine, "tell-desk"));
          rows.persist(notice(other, "tell-other"));
        });
    HttpResponse<String> answer =
        send(Role.OPERATOR, "GET", "/api/v1/alerts?mine=true&text=ine", null);
    List<Long> found = new ArrayList<>();
    JSON.readTree(answer.body()).forEach(one -> found.add(one.get("id").asLong()));
    assertThat(found).contains(mine.id).doesNotContain(other.id);
    assertThat(get("/api/v1/alerts?mine=true&text=ine"))
        .as("a viewer was told of nothing")
        .isEmpty();
  }

  private static NoticeRow notice(AlertRow alert, String name) {
    AlertStepRow step = AlertStepRow.of(alert, "opened", "", "x", alert.opened);
    step.id = 0L;
    NoticeRow notice = NoticeRow.of(step, name, "rule", "warning");
    notice.state = NoticeRow.DROPPED;
    return notice;
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          viewer        | GET    | /api/v1/alerts?kind=fail                 |                        | 400 | unknown kind "fail"
          viewer        | GET    | /api/v1/alerts?urgency=high              |                        | 400 | unknown urgency "high"
          viewer        | GET    | /api/v1/alerts?from=yesterday            |                        | 400 | from: "yesterday"
          viewer        | GET    | /api/v1/duties/no-such                   |                        | 404 | there is no duty
          viewer        | GET    | /api/v1/duties/tell-duty?days=401        |                        | 400 | days must be
          viewer        | GET    | /api/v1/alert-sums?days=0                |                        | 400 | days must be
          viewer        | POST   | /api/v1/alert-trials                     | {"to":"tell-desk"}     | 403 |
          operator      | POST   | /api/v1/alert-trials                     | {"to":"tell-dsek"}     | 404 | did you mean "tell-desk"?
          operator      | POST   | /api/v1/alert-trials                     | {}                     | 404 | there is no recipient or duty
          viewer        | POST   | /api/v1/maintenance                      | {"what":"mute","scope":"site","until":"2099-01-01T00:00:00Z","reason":"x"} | 403 |
          operator      | POST   | /api/v1/maintenance                      | {}                     | 400 | say what (mute or drain)
          operator      | POST   | /api/v1/maintenance                      | {"what":"mute","scope":"site","until":"2099-01-01T00:00:00Z","reason":"x"} | 400 | 60 days at the most
          operator      | DELETE | /api/v1/maintenance/987654321            |                        | 404 | there is no maintenance
          viewer        | POST   | /api/v1/handovers                        | {"text":"x"}           | 403 |
          operator      | POST   | /api/v1/handovers                        | {"text":"  "}          | 400 | needs a text
          operator      | POST   | /api/v1/handovers/987654321/taken        | {}                     | 404 | there is no handover
          viewer        | POST   | /api/v1/alert-rehearsals                 | {"files":[{"name":"a","text":"alerts-of: site\\nalerts: [ { kind: lat } ]"}]} | 200 | did you mean \\"late\\"
          viewer        | POST   | /api/v1/alert-rehearsals                 | {"days":401}           | 400 | days must be
          administrator | PUT    | /api/v1/people/telling-viewer            | {"role":"viewer","mail":"not one"} | 400 | is not an e-mail address
          viewer        | GET    | /api/v1/alert-steps?limit=501            |                        | 400 | limit must be
          """)
  void whatMakesNoSenseOrIsNotAllowedIsSaid(
      String role, String method, String path, String body, int code, String message)
      throws IOException, InterruptedException {
    HttpResponse<String> answer =
        send(
            Role.of(role).orElseThrow(),
            method,
            path,
            body == null ? null : body.replace("\\n", "\n").replace("\n", "\\n"));
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(code);
    assertThat(answer.body().replace("\\\"", "\"").replace("\\\\", "\\"))
        .contains(message == null ? "" : message.replace("\\\"", "\""));
  }

  @Test
  void aTrialSaysWhyNobodyIsReached() throws IOException, InterruptedException {
    HttpResponse<String> answer =
        send(Role.OPERATOR, "POST", "/api/v1/alert-trials", "{\"to\":\"tell-desk\"}");
    assertThat(answer.body()).contains("person telling-operator").contains("has no mail address");
    assertThat(answer.body()).contains("\"arrived\":false");
  }

  @Test
  void dutiesTakeTurnsDayByDay() throws IOException, InterruptedException {
    JsonNode stretches = get("/api/v1/duties/tell-duty?from=2027-03-01&days=3");
    List<String> who = new ArrayList<>();
    stretches.forEach(one -> who.add(one.get("who").get(0).asString()));
    assertThat(who).containsExactly("tell-other", "tell-desk", "tell-other", "tell-desk");
    assertThat(get("/api/v1/duties").findValuesAsString("name")).contains("tell-duty");
  }

  @Test
  void aPersonsMailIsKeptUntilItIsTakenAway() throws IOException, InterruptedException {
    String path = "/api/v1/people/telling-author";
    String first = "{\"role\":\"author\",\"mail\":\"ada@b.example\"}";
    assertThat(send(Role.ADMINISTRATOR, "PUT", path, first).body()).contains("ada@b.example");
    assertThat(send(Role.ADMINISTRATOR, "PUT", path, "{\"role\":\"author\"}").body())
        .as("what is not said stays")
        .contains("ada@b.example");
    assertThat(send(Role.ADMINISTRATOR, "PUT", path, "{\"role\":\"author\",\"mail\":\"\"}").body())
        .doesNotContain("ada@b.example");
  }

  private void delivery(String address, String state, int tries, String said) {
    transactions.executeWithoutResult(
        any -> {
          DeliveryRow row = new DeliveryRow();
          row.recipient = "tell-other";
          row.channel = "mail";
          row.address = address;
          row.state = state;
          row.tries = tries;
          row.nextTry = Instant.now().plusSeconds(3_600);
          row.delivered = state.equals("delivered") ? Instant.now() : null;
          row.lastError = state.equals("delivered") ? "" : said;
          row.answer = state.equals("delivered") ? said : "";
          row.what = "alert";
          row.urgency = "warning";
          row.written = Instant.now();
          rows.persist(row);
        });
  }

  /** The oldest that was tried says what is wrong; those behind it wait, untried. */
  @Test
  void addressesSayHowTheyFare() throws IOException, InterruptedException {
    delivery("well@b.example", "delivered", 1, "250 taken");
    delivery("ill@b.example", "delivered", 1, "250 taken");
    delivery("ill@b.example", "pending", 4, "no route to it");
    delivery("ill@b.example", "pending", 0, "");
    delivery("gone@b.example", "refused", 1, "answers 410");
    delivery("new@b.example", "pending", 0, "");
    Map<String, JsonNode> found = new java.util.HashMap<>();
    get("/api/v1/alert-addresses").forEach(one -> found.put(one.get("address").asString(), one));
    assertThat(found.get("well@b.example").get("state").asString()).isEqualTo("well");
    assertThat(found.get("well@b.example").get("answer").asString()).isEqualTo("250 taken");
    assertThat(found.get("ill@b.example").get("state").asString()).isEqualTo("failing");
    assertThat(found.get("ill@b.example").get("lastError").asString()).isEqualTo("no route to it");
    assertThat(found.get("ill@b.example").get("pending").asInt()).isEqualTo(2);
    assertThat(found.get("gone@b.example").get("state").asString()).isEqualTo("refusing");
    assertThat(found.get("new@b.example").get("state").asString()).isEqualTo("new");
    assertThat(found.get("new@b.example").get("recipients").get(0).asString())
        .isEqualTo("tell-other");
    transactions.executeWithoutResult(
        any ->
            rows.createQuery("delete from DeliveryRow d where d.recipient = 'tell-other'")
                .executeUpdate());
  }

  @Test
  void sumsCountWhatBecameOfEachRulesAlerts() throws IOException, InterruptedException {
    AlertRow taken = alert("tell/b", "approval", "warning", "Taken", 0);
    AlertRow byHand = alert("tell/b", "approval", "warning", "By hand", 0);
    AlertRow byItself = alert("tell/b", "approval", "warning", "By itself", taken.id);
    AlertRow old = alert("tell/b", "approval", "warning", "Old", 0);
    alert("tell/b", "approval", "warning", "Young", 0);
    send(
        Role.OPERATOR,
        "POST",
        "/api/v1/alerts/" + taken.id + "/actions",
        "{\"action\":\"acknowledge\"}");
    close(byHand);
    transactions.executeWithoutResult(
        any -> {
          rows.find(AlertRow.class, byItself.id).closed = Instant.now();
          rows.find(AlertRow.class, old.id).opened = Instant.now().minusSeconds(90_000);
        });
    JsonNode sum = null;
    for (JsonNode one : get("/api/v1/alert-sums?days=3").get("sums")) {
      boolean mine = one.get("kind").asString().equals("approval");
      sum = mine && one.get("stream").asString().equals("tell/b") ? one : sum;
    }
    assertThat(sum).isNotNull();
    assertThat(sum.get("count").asInt()).isEqualTo(5);
    assertThat(sum.get("takenOn").asInt()).isEqualTo(1);
    assertThat(sum.get("byPerson").asInt()).isEqualTo(1);
    assertThat(sum.get("byItself").asInt()).isEqualTo(1);
    assertThat(sum.get("ignored").asInt()).isEqualTo(1);
    assertThat(sum.get("parts").asInt()).isEqualTo(1);
  }

  @Test
  void stepsAreReadFromACursorOn() throws IOException, InterruptedException {
    long cursor = get("/api/v1/alert-steps").get("cursor").asLong();
    AlertRow alert = alert("tell/a", "late", "urgent", "Cursor", 0);
    close(alert);
    List<String> seen = new ArrayList<>();
    long[] at = {cursor};
    await()
        .atMost(Duration.ofSeconds(15))
        .until(
            () -> {
              JsonNode found =
                  get("/api/v1/alert-steps?stream=tell/a&department=Telling&after=" + at[0]);
              at[0] = found.get("cursor").asLong();
              found
                  .get("steps")
                  .forEach(
                      step -> {
                        if (step.get("alert").asLong() == alert.id) {
                          seen.add(step.get("what").asString());
                        }
                      });
              return seen.size() == 2;
            });
    assertThat(seen).containsExactly("opened", "closed");
    assertThat(get("/api/v1/alert-steps?kind=host&after=" + cursor).get("steps"))
        .noneMatch(step -> step.get("alert").asLong() == alert.id);
  }

  /** Whoever comes back with the number of the last event goes on where it was. */
  @Test
  void theFeedTellsStepsAsTheyComeAndGoesOn() throws Exception {
    long cursor = get("/api/v1/alert-steps").get("cursor").asLong();
    AlertRow first = alert("tell/a", "late", "urgent", "First of the feed", 0);
    BlockingQueue<String> lines = follow("" + cursor);
    String id = awaitLine(lines, "id:", "First of the feed");
    AlertRow second = alert("tell/a", "late", "urgent", "Second of the feed", 0);
    assertThat(awaitLine(lines, "id:", "Second of the feed")).isGreaterThan("0");
    BlockingQueue<String> again = follow(id.substring(3).strip());
    String next = awaitLine(again, "id:", "of the feed");
    assertThat(Long.parseLong(next.substring(3).strip()))
        .as("what was heard is not told again")
        .isGreaterThan(Long.parseLong(id.substring(3).strip()));
    close(first);
    close(second);
  }

  private BlockingQueue<String> follow(String lastHeard) {
    BlockingQueue<String> lines = new LinkedBlockingQueue<>();
    Thread reading =
        new Thread(
            () -> {
              try {
                HttpResponse<java.io.InputStream> answer =
                    http.send(
                        HttpRequest.newBuilder(
                                URI.create(
                                    "http://127.0.0.1:"
                                        + port
                                        + "/api/v1/alert-steps/feed?stream=tell/a"))
                            .header("Authorization", "Bearer " + TOKENS.get(Role.VIEWER))
                            .header("Last-Event-ID", lastHeard)
                            .build(),
                        HttpResponse.BodyHandlers.ofInputStream());
                BufferedReader in =
                    new BufferedReader(
                        new InputStreamReader(answer.body(), StandardCharsets.UTF_8));
                in.lines().forEach(lines::add);
              } catch (IOException | InterruptedException e) {
                lines.add("ended: " + e);
              }
            },
            "follower");
    reading.setDaemon(true);
    reading.start();
    return lines;
  }

  /** The id of the event whose data says something. */
  private static String awaitLine(BlockingQueue<String> lines, String kind, String says)
      throws InterruptedException {
    String last = "";
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(20);
    while (System.nanoTime() < end) {
      String line = lines.poll(1, TimeUnit.SECONDS);
      if (line != null && line.startsWith(kind)) {
        last = line;
      }
      if (line != null && line.startsWith("data:") && line.contains(says)) {
        return last;
      }
    }
    throw new AssertionError("nothing says " + says);
  }

  @Test
  void manyAreTakenOnWithTheirPartsAndEachForItself() throws IOException, InterruptedException {
    AlertRow head = alert("tell/a", "failed", "warning", "head", 0);
    AlertRow part = alert("tell/a", "late", "warning", "part", head.id);
    AlertRow gone = alert("tell/a", "late", "warning", "gone", 0);
    close(gone);
    String body =
        "{\"ids\": [%d, %d, 999999999], \"withParts\": true, \"action\": \"acknowledge\"}"
            .formatted(head.id, gone.id);
    assertThat(send(Role.VIEWER, "POST", "/api/v1/alerts/actions", body).statusCode())
        .isEqualTo(403);
    JsonNode done =
        JSON.readTree(send(Role.OPERATOR, "POST", "/api/v1/alerts/actions", body).body());
    List<String> said = new ArrayList<>();
    done.forEach(one -> said.add(one.get("alert").asLong() + " " + one.get("refusal").asString()));
    assertThat(said)
        .containsExactly(
            head.id + " ",
            part.id + " ",
            gone.id + " the alert is closed already",
            "999999999 there is no alert 999999999");
    for (String wrong :
        List.of(
            "{}", "{\"ids\": [], \"action\": \"close\"}", "{\"ids\": [1], \"action\": \"x\"}")) {
      assertThat(send(Role.OPERATOR, "POST", "/api/v1/alerts/actions", wrong).statusCode())
          .as(wrong)
          .isEqualTo(400);
    }
  }

  @Test
  void limitsSayWhatIsUsed() throws IOException, InterruptedException {
    publisher.publish(
        List.of(
            new SourceFile(
                "a.yaml",
                "recipient: tell-limited\nmail: [limited@b.example]\nat-most: { an-hour: 3 }")),
        Optional.empty(),
        IDA,
        "test");
    transactions.executeWithoutResult(
        any -> {
          for (int i = 0; i < 2; i++) {
            DeliveryRow row = new DeliveryRow();
            row.recipient = "tell-limited";
            row.channel = "mail";
            row.address = "limited@b.example";
            row.state = "delivered";
            row.lastError = "";
            row.answer = "";
            row.what = "alert";
            row.urgency = "warning";
            row.nextTry = Instant.now();
            row.written = Instant.now();
            rows.persist(row);
          }
        });
    JsonNode all = get("/api/v1/alert-limits");
    List<String> said = new ArrayList<>();
    all.forEach(
        one ->
            said.add(
                one.get("of").asString()
                    + " "
                    + one.get("within").asString()
                    + " "
                    + one.get("used").asLong()
                    + " of "
                    + one.get("most").asInt()));
    assertThat(said).contains("recipient tell-limited an hour 2 of 3");
  }
}

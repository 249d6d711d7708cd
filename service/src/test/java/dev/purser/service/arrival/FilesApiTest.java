package dev.purser.service.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Files through the API, and what agents are asked to look for. */
class FilesApiTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final DateTimeFormatter DAY = DateTimeFormatter.BASIC_ISO_DATE;
  private static int worlds;

  private final HttpClient http = HttpClient.newHttpClient();
  private final String world = "api" + ++worlds;
  private final String feed = "feed-" + world;
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private Publisher publisher;
  @Autowired private Engine engine;
  @Autowired private Lookouts lookouts;
  @Autowired private PlanKeeper plan;
  private String token = "";

  @BeforeEach
  void signIn() {
    token = as("files-admin", Role.ADMINISTRATOR);
    publish("host: h-@W\nlabels: [ quay-@W ]\n");
  }

  @AfterEach
  void withdraw() {
    publish("stream: @W/files\njobs:\n  none: { host: h-@W, run: x }\n");
  }

  private String as(String name, Role role) {
    people.save(name, role, passwords.hash("long-enough-password"), false);
    return tokens.make(name, "test", TokenScope.API, Tokens.USUAL).secret();
  }

  private void publish(String text) {
    publisher.publish(
        List.of(new SourceFile("t.yaml", text.replace("@F", feed).replace("@W", world))),
        Optional.empty(),
        IDA,
        "test");
    lookouts.refresh();
  }

  private void watch(String path, String more) {
    publish("file-watch: @F\ntitle: Notes\nhost: h-@W\npath: " + path + "\n" + more);
  }

  private HttpResponse<String> send(String method, String path, Object body)
      throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1" + path))
            .header("Authorization", "Bearer " + token)
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  private JsonNode get(String path) throws IOException, InterruptedException {
    HttpResponse<String> response = send("GET", path, null);
    assertThat(response.statusCode()).as(response.body()).isEqualTo(200);
    return JSON.readTree(response.body());
  }

  private JsonNode page(String query) throws IOException, InterruptedException {
    return get("/arrivals?watch=" + feed + query);
  }

  private static List<String> names(JsonNode page) {
    return page.get("arrivals").valueStream().map(one -> one.get("name").asString()).toList();
  }

  private void found(String state, String note, String directory, String pattern, String... names) {
    List<FromAgent.File> files = new ArrayList<>();
    for (String name : names) {
      files.add(
          new FromAgent.File(
              feed, directory, pattern, name, 10, 1_000, "k" + name, state, note, "sum" + name));
    }
    lookouts.found("h-" + world, new FromAgent.Found(1, files)).join();
  }

  private JsonNode watchView(String query) throws IOException, InterruptedException {
    for (JsonNode one : get("/watches" + query)) {
      if (one.get("name").asString().equals(feed)) {
        return one;
      }
    }
    throw new AssertionError("no watch " + feed);
  }

  // ---- arrivals

  @Test
  void arrivalsComeByPageNewestFirstAndAreCountedOnce() throws Exception {
    watch("/in/*.csv", "");
    found(
        "ready",
        "",
        "/in",
        "*.csv",
        IntStream.range(0, 25).mapToObj(i -> "n" + i + ".csv").toArray(String[]::new));
    JsonNode first = page("&limit=10");
    assertThat(first.get("total").asLong()).isEqualTo(25);
    assertThat(names(first)).hasSize(10).startsWith("n24.csv");
    JsonNode second = page("&limit=10&before=" + first.get("next").asLong());
    assertThat(second.get("total").asLong()).isEqualTo(-1);
    JsonNode third = page("&limit=10&before=" + second.get("next").asLong());
    assertThat(names(third)).hasSize(5).endsWith("n0.csv");
    assertThat(third.get("next").asLong()).isZero();
    assertThat(get("/arrivals?limit=1").get("arrivals")).hasSize(1);
  }

  @Test
  void arrivalsAreFoundByStatePlaceDateAndPartOfTheirPath() throws Exception {
    watch("/in/*.csv", "");
    found("ready", "", "/in", "*.csv", "100%.csv", "a_b.csv", "axb.csv");
    found("seen", "is empty", "/in", "*.csv", "empty.csv");
    found("rejected", "its checksum is 1, and should be 2", "/in", "*.csv", "broken.csv");
    assertThat(names(page("&text=100%25"))).containsExactly("100%.csv");
    assertThat(names(page("&text=a_b"))).containsExactly("a_b.csv"); // _ is no pattern
    assertThat(names(page("&text=A_B"))).containsExactly("a_b.csv");
    assertThat(names(page("&state=seen,rejected"))).containsExactly("broken.csv", "empty.csv");
    assertThat(names(page("&state=open"))).hasSize(4).doesNotContain("broken.csv");
    assertThat(names(page("&place=h-" + world))).hasSize(5);
    assertThat(names(page("&place=elsewhere"))).isEmpty();
    assertThat(names(page("&date=2027-03-04"))).isEmpty();
    assertThat(names(page("&changedSince=2020-01-01T00:00:00Z"))).hasSize(5);
    assertThat(names(page("&changedSince=2999-01-01T00:00:00Z"))).isEmpty();
  }

  @Test
  void oneArrivalTellsAllThatIsKnownOfIt() throws Exception {
    watch("/in/*.csv", "");
    found("rejected", "its checksum is 1, and should be 2", "/in", "*.csv", "broken.csv");
    long id = page("").at("/arrivals/0/id").asLong();
    JsonNode one = get("/arrivals/" + id);
    assertThat(one.get("path").asString()).isEqualTo("/in/broken.csv");
    assertThat(one.get("place").asString()).isEqualTo("h-" + world);
    assertThat(one.get("size").asLong()).isEqualTo(10);
    assertThat(one.get("state").asString()).isEqualTo("rejected");
    assertThat(one.get("note").asString()).isEqualTo("its checksum is 1, and should be 2");
    assertThat(one.get("run").asLong()).isZero();
    assertThat(one.get("found").asString()).contains("T");
    assertThat(one.hasNonNull("ready")).isFalse();
  }

  // ---- decisions

  @Test
  void manyAreDecidedOnAtOnceEachForItself() throws Exception {
    watch("/in/*.csv", "");
    found("rejected", "broken", "/in", "*.csv", "a.csv", "b.csv");
    found("ready", "", "/in", "*.csv", "c.csv");
    List<Long> ids =
        page("").get("arrivals").valueStream().map(one -> one.get("id").asLong()).toList();
    Map<String, Object> retry = Map.of("arrivals", ids, "action", "retry", "reason", "checked");
    JsonNode results = JSON.readTree(send("POST", "/arrivals/actions", retry).body());
    assertThat(results.valueStream().map(one -> one.get("done").asBoolean()).toList())
        .containsExactly(false, true, true); // c is ready already
    assertThat(results.get(0).get("refusal").asString())
        .isEqualTo("it is ready; only what was not processed can be tried again");
    assertThat(names(page("&state=ready"))).hasSize(3);
    Map<String, Object> aside = Map.of("arrivals", ids, "action", "put-aside", "reason", "");
    send("POST", "/arrivals/actions", aside);
    assertThat(names(page("&state=ignored"))).hasSize(3);
    assertThat(page("").at("/arrivals/1/note").asString()).isEqualTo("put aside by files-admin");
    JsonNode audit = get("/audit?about=arrival");
    assertThat(audit.toString()).contains("retry file", "put-aside file", "checked");
  }

  @Test
  void whoMayOnlyLookLooksAndTriesButDecidesNothing() throws Exception {
    watch("/in/*.csv", "");
    found("rejected", "broken", "/in", "*.csv", "a.csv");
    long id = page("").at("/arrivals/0/id").asLong();
    token = as("files-viewer", Role.VIEWER);
    assertThat(names(page(""))).containsExactly("a.csv");
    Map<String, Object> done = Map.of("arrivals", List.of(id), "action", "done", "reason", "x");
    assertThat(send("POST", "/arrivals/actions", done).statusCode()).isEqualTo(403);
    assertThat(get("/arrivals/" + id).get("state").asString()).isEqualTo("rejected");
  }

  // ---- watches

  @Test
  void aWatchTellsWhatIsExpectedWhatHasComeAndWhoUsesIt() throws Exception {
    watch(
        "/in/${date | yyyyMMdd}.csv",
        "expected: { days: every day, by: \"23:59\", zone: UTC }\nset-of: 1\n");
    publish(
        "stream: @W/files\njobs:\n  load: { host: h-@W, run: x, waits-for: file @F arrived }\n");
    JsonNode before = watchView("");
    assertThat(before.get("standing").asString()).isEqualTo("expected");
    assertThat(before.get("usedBy").toString()).isEqualTo("[\"" + world + "/files/load\"]");
    assertThat(before.get("expected").asString()).isEqualTo("every day, 00:00 to 23:59 UTC");
    LocalDate today = plan.today();
    String name = today.format(DAY) + ".csv";
    found("ready", "", "/in", name, name);
    JsonNode after = watchView("?date=" + today);
    assertThat(after.get("standing").asString()).isEqualTo("in time");
    assertThat(after.get("count").asInt()).isEqualTo(1);
    assertThat(after.get("states").toString()).isEqualTo("{\"ready\":1}");
    assertThat(watchView("?date=" + today.minusDays(30)).get("standing").asString())
        .isEqualTo("missing");
    assertThat(watchView("?date=" + today.plusDays(30)).get("standing").asString())
        .isEqualTo("expected");
  }

  @Test
  void aDirectoryThatCannotBeReadIsToldWithItsPlaceUntilItCan() throws Exception {
    watch("/in/*.csv", "");
    lookouts.trouble("h-" + world, feed, "the directory /in does not exist").join();
    assertThat(watchView("").get("troubles").toString())
        .isEqualTo("[\"h-" + world + ": the directory /in does not exist\"]");
    lookouts.trouble("h-" + world, feed, "").join();
    assertThat(watchView("").get("troubles")).isEmpty();
  }

  @Test
  void aTrialOfAHostThatIsAwaySaysSo() throws Exception {
    watch("/in/*.csv", "");
    JsonNode trials = JSON.readTree(send("POST", "/watches/" + feed + "/try", Map.of()).body());
    assertThat(trials).hasSize(1);
    assertThat(trials.get(0).get("place").asString()).isEqualTo("h-" + world);
    assertThat(trials.get(0).get("problem").asString()).contains("not connected");
  }

  // ---- what agents are asked for

  private List<ToAgent.Task> tasks(String host) {
    return lookouts.lookFor(host).tasks().stream()
        .filter(task -> task.watch().equals(feed))
        .toList();
  }

  @Test
  void anAgentLooksForFilesOfTheLastDaysAndOfTomorrow() {
    watch("/in/${date | yyyyMM}/x-${date | yyyyMMdd}.csv", "still-for: 3s\nminimum-size: 7\n");
    List<ToAgent.Task> tasks = tasks("h-" + world);
    LocalDate today = plan.today();
    assertThat(tasks)
        .extracting(ToAgent.Task::pattern)
        .containsExactlyElementsOf(
            IntStream.rangeClosed(-7, 1)
                .mapToObj(i -> "x-" + today.plusDays(i).format(DAY) + ".csv")
                .toList());
    assertThat(tasks.get(8).directory())
        .isEqualTo("/in/" + today.plusDays(1).format(DAY).substring(0, 6));
    assertThat(tasks.get(0).stillForMillis()).isEqualTo(3_000);
    assertThat(tasks.get(0).minimumSize()).isEqualTo(7);
    assertThat(tasks("another-host")).isEmpty();
  }

  @Test
  void aWatchOfAGroupIsLookedForOnEachHostOfIt() {
    publish("host-group: g-@W\nlabels: [ quay-@W ]\n");
    publish("file-watch: @F\nhost: each of g-@W\npath: /in/*.csv\n");
    assertThat(tasks("h-" + world)).hasSize(1);
    assertThat(tasks("other-" + world)).isEmpty();
  }

  @Test
  void aChangeOfTheWatchIsAskedForAtOnceAndAWithdrawnOneNoMore() {
    watch("/in/*.csv", "");
    assertThat(tasks("h-" + world)).extracting(ToAgent.Task::pattern).containsExactly("*.csv");
    watch("/in/*.txt", "look: every 30s\n");
    assertThat(tasks("h-" + world)).extracting(ToAgent.Task::pattern).containsExactly("*.txt");
    assertThat(tasks("h-" + world)).extracting(ToAgent.Task::everyMillis).containsExactly(30_000L);
  }

  @Test
  void whatAnAgentSaysOfAFileThatNobodyAskedForIsNotTaken() throws Exception {
    watch("/in/*.csv", "");
    found("ready", "", "/elsewhere", "*.csv", "a.csv");
    found("ready", "", "/in", "*.txt", "a.txt");
    found("wrong word", "", "/in", "*.csv", "b.csv");
    assertThat(names(page(""))).isEmpty();
    assertThat(engine.isActive()).isTrue();
  }
}

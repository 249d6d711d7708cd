package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpClient;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** One business day through every face, with real processes. */
class FirstLightTest {
  private static final String SITE =
      """
      host: quay-north
      labels: [quay]
      ---
      host: depot
      ---
      host-group: quays
      labels: [quay]
      ---
      holiday-calendar: brannoch
      holidays:
        - { day: 24 december, name: Yule Eve }
      ---
      business-calendar: brannoch-office
      without: [brannoch]
      ---
      capacity: ledger-slots
      units: 1
      """;

  private static Harbour harbour;
  private static Path in;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour(Map.of("PURSER_KEEP_OUTPUT", "2000000"));
    in = Files.createDirectories(harbour.home.resolve("in"));
    String recipient =
        "recipient: desk\nmail: [desk@brannoch.example]\nwebhook: http://127.0.0.1:"
            + harbour.sink.httpPort()
            + "/hook\n";
    harbour.publish(SITE, recipient);
    harbour.startAgent("quay-north");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  private static String stream(String name, String jobs) {
    return "stream: "
        + name
        + "\ncalendar: brannoch-office\nowner: desk\nparameters: { deck: upper }\njobs:\n"
        + jobs.indent(2);
  }

  /** As with a full disk: it can be reached, and takes nothing. */
  @Test
  void aDatabaseThatTakesNothingForAWhileLosesNothing() throws Exception {
    harbour.publish(stream("full", "a: { host: quay-north, run: echo once }\n"));
    harbour.sql("set global read_only = 1");
    CompletableFuture<Map<String, Long>> asked;
    try {
      asked = CompletableFuture.supplyAsync(() -> harbour.startStream("full"));
      Harbour.await(
          "health to say so",
          () -> harbour.send("GET", "/actuator/health", null, Map.of()).body().contains("DOWN"),
          20);
      assertThat(asked).isNotDone();
    } finally {
      harbour.sql("set global read_only = 0");
    }
    long run = asked.get(30, TimeUnit.SECONDS).get("a");
    harbour.awaitState(run, "succeeded", 30);
    assertThat(harbour.output(run)).isEqualTo("once\n");
    assertThat(harbour.log("service"))
        .contains("the database is away; holding", "the database is back");
  }

  @Test
  void aStreamRunsThroughItsPrerequisitesWithItsParametersAndOutput() {
    harbour.publish(
        stream(
            "passenger/manifest",
            """
            close: { host: quay-north, run: "echo closing ${deck} of $PURSER_DATE; echo oops >&2" }
            build:
              host: any of quays
              waits-for: close succeeded
              directory: /tmp
              environment: { PIER: "pier ${job}" }
              run: pwd; echo $PIER attempt $PURSER_ATTEMPT
            mend: { host: quay-north, run: echo never, waits-for: close failed }
            """));
    Map<String, Long> runs = harbour.startStream("passenger/manifest");
    harbour.awaitState(runs.get("build"), "succeeded", 20);
    harbour.awaitState(runs.get("mend"), "skipped", 5);
    Harbour.await("output", () -> harbour.output(runs.get("build")).contains("attempt"), 10);
    assertThat(harbour.output(runs.get("close")))
        .isEqualTo(
            "closing upper of "
                + harbour.run(runs.get("close")).get("date").asString()
                + "\noops\n");
    assertThat(harbour.output(runs.get("build"))).isEqualTo("/tmp\npier build attempt 1\n");
    JsonNode detail = harbour.get("/api/v1/runs/" + runs.get("build"));
    assertThat(detail.get("attempts").size()).isEqualTo(1);
    assertThat(detail.get("moments").findValuesAsString("state"))
        .containsSubsequence("waiting", "starting", "running", "succeeded");
  }

  @Test
  void aMissingProgramIsAFailedRunWhoseLogSaysSo() {
    harbour.publish(
        stream("fleet/broken", "gone: { host: quay-north, run: ./no-such-program.sh }\n"));
    long run = harbour.startStream("fleet/broken").get("gone");
    harbour.awaitState(run, "failed", 20);
    Harbour.await("output", () -> harbour.output(run).contains("not found"), 10);
    assertThat(harbour.run(run).get("sentence").asString())
        .contains("exit code 127 (the command was not found)");
  }

  @Test
  void aFailedAttemptIsRetriedAndAnAlertReachesPeopleOnceThoughTheReceiverWasInTrouble() {
    harbour.sink.refuseNext(2);
    harbour.publish(
        stream(
            "fuel/count",
            """
            flaky: { host: quay-north, run: "[ $PURSER_ATTEMPT -gt 1 ]", retry: { times: 1, wait: 1s } }
            dead: { host: quay-north, run: exit 3 }
            """));
    Map<String, Long> runs = harbour.startStream("fuel/count");
    harbour.awaitState(runs.get("flaky"), "succeeded", 20);
    assertThat(harbour.run(runs.get("flaky")).get("attempts").asInt()).isEqualTo(2);
    harbour.awaitState(runs.get("dead"), "failed", 20);
    String reference = harbour.run(runs.get("dead")).get("reference").asString();
    Harbour.await("the webhook", () -> hooksAbout(reference) > 0, 40);
    Harbour.await("the mail", () -> lettersAbout(reference) > 0, 20);
    JsonNode event =
        Harbour.JSON.readTree(
            harbour.sink.hooks().stream()
                .filter(hook -> hook.body().contains(reference))
                .findFirst()
                .orElseThrow()
                .body());
    assertThat(event.get("specversion").asString()).isEqualTo("1.0");
    assertThat(event.get("type").asString()).isEqualTo("dev.purser.alert.failed");
    assertThat(event.at("/data/text").asString()).isEqualTo("exit code 3");
    JsonNode alert = alertAbout(reference);
    assertThat(alert.at("/deliveries").findValuesAsString("state")).containsOnly("delivered");
    harbour.post(
        "/api/v1/alerts/" + alert.get("id").asLong() + "/actions",
        Map.of("action", "acknowledge", "reason", ""));
    assertThat(alertAbout(reference).get("acknowledgedBy").asString()).isEqualTo("admin");
    assertThat(harbour.act(runs.get("dead"), "skip").statusCode()).isEqualTo(200);
    Harbour.await("the alert to close", () -> alertAbout(reference) == null, 10);
    assertThat(hooksAbout(reference)).isEqualTo(1);
    assertThat(lettersAbout(reference)).isEqualTo(1);
  }

  /** The first time the command says no; a value of the alert is never shell text. */
  @Test
  void anAlertIsHandedToACommandUntilItTakesIt() throws IOException {
    Path taken = in.resolve("siren.json");
    Path tries = in.resolve("siren.tries");
    harbour.publish(
        "recipient: siren\ncommand: { host: quay-north, run: 'echo x >>"
            + tries
            + "; [ -e "
            + taken
            + ".ready ] || exit 9; cat >>"
            + taken
            + "' }\n",
        stream(
            "fuel/siren",
            """
            dead:
              title: "It's $(touch /tmp/no) \\"dead\\""
              host: quay-north
              run: echo tank 3 does not answer; exit 3
              alerts: [ { kind: failed, tell: [siren] } ]
            """));
    long run = harbour.startStream("fuel/siren").get("dead");
    harbour.awaitState(run, "failed", 20);
    Harbour.await("a first try", () -> Files.exists(tries), 30);
    Files.createFile(Path.of(taken + ".ready"));
    Harbour.await("the command to take it", () -> Files.exists(taken), 60);
    String reference = harbour.run(run).get("reference").asString();
    Harbour.await(
        "the answer",
        () ->
            alertAbout(reference)
                .at("/deliveries")
                .findValuesAsString("answer")
                .contains("exit code 0"),
        20);
    JsonNode alert = Harbour.JSON.readTree(Files.readString(taken));
    assertThat(alert.get("title").asString()).endsWith("It's $(touch /tmp/no) \"dead\"");
    assertThat(alert.get("output").asString()).isEqualTo("tank 3 does not answer");
    assertThat(alert.get("exitCode").asString()).isEqualTo("3");
    assertThat(Files.readAllLines(taken)).hasSize(1);
  }

  private static JsonNode alertAbout(String reference) {
    for (JsonNode alert : harbour.get("/api/v1/alerts")) {
      if (alert.get("reference").asString().equals(reference)) {
        return alert;
      }
    }
    return null;
  }

  private static long hooksAbout(String reference) {
    return harbour.sink.hooks().stream().filter(h -> h.body().contains(reference)).count();
  }

  private static long lettersAbout(String reference) {
    return harbour.sink.letters().stream().filter(l -> l.text().contains(reference)).count();
  }

  @Test
  void aFileIsTakenOnceItIsWholeAndByOneRunOnly() throws IOException {
    harbour.publish(
        "file-watch: harbour-feed\nhost: quay-north\npath: " + in + "/feed-*.csv\nstill-for: 2s\n",
        stream(
            "tide/import",
            "load: { host: quay-north, run: echo loaded, waits-for: file harbour-feed arrived }\n"));
    long first = harbour.startStream("tide/import").get("load");
    awaitSentence(first, "nothing has come yet");
    Path file = in.resolve("feed-1.csv");
    Files.createFile(file);
    awaitSentence(first, "feed-1.csv is there but empty or too small");
    for (int i = 0; i < 6; i++) {
      Files.writeString(file, "berth " + i + "\n", java.nio.file.StandardOpenOption.APPEND);
      sleep(500);
    }
    awaitSentence(first, "still changing");
    harbour.awaitState(first, "succeeded", 20);
    long second = harbour.startStream("tide/import").get("load");
    awaitSentence(second, "another run has used it");
    Files.writeString(in.resolve("feed-2.csv"), "berth 9\n");
    harbour.awaitState(second, "succeeded", 20);
    assertThat(harbour.get("/api/v1/runs/" + second).at("/files/0/path").asString())
        .endsWith("feed-2.csv");
  }

  private static void awaitSentence(long run, String part) {
    Harbour.await(
        "\"" + part + "\" of run " + run,
        () -> harbour.get("/api/v1/runs/" + run + "/why").get("sentence").asString().contains(part),
        15);
  }

  private static void sleep(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  @Test
  void cancellingStopsEveryProcessOfTheGroupAlsoOneThatDoesNotListen() {
    String sleep = "sleep 9" + harbour.port; // no other test's
    harbour.publish(
        stream(
            "fleet/stubborn",
            "deaf: { host: quay-north, grace: 1s, run: \"trap '' TERM; SLEEP & SLEEP & echo up; wait; SLEEP\" }\n"
                .replace("SLEEP", sleep)));
    long run = harbour.startStream("fleet/stubborn").get("deaf");
    Harbour.await("output", () -> harbour.output(run).contains("up"), 20);
    Harbour.await("its processes", () -> running(sleep) == 2, 10);
    assertThat(harbour.act(run, "cancel").statusCode()).isEqualTo(200);
    harbour.awaitState(run, "cancelled", 20);
    assertThat(running(sleep)).isZero();
    HttpResponse<String> again = harbour.act(run, "cancel");
    assertThat(again.statusCode()).isEqualTo(409);
    assertThat(again.body())
        .contains("a run that is cancelled cannot be cancelled; possible now: skip, rerun");
  }

  private static long running(String command) {
    return ProcessHandle.allProcesses()
        .flatMap(process -> process.info().commandLine().stream())
        .filter(line -> line.matches("\\S*" + command))
        .count();
  }

  @Test
  void whatRunsTooLongIsStopped() {
    harbour.publish(
        stream(
            "fleet/slow",
            "slow: { host: quay-north, run: sleep 60, stop-after: 1s, grace: 1s }\n"));
    long run = harbour.startStream("fleet/slow").get("slow");
    harbour.awaitState(run, "failed", 20);
    assertThat(harbour.run(run).get("note").asString()).isEqualTo("stopped after 1s");
  }

  @Test
  void outputOfTwoHundredMegabytesIsKeptUpToItsLimitAndTheServiceStaysSmall() {
    harbour.publish(
        stream("fleet/flood", "flood: { host: quay-north, run: yes flood | head -c 200000000 }\n"));
    long run = harbour.startStream("fleet/flood").get("flood");
    harbour.awaitState(run, "succeeded", 60);
    Harbour.await(
        "all output that is kept",
        () -> harbour.get("/api/v1/runs/" + run).at("/attempts/0/outputKept").asLong() == 2_000_000,
        60);
    JsonNode attempt = harbour.get("/api/v1/runs/" + run).at("/attempts/0");
    assertThat(attempt.get("outputBytes").asLong()).isEqualTo(200_000_000);
    assertThat(harbour.serviceHeapMegabytes()).isLessThan(200);
  }

  @Test
  void oneBadFileOfTenChangesNothing() {
    String[] files = new String[10];
    for (int i = 0; i < 10; i++) {
      files[i] =
          stream(
              "ten/s" + i, "a: { host: " + (i == 7 ? "quay-nort" : "quay-north") + ", run: x }\n");
    }
    HttpResponse<String> response =
        harbour.send("POST", "/api/v1/definitions", Harbour.files(files), harbour.bearer());
    assertThat(response.statusCode()).isEqualTo(422);
    JsonNode problem = Harbour.JSON.readTree(response.body()).at("/problems/0");
    assertThat(problem.get("file").asString()).isEqualTo("f7.yaml");
    assertThat(problem.get("message").asString()).contains("did you mean \"quay-north\"?");
    assertThat(harbour.get("/api/v1/definitions?kind=stream").findValuesAsString("name"))
        .noneMatch(name -> name.startsWith("ten/"));
  }

  @Test
  void publishingIsGuardedByTheRevisionAndStartsByTheirKey() {
    HttpResponse<String> seen = harbour.send("GET", "/api/v1/definitions", null, harbour.bearer());
    String etag = seen.headers().firstValue("ETag").orElseThrow();
    String stream = stream("guard/one", "a: { host: quay-north, run: \"true\" }\n");
    Map<String, String> ifMatch = new java.util.HashMap<>(harbour.bearer());
    ifMatch.put("If-Match", etag);
    assertThat(
            harbour
                .send("POST", "/api/v1/definitions", Harbour.files(stream), ifMatch)
                .statusCode())
        .isEqualTo(200);
    String other = stream("guard/two", "a: { host: quay-north, run: \"true\" }\n");
    HttpResponse<String> late =
        harbour.send("POST", "/api/v1/definitions", Harbour.files(other), ifMatch);
    assertThat(late.statusCode()).isEqualTo(412);
    Map<String, String> key = new java.util.HashMap<>(harbour.bearer());
    key.put("Idempotency-Key", "the-same-click");
    Map<String, String> start = Map.of("stream", "guard/one", "job", "", "reason", "");
    String first = harbour.send("POST", "/api/v1/starts", start, key).body();
    String second = harbour.send("POST", "/api/v1/starts", start, key).body();
    assertThat(Harbour.JSON.readTree(second).at("/runs/0/id"))
        .isEqualTo(Harbour.JSON.readTree(first).at("/runs/0/id"));
    HttpResponse<String> inUse =
        harbour.send(
            "DELETE", "/api/v1/definitions/holiday-calendar?name=brannoch", null, harbour.bearer());
    assertThat(inUse.statusCode()).isEqualTo(409);
    assertThat(inUse.body()).contains("still used by brannoch-office");
  }

  @Test
  void anAgentWithAWrongKeyOrAnotherHostsNameIsRefused() throws IOException {
    Path wrong = Files.createDirectories(harbour.home.resolve("wrong"));
    Files.writeString(wrong.resolve("key"), "not-the-key");
    Process stray = harbour.agentProcess("quay-north", wrong);
    Harbour.await(
        "the refusal", () -> harbour.log("stray-quay-north").contains("wrong key for host"), 20);
    stray.destroyForcibly();
    Path thief = Files.createDirectories(harbour.home.resolve("thief"));
    Files.copy(harbour.home.resolve("agent-quay-north/key"), thief.resolve("key"));
    Process other = harbour.agentProcess("depot", thief);
    Harbour.await("the refusal", () -> harbour.log("stray-depot").contains("is not enrolled"), 20);
    other.destroyForcibly();
    String token =
        harbour.post("/api/v1/hosts/depot/enrolment-token", Map.of()).get("token").asString();
    Map<String, String> asNorth = Map.of("host", "quay-north", "token", token);
    assertThat(harbour.send("POST", "/agent/v1/enrol", asNorth, Map.of()).body())
        .contains("this enrolment token is not for host");
    Map<String, String> asDepot = Map.of("host", "depot", "token", token);
    assertThat(harbour.send("POST", "/agent/v1/enrol", asDepot, Map.of()).statusCode())
        .isEqualTo(200);
    assertThat(harbour.send("POST", "/agent/v1/enrol", asDepot, Map.of()).body())
        .contains("was used at");
    assertThat(harbour.isConnected("quay-north")).isTrue();
  }

  @Test
  void strangersSeeNothingAndRolesHoldWhatTheySay() {
    for (String path :
        List.of("/api/v1/runs", "/api/v1/today", "/api/v1/openapi", "/actuator/prometheus")) {
      assertThat(harbour.send("GET", path, null, Map.of()).statusCode()).as(path).isEqualTo(401);
    }
    assertThat(harbour.send("GET", "/actuator/health", null, Map.of()).statusCode()).isEqualTo(200);
    Map<String, String> viewer =
        Map.of("Authorization", "Bearer " + harbour.signIn("viewer", Harbour.PASSWORD, ""));
    Map<String, String> operator =
        Map.of("Authorization", "Bearer " + harbour.signIn("operator", Harbour.PASSWORD, ""));
    Map<String, String> start = Map.of("stream", "none", "job", "", "reason", "");
    assertThat(harbour.send("GET", "/api/v1/runs", null, viewer).statusCode()).isEqualTo(200);
    assertThat(harbour.send("POST", "/api/v1/starts", start, viewer).statusCode()).isEqualTo(403);
    assertThat(harbour.send("POST", "/api/v1/starts", start, operator).statusCode()).isEqualTo(400);
    assertThat(
            harbour.send("POST", "/api/v1/definitions", Harbour.files("x"), operator).statusCode())
        .isEqualTo(403);
    assertThat(harbour.send("GET", "/api/v1/people", null, operator).statusCode()).isEqualTo(403);
  }

  @Test
  void aSessionNeedsItsCsrfTokenAndGuessingIsSlowedDown() {
    HttpClient browser = harbour.browserLike();
    Map<String, String> signIn =
        Map.of(
            "name", "operator", "password", Harbour.PASSWORD, "tokenLabel", "", "newPassword", "");
    HttpResponse<String> in = harbour.send(browser, "POST", "/api/v1/session", signIn, Map.of());
    assertThat(in.statusCode()).isEqualTo(200);
    assertThat(in.headers().allValues("Set-Cookie").toString())
        .contains("purser-session=")
        .contains("HttpOnly")
        .contains("SameSite=Strict");
    assertThat(in.headers().firstValue("Content-Security-Policy").orElse(""))
        .contains("frame-ancestors 'none'");
    Map<String, String> start = Map.of("stream", "none", "job", "", "reason", "");
    assertThat(harbour.send(browser, "POST", "/api/v1/starts", start, Map.of()).statusCode())
        .isEqualTo(403);
    Map<String, String> guess =
        Map.of("name", "nobody", "password", "x", "tokenLabel", "", "newPassword", "");
    int last = 0;
    for (int i = 0; i < 7; i++) {
      last = harbour.send("POST", "/api/v1/session", guess, Map.of()).statusCode();
    }
    assertThat(last).isEqualTo(429);
  }

  @Test
  void theConsolesTypesAreMadeFromTheDocumentThatTheServiceServes() throws IOException {
    JsonNode served = harbour.get("/api/v1/openapi");
    JsonNode kept = Harbour.JSON.readTree(Files.readString(Path.of("../console/openapi.json")));
    assertThat(served.get("openapi").asString()).startsWith("3.1");
    assertThat(served.get("paths")).isEqualTo(kept.get("paths"));
    assertThat(served.get("components")).isEqualTo(kept.get("components"));
  }

  @Test
  void theCommandLineDoesItAllAndSpeaksInExitCodes() throws Exception {
    harbour.publish(
        stream(
            "cli/day",
            "a: { host: quay-north, run: echo hello }\nb: { approve: Shall it?, waits-for: a succeeded }\n"));
    assertThat(harbour.purser("start", "cli/day").code()).isZero();
    String date = harbour.get("/api/v1/session").get("businessDate").asString();
    String a = "cli/day/a@" + date;
    String b = "day/b@" + date;
    Harbour.Ran log = harbour.purser("log", "--follow", a);
    assertThat(log.out())
        .matches("hello\n" + Pattern.quote(a) + "#1: It succeeded at \\d\\d:\\d\\d UTC\\.\n");
    Harbour.await(
        "b to wait for an answer", () -> why(b).contains("a person must answer: Shall it?"), 15);
    assertThat(harbour.purser("approve", b, "--reason", "yes").out())
        .contains("approved by admin: yes");
    assertThat(harbour.purser("show", b).out()).contains("✓ succeeded");
    assertThat(harbour.purser("show", "b@" + date).out()).contains("cli/day/b@" + date + "#1");
    JsonNode runs =
        Harbour.JSON.readTree(harbour.purser("runs", "--stream", "cli/day", "-o", "json").out());
    assertThat(runs.findValuesAsString("state")).containsOnly("succeeded");
    assertThat(harbour.purser("outlook", "--days", "2").code()).isZero();
    assertThat(harbour.purser("audit", "--about", "cli/day/b").out())
        .contains("approve")
        .contains("yes");
    assertThat(harbour.purser("hosts").out()).contains("quay-north  connected");
    assertThat(harbour.purser("show", "cli/day/zz@" + date).code()).isEqualTo(1);
    assertThat(harbour.purser("show", "nonsense").code()).isEqualTo(2);
    assertThat(harbour.purser("runs", "--state", "runing").out())
        .contains("did you mean \"running\"?");
    assertThat(harbour.purser("release", a).out()).contains("possible now: rerun");
    assertThat(harbour.purser("frobnicate").code()).isEqualTo(2);
  }

  private static String why(String reference) {
    try {
      return harbour.purser("why", reference).out();
    } catch (IOException | InterruptedException e) {
      throw new AssertionError(e);
    }
  }
}

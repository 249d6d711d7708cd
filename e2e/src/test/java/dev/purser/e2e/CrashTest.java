package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * {@code kill -9} of one thing at a time: nothing is lost, nothing runs twice, nobody is needed. Of
 * everything at random, again and again: bin/chaos.
 */
class CrashTest {
  private static Harbour harbour;
  private static Path marks;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour();
    marks = harbour.home.resolve("marks");
    harbour.publish("host: quay-north\n---\nhost: quay-south\n");
    harbour.startAgent("quay-north");
    harbour.startAgent("quay-south");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  @BeforeEach
  void begin() throws IOException {
    Files.writeString(marks, "");
  }

  /** Each run leaves a mark of its own when it starts: so a second start would be seen. */
  private String chains(int chains, int length, String sleep) {
    StringBuilder jobs = new StringBuilder("stream: chains\njobs:\n");
    for (int c = 0; c < chains; c++) {
      for (int i = 0; i < length; i++) {
        String host = (c + i) % 2 == 0 ? "quay-north" : "quay-south";
        jobs.append(
            "  c%di%d: { host: %s, run: \"echo $PURSER_RUN >> %s; sleep %s\""
                .formatted(c, i, host, marks, sleep));
        jobs.append(i == 0 ? " }\n" : ", waits-for: c%di%d succeeded }\n".formatted(c, i - 1));
      }
    }
    return jobs.toString();
  }

  private Map<String, Integer> counted() throws IOException {
    Map<String, Integer> counts = new TreeMap<>();
    Files.readAllLines(marks).forEach(line -> counts.merge(line, 1, Integer::sum));
    return counts;
  }

  private boolean allSucceeded(int runs) {
    JsonNode page = harbour.get("/api/v1/runs?stream=chains&limit=1000");
    return page.get("runs").size() == runs
        && page.get("runs").findValuesAsString("state").stream().allMatch("succeeded"::equals);
  }

  @Test
  void theTrueExitCodeArrivesThoughTheAgentDiedDuringTheRun() throws Exception {
    harbour.publish(
        "stream: long\njobs:\n"
            + "  bad: { host: quay-north, run: \"echo $PURSER_RUN >> "
            + marks
            + "; sleep 3; echo done; exit 42\" }\n"
            + "  good: { host: quay-south, run: \"echo before; sleep 4; echo after\" }\n");
    Map<String, Long> runs = new HashMap<>(harbour.startStream("long"));
    Harbour.await("the mark", () -> marks.toFile().length() > 0, 15);
    harbour.killAgent("quay-north");
    harbour.killAgent("quay-south");
    harbour.killService();
    Thread.sleep(1_500);
    harbour.startService();
    harbour.startAgent("quay-north");
    harbour.startAgent("quay-south");
    harbour.awaitState(runs.get("bad"), "failed", 30);
    harbour.awaitState(runs.get("good"), "succeeded", 30);
    assertThat(harbour.run(runs.get("bad")).get("exitCode").asInt()).isEqualTo(42);
    Harbour.await(
        "the output", () -> harbour.output(runs.get("good")).equals("before\nafter\n"), 15);
    assertThat(counted().values()).containsExactly(1);
  }

  /** What is foretold counts on agents that are about to come back. */
  @Test
  void aRestartStallsNoPromise() throws Exception {
    harbour.publish(
        """
        stream: promised
        jobs:
          load: { host: quay-north, run: sleep 20, usually: 10s to 30s }
          file: { host: quay-south, run: "true", usually: 1s to 5s, waits-for: load succeeded }
        ---
        commitment: filed
        of: promised/file
        within: 2h
        """);
    Map<String, Long> runs = harbour.startStream("promised");
    harbour.awaitState(runs.get("load"), "running", 15);
    harbour.killAgent("quay-north");
    harbour.killAgent("quay-south");
    harbour.killService();
    harbour.startService();
    Harbour.await("an outlook", () -> !harbour.get("/api/v1/commitments").isEmpty(), 30);
    JsonNode promise = harbour.get("/api/v1/commitments").get(0);
    assertThat(promise.get("standing").asString()).as(promise.toString()).isEqualTo("will be kept");
    harbour.startAgent("quay-north");
    harbour.startAgent("quay-south");
    harbour.awaitState(runs.get("file"), "succeeded", 60);
    assertThat(harbour.get("/api/v1/alerts?closed=true&kind=stalled").size()).isZero();
  }

  @Test
  void theDatabaseGoesAwayAndComesBackAndNobodyNotices() throws Exception {
    harbour.publish(chains(2, 3, "2"));
    harbour.startStream("chains");
    Harbour.await("the first marks", () -> marks.toFile().length() > 0, 15);
    harbour.killDatabase();
    Thread.sleep(6_000);
    assertThat(harbour.send("GET", "/actuator/health", null, Map.of()).statusCode()).isEqualTo(503);
    assertThat(harbour.send("GET", "/api/v1/runs", null, harbour.bearer()).statusCode())
        .isIn(500, 503);
    harbour.startDatabase();
    Harbour.await("all runs", () -> allSucceeded(6), 60);
    assertThat(counted()).hasSize(6).allSatisfy((run, times) -> assertThat(times).isEqualTo(1));
    assertThat(harbour.log("service")).contains("the database is back");
  }

  @Test
  void aSupervisorThatIsGoneIsReportedAsLostAndRepeatedOnlyWhereTheJobAllowsIt() {
    harbour.publish(
        "stream: lost\njobs:\n"
            + "  once: { host: quay-north, run: sleep 61 }\n"
            + "  again: { host: quay-south, run: \"[ $PURSER_ATTEMPT -gt 1 ] || sleep 62\", may-repeat: true }\n");
    Map<String, Long> runs = harbour.startStream("lost");
    harbour.awaitState(runs.get("once"), "running", 15);
    harbour.awaitState(runs.get("again"), "running", 15);
    Harbour.await("both processes", () -> processes(List.of("sleep 61", "sleep 62")) >= 2, 10);
    ProcessHandle.allProcesses()
        .filter(one -> isOfWork(one.info().commandLine().orElse("")))
        .forEach(ProcessHandle::destroyForcibly);
    harbour.awaitState(runs.get("again"), "succeeded", 30);
    harbour.awaitState(runs.get("once"), "failed", 30);
    assertThat(harbour.run(runs.get("once")).get("note").asString()).contains("was lost");
  }

  /** The command itself, and the process that would have told how it ended. */
  private boolean isOfWork(String line) {
    return line.contains("sleep 6")
        || (line.contains("starter.pl") && line.contains(harbour.home.toString()));
  }

  private static long processes(List<String> commands) {
    return ProcessHandle.allProcesses()
        .map(one -> one.info().commandLine().orElse(""))
        .filter(line -> commands.stream().anyMatch(command -> line.endsWith(command)))
        .count();
  }

  @Test
  void aHostIsDrainedAndReturnedAndItsWorkWaitsMeanwhileAndSaysSo() throws Exception {
    assertThat(harbour.purser("hosts", "drain", "quay-south", "--reason", "new disk").out())
        .contains("quay-south takes nothing new; nothing is running on it");
    harbour.publish(
        """
        stream: day
        jobs:
          a: { host: quay-south, run: "true" }
          b: { host: quay-south, run: "true", waits-for: a succeeded }
        """);
    Map<String, Long> runs = harbour.startStream("day");
    harbour.awaitState(runs.get("a"), "waiting", 20);
    assertThat(harbour.get("/api/v1/runs/" + runs.get("a") + "/why").toString())
        .contains("drained by admin: new disk");
    assertThat(harbour.purser("hosts", "drain", "quay-south").out()).contains("is already drained");
    harbour.killService();
    harbour.startService();
    Harbour.await("the agent", () -> harbour.isConnected("quay-south"), 20);
    assertThat(harbour.state(runs.get("a"))).isEqualTo("waiting");
    assertThat(harbour.purser("hosts", "return", "quay-south").out()).contains("takes work again");
    harbour.awaitState(runs.get("b"), "succeeded", 60);
    assertThat(harbour.purser("hosts", "drain", "quay-soth").out())
        .contains("did you mean \"quay-south\"");
    assertThat(harbour.purser("doctor").out()).contains("good", "service", "database", "agents");
    historyIsDeletedByHandAfterItWasToldHowMuchThatIs();
  }

  private void historyIsDeletedByHandAfterItWasToldHowMuchThatIs() throws Exception {
    assertThat(harbour.purser("forget", "--stream", "day").out())
        .contains("nothing that is over and past");
    harbour.sql(
        "update run set business_date='2026-01-05', ended='2026-01-05 10:00:00'"
            + " where stream='day'");
    assertThat(harbour.purser("forget", "--yes").code()).isEqualTo(2);
    Harbour.Ran told = harbour.purser("forget", "--stream", "day", "--to", "2026-02-01");
    assertThat(told.out()).contains("would delete 2 runs with 2 attempts", "add --yes");
    assertThat(harbour.get("/api/v1/runs?stream=day").get("total").asLong()).isEqualTo(2);
    Map<String, Object> another = Map.of("stream", "day", "to", "2026-02-01", "runs", 1);
    HttpResponse<String> refused =
        harbour.send("POST", "/api/v1/history/deletion", another, harbour.bearer());
    assertThat(refused.statusCode()).isEqualTo(409);
    assertThat(refused.body()).contains("2 runs now, not 1: nothing was deleted");
    Harbour.Ran gone =
        harbour.purser(
            "forget", "--stream", "day", "--to", "2026-02-01", "--yes", "--reason", "test data");
    assertThat(gone.out()).contains("deleted 2 runs");
    assertThat(harbour.get("/api/v1/runs?stream=day").get("total").asLong()).isZero();
    assertThat(harbour.purser("audit", "--about", "2 runs of day").out())
        .contains("delete history", "test data");
  }
}

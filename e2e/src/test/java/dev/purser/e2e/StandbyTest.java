package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Two services on one database: one is active, the other takes over. */
class StandbyTest {
  private Harbour harbour;
  private Process second;
  private int secondPort;
  private int firstPort;
  private Path marks;

  @BeforeEach
  void open() throws IOException {
    harbour = new Harbour();
    firstPort = harbour.port;
    marks = Files.createFile(harbour.home.resolve("marks"));
    secondPort = Harbour.freePort();
    second = harbour.startService("second", secondPort);
    Harbour.await("the second", () -> health(secondPort).contains("OUT_OF_SERVICE"), 90);
    harbour.publish(
        "host: pier\n---\nstream: day\njobs:\n  a: { host: pier, run: \"echo $PURSER_RUN"
            + " $PURSER_ATTEMPT >>"
            + marks
            + "; sleep 14\" }\n  b: { host: pier, waits-for: a succeeded, run: \"echo $PURSER_RUN"
            + " $PURSER_ATTEMPT >>"
            + marks
            + "\" }\n");
    harbour.startAgent("pier", addresses());
  }

  @AfterEach
  void close() throws IOException, InterruptedException {
    second.destroyForcibly().waitFor();
    harbour.service().destroyForcibly().waitFor();
    harbour.close();
  }

  private String addresses() {
    return "http://127.0.0.1:" + firstPort + ",http://127.0.0.1:" + secondPort;
  }

  private String health(int port) {
    int before = harbour.port;
    harbour.port = port;
    try {
      return harbour.send("GET", "/actuator/health", null, Map.of()).body();
    } catch (IllegalStateException e) {
      return "";
    } finally {
      harbour.port = before;
    }
  }

  @Test
  void theOneThatStandsBySaysSoAndTakesOverWithinTenSecondsAndNothingIsLostOrDoubled()
      throws Exception {
    harbour.port = secondPort;
    HttpResponse<String> refused = harbour.send("GET", "/api/v1/runs", null, harbour.bearer());
    harbour.port = firstPort;
    assertThat(refused.statusCode()).isEqualTo(503);
    assertThat(refused.body())
        .contains("stands by", "http://127.0.0.1:" + firstPort + " is the active one");
    assertThat(harbour.log("second")).contains("this service stands by");
    harbour.clientKnows("http://127.0.0.1:" + secondPort + ",http://127.0.0.1:" + firstPort);
    assertThat(harbour.purser("hosts").out()).contains("pier", "connected");

    Map<String, Long> runs = harbour.startStream("day");
    harbour.awaitState(runs.get("a"), "running", 20);
    harbour.killService();
    long begin = System.nanoTime();
    Harbour.await("the takeover", () -> health(secondPort).contains("\"UP\""), 30);
    assertThat(System.nanoTime() - begin).isLessThan(TimeUnit.SECONDS.toNanos(10));
    harbour.turnTo(second, secondPort);
    Harbour.await("the agent", () -> harbour.isConnected("pier"), 20);
    assertThat(harbour.purser("hosts").out()).contains("pier", "connected");
    harbour.awaitState(runs.get("b"), "succeeded", 60);
    assertThat(Files.readAllLines(marks))
        .containsExactlyInAnyOrder("day/a@" + date() + "#1 1", "day/b@" + date() + "#1 1");
  }

  /** The host goes down together with the service: nobody has ever told the new one about it. */
  @Test
  void workOfAHostThatNeverComesBackAfterATakeoverIsRepeatedElsewhere() throws Exception {
    harbour.publish(
        "host: pier\nlabels: [ quays ]\nlost-after: 5s\n---\nhost: quay\nlabels: [ quays ]\n---\n"
            + "host-group: quays\nlabels: [ quays ]\n---\nstream: move\njobs:\n  a: { host: any of quays,"
            + " may-repeat: yes, run: \"echo $PURSER_ATTEMPT >>"
            + marks
            + "; test $PURSER_ATTEMPT = 2 || sleep 60\" }\n");
    long run = harbour.startStream("move").get("a");
    harbour.awaitState(run, "running", 20);
    harbour.killService();
    harbour.killAgent("pier");
    harbour.stopWork();
    Harbour.await("the takeover", () -> health(secondPort).contains("\"UP\""), 30);
    harbour.turnTo(second, secondPort);
    harbour.startAgent("quay", addresses());
    harbour.awaitState(run, "succeeded", 40);
    assertThat(Files.readAllLines(marks)).containsExactly("1", "2");
    assertThat(harbour.get("/api/v1/runs/" + run).at("/attempts/0/note").asString())
        .contains("host pier has been away since");
  }

  private String date() {
    return harbour.get("/api/v1/session").get("businessDate").asString();
  }

  /**
   * Stopped for longer than its lease is good, it wakes up and believes that it is still active.
   */
  @Test
  void theOneThatWasFrozenStepsDownWhenItWakesUpAndStartsNothing() throws Exception {
    Process first = harbour.service();
    Map<String, Long> runs = harbour.startStream("day");
    harbour.awaitState(runs.get("a"), "running", 20);
    signal(first, "STOP");
    Harbour.await("the takeover", () -> health(secondPort).contains("\"UP\""), 40);
    harbour.turnTo(second, secondPort);
    Harbour.await("the agent", () -> harbour.isConnected("pier"), 40);
    signal(first, "CONT");
    Harbour.await("the step down", () -> health(firstPort).contains("OUT_OF_SERVICE"), 30);
    harbour.awaitState(runs.get("b"), "succeeded", 60);
    assertThat(harbour.log("service")).contains("another service has become the active one");
    assertThat(Files.readAllLines(marks)).hasSize(2).doesNotHaveDuplicates();
    assertThat(harbour.isConnected("pier")).isTrue();
    first.destroyForcibly().waitFor();
  }

  private static void signal(Process process, String signal)
      throws IOException, InterruptedException {
    new ProcessBuilder(List.of("kill", "-" + signal, String.valueOf(process.pid())))
        .start()
        .waitFor();
  }
}

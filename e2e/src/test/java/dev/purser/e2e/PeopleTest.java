package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Steps, values, checks, capacity and what people do, with real processes and the command line. */
class PeopleTest {
  private static Harbour harbour;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour(Map.of("PURSER_ENVIRONMENT", "test"));
    harbour.publish(
        """
        host: quay-north
        ---
        parameters-of: site
        values: { outbox: /srv/out, stamp: "${date | yyyyMMdd}" }
        ---
        parameters-of: environment test
        values: { outbox: /tmp/test-out }
        ---
        capacity: berths
        units: 1
        """);
    harbour.startAgent("quay-north");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  private static String sentence(long run) {
    return harbour.run(run).get("sentence").asString();
  }

  @Test
  void valuesAreHandedBackAndGoAlongAndAStreamRunsAsAStep() throws Exception {
    harbour.publish(
        """
        stream: fuel/bunkering
        asks-for: [port]
        jobs:
          take: { host: quay-north, run: "echo at ${port} to ${outbox}; echo litres=4${attempt}800 >> $PURSER_VALUES" }
          sign: { host: quay-north, run: "echo signed for ${value litres of take}", waits-for: value litres of take > 1000 }
          spill: { host: quay-north, run: echo never, waits-for: value litres of take > 90000 }
        ---
        stream: harbour/call
        parameters: { port: brannoch }
        jobs:
          refuel: { stream: fuel/bunkering, parameters: { port: "${port} quay" } }
          leave: { host: quay-north, run: "echo left ${stamp}", waits-for: refuel succeeded }
        """);
    Harbour.Ran started =
        harbour.purser("start", "harbour/call", "-p", "port=skerry", "--reason", "ice");
    assertThat(started.code()).as(started.out()).isZero();
    long leave = id("harbour/call", "leave");
    harbour.awaitState(leave, "succeeded", 30);
    long sign = id("harbour/call/refuel", "sign");
    Harbour.await("output", () -> harbour.output(sign).contains("signed"), 10);
    assertThat(harbour.output(sign)).isEqualTo("signed for 41800\n");
    assertThat(harbour.output(id("harbour/call/refuel", "take")))
        .isEqualTo("at skerry quay to /tmp/test-out\n");
    assertThat(harbour.state(id("harbour/call/refuel", "spill"))).isEqualTo("skipped");
    assertThat(harbour.state(id("harbour/call", "refuel"))).isEqualTo("succeeded");
    JsonNode detail = harbour.get("/api/v1/runs/" + id("harbour/call/refuel", "take"));
    assertThat(detail.get("values").get(0).get("value").asString()).isEqualTo("41800");
    assertThat(detail.get("parameters").toString())
        .contains("\"name\":\"port\",\"value\":\"skerry quay\",\"origin\":\"step\"")
        .contains("\"name\":\"outbox\",\"value\":\"/tmp/test-out\",\"origin\":\"environment\"");
    Harbour.Ran missing = harbour.purser("start", "fuel/bunkering");
    assertThat(missing.code()).isEqualTo(2);
    assertThat(missing.out()).contains("asks for the parameter \"port\"");
  }

  /** What ran as a command once: a start's parameter, and what a job hands back. */
  @Test
  void noValueOfAStartOrAJobBecomesACommand() throws Exception {
    harbour.publish(
        """
        stream: fuel/hostile
        parameters: { port: brannoch, opts: { value: "-a -b", shell: yes } }
        jobs:
          load:
            host: quay-north
            run: |
              echo "[${port}]"
              echo 'note=$(id); `id`' >> $PURSER_VALUES
          tell:
            host: quay-north
            waits-for: load succeeded
            run: printf '<%s>' ${opts} ${value note of load} '${port}'
        """);
    String hostile = "x\"; id; echo \"";
    Harbour.Ran started =
        harbour.purser("start", "fuel/hostile", "-p", "port=" + hostile, "--reason", "try");
    assertThat(started.code()).as(started.out()).isZero();
    long tell = id("fuel/hostile", "tell");
    harbour.awaitState(tell, "succeeded", 30);
    String said = "<-a><-b><$(id); `id`><" + hostile + ">";
    Harbour.await("output", () -> harbour.output(tell).contains(">"), 10);
    assertThat(harbour.output(tell)).isEqualTo(said);
    assertThat(harbour.output(id("fuel/hostile", "load"))).isEqualTo("[" + hostile + "]\n");
    Harbour.Ran refused = harbour.purser("start", "fuel/hostile", "-p", "opts=; id");
    assertThat(refused.code()).isEqualTo(2);
    assertThat(refused.out()).contains("which only its author changes");
  }

  private static long id(String stream, String job) {
    for (JsonNode run : harbour.get("/api/v1/runs?limit=1000&stream=" + stream).get("runs")) {
      if (run.get("stream").asString().equals(stream) && run.get("job").asString().equals(job)) {
        return run.get("id").asLong();
      }
    }
    throw new AssertionError("no run of " + stream + "/" + job);
  }

  @Test
  void aCheckBeforeWorkLeavesItOutOrFails() {
    harbour.publish(
        """
        stream: fuel/checks
        jobs:
          idle: { host: quay-north, only-if: "echo looked; exit 1", run: echo never }
          busy: { host: quay-north, only-if: "true", run: echo worked }
          broken: { host: quay-north, only-if: ./no-such-check, run: echo never }
          after: { host: quay-north, run: echo on, waits-for: idle succeeded }
        """);
    Map<String, Long> runs = harbour.startStream("fuel/checks");
    harbour.awaitState(runs.get("idle"), "skipped", 20);
    harbour.awaitState(runs.get("busy"), "succeeded", 20);
    harbour.awaitState(runs.get("broken"), "failed", 20);
    harbour.awaitState(runs.get("after"), "succeeded", 20);
    assertThat(sentence(runs.get("idle"))).contains("nothing to do: its check before work says so");
    assertThat(sentence(runs.get("broken")))
        .contains("check before work failed with exit code 127");
    assertThat(harbour.output(runs.get("idle"))).isEqualTo("looked\n");
  }

  @Test
  void aMissingValueIsNamedAndNothingIsStarted() {
    harbour.publish(
        """
        stream: fuel/missing
        jobs:
          a: { host: quay-north, run: "true" }
          b: { host: quay-north, run: "echo ${value rows of a}", waits-for: a succeeded, retry: { times: 3, wait: 1s } }
        """);
    Map<String, Long> runs = harbour.startStream("fuel/missing");
    harbour.awaitState(runs.get("b"), "failed", 20);
    assertThat(sentence(runs.get("b")))
        .contains("${value rows of a} has no value: a handed back no \"rows\"");
    assertThat(harbour.run(runs.get("b")).get("attempts").asInt()).isEqualTo(1);
  }

  @Test
  void cancellingAStreamStopsEveryProcessBelowIt() throws Exception {
    harbour.publish(
        """
        stream: deep/inner
        jobs:
          one: { host: quay-north, run: "echo $$; sleep 321 & sleep 321" }
          two: { host: quay-north, run: "sleep 321" }
        ---
        stream: deep/outer
        jobs:
          step: { stream: deep/inner }
          three: { host: quay-north, run: "sleep 321" }
        """);
    Map<String, Long> runs = harbour.startStream("deep/outer");
    for (String job : new String[] {"one", "two", "three"}) {
      harbour.awaitState(runs.get(job), "running", 20);
    }
    Harbour.await("the processes", () -> sleepers() == 4, 10);
    Harbour.Ran look = harbour.purser("cancel", "--stream", "deep/outer", "--state", "running");
    assertThat(look.code()).isEqualTo(1);
    assertThat(look.out()).contains("runs are like this; nothing was done");
    Harbour.Ran whatIf =
        harbour.purser(
            "cancel", "step@" + harbour.run(runs.get("step")).get("date").asString(), "--what-if");
    assertThat(whatIf.out()).contains("It touches 3 runs", "is stopped while it is running");
    assertThat(sleepers()).isEqualTo(4);
    Harbour.Ran done =
        harbour.purser("cancel", "--stream", "deep/outer", "--state", "running", "--yes");
    assertThat(done.out()).contains("deep/outer/three@");
    for (String job : new String[] {"step", "one", "two", "three"}) {
      harbour.awaitState(runs.get(job), "cancelled", 20);
    }
    assertThat(sleepers()).isZero();
  }

  private static long sleepers() {
    return ProcessHandle.allProcesses()
        .filter(
            process ->
                process.info().commandLine().filter(line -> line.endsWith("sleep 321")).isPresent()
                    && process.info().command().filter(c -> c.endsWith("/sleep")).isPresent())
        .count();
  }

  @Test
  void capacityPriorityHoldsAndMarksWorkFromTheCommandLine() throws Exception {
    harbour.publish(
        """
        stream: quay/line
        jobs:
          first: { host: quay-north, run: "until [ -e @GO@ ]; do sleep 0.1; done", takes: { berths: 1 } }
          second: { host: quay-north, run: "true", takes: { berths: 1 } }
          third: { host: quay-north, run: "true", takes: { berths: 1 } }
        """
            .replace("@GO@", harbour.home + "/go"));
    harbour.purser("hold", "--whole-stream", "quay/line", "--reason", "works");
    Map<String, Long> runs = harbour.startStream("quay/line");
    assertThat(sentence(runs.get("first"))).contains("held with the stream quay/line");
    assertThat(harbour.purser("holds").out()).contains("held by", "works");
    harbour.purser("release", "--whole-stream", "quay/line");
    harbour.awaitState(runs.get("first"), "running", 20);
    assertThat(harbour.purser("priority", "--to", "90", "" + runs.get("third")).code()).isZero();
    assertThat(sentence(runs.get("second"))).contains("before it in line: quay/line/third@");
    Harbour.Ran zero = harbour.purser("capacity", "berths", "--units", "0", "--reason", "storm");
    assertThat(zero.out()).contains("1 of 0");
    Files.createFile(harbour.home.resolve("go"));
    harbour.awaitState(runs.get("first"), "succeeded", 20);
    assertThat(harbour.state(runs.get("third"))).isEqualTo("waiting");
    assertThat(harbour.purser("mark", "--as", "succeeded", "" + runs.get("second")).out())
        .contains("marked as succeeded by");
    harbour.purser("capacity", "berths", "--as-defined");
    harbour.awaitState(runs.get("third"), "succeeded", 20);
    assertThat(harbour.purser("cancel", "" + runs.get("third")).out())
        .contains("a run that has succeeded cannot be cancelled; possible now: rerun");
    assertThat(harbour.purser("find", "line").out()).contains("quay/line/second");
    assertThat(harbour.purser("graph", "quay/line").out()).contains("✓ succeeded", "third");
  }
}

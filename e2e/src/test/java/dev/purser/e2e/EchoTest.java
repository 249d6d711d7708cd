package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * A kind of work that main code knows nothing of, and that happens in the service: it is added by
 * the files of one package, and goes the whole way from definition to page.
 */
class EchoTest {
  private static Harbour harbour;
  private static Path far;

  @BeforeAll
  static void open() throws IOException {
    far = Files.createTempDirectory("purser-echo");
    harbour = new Harbour(Map.of("ECHO_PLACE", far.toString()), "target/test-classes");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
    try (var files = Files.list(far)) {
      for (Path file : files.toList()) {
        Files.delete(file);
      }
    }
    Files.delete(far);
  }

  private static String stream(String name, String jobs) {
    return "stream: " + name + "\njobs:\n" + jobs.indent(2);
  }

  private static JsonNode detail(long run) {
    return harbour.get("/api/v1/runs/" + run);
  }

  private static String why(long run) {
    return harbour.get("/api/v1/runs/" + run + "/why").get("sentence").asString();
  }

  /** The console's title, and what the client prints of the schema, come from the same table. */
  @Test
  void itsKeysAreInTheSchemaOfTheService() {
    JsonNode streamKind =
        harbour
            .get("/api/v1/definitions/schema")
            .get("oneOf")
            .valueStream()
            .filter(kind -> kind.get("title").asString().equals("stream"))
            .findFirst()
            .orElseThrow();
    JsonNode keys =
        streamKind.get("properties").get("jobs").get("additionalProperties").get("properties");
    assertThat(keys.get("echo").get("description").asString()).startsWith("What is said");
    assertThat(keys.propertyNames()).contains("run", "approve", "stream", "echo-for");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          j: { echo: hi, host: h }       | a job with "echo" runs in the service, on no host; leave "host" out
          j: { echo: hi, run: x }        | needs exactly one of run (a command), call (an operation of a remote service), container
          j: { approve: y?, echo-for: 1s } | "echo-for" belongs to "echo", which this job does not have
          j: { echo: "${nobody}" }       | unknown placeholder ${nobody}
          j: { echo: silence }           | job "j" cannot say silence
          j: { ecko: hi }                | unknown key "ecko" in job "j"; did you mean "echo"?
          """)
  void whatIsWrongWithItIsSaid(String job, String message) {
    HttpResponse<String> answer =
        harbour.send(
            "POST",
            "/api/v1/definitions/check",
            Harbour.files(stream("echo/wrong", job)),
            harbour.bearer());
    assertThat(answer.body().replace("\\\"", "\"")).contains(message);
  }

  @Test
  void itIsPlannedForecastStartedAndWhatFollowsGoesOn() throws Exception {
    harbour.publish(
        """
        stream: echo/talk
        paused: no
        schedule: { days: every day, at: "23:59", zone: UTC }
        parameters: { deck: upper }
        jobs:
          say: { echo: "on the ${deck} deck", echo-for: 3s, usually: 3s to 4s }
          then: { echo: "after ${value said of say}", waits-for: say succeeded }
        """);
    assertThat(harbour.purser("next", "echo/talk").out()).contains("23:59");
    Map<String, Long> runs = harbour.startStream("echo/talk");
    long say = runs.get("say");
    harbour.awaitState(say, "running", 20);
    assertThat(why(say)).startsWith("It has been running in the service since ");
    assertThat(why(runs.get("then"))).contains("say has been running in the service since ");
    assertThat(harbour.run(say).get("host").asString()).isEqualTo("in the service");
    Harbour.await("its likely end", () -> harbour.run(say).hasNonNull("expectedEnd"), 20);
    harbour.awaitState(runs.get("then"), "succeeded", 30);
    assertThat(harbour.output(say)).isEqualTo("on the upper deck\nthat was 1\n");
    assertThat(harbour.output(runs.get("then"))).startsWith("after 1\n");
    String shown = harbour.purser("show", String.valueOf(say)).out();
    assertThat(shown).contains("say on the ${deck} deck").contains("in the service");
    assertThat(shown).doesNotContain("on in the");
  }

  @Test
  void itIsTriedAgainStoppedAfterAWhileAndCancelled() {
    harbour.publish(
        stream(
            "echo/ends",
            """
            again: { echo: x, echo-code: 3, retry: { times: 1, wait: 1s } }
            long: { echo: x, echo-for: 1h, stop-after: 1s }
            open: { echo: x, echo-for: 1h }
            """));
    Map<String, Long> runs = harbour.startStream("echo/ends");
    harbour.awaitState(runs.get("again"), "failed", 30);
    assertThat(why(runs.get("again"))).contains("exit code 3, after 2 attempts");
    harbour.awaitState(runs.get("long"), "failed", 30);
    assertThat(why(runs.get("long"))).contains("stopped after 1s");
    harbour.awaitState(runs.get("open"), "running", 30);
    assertThat(harbour.act(runs.get("open"), "cancel").statusCode()).isEqualTo(200);
    harbour.awaitState(runs.get("open"), "cancelled", 30);
  }

  /** The service is killed while one is at it and one is to follow: each is done once. */
  @Test
  void aRestartNeitherLosesItNorBeginsItTwice() throws Exception {
    harbour.publish(
        stream(
            "echo/restart",
            """
            first: { echo: one, echo-for: 8s }
            second: { echo: two, waits-for: first succeeded }
            """));
    Map<String, Long> runs = harbour.startStream("echo/restart");
    harbour.awaitState(runs.get("first"), "running", 20);
    harbour.killService();
    harbour.startService();
    harbour.awaitState(runs.get("second"), "succeeded", 40);
    assertThat(harbour.output(runs.get("first"))).isEqualTo("one\nthat was 1\n");
    List<String> begun =
        Files.readAllLines(far.resolve("begun")).stream()
            .filter(line -> line.contains("echo/restart/"))
            .toList();
    assertThat(begun).hasSize(2).doesNotHaveDuplicates();
    assertThat(detail(runs.get("first")).get("attempts")).hasSize(1);
  }

  @Test
  void itsPageShowsWhereItIsAndWhatItSays() throws IOException {
    harbour.publish(stream("echo/page", "show: { title: Show it, echo: to be seen }"));
    long run = harbour.startStream("echo/page").get("show");
    harbour.awaitState(run, "succeeded", 20);
    try (Browser browser = new Browser()) {
      browser.driver().get(harbour.address("/runs/" + run));
      browser.signIn("operator", Harbour.PASSWORD);
      browser.text("Show it");
      browser.see("//*[@aria-label='Output' and contains(., 'to be seen')]");
      browser.text("say to be seen");
      browser.text("in the service");
    }
  }
}

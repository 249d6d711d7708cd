package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.Stumbling;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.output.OutputStore;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.net.http.WebSocketHandshakeException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.jdbc.core.JdbcTemplate;

/** Agents that are of another version, lie, or talk nonsense, over real connections. */
class StrangersTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private HostRecords hosts;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private PlanKeeper plan;
  @Autowired private RunRecords runs;
  @Autowired private AgentLink link;
  @Autowired private JdbcTemplate rows;
  @Autowired private OutputStore outputs;
  @LocalServerPort private int port;
  private Talk talk;

  @AfterEach
  void hangUp() {
    if (talk != null) {
      talk.hangUp();
    }
  }

  private Talk connect(String host, String key, String instance) throws Exception {
    return Talk.connect(port, host, key, instance);
  }

  private String key(String host) {
    return hosts.enrol(host, hosts.newToken(host).token());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          no array of messages   | {"type":"hello"} | upgrade the agent, or both
          an older protocol      | HELLO 3 0 | protocol 4 is spoken here: upgrade the agent
          a newer protocol       | HELLO 5 0 | protocol 4 is spoken here: upgrade the service
          a newer service        | HELLO 4 99999999 | has obeyed a newer service (epoch 99999999)
          no hello               | [{"type":"alive","clock":1}] | say hello first
          no JSON                | [{"type": | this is not a message
          """)
  void whatIsNotUnderstoodIsRefusedWithTheReason(String what, String said, String reason)
      throws Exception {
    talk = connect("strange", key("strange"), "one");
    String[] words = said.split(" ");
    talk.say(
        words[0].equals("HELLO")
            ? Talk.hello(
                Integer.parseInt(words[1]), System.currentTimeMillis(), Long.parseLong(words[2]))
            : said);
    assertThat(talk.closedBecause()).as(what).contains(reason);
  }

  @Test
  void anUnknownMessageIsLeftOutAndTheRestOfTheFrameCounts() throws Exception {
    talk = connect("strange", key("strange"), "one");
    talk.say("[{\"type\":\"from-the-future\",\"x\":1}," + Talk.hello(1, 0).substring(1));
    talk.awaitMessage("welcome");
  }

  @Test
  void aFrameThatIsTooLargeEndsTheConnectionAndTheServiceGoesOn() throws Exception {
    talk = connect("strange", key("strange"), "one");
    String piece = "x".repeat(1 << 20);
    try {
      for (int i = 0; i < 64 && !talk.closed.isDone(); i++) {
        talk.sayPart(piece);
      }
    } catch (ExecutionException e) {
      assertThat(e.getCause()).hasMessageContaining("closed");
    }
    assertThat(talk.closedBecause()).containsAnyOf("larger than 8 MB", "cut:");
    talk = connect("strange", key("strange"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
  }

  @Test
  void aSecondInstallationUnderOneNameIsRefusedWhileTheFirstIsThere() throws Exception {
    String key = key("strange");
    talk = connect("strange", key, "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    assertThatThrownBy(() -> connect("strange", key, "two"))
        .cause()
        .isInstanceOfSatisfying(
            WebSocketHandshakeException.class,
            e ->
                assertThat(e.getResponse().headers().firstValue("Purser-Reason"))
                    .contains("another agent is connected as \"strange\""));
    assertThatThrownBy(() -> connect("strange", "guess", "one"))
        .cause()
        .isInstanceOfSatisfying(
            WebSocketHandshakeException.class,
            e -> assertThat(e.getResponse().statusCode()).isEqualTo(401));
  }

  private long started(String stream, String host) {
    publisher.publish(
        List.of(
            new SourceFile(
                "test.yaml",
                "host: "
                    + host
                    + "\n---\nstream: "
                    + stream
                    + "\njobs:\n  one: { host: "
                    + host
                    + ", run: x }\n")),
        Optional.empty(),
        IDA,
        "test");
    return actions
        .start(Start.of(stream, Optional.empty(), plan.today()), Optional.empty(), IDA, "")
        .get(0);
  }

  private String state(long run) {
    return engine.look(board -> board.status(run)).orElseThrow().state().word();
  }

  private static String ended(long run, long began, long at) {
    return "[{\"type\":\"ended\",\"run\":"
        + run
        + ",\"attempt\":1,\"how\":\"exited\",\"code\":0,\"note\":\"\",\"began\":"
        + began
        + ",\"at\":"
        + at
        + ",\"values\":{},\"output\":null}]";
  }

  @Test
  void whatAnotherHostSaysOfAnAttemptDoesNotCount() throws Exception {
    long run = started("strange/sender", "honest");
    Talk honest = connect("honest", key("honest"), "one");
    honest.say(Talk.hello(System.currentTimeMillis(), 0));
    honest.awaitMessage("\"start\"");
    talk = connect("strange", key("strange"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    long now = System.currentTimeMillis();
    talk.say(ended(run, now, now));
    talk.awaitMessage("recorded"); // so that it is not said again and again
    assertThat(state(run)).isEqualTo("starting");
    honest.say(ended(run, now, now));
    honest.awaitMessage("recorded");
    assertThat(state(run)).isEqualTo("succeeded");
    honest.hangUp();
  }

  /** Output, values and ends of attempts that are not its own are kept nowhere. */
  @Test
  void aStolenKeyIsWorthOneHost() throws Exception {
    long run = started("strange/theft", "robbed");
    Talk robbed = connect("robbed", key("robbed"), "one");
    robbed.say(Talk.hello(System.currentTimeMillis(), 0));
    robbed.awaitMessage("\"start\"");
    talk = connect("strange", key("strange"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    talk.say(
        "[{\"type\":\"output\",\"run\":"
            + run
            + ",\"attempt\":1,\"offset\":0,\"data\":\"aGVsbG8=\",\"complete\":true,\"total\":5}]");
    talk.awaitMessage("taken");
    long now = System.currentTimeMillis();
    robbed.say(ended(run, now, now));
    robbed.awaitMessage("recorded");
    talk.say(ended(run, now, now).replace("\"code\":0", "\"code\":9"));
    talk.awaitMessage("recorded");
    assertThat(state(run)).isEqualTo("succeeded");
    assertThat(outputs.read(run, 1, 0, 100).data()).isEmpty();
    robbed.hangUp();
  }

  @Test
  void aKeyIsEndedAtOnceAndSoIsTheConnectionOfOneThatIsReplaced() throws Exception {
    String old = key("strange");
    talk = connect("strange", old, "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    assertThat(hosts.endKey("strange")).isTrue();
    assertThat(hosts.endKey("strange")).isFalse();
    link.drop("strange", "the key of this host has been ended");
    assertThat(talk.closedBecause()).isEqualTo("the key of this host has been ended");
    assertThatThrownBy(() -> connect("strange", old, "one"))
        .cause()
        .isInstanceOfSatisfying(
            WebSocketHandshakeException.class,
            e ->
                assertThat(e.getResponse().headers().firstValue("Purser-Reason"))
                    .contains("wrong key for host \"strange\"; enrol its agent again"));
    talk = connect("strange", key("strange"), "two");
  }

  /** Only what a host was asked to look for can it have found. */
  @Test
  void aFindIsCheckedAgainstWatchHostAndPattern() throws Exception {
    publisher.publish(
        List.of(
            new SourceFile(
                "test.yaml",
                "host: strange\n---\nhost: honest\n---\nfile-watch: mine\nhost: strange\npath:"
                    + " /in/*.csv\n---\nfile-watch: theirs\nhost: honest\npath: /in/*.csv\n")),
        Optional.empty(),
        IDA,
        "test");
    talk = connect("strange", key("strange"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    talk.awaitMessage("\"mine\"");
    talk.say(
        "[{\"type\":\"found\",\"number\":1,\"files\":["
            + file("theirs", "a.csv")
            + ","
            + file("mine", "a.txt")
            + ","
            + file("mine", "a.csv")
            + "]}]");
    talk.awaitMessage("\"number\":1");
    assertThat(
            rows.queryForList(
                "select concat(watch, ' ', path) from arrival where place = 'strange'",
                String.class))
        .containsExactly("mine /in/a.csv");
  }

  private static String file(String watch, String name) {
    return "{\"watch\":\""
        + watch
        + "\",\"directory\":\"/in\",\"pattern\":\"*.csv\",\"name\":\""
        + name
        + "\",\"size\":7,\"modified\":1000,\"key\":\"1:2:"
        + name
        + "\",\"state\":\"ready\",\"note\":\"\",\"checksum\":\"\"}";
  }

  /** Whatever comes with it: the end counts, once, and what can be kept of the rest is. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          a value of kilometres     | "values":{}          | "values":{"rows":"7","far":"LONG"}
          a name of kilometres      | "values":{}          | "values":{"rows":"7","LONG":"1"}
          no value                  | "values":{}          | "values":{"rows":"7","none":null}
          a time before there was   | "began":NOW          | "began":-9000000000000000
          an end that is to come    | "at":NOW             | "at":9000000000000000
          an end before its start   | "at":NOW             | "at":1
          a note of kilometres      | "note":""            | "note":"LONG"
          """)
  void anEndThatIsTooMuchForTheRecordsIsAnEndAllTheSame(String what, String said, String instead)
      throws Exception {
    talk = connect("verbose", key("verbose"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    long run = started("strange/verbose", "verbose");
    talk.awaitMessage("\"start\"");
    long now = System.currentTimeMillis();
    talk.say(
        ended(run, now, now)
            .replace(said.replace("NOW", now + ""), instead.replace("LONG", "9".repeat(5_000))));
    talk.awaitMessage("recorded");
    assertThat(state(run)).as(what).isEqualTo("succeeded");
    RunRow row = runs.byId(run).orElseThrow();
    assertThat(row.ended).isBetween(Instant.EPOCH, Instant.now().plusSeconds(5));
    assertThat(row.started == null || !row.started.isAfter(row.ended)).isTrue();
    if (instead.contains("rows")) {
      assertThat(row.handedBack).isEqualTo("{\"rows\":\"7\"}");
      assertThat(row.note).contains("not all that it handed back could be kept");
    }
    assertThat(talk.closed).isNotDone();
  }

  /**
   * One listener cannot take what was committed: its host is told all the same, and so is who
   * asked.
   */
  @Test
  void whatOneListenerCannotTakeKeepsNoAttemptFromItsHost() throws Exception {
    talk = connect("steady", key("steady"), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    Stumbling.TIMES.set(100);
    try {
      long run = started("strange/steady", "steady");
      talk.awaitMessage("\"start\"");
      assertThat(state(run)).isEqualTo("starting");
    } finally {
      assertThat(Stumbling.TIMES.getAndSet(0)).isLessThan(100);
    }
  }

  /** The host's clock is three hours ahead, or behind. */
  @ParameterizedTest
  @CsvSource({"10800", "-10800"})
  void timesOfAHostWhoseClockIsWrongAreCorrected(long aheadSeconds) throws Exception {
    long ahead = Duration.ofSeconds(aheadSeconds).toMillis();
    long run = started("strange/clock", "late");
    long before = System.currentTimeMillis();
    talk = connect("late", key("late"), "one");
    talk.say(Talk.hello(System.currentTimeMillis() + ahead, 0));
    talk.awaitMessage("\"start\"");
    long now = System.currentTimeMillis() + ahead;
    talk.say(ended(run, now, now));
    talk.awaitMessage("recorded");
    assertThat(runs.byId(run).orElseThrow().ended.toEpochMilli())
        .isBetween(before - 1_000, System.currentTimeMillis());
    assertThat(link.presence("late").orElseThrow().ahead()).isBetween(ahead - 5_000, ahead + 5_000);
  }
}

package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunState;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.secret.StoredSecrets;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.jdbc.core.JdbcTemplate;

/** Secrets on their way to commands, over a real connection to an agent that is spoken by hand. */
class JobSecretsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final String SECRET = "made-up-word-for-stores";

  @Autowired private StoredSecrets secrets;
  @Autowired private SecretPermits permits;
  @Autowired private Engine engine;
  @Autowired private HostRecords hosts;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private PrivateLinks links;
  @Autowired private JdbcTemplate rows;
  @LocalServerPort private int port;
  private Talk talk;

  @AfterEach
  void hangUp() {
    if (talk != null) {
      talk.hangUp();
    }
  }

  private List<Problem> publish(String name) {
    String text =
        """
        host: @n@
        labels: [@n@]
        ---
        host-group: @n@-all
        labels: [@n@]
        ---
        stream: secret/@n@
        jobs:
          send:
            host: @n@
            run: ./send
            secrets: { STORE_PASSWORD: @n@ }
            secret-files: { STORE_KEY: @n@ }
        """
            .replace("@n@", name);
    secrets.set(name, SECRET, IDA, "");
    Publisher.Outcome result =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(result.sound()).isTrue();
    return result.problems();
  }

  private long started(String name) {
    Start start =
        new Start(
            "secret/" + name,
            Optional.empty(),
            false,
            LocalDate.of(2041, 5, 4),
            Map.of(),
            Set.of());
    return actions.start(start, Optional.empty(), IDA, "").get(0);
  }

  private void connect(String host) throws Exception {
    talk = Talk.connect(port, host, hosts.enrol(host, hosts.newToken(host).token()), "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
  }

  @ParameterizedTest
  @ValueSource(strings = {"safe", "safe-all"})
  void aSecretThatMayGoToAHostReachesItsCommand(String allowed) throws Exception {
    permits.allow(SecretSource.of("stored", "safe", "host:" + allowed), IDA, "");
    assertThat(publish("safe")).isEmpty();
    connect("safe");
    long run = started("safe");
    String message = talk.awaitMessage("\"run\":" + run + ",");
    assertThat(message)
        .contains("\"STORE_PASSWORD\":\"" + SECRET + "\"")
        .contains("\"secretFiles\":{\"STORE_KEY\":\"" + SECRET + "\"}")
        .contains("\"command\":\"./send\"");
    assertThat(
            rows.queryForObject(
                "select count(*) from audit where what = 'use secret' and reason = ?",
                Integer.class,
                "secret safe on host safe"))
        .isPositive();
    permits.all().stream()
        .filter(permit -> permit.name.equals("safe"))
        .forEach(permit -> permits.disallow(permit.id, IDA, ""));
  }

  @Test
  void aSecretThatNobodyAllowedGoesNowhere() throws Exception {
    assertThat(publish("unsafe"))
        .anySatisfy(
            problem ->
                assertThat(problem.message())
                    .contains("may not go to unsafe")
                    .contains("purser secrets allow --stored unsafe --address host:unsafe"));
    connect("unsafe");
    assertThat(failure(started("unsafe"))).contains("no administrator has allowed it");
  }

  @Test
  void noSecretIsSentWhereOthersCanReadTheLink() throws Exception {
    permits.allow(SecretSource.of("stored", "open", "host:open"), IDA, "");
    publish("open");
    connect("open");
    links.forget("open");
    assertThat(failure(started("open"))).contains("without encryption");
  }

  private String failure(long run) {
    await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> engine.look(board -> board.state(run).orElseThrow() == RunState.FAILED));
    return engine.look(board -> board.status(run).orElseThrow().note());
  }
}

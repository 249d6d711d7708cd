package dev.purser.service.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.outside.RemoteDesk;
import dev.purser.service.OnDatabase;
import dev.purser.service.TestDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.output.OutputStore;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.service.publish.Publisher;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.ExtendWith;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.system.CapturedOutput;
import org.springframework.boot.test.system.OutputCaptureExtension;
import org.springframework.boot.test.web.server.LocalServerPort;

/** A service that says our secret back to us: it is nowhere afterwards, wherever one looks. */
@ExtendWith(OutputCaptureExtension.class)
class SecretScanTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final String SECRET = "made-up-api-key";

  @Autowired private StoredSecrets secrets;
  @Autowired private KnownSecrets known;
  @Autowired private SecretPermits permits;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private OutputStore outputs;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @LocalServerPort private int port;

  @Test
  void aSecretThatComesBackIsKeptNowhere(CapturedOutput logs) throws Exception {
    long run;
    try (RemoteDesk desk = new RemoteDesk(0)) {
      String here = "http://127.0.0.1:" + desk.port();
      secrets.set("scanned-key", SECRET, IDA, "");
      permits.allow(SecretSource.of("stored", "scanned-key", here), IDA, "");
      known.refresh();
      publish(here);
      run = started();
      await()
          .atMost(Duration.ofSeconds(30))
          .until(() -> engine.look(board -> board.state(run).orElseThrow().isEnded()));
    }
    actions.act(run, Action.RERUN, 0, IDA, "try it with " + SECRET);
    assertThatThrownBy(() -> startedWith(Map.of("word", SECRET)))
        .hasMessageContaining("the value of word holds a secret")
        .hasMessageNotContaining(SECRET);
    String output = new String(outputs.read(run, 1, 0, 10_000).data(), StandardCharsets.UTF_8);
    assertThat(output).contains("the model did not settle for •••").doesNotContain(SECRET);
    assertThat(inDatabase()).isEmpty();
    assertThat(inAnswers(run)).isEmpty();
    assertThat(logs.getAll()).doesNotContain(SECRET);
  }

  private void publish(String here) {
    String text =
        """
        connection: scanned
        address: "@here@/bureau"
        secret: scanned-key
        sign-in: header
        header: X-Api-Key
        ---
        remote-service: scanned
        connection: scanned
        operations:
          model:
            start: { request: POST /start, form: { seconds: "0.2", ends: badly, chatty: "yes" }, id: /ticket/no }
            look:
              request: GET /status?ticket=${remote.id}
              state: /ticket/code
              running: RUN
              succeeded: DONE
              failed: ERR
              error: /ticket/reason
              values: { reason: /ticket/reason }
        ---
        stream: scanned/model
        jobs: { run: { call: model of scanned, every: 1s } }
        """
            .replace("@here@", here);
    assertThat(
            publisher
                .publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test")
                .sound())
        .isTrue();
  }

  private long started() {
    return startedWith(Map.of());
  }

  private long startedWith(Map<String, String> parameters) {
    Start start =
        new Start(
            "scanned/model",
            Optional.empty(),
            false,
            LocalDate.of(2027, 5, 4),
            parameters,
            Set.of());
    return actions.start(start, Optional.empty(), IDA, "").get(0);
  }

  /** Columns of text in which it stands. */
  private static List<String> inDatabase() throws SQLException {
    List<String> found = new ArrayList<>();
    try (Connection connection =
            DriverManager.getConnection(TestDatabase.url(), "purser", "purser");
        Statement columns = connection.createStatement();
        Statement look = connection.createStatement();
        ResultSet all =
            columns.executeQuery(
                "select table_name, column_name from information_schema.columns where table_schema ="
                    + " database() and data_type in ('varchar', 'text', 'mediumtext', 'longtext',"
                    + " 'varbinary')")) {
      int looked = 0;
      while (all.next()) {
        looked++;
        String column = "`" + all.getString(1) + "`.`" + all.getString(2) + "`";
        try (ResultSet rows =
            look.executeQuery(
                "select 1 from `"
                    + all.getString(1)
                    + "` where instr("
                    + column
                    + ", '"
                    + SECRET
                    + "') > 0 limit 1")) {
          if (rows.next()) {
            found.add(column);
          }
        }
      }
      assertThat(looked).isGreaterThan(100);
    }
    return found;
  }

  private List<String> inAnswers(long run) throws Exception {
    people.save("scanner", Role.ADMINISTRATOR, passwords.hash("long-enough-password"), false);
    String token = tokens.make("scanner", "scan", TokenScope.API, Tokens.USUAL).secret();
    List<String> found = new ArrayList<>();
    for (String path :
        List.of(
            "/runs/" + run,
            "/runs/" + run + "/why",
            "/runs/" + run + "/output",
            "/runs/" + run + "/remote",
            "/alerts?text=scanned",
            "/audit",
            "/connections",
            "/secrets",
            "/secrets/stored",
            "/remote-services",
            "/definitions")) {
      HttpResponse<String> answer =
          HttpClient.newHttpClient()
              .send(
                  HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1" + path))
                      .header("Authorization", "Bearer " + token)
                      .build(),
                  HttpResponse.BodyHandlers.ofString());
      assertThat(answer.statusCode()).as(path).isEqualTo(200);
      if (answer.body().contains(SECRET)) {
        found.add(path);
      }
    }
    return found;
  }
}

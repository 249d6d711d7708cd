package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.outside.ObjectStore;
import dev.purser.outside.RemoteDesk;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * Work that takes its way through an agent, with real processes: the service itself may not call
 * the addresses that it leads to, so what arrives has come through the agent.
 */
class RoadsTest {
  private static final String HARBOUR =
      """
      remote-service: %1$s
      connection: %1$s
      operations:
        file-manifest:
          start:
            request: POST /filings
            json: { vessel: nordlys, seconds: { as-number: "3" }, ends: well }
            id: /filing/id
            key-header: Idempotency-Key
          look:
            request: GET /filings/${remote.id}
            state: /state
            running: queued, working
            succeeded: filed
            failed: refused
      """;

  private static Harbour harbour;
  private static RemoteDesk desk;
  private static ObjectStore store;
  private static Path outDirectory;
  private static Path inDirectory;

  @BeforeAll
  static void open() throws IOException {
    Path key = Files.createTempFile("secrets", "key");
    Files.writeString(key, Base64.getEncoder().encodeToString(new byte[32]));
    harbour = new Harbour(Map.of("PURSER_MAY_CALL", "", "PURSER_SECRETS_KEY", key.toString()));
    desk = new RemoteDesk(0);
    store = new ObjectStore(0);
    secret("harbour-client", "made-up-client-secret", "http://127.0.0.1:" + desk.port());
    secret("accounts", "made-up-accounts", "mariadb://127.0.0.1:" + harbour.databasePort);
    harbour.sql(
        "create database accounts; create user accountant@'127.0.0.1' identified by"
            + " 'made-up-accounts'; grant all on accounts.* to accountant@'127.0.0.1'");
    harbour.publish(
        """
        host: north
        labels: [quay]
        ---
        host: south
        labels: [quay]
        ---
        host-group: quays
        labels: [quay]
        ---
        connection: office
        address: http://127.0.0.1:%1$d/harbour
        user: purser
        secret: harbour-client
        sign-in: oauth2
        token-address: http://127.0.0.1:%1$d/token
        bears-outage: 3m
        ---
        connection: accounts
        address: jdbc:mariadb://127.0.0.1:%2$d/accounts
        user: accountant
        secret: accounts
        ---
        connection: store
        kind: object-store
        address: http://127.0.0.1:%3$d
        through: north
        ---
        connection: nobody
        address: http://127.0.0.1:1
        through: north
        bears-outage: 1s
        """
                .formatted(desk.port(), harbour.databasePort, store.port())
            + "---\n"
            + HARBOUR.formatted("office")
            + "---\n"
            + HARBOUR.formatted("nobody"));
    outDirectory = Files.createDirectories(harbour.home.resolve("north-out"));
    inDirectory = Files.createDirectories(harbour.home.resolve("south-in"));
    harbour.agentOptions("north", "--files", outDirectory.toString());
    harbour.agentOptions("south", "--files", inDirectory.toString());
    harbour.startAgent("north");
  }

  private static void secret(String name, String secret, String address) {
    harbour.send(
        "PUT",
        "/api/v1/secrets/stored/" + name,
        Map.of("secret", secret, "receivers", List.of(address), "reason", "test"),
        harbour.bearer());
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
    desk.close();
    store.close();
  }

  private static long started(String name, String job) {
    harbour.publish("stream: road/" + name + "\njobs:\n  work: { " + job + " }\n");
    return harbour.startStream("road/" + name).get("work");
  }

  private static void ends(long id, String state) {
    Harbour.await(
        "the end of " + harbour.run(id),
        () -> Set.of("succeeded", "failed").contains(harbour.state(id)),
        60);
    assertThat(harbour.state(id)).as(why(id)).isEqualTo(state);
  }

  private static String why(long id) {
    return harbour.get("/api/v1/runs/" + id + "/why").toString();
  }

  @Test
  void aCallTakesItsWayThroughAHost() {
    long direct = started("direct", "call: file-manifest of office, every: 1s");
    ends(direct, "failed");
    long through = started("call", "call: file-manifest of office, every: 1s, host: north");
    ends(through, "succeeded");
  }

  @Test
  void aCallWhoseAgentDiesIsBegunOnceAndFollowedAgain() throws IOException {
    int before = desk.begun().size();
    long id = started("killed", "call: file-manifest of office, every: 1s, host: north");
    Harbour.await("its begin", () -> desk.begun().size() > before, 30);
    harbour.killAgent("north");
    Harbour.await(
        "the outage",
        () ->
            harbour
                .get("/api/v1/runs/" + id + "/output")
                .toString()
                .contains("the agent of north is not connected"),
        30);
    harbour.startAgent("north");
    ends(id, "succeeded");
    assertThat(desk.begun()).hasSize(before + 1);
  }

  @Test
  void statementsTakeTheirWayThroughAnyHostThatIsThere() {
    String sql = "create table t (n int); insert into t values (7); select n as total from t";
    long id = started("sql", "database: accounts, sql: '" + sql + "', host: any of quays");
    ends(id, "succeeded");
    assertThat(harbour.get("/api/v1/runs/" + id).toString()).contains("\"total\"");
  }

  @Test
  void filesTakeTheWayOfTheirConnection() {
    byte[] data = "tickets ".repeat(500_000).getBytes(StandardCharsets.UTF_8);
    store.put("out", "day.csv", data);
    ends(started("files", "transfer: /out/*.csv from store to /in on store"), "succeeded");
    assertThat(store.keys("in")).contains("day.csv");
  }

  @Test
  void filesGoFromOneHostToAnotherAndNowhereElse() throws IOException {
    harbour.startAgent("south");
    byte[] data = new byte[3_000_001];
    new java.util.Random(4711).nextBytes(data);
    Files.write(outDirectory.resolve("day one.bin"), data);
    Files.writeString(harbour.home.resolve("private.txt"), "not for anybody");
    Files.createSymbolicLink(outDirectory.resolve("link.bin"), harbour.home.resolve("private.txt"));
    String to = " to " + inDirectory + " on host south";
    long run =
        started(
            "hosts",
            "transfer: '"
                + outDirectory
                + "/*.bin from host north"
                + to
                + "', compare: yes,"
                + " afterwards: remove");
    ends(run, "succeeded");
    assertThat(inDirectory.toFile().list()).containsExactly("day one.bin");
    assertThat(Files.readAllBytes(inDirectory.resolve("day one.bin"))).isEqualTo(data);
    assertThat(outDirectory.toFile().list()).containsExactly("link.bin");
    long climbing =
        started("climbing", "transfer: '" + harbour.home + "/*.txt from host north" + to + "'");
    ends(climbing, "failed");
    assertThat(why(climbing)).contains("is not in a directory that the owner of this host allows");
    long store =
        started("to-store", "transfer: '" + inDirectory + "/* from host south to /in on store'");
    ends(store, "succeeded");
  }

  @Test
  void whatTheHostCannotReachIsSaid() {
    long id = started("nowhere", "call: file-manifest of nobody, every: 1s, bears-outage: 2s");
    ends(id, "failed");
    assertThat(why(id)).contains("north cannot reach 127.0.0.1:1: Connection refused");
    assertThat(desk.begun()).noneMatch(task -> task.what().contains("nowhere"));
  }
}

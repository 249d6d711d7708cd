package dev.purser.service.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.outside.ObjectStore;
import dev.purser.outside.SshServer;
import dev.purser.service.OnDatabase;
import dev.purser.service.agent.Trials;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.secret.SecretPermitRow;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;

/** An object store, by its stand-in, and a directory over a real SSH server. */
class RemotePlacesTest extends OnDatabase {
  private static final AuditTrail.Actor ADMIN = new AuditTrail.Actor("admin", "127.0.0.1");
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static int worlds;

  @Autowired private Engine engine;
  @Autowired private SecretPermits permits;
  @Autowired private Publisher publisher;
  @Autowired private ArrivalRecords records;
  @Autowired private ArrivalDesk desk;
  @Autowired private Trials trials;
  @TempDir private Path folder;
  private final String world = "r" + ++worlds;
  private ObjectStore store;

  @BeforeEach
  void open() throws Exception {
    store = new ObjectStore(0);
  }

  @AfterEach
  void close() {
    publish("stream: @W/s\njobs:\n  none: { host: @W-host, run: x }\n");
    store.close();
  }

  private void publish(String text) {
    publisher.publish(
        List.of(new SourceFile("t.yaml", text.replace("@W", world))),
        Optional.empty(),
        IDA,
        "test");
  }

  private void world(String connection, String watch) {
    publish(
        "host: @W-host\n---\nconnection: @W-store\n"
            + connection
            + "---\nfile-watch: @W-feed\nconnection: @W-store\nlook: every 1s\nstill-for: 1s\n"
            + watch
            + "---\nstream: @W/s\npaused: false\nstarts-on: { file: @W-feed, at-a-time: 5 }\n"
            + "jobs:\n  load: { host: @W-host, run: load }\n");
  }

  private static void await(String what, BooleanSupplier truth) throws InterruptedException {
    long end = System.nanoTime() + 30_000_000_000L;
    while (!truth.getAsBoolean()) {
      if (System.nanoTime() > end) {
        throw new AssertionError("waited for " + what);
      }
      Thread.sleep(50);
    }
  }

  private List<ArrivalRow> arrivals() {
    return records.list(ArrivalRecords.Filter.ofWatch(world + "-feed"), 10_000);
  }

  private Optional<ArrivalRow> arrival(String name) {
    return arrivals().stream().filter(row -> row.path.endsWith("/" + name)).findFirst();
  }

  private void awaitState(String name, String state) throws InterruptedException {
    await(
        name + " " + state + " but " + arrival(name).map(row -> row.state + row.note),
        () -> arrival(name).filter(row -> row.state.equals(state)).isPresent());
  }

  /** Plays the host: the run of a file ends well. */
  private void end(String name) {
    long run = arrival(name).orElseThrow().run;
    engine.tell(now -> new BoardEvent.HostSeen(now, world + "-host", Set.of())).join();
    engine
        .tell(now -> new BoardEvent.AttemptEnded(now, run, 1, Ending.exited(0), now, Map.of()))
        .join();
  }

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  @Test
  void objectsAreFoundByPrefixUsedOnceAndMovedAfterwards() throws Exception {
    store.put("orders", "new/order-1.json", bytes("{}"));
    store.put("orders", "new/empty.json", new byte[0]);
    store.put("orders", "new/deeper/order-2.json", bytes("{}"));
    store.put("orders", "other/order-3.json", bytes("{}"));
    world(
        "address: http://127.0.0.1:" + store.port() + "\n",
        "path: /orders/new/*.json\nafter-use: move to /orders/done\n");
    awaitState("order-1.json", "taken");
    awaitState("empty.json", "seen");
    assertThat(arrivals()).hasSize(2);
    end("order-1.json");
    await("the move", () -> store.keys("orders").contains("done/order-1.json"));
    await("the removal", () -> !store.keys("orders").contains("new/order-1.json"));
    await("the note", () -> arrival("order-1.json").orElseThrow().tidyNote.contains("moved to"));
    store.put("orders", "new/order-1.json", bytes("{}")); // the same again: a person is asked
    await(
        "a repeat",
        () -> arrivals().stream().anyMatch(row -> row.note.contains("the same name and content")));
    var tried = trials.of(engine.definitions().fileWatch(world + "-feed").orElseThrow()).get(0);
    assertThat(tried.found().orElseThrow().files())
        .extracting(one -> one.name())
        .containsExactlyInAnyOrder("order-1.json", "empty.json");
  }

  @Test
  void aLargeBucketIsListedPageByPage() throws Exception {
    for (int i = 0; i < 2_500; i++) {
      store.put("many", String.format("in/f-%04d", i), bytes("x"));
    }
    world(
        "address: http://127.0.0.1:" + store.port() + "\n",
        "path: /many/in/f-*\nexisting: ignore\n");
    await("all of them", () -> arrivals().size() == 2_500);
    assertThat(arrivals()).allMatch(row -> row.state.equals("ignored"));
  }

  @Test
  void aStoreThatIsNotThereIsTold() throws Exception {
    world("address: http://127.0.0.1:1\n", "path: /orders/new/*.json\n");
    await("trouble", () -> desk.troubles().containsKey(world + "-feed"));
    assertThat(desk.troubles().get(world + "-feed").get(world + "-store"))
        .contains("the object store says");
    world("address: http://127.0.0.1:" + store.port() + "\n", "path: /no-such-bucket/*.json\n");
    await(
        "the bucket",
        () ->
            desk.troubles()
                .getOrDefault(world + "-feed", Map.of())
                .toString()
                .contains("the bucket does not exist"));
    store.put("no-such-bucket", "x", bytes("x"));
    await("no trouble", () -> !desk.troubles().containsKey(world + "-feed"));
  }

  @Test
  void aDirectoryOverSftpIsLookedAtLikeAnyOther() throws Exception {
    Path keys = Files.createDirectories(folder.resolve("keys"));
    Path in = Files.createDirectories(folder.resolve("in"));
    Path done = Files.createDirectories(folder.resolve("done"));
    Path outside = Files.writeString(folder.resolve("secret.csv"), "not yours");
    Files.writeString(in.resolve("a.csv"), "berth 1\nEND\n");
    Files.writeString(in.resolve("half.csv"), "berth");
    Files.createSymbolicLink(in.resolve("out.csv"), outside);
    try (SshServer server = new SshServer(keys)) {
      String address =
          "address: sftp://127.0.0.1:"
              + server.port
              + "\nuser: "
              + System.getProperty("user.name")
              + "\nsecret-file: "
              + server.clientKey
              + "\nhost-key: ";
      String watch = "path: " + in + "/*.csv\nlast-line: END\nafter-use: move to " + done + "\n";
      SecretPermitRow early =
          permits.allow(
              SecretSource.of(
                  "file", server.clientKey.toString(), "sftp://127.0.0.1:" + server.port),
              ADMIN,
              "test");
      world(address + "SHA256:" + "A".repeat(43) + "\n", watch);
      await("another key", () -> desk.troubles().containsKey(world + "-feed"));
      assertThat(desk.troubles().get(world + "-feed").toString())
          .contains("another key than the connection trusts: " + server.hostKey);
      assertThat(permits.disallow(early.id, ADMIN, "test")).isTrue();
      world(address + server.hostKey + "\n", watch);
      await(
          "a refusal",
          () ->
              String.valueOf(desk.troubles().get(world + "-feed"))
                  .contains("may not use the file " + server.clientKey));
      SecretPermitRow permit =
          permits.allow(
              SecretSource.of(
                  "file", server.clientKey.toString(), "sftp://127.0.0.1:" + server.port),
              ADMIN,
              "test");
      awaitState("a.csv", "taken");
      awaitState("half.csv", "seen");
      awaitState("out.csv", "ignored");
      end("a.csv");
      await("the move", () -> Files.exists(done.resolve("a.csv")));
      await("the removal", () -> !Files.exists(in.resolve("a.csv")));
      permits.disallow(permit.id, ADMIN, "test");
      await(
          "the end",
          () ->
              String.valueOf(desk.troubles().get(world + "-feed"))
                  .contains("no administrator has allowed it"));
    }
  }
}

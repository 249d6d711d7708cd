package dev.purser.service.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.outside.ObjectStore;
import dev.purser.outside.SshServer;
import dev.purser.remote.place.RemotePlace.RemoteFile;
import dev.purser.service.OnRuns;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.secret.StoredSecrets;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;

/** Files brought over a real SSH server, and to an object store by its stand-in. */
class TransferWorkerTest extends OnRuns {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static int worlds;

  @Autowired private TransferWorker worker;
  @Autowired private TransferFiles files;
  @Autowired private Engine engine;
  @Autowired private StoredSecrets secrets;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private SecretPermits permits;

  @TempDir private Path folder;
  private final String stream = "brought/w" + ++worlds;
  private SshServer server;
  private ObjectStore store;
  private Path out;
  private Path in;

  @BeforeEach
  void open() throws Exception {
    server = new SshServer(Files.createDirectories(folder.resolve("keys")));
    store = new ObjectStore(0);
    store.put("yard", "keep", new byte[0]);
    out = Files.createDirectories(folder.resolve("out"));
    in = Files.createDirectories(folder.resolve("in"));
    permits.allow(
        SecretSource.of("file", server.clientKey.toString(), "sftp://127.0.0.1:" + server.port),
        IDA,
        "");
    permits.allow(
        SecretSource.of("file", server.clientKey.toString(), "http://127.0.0.1:" + store.port()),
        IDA,
        "");
  }

  @AfterEach
  void close() {
    server.close();
    store.close();
  }

  private long started(String phrase, String keys) {
    return started(phrase, keys, "---\n");
  }

  private long started(String phrase, String keys, String more) {
    return started(phrase, keys, more, true);
  }

  private long started(String phrase, String keys, String more, boolean sound) {
    String text =
        "connection: quay\naddress: sftp://127.0.0.1:"
            + server.port
            + "\nuser: "
            + System.getProperty("user.name")
            + "\nsecret-file: "
            + server.clientKey
            + "\nhost-key: "
            + server.hostKey
            + "\nbears-outage: 20s\n---\nconnection: yard\nkind: object-store\naddress: http://127.0.0.1:"
            + store.port()
            + "\nuser: yard-hand\nsecret-file: "
            + server.clientKey
            + "\n"
            + more
            + "stream: "
            + stream
            + "\nparameters: { what: orders }\njobs:\n  do:\n    transfer: "
            + phrase.replace("@out", out.toString()).replace("@in", in.toString())
            + "\n"
            + keys.replace("@out", out.toString()).indent(4);
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.problems().isEmpty()).isEqualTo(sound);
    return actions
        .start(
            new Start(
                stream, Optional.empty(), false, LocalDate.of(2027, 5, 4), Map.of(), Set.of()),
            Optional.empty(),
            IDA,
            "")
        .get(0);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          day one.csv | SUCCEEDED | day/one
          pieces.csv  | SUCCEEDED | in pieces
          nowhere.csv | FAILED    | 0 files match
          forbidden   | FAILED    | answered 403
          """)
  void aFileIsHadByHttpByItsName(String name, RunState how, String said) throws Exception {
    try (WebShelf shelf = new WebShelf()) {
      String more =
          "---\nconnection: shelf\nkind: http\naddress: " + shelf.address() + "/reports\n---\n";
      long run = started("'/${what}/" + name + " from shelf to @in on quay'", "", more);
      ends(run, how);
      if (how == RunState.SUCCEEDED) {
        assertThat(Files.readString(in.resolve(name))).startsWith(said);
        assertThat(output(run)).contains(name + ": ");
      } else {
        assertThat(status(run).note()).contains(said);
      }
    }
  }

  private void mayUse(String secret) {
    permits.allow(SecretSource.of("stored", secret, "stream:" + stream), IDA, "");
  }

  @Test
  void filesAreSealedAndOpenedOnTheirWayAsAnotherProgramDoes() throws Exception {
    Gpg gpg = new Gpg(folder);
    try {
      gpg.key("office@brannoch.example");
      gpg.key("port@brannoch.example");
      Path port = gpg.open("port@brannoch.example", folder.resolve("port.asc"));
      Path office = gpg.open("office@brannoch.example", folder.resolve("office.asc"));
      secrets.set("office-key", gpg.secret("office@brannoch.example"), IDA, "");
      secrets.set("port-key", gpg.secret("port@brannoch.example"), IDA, "");
      Files.writeString(out.resolve("orders-1.csv"), "one! ".repeat(50_000));
      String keys = "encrypt-for: " + port + "\nsign-with: office-key";
      String phrase = "@out/*.csv from quay to @in on quay";
      long refused = started(phrase, keys, "---\n", false);
      ends(refused, RunState.FAILED);
      assertThat(status(refused).note()).contains("may not go to stream " + stream);
      mayUse("office-key");
      ends(started(phrase, keys), RunState.SUCCEEDED);
      Path sealed = in.resolve("orders-1.csv.pgp");
      byte[] opened = gpg.run("--decrypt", sealed.toString());
      assertThat(new String(opened, StandardCharsets.UTF_8)).isEqualTo("one! ".repeat(50_000));
      byte[] told = gpg.run("--status-fd", "1", "--decrypt", sealed.toString());
      assertThat(new String(told, StandardCharsets.UTF_8)).contains("GOODSIG");

      Path answer = out.resolve("answer.csv.gpg");
      Path plain = Files.writeString(folder.resolve("answer.csv"), "taken");
      gpg.run(
          "-o",
          answer.toString(),
          "-u",
          "office@brannoch.example",
          "--sign",
          "--encrypt",
          "-r",
          "port@brannoch.example",
          plain.toString());
      mayUse("port-key");
      keys = "decrypt-with: port-key\nsigned-by: " + office;
      ends(started("@out/*.gpg from quay to @in on quay", keys), RunState.SUCCEEDED);
      assertThat(Files.readString(in.resolve("answer.csv"))).isEqualTo("taken");

      String other = "decrypt-with: port-key\nif-there: overwrite\nsigned-by: " + port;
      long foreign = started("@out/*.gpg from quay to @in on quay", other);
      ends(foreign, RunState.FAILED);
      assertThat(status(foreign).note()).contains("it is not signed by whoever it must be");

      byte[] bytes = Files.readAllBytes(answer);
      bytes[bytes.length - 30] ^= 1;
      Files.write(answer, bytes);
      long changed = started("@out/*.gpg from quay to @in on quay", keys + "\nif-there: overwrite");
      ends(changed, RunState.FAILED);
      assertThat(Files.readString(in.resolve("answer.csv"))).isEqualTo("taken");
      assertThat(output(changed) + status(changed).note()).doesNotContain("PRIVATE KEY");
    } finally {
      gpg.close();
    }
  }

  private long ended(String phrase, String keys, RunState how) {
    long run = started(phrase, keys);
    ends(run, how);
    return run;
  }

  @Test
  void filesArriveWholeUnderTheirNamesAndAreCounted() throws IOException {
    Files.writeString(out.resolve("orders-2.csv"), "two");
    Files.writeString(out.resolve("orders-1.csv"), "one!");
    Files.writeString(out.resolve("other.csv"), "not meant");
    Files.writeString(out.resolve(".orders-3.csv"), "hidden");
    long run =
        ended(
            "@out/${what}-*.csv from quay to @in on quay",
            "compare: yes\nafterwards: move to " + folder,
            RunState.SUCCEEDED);
    assertThat(in.toFile().list()).containsExactlyInAnyOrder("orders-1.csv", "orders-2.csv");
    assertThat(Files.readString(in.resolve("orders-1.csv"))).isEqualTo("one!");
    assertThat(out.toFile().list()).containsExactlyInAnyOrder("other.csv", ".orders-3.csv");
    assertThat(folder.resolve("orders-1.csv")).exists();
    assertThat(status(run).values()).containsEntry("files", "2").containsEntry("bytes", "7");
    assertThat(output(run)).containsPattern("orders-1.csv: 4 bytes, \\d+ ms, sha256 [0-9a-f]{64}");
  }

  @Test
  void anObjectStoreIsAPlaceLikeAnyOther() throws IOException {
    Files.writeString(out.resolve("orders-1.csv"), "one!");
    ended("@out/*.csv from quay to /yard/day on yard", "compare: yes", RunState.SUCCEEDED);
    assertThat(store.keys("yard")).contains("day/orders-1.csv");
    ended("/yard/day/*.csv from yard to @in on quay", "afterwards: remove", RunState.SUCCEEDED);
    assertThat(Files.readString(in.resolve("orders-1.csv"))).isEqualTo("one!");
    assertThat(store.keys("yard")).containsExactly("keep");
  }

  @ParameterizedTest
  @CsvSource({"fail,FAILED,old", "overwrite,SUCCEEDED,new", "skip,SUCCEEDED,old"})
  void whatIsThereAlreadyIsLeftOrReplacedAsIsSaid(String word, RunState how, String content)
      throws IOException {
    Files.writeString(out.resolve("a.csv"), "new");
    Files.writeString(in.resolve("a.csv"), "old");
    ended("@out/a.csv from quay to @in on quay", "if-there: " + word, how);
    assertThat(Files.readString(in.resolve("a.csv"))).isEqualTo(content);
    assertThat(in.toFile().list()).containsExactly("a.csv");
  }

  @Test
  void fewerThanThereMustBeIsAFailureAndNoneMayBeNone() {
    long run = ended("@out/*.csv from quay to @in on quay", "", RunState.FAILED);
    assertThat(status(run).note()).contains("0 files match").contains("at least 1");
    ended("@out/*.csv from quay to @in on quay", "at-least: 0", RunState.SUCCEEDED);
  }

  @Test
  void aDirectoryThatIsNotThereIsSaid() throws IOException {
    Files.writeString(out.resolve("a.csv"), "x");
    long run = ended("@out/a.csv from quay to @in/nowhere on quay", "", RunState.FAILED);
    assertThat(status(run).note()).contains("nowhere");
  }

  private void big(String name, int megabytes) throws IOException {
    try (RandomAccessFile file = new RandomAccessFile(out.resolve(name).toFile(), "rw")) {
      byte[] some = new byte[1024 * 1024];
      for (int i = 0; i < megabytes; i++) {
        java.util.Arrays.fill(some, (byte) i);
        file.write(some);
      }
    }
  }

  @Test
  void cutOffInTheMiddleItGoesOnWhereItBroke() throws Exception {
    big("big.bin", 120);
    long run = started("@out/big.bin from quay to @in on quay", "compare: yes");
    Path part = in.resolve(".big.bin.part");
    await().atMost(SOON).until(() -> Files.exists(part) && Files.size(part) > 5_000_000);
    worker.letGo();
    await().atMost(SOON).until(() -> !in.resolve("big.bin").toFile().exists());
    Attempt attempt =
        engine.look(
            board -> new Attempt(board.run(run).orElseThrow(), board.status(run).orElseThrow()));
    worker.takeUp(attempt);
    ends(run, RunState.SUCCEEDED);
    assertThat(Files.mismatch(out.resolve("big.bin"), in.resolve("big.bin"))).isEqualTo(-1);
    assertThat(in.toFile().list()).containsExactly("big.bin");
  }

  @Test
  void whatIsCancelledStopsAndLeavesNothingUnderItsName() throws Exception {
    big("big.bin", 200);
    long run = started("@out/big.bin from quay to @in on quay", "");
    Path part = in.resolve(".big.bin.part");
    await().atMost(SOON).until(() -> Files.exists(part) && Files.size(part) > 1_000_000);
    engine.tell(now -> new BoardEvent.PersonActed(now, run, Action.CANCEL, "ida", "", 0)).join();
    ends(run, RunState.CANCELLED);
    assertThat(in.resolve("big.bin")).doesNotExist();
  }

  @Test
  void whatHadArrivedIsNotBroughtTwice() throws IOException {
    Path file = Files.writeString(out.resolve("a.csv"), "once");
    Files.writeString(out.resolve("b.csv"), "b");
    long run = started("@out/*.csv from quay to @in/none on quay", "retry: { times: 0 }");
    ends(run, RunState.FAILED);
    long modified = Files.getLastModifiedTime(file).toMillis() / 1_000 * 1_000;
    files.begin(run, new RemoteFile("a.csv", 4, modified, "", false));
    files.set(run, "a.csv", TransferFileRow.DONE, "");
    Files.createDirectories(in.resolve("none"));
    engine.tell(now -> new BoardEvent.PersonActed(now, run, Action.RERUN, "ida", "", 0)).join();
    await().atMost(SOON).until(() -> state(run) == RunState.SUCCEEDED);
    assertThat(in.resolve("none").toFile().list()).containsExactly("b.csv");
    assertThat(status(run).values()).containsEntry("files", "2").containsEntry("bytes", "5");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "transfer: /a to /b                          | expected /PATH/PATTERN from CONNECTION",
        "transfer: /a/ from x to /b on y             | must end with a name or a pattern",
        "transfer: /a/[ from x to /b on y            | is never closed",
        "transfer: /a/* from x to /b on y            | unknown connection \"x\"",
        "transfer: /a/* from x to /b on y, if-there: ask | expected fail, overwrite or skip",
        "transfer: /a/* from x to /b on y, afterwards: burn | expected keep, remove or move to"
      })
  void whatIsWrongIsSaid(String keys, String said) {
    String text =
        "stream: brought/x\njobs:\n  a: { "
            + keys.replace("/a/[", "\"/a/[").replace("[ from x to /b on y", "[ from x to /b on y\"")
            + " }\n";
    assertThat(
            DefinitionCheck.check(
                    Definitions.none(),
                    List.of(new SourceFile("a", text)),
                    LocalDate.of(2027, 5, 4))
                .problems()
                .toString())
        .contains(said);
  }
}

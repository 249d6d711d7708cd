package dev.purser.service.secret;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Where;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.service.OnDatabase;
import dev.purser.service.SecretKeyFile;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.output.OutputStore;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/** Secrets that the service keeps, on a real database. */
class StoredSecretsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final String SECRET = "made-up-4711-words";

  @Autowired private StoredSecrets secrets;
  @Autowired private SecretMask mask;
  @Autowired private KnownSecrets known;
  @Autowired private AuditTrail audit;
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;
  @Autowired private OutputStore outputs;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;

  @AfterEach
  void forget() {
    secrets.all().stream()
        .filter(row -> row.name.startsWith("kept-"))
        .forEach(row -> secrets.remove(row.name, IDA, ""));
    known.refresh();
  }

  @Test
  void whatIsKeptIsReadBackAndNowhereInTheDatabase() throws IOException {
    secrets.set("kept-a", SECRET, IDA, "new");
    assertThat(secrets.read("kept-a")).isEqualTo(SECRET);
    byte[] sealed =
        (byte[])
            rows.createNativeQuery("select sealed from stored_secret where name = 'kept-a'")
                .getSingleResult();
    assertThat(new String(sealed, StandardCharsets.ISO_8859_1)).doesNotContain("made-up");
    assertThat(audit.list("kept-a", Long.MAX_VALUE, 10))
        .extracting(entry -> entry.what + " " + entry.reason)
        .contains("set secret new");
    assertThat(secrets.set("kept-a", "another-secret", IDA, "").version).isEqualTo(2);
    assertThat(secrets.read("kept-a")).isEqualTo("another-secret");
  }

  @Test
  void theSameTwiceIsNotTheSameOnDisk() {
    assertThat(secrets.set("kept-a", SECRET, IDA, "").sealed)
        .isNotEqualTo(secrets.set("kept-a", SECRET, IDA, "").sealed);
  }

  @Test
  void aRowUnderAnothersNameIsNotRead() {
    secrets.set("kept-a", SECRET, IDA, "");
    transactions.executeWithoutResult(
        status ->
            rows.createNativeQuery("update stored_secret set name = 'kept-b' where name = 'kept-a'")
                .executeUpdate());
    assertThatThrownBy(() -> secrets.read("kept-b"))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("was changed, or is damaged");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Kept A | long-enough | is not a valid name of a secret",
        "kept-a | short       | at least 8 characters"
      })
  void whatCannotBeKeptIsRefused(String name, String secret, String said) {
    assertThatThrownBy(() -> secrets.set(name, secret, IDA, ""))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(said)
        .hasMessageNotContaining(secret.equals("short") ? "short-" : secret);
  }

  @Test
  void keysAreReplacedWhileItRuns() throws IOException {
    Path file = Path.of(SecretKeyFile.path());
    String before = Files.readString(file);
    secrets.set("kept-a", SECRET, IDA, "");
    try {
      Files.writeString(file, SecretKeyFile.key() + "\n" + before);
      assertThat(secrets.read("kept-a")).isEqualTo(SECRET);
      assertThat(secrets.encryptAnew(IDA, "yearly")).isPositive();
      assertThat(secrets.encryptAnew(IDA, "again")).isZero();
      Files.writeString(file, Files.readString(file).lines().findFirst().orElseThrow());
      assertThat(secrets.read("kept-a")).isEqualTo(SECRET);
      Files.writeString(file, SecretKeyFile.key());
      assertThatThrownBy(() -> secrets.read("kept-a")).hasMessageContaining("not in the file");
      assertThatThrownBy(() -> secrets.encryptAnew(IDA, "")).isInstanceOf(NotUnderstood.class);
      Files.writeString(file, "not a key");
      assertThatThrownBy(() -> secrets.set("kept-b", SECRET, IDA, ""))
          .hasMessageContaining("is not a key: expected 32 bytes in Base64");
    } finally {
      Files.writeString(file, before);
      // those of other tests are lost with the key; each sets its own anew
      secrets.all().forEach(row -> secrets.remove(row.name, IDA, ""));
    }
  }

  // ---- where a secret turns up

  @ParameterizedTest
  @ValueSource(
      strings = {
        "it is made-up-4711-words.",
        "made-up-4711-wordsmade-up-4711-words",
        "Authorization: bWFkZS11cC00NzExLXdvcmRz"
      })
  void itIsTakenOutOfTexts(String text) {
    secrets.set("kept-a", SECRET, IDA, "");
    known.refresh();
    assertThat(mask.of(text)).contains("•••").doesNotContain("4711", "bWFkZS11");
    assertThat(mask.of("an innocent made-up text")).isEqualTo("an innocent made-up text");
  }

  private long started() {
    engine.tell(now -> new BoardEvent.HostSeen(now, "vault", Set.of())).join();
    String text = "host: vault\n---\nstream: kept/a\njobs: { load: { host: vault, run: x } }\n";
    publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    long run =
        actions
            .start(
                Start.of("kept/a", Optional.empty(), LocalDate.of(2027, 5, 4)),
                Optional.empty(),
                IDA,
                "")
            .get(0);
    engine.tell(now -> new BoardEvent.AttemptBegan(now, run, 1)).join();
    return run;
  }

  /** Output comes in pieces, and a secret may be cut by any of them. */
  @ParameterizedTest
  @ValueSource(ints = {1, 3, 9, 17, 18, 100})
  void itIsTakenOutOfOutputHoweverThatIsCut(int size) {
    secrets.set("kept-a", SECRET, IDA, "");
    known.refresh();
    long run = started();
    byte[] all =
        ("before " + SECRET + " between " + SECRET + " after").getBytes(StandardCharsets.UTF_8);
    for (int from = 0; from < all.length; from += size) {
      byte[] piece = java.util.Arrays.copyOfRange(all, from, Math.min(all.length, from + size));
      long kept = outputs.keep(Where.onHost("vault"), run, 1, from, piece, false, all.length);
      assertThat(kept).isEqualTo(from + piece.length);
    }
    String read = new String(outputs.read(run, 1, 0, 1_000).data(), StandardCharsets.UTF_8);
    assertThat(read).isEqualTo("before •••          between •••          after");
    engine
        .tell(now -> new BoardEvent.AttemptEnded(now, run, 1, Ending.exited(0), now, Map.of()))
        .join();
  }
}

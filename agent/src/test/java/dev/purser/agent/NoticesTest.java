package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Commands that alerts are handed to, as real processes. */
class NoticesTest {
  @TempDir private Path folder;
  private final List<FromAgent> told = new CopyOnWriteArrayList<>();
  private Notices notices = new Notices(RunAs.ownOnly(), Set.of(), told::add);

  @AfterEach
  void close() {
    notices.close();
  }

  private static void until(BooleanSupplier so) {
    assertTimeoutPreemptively(
        Duration.ofSeconds(20),
        () -> {
          while (!so.getAsBoolean()) {
            Thread.sleep(10);
          }
        });
  }

  private FromAgent.Notified hand(String id, String command, String user, long limit) {
    int before = told.size();
    notices.hand(new ToAgent.Notify(1, id, command, user, "{\"title\": \"It's $(late)\"}", limit));
    until(() -> told.size() > before);
    return (FromAgent.Notified) told.get(before);
  }

  @Test
  void theAlertIsOnStandardInputAndNeverShellText() throws IOException {
    Path file = folder.resolve("alert.json");
    FromAgent.Notified answer = hand("a-1", "cat > " + file + "; echo kept", "", 10_000);
    assertThat(answer).isEqualTo(new FromAgent.Notified("a-1", 0, "kept"));
    assertThat(file).hasContent("{\"title\": \"It's $(late)\"}");
  }

  @Test
  void whatWasHandedOverIsNotHandedOverAgainAndWhatFailedIs() throws IOException {
    Path file = folder.resolve("count");
    String count = "echo x >> " + file;
    assertThat(hand("a-1", count, "", 10_000).code()).isZero();
    assertThat(hand("a-1", count, "", 10_000).code()).isZero();
    assertThat(Files.readAllLines(file)).hasSize(1);
    assertThat(hand("a-2", count + "; echo no room >&2; exit 4", "", 10_000))
        .isEqualTo(new FromAgent.Notified("a-2", 4, "no room"));
    assertThat(hand("a-2", count, "", 10_000).code()).isZero();
    assertThat(Files.readAllLines(file)).hasSize(3);
  }

  @Test
  void oneThatRunsForTooLongIsEndedWithWhatItStarted() {
    String mark = "86" + System.nanoTime() % 1_000_000;
    FromAgent.Notified answer = hand("a-1", "sleep " + mark + " & sleep " + mark, "", 300);
    assertThat(answer.code()).isEqualTo(-1);
    assertThat(answer.text()).startsWith("was not done within 0 s");
    until(
        () ->
            ProcessHandle.allProcesses()
                .noneMatch(one -> one.info().commandLine().orElse("").contains(mark)));
  }

  @Test
  void oneThatReadsNothingOrWritesForEverHoldsNothingUp() {
    assertThat(hand("a-1", "true", "", 10_000).code()).isZero();
    FromAgent.Notified loud = hand("a-2", "head -c 2000000 /dev/zero | tr '\\0' y", "", 10_000);
    assertThat(loud.code()).isZero();
    assertThat(loud.text()).hasSize(300);
  }

  @Test
  void whatTheHostsOwnerDoesNotAllowIsNotStarted() {
    FromAgent.Notified answer = hand("a-1", "true", "somebody-else", 10_000);
    assertThat(answer.code()).isEqualTo(-1);
    assertThat(answer.text()).contains("does not allow work as user \"somebody-else\"");
  }

  @Test
  void itIsGivenNothingOfTheAgentsEnvironmentButTheUsual() {
    assertThat(hand("a-1", "env | grep -c JAVA; true", "", 10_000).text()).isEqualTo("0");
    assertThat(hand("a-2", "test -n \"$PATH\"", "", 10_000).code()).isZero();
  }
}

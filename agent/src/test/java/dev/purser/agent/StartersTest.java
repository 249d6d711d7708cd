package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Starters as real processes, which are killed, frozen and replaced. */
class StartersTest {
  @TempDir private Path home;
  private final List<String> heard = new CopyOnWriteArrayList<>();
  private Starters starters;

  private final Starters.Heard ears =
      new Starters.Heard() {
        @Override
        public void began(String name, long group, long at) {
          heard.add("began " + name);
        }

        @Override
        public void checked(String name, int code) {
          heard.add("checked " + name + " " + code);
        }

        @Override
        public void ended(String name, int code, long at, boolean bySignal, boolean leavesSome) {
          heard.add("ended " + name + " " + code);
        }

        @Override
        public void failed(String name, String reason) {
          heard.add("failed " + name + " " + reason);
        }
      };

  @BeforeEach
  void begin() throws IOException {
    Files.createDirectories(home.resolve("attempts"));
    starters = new Starters(home, Set.of(), ears, 3);
  }

  @AfterEach
  void end() {
    starters.close();
    processes(home).forEach(ProcessHandle::destroyForcibly);
  }

  /** The starters of an agent's home. */
  static List<ProcessHandle> processes(Path home) {
    return ProcessHandle.allProcesses()
        .filter(
            one -> {
              String line = one.info().commandLine().orElse("");
              return line.contains("starter.pl") && line.contains(home.toString());
            })
        .toList();
  }

  private void start(String name, String command) throws IOException {
    ToAgent.Start start =
        new ToAgent.Start(1, 1, 1, command, "", "/", "", Map.of(), Map.of(), 1_000);
    starters.start(name, "/", start, home.resolve("attempts/" + name + ".values"));
  }

  private void await(BooleanSupplier condition) throws InterruptedException {
    long end = System.nanoTime() + 15_000_000_000L;
    while (!condition.getAsBoolean()) {
      assertThat(System.nanoTime()).as("waited too long; heard: " + heard).isLessThan(end);
      Thread.sleep(10);
    }
  }

  @Test
  void aLogThatIsUsedUpGivesWayToAnotherAndGoesWhenNothingInItIsWanted() throws Exception {
    for (int i = 1; i <= 7; i++) {
      start(i + ".1", "exit " + i);
    }
    for (int i = 1; i <= 7; i++) {
      String end = "ended " + i + ".1 " + i;
      await(() -> heard.contains(end));
    }
    assertThat(heard).filteredOn(line -> line.startsWith("ended")).hasSize(7);
    assertThat(logs()).isEqualTo(3);
    starters.tidy(name -> name.equals("2.1"));
    await(() -> processes(home).size() == 1);
    starters.tidy(name -> name.equals("2.1"));
    assertThat(logs()).as("that of 2.1 and the one in use").isEqualTo(2);
    starters.tidy(name -> false);
    assertThat(logs()).isEqualTo(1);
  }

  private long logs() throws IOException {
    return StarterLog.find(home.resolve("starters")).size();
  }

  @Test
  void whatAStarterThatWasKilledHadNotClaimedAnotherStartsOnce() throws Exception {
    start("1.1", "true");
    await(() -> heard.contains("ended 1.1 0"));
    ProcessHandle first = processes(home).get(0);
    new ProcessBuilder("kill", "-STOP", "" + first.pid()).start().waitFor();
    start("2.1", "echo x >>" + home.resolve("marks"));
    Thread.sleep(200);
    assertThat(heard).doesNotContain("began 2.1");
    first.destroyForcibly();
    await(() -> heard.contains("ended 2.1 0"));
    assertThat(Files.readAllLines(home.resolve("marks"))).hasSize(1);
  }

  /** The earlier agent is gone; its starter has not read yet what it was asked for. */
  @Test
  void whatIsNotClaimedWhenAnotherAgentTakesOverIsNeverStarted() throws Exception {
    start("1.1", "true");
    await(() -> heard.contains("ended 1.1 0"));
    ProcessHandle first = processes(home).get(0);
    new ProcessBuilder("kill", "-STOP", "" + first.pid()).start().waitFor();
    start("2.1", "echo x >>" + home.resolve("marks"));
    try (Starters next = new Starters(home, Set.of(), ears, 3)) {
      next.takeUp();
      assertThat(next.isClaimed("1.1")).isTrue();
      assertThat(next.isClaimed("2.1")).isFalse();
      new ProcessBuilder("kill", "-CONT", "" + first.pid()).start().waitFor();
      await(() -> last().endsWith("u 2.1"));
      next.look();
      assertThat(next.isClaimed("2.1")).isFalse();
    }
    assertThat(home.resolve("marks")).doesNotExist();
  }

  /** It was asked for again meanwhile, and the new starter has it. */
  @Test
  void aClaimThatComesTooLateTakesNothingFromTheStarterThatHasIt() throws Exception {
    start("1.1", "true");
    await(() -> heard.contains("ended 1.1 0"));
    ProcessHandle first = processes(home).get(0);
    new ProcessBuilder("kill", "-STOP", "" + first.pid()).start().waitFor();
    start("2.1", "echo x >>" + home.resolve("marks"));
    starters.close();
    starters = new Starters(home, Set.of(), ears, 3);
    starters.takeUp();
    start("2.1", "echo x >>" + home.resolve("marks") + "; sleep 2; exit 9");
    await(() -> heard.contains("began 2.1"));
    new ProcessBuilder("kill", "-CONT", "" + first.pid()).start().waitFor();
    await(() -> last().endsWith("u 2.1"));
    starters.look();
    assertThat(starters.isClaimed("2.1")).isTrue();
    assertThat(starters.isSupervised("2.1")).isTrue();
    await(() -> heard.contains("ended 2.1 9"));
    assertThat(Files.readAllLines(home.resolve("marks"))).hasSize(1);
  }

  @Test
  void aStarterWhoseLogIsGoneStartsNothing() throws Exception {
    start("1.1", "true");
    await(() -> heard.contains("ended 1.1 0"));
    StarterLog.find(home.resolve("starters")).get(0).delete();
    start("2.1", "echo x >>" + home.resolve("marks"));
    Thread.sleep(500);
    assertThat(home.resolve("marks")).doesNotExist();
  }

  private String last() {
    try {
      Path log = StarterLog.find(home.resolve("starters")).get(0).file();
      return Files.readString(log).strip().replace("!", "");
    } catch (IOException e) {
      throw new AssertionError(e);
    }
  }

  @Test
  void anAttemptWhoseOutputCannotBeWrittenIsNotStarted() throws Exception {
    Files.createDirectories(home.resolve("attempts/1.1.output"));
    start("1.1", "touch " + home.resolve("marks"));
    await(() -> heard.stream().anyMatch(line -> line.startsWith("failed 1.1 cannot write")));
    assertThat(home.resolve("marks")).doesNotExist();
  }

  @ParameterizedTest
  @CsvSource({
    "'s 1 2 b!|c 1.1!|g 1.1 7 99!|e 1.1 3 100!|', 3",
    "'s 1 2 b!|c 1.1!|g 1.1 7 99!|e 1.1 3 1', 2",
    "'s 1 2 b!|c 1.1', 0",
    "'s 1 2', 0",
    "'', 0",
    "'s 1 2 b!|f 1.1 cannot start a process: try again!!|c 2.1!|', 2"
  })
  void aLineThatIsNotWholeIsReadWhenItIs(String lines, int whole) throws IOException {
    StarterLog log = StarterLog.create(home);
    byte[] text = lines.replace('|', '\n').getBytes(StandardCharsets.UTF_8);
    try (var channel = Files.newByteChannel(log.file(), StandardOpenOption.WRITE)) {
      channel.write(java.nio.ByteBuffer.wrap(text));
      assertThat(log.read()).hasSize(whole);
      assertThat(log.read()).isEmpty();
      if (!lines.endsWith("|")) {
        channel.write(java.nio.ByteBuffer.wrap("!\n".getBytes(StandardCharsets.UTF_8)));
      }
    }
    assertThat(log.read()).hasSize(lines.endsWith("|") || !lines.contains("c") ? 0 : 1);
    assertThat(log.isSupervised()).isFalse();
  }
}

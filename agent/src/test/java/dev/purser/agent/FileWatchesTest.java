package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Predicate;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class FileWatchesTest {
  private static final long SOON = 20_000;

  @TempDir private Path folder;
  private final List<FromAgent> told = new CopyOnWriteArrayList<>();
  private FileWatches watches;

  @BeforeEach
  void open() {
    watches = new FileWatches(this::hear);
    watches.connected(System.currentTimeMillis());
  }

  /** Plays the service: everything that is said is on record. */
  private void hear(FromAgent message) {
    told.add(message);
    if (message instanceof FromAgent.Found found && watches != null) {
      watches.taken(new ToAgent.FoundTaken(found.number(), List.of()));
    }
  }

  @AfterEach
  void close() {
    watches.close();
  }

  private ToAgent.Task task(String pattern, long still, long every) {
    return new ToAgent.Task(
        "feed", folder.toString(), pattern, true, still, 1, "", "", "", 0, true, 0, every);
  }

  private void look(ToAgent.Task... tasks) {
    watches.look(new ToAgent.Look(List.of(tasks)));
  }

  private List<FromAgent.File> files() {
    List<FromAgent.File> all = new ArrayList<>();
    for (FromAgent one : told) {
      if (one instanceof FromAgent.Found found) {
        all.addAll(found.files());
      }
    }
    return all;
  }

  private FromAgent.File await(String name, String state) {
    return await(file -> file.name().equals(name) && file.state().equals(state), name + state);
  }

  private FromAgent.File await(Predicate<FromAgent.File> wanted, String what) {
    long end = System.nanoTime() + SOON * 1_000_000;
    while (System.nanoTime() < end) {
      for (FromAgent.File file : files()) {
        if (wanted.test(file)) {
          return file;
        }
      }
      pause(10);
    }
    throw new AssertionError("never saw " + what + " but " + files());
  }

  private static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  @ParameterizedTest
  @ValueSource(longs = {0, 200})
  void aFileIsToldWhenItIsWholeAndOnce(long every) throws IOException {
    look(task("feed-*.csv", 400, every));
    Path file = folder.resolve("feed-1.csv");
    Files.createFile(file);
    assertThat(await("feed-1.csv", "seen").note()).isEqualTo("is empty");
    Files.writeString(file, "berth 1\n", StandardOpenOption.APPEND);
    FromAgent.File ready = await("feed-1.csv", "ready");
    assertThat(ready.size()).isEqualTo(8);
    assertThat(ready.checksum()).hasSize(64);
    pause(700);
    assertThat(files().stream().filter(one -> one.state().equals("ready"))).hasSize(1);
    assertThat(files()).noneMatch(one -> one.name().equals("other.txt"));
  }

  @Test
  void aFileThatGrowsIsNotReadyBeforeItRests() throws IOException {
    look(task("feed-*.csv", 800, 0));
    Path file = folder.resolve("feed-1.csv");
    for (int i = 0; i < 12; i++) {
      Files.writeString(file, "berth\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
      pause(200);
      assertThat(files()).noneMatch(one -> one.state().equals("ready"));
    }
    await("feed-1.csv", "settling");
    assertThat(await("feed-1.csv", "ready").size()).isEqualTo(72);
  }

  @Test
  void anOldTimeThatWasCopiedAlongDoesNotMakeAFileWhole() throws IOException {
    look(task("feed-*.csv", 3_000, 0));
    Path file = folder.resolve("feed-1.csv");
    Files.writeString(file, "half of it");
    Files.setLastModifiedTime(file, FileTime.from(Instant.now().minusSeconds(86_400)));
    await("feed-1.csv", "settling");
    assertThat(files()).noneMatch(one -> one.state().equals("ready"));
  }

  @Test
  void removedAndReplacedFilesAreTold() throws IOException {
    look(task("*.csv", 100, 0));
    Path file = folder.resolve("a.csv");
    Files.writeString(file, "one");
    String first = await("a.csv", "ready").key();
    Path other = folder.resolve("a.tmp");
    Files.writeString(other, "two");
    Files.setLastModifiedTime(other, Files.getLastModifiedTime(file)); // same size, same time
    Files.move(other, file, StandardCopyOption.REPLACE_EXISTING);
    await(one -> one.state().equals("ready") && !one.key().equals(first), "the other file");
    Files.delete(file);
    await("a.csv", "gone");
  }

  @Test
  void linksAreFollowedOnlyWithinTheDirectory() throws IOException {
    Path outside = Files.createTempFile("secret", ".csv");
    Files.writeString(outside, "not yours");
    Files.writeString(folder.resolve("data.csv"), "mine");
    Files.createSymbolicLink(folder.resolve("out.csv"), outside);
    Files.createSymbolicLink(folder.resolve("in.csv"), Path.of("data.csv"));
    Files.createSymbolicLink(folder.resolve("nowhere.csv"), Path.of("missing"));
    Files.createDirectory(folder.resolve("folder.csv"));
    look(task("*.csv", 100, 0));
    assertThat(await("out.csv", "ignored").note()).contains("leads out");
    await("nowhere.csv", "ignored");
    await("in.csv", "ready");
    await("data.csv", "ready");
    assertThat(files()).noneMatch(one -> one.name().equals("folder.csv"));
    Files.delete(outside);
  }

  @Test
  void oddNamesArriveWholeAndThoseThatAreNoTextAreRejected() throws Exception {
    for (String name : List.of("two words.csv", "a\nb.csv", "$(touch x);'\".csv", "blåbær.csv")) {
      Files.writeString(folder.resolve(name), "x");
    }
    Process shell =
        new ProcessBuilder("sh", "-c", "printf x > \"$(printf 'caf\\351.csv')\"")
            .directory(folder.toFile())
            .start();
    assertThat(shell.waitFor()).isZero();
    look(task("*.csv", 0, 0));
    for (String name : List.of("two words.csv", "a\nb.csv", "$(touch x);'\".csv", "blåbær.csv")) {
      await(name, "ready");
    }
    assertThat(await("caf\\xE9.csv", "rejected").note()).contains("not valid UTF-8");
  }

  @Test
  void aDirectoryThatComesLaterOrGoesIsToldAndFoundAgain() throws IOException {
    Path later = folder.resolve("later");
    ToAgent.Task task =
        new ToAgent.Task("feed", later.toString(), "*", true, 0, 1, "", "", "", 0, true, 0, 0);
    look(task);
    awaitTrouble("does not exist");
    Files.createDirectory(later);
    Files.writeString(later.resolve("a"), "x");
    await("a", "ready");
    awaitTrouble("");
    Files.delete(later.resolve("a"));
    Files.delete(later);
    await("a", "gone");
    Files.createDirectory(later);
    Files.writeString(later.resolve("b"), "x");
    await("b", "ready");
  }

  private void awaitTrouble(String text) {
    long end = System.nanoTime() + SOON * 1_000_000;
    while (System.nanoTime() < end) {
      List<String> texts =
          told.stream()
              .filter(FromAgent.Trouble.class::isInstance)
              .map(one -> ((FromAgent.Trouble) one).text())
              .toList();
      boolean found =
          text.isEmpty()
              ? texts.contains("") && texts.indexOf("") > 0
              : texts.stream().anyMatch(one -> one.contains(text));
      if (found) {
        return;
      }
      pause(20);
    }
    throw new AssertionError("never heard of trouble with " + text + ": " + told);
  }

  @Test
  void companionChecksumAndLastLineSayWhenAFileIsComplete() throws IOException {
    ToAgent.Task task =
        new ToAgent.Task(
            "feed",
            folder.toString(),
            "*.csv*",
            true,
            0,
            1,
            "${file.name}.done",
            "${file.stem}.sha1",
            "END *",
            0,
            true,
            0,
            0);
    look(task);
    Path written = Files.writeString(folder.resolve("elsewhere"), "berth 1\nEND 1");
    Files.move(written, folder.resolve("a.csv")); // never seen empty
    assertThat(await("a.csv", "seen").note()).isEqualTo("waits for a.csv.done and a.sha1");
    Files.writeString(
        folder.resolve("a.sha1"), "da39a3ee5e6b4b0d3255bfef95601890afd80709  a.csv\n");
    Files.createFile(folder.resolve("a.csv.done"));
    assertThat(await("a.csv", "rejected").note()).contains("should be da39a3ee5e6b4b0d");
    Files.writeString(folder.resolve("b.csv"), "berth 1\n");
    Files.writeString(folder.resolve("b.sha1"), "00\n");
    Files.createFile(folder.resolve("b.csv.done"));
    await(one -> one.note().startsWith("its last line is not"), "half of b.csv");
    Files.writeString(folder.resolve("b.csv"), "berth 1\nEND 1\n");
    await(one -> one.note().contains("b.sha1 holds no checksum"), "no checksum");
    assertThat(files()).noneMatch(one -> one.name().endsWith(".done"));
  }

  @Test
  void afterACutAllThatIsNotDoneWithIsToldAgain() throws IOException {
    look(task("*.csv", 0, 0));
    Files.writeString(folder.resolve("a.csv"), "x");
    Files.writeString(folder.resolve("b.csv"), "x");
    FromAgent.File done = await("a.csv", "ready");
    await("b.csv", "ready");
    watches.taken(
        new ToAgent.FoundTaken(
            0,
            List.of(
                new ToAgent.Done(
                    "feed",
                    done.directory(),
                    done.name(),
                    done.size(),
                    done.modified(),
                    done.key()))));
    watches.disconnected();
    told.clear();
    watches.connected(System.currentTimeMillis());
    await("b.csv", "ready");
    assertThat(files()).noneMatch(one -> one.name().equals("a.csv"));
  }

  @Test
  void aTrialSaysWhatWouldBeFoundAndTakesNothing() throws IOException {
    Files.writeString(folder.resolve("a.csv"), "x");
    Files.createFile(folder.resolve("empty.csv"));
    Files.writeString(folder.resolve("other.txt"), "x");
    pause(20);
    watches.tryOut(new ToAgent.Try("t", List.of(task("*.csv", 1, 0))));
    long end = System.nanoTime() + SOON * 1_000_000;
    while (told.isEmpty() && System.nanoTime() < end) {
      pause(10);
    }
    FromAgent.Tried tried = (FromAgent.Tried) told.get(0);
    assertThat(tried.files())
        .extracting(one -> one.name() + " " + one.state() + " " + one.note())
        .containsExactlyInAnyOrder("a.csv ready ", "empty.csv seen is empty");
    assertThat(tried.notified()).isTrue();
    assertThat(files()).isEmpty();
  }
}

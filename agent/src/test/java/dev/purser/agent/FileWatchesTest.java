package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FileWatchesTest {
  @TempDir private Path folder;
  private final List<FromAgent> told = new CopyOnWriteArrayList<>();
  private final FileWatches watches = new FileWatches(told::add);

  @AfterEach
  void close() {
    watches.close();
  }

  private void watch(String pattern, long still, long size) {
    watches.watch(new ToAgent.Watch(1, "feed", folder + "/" + pattern, still, size));
  }

  private FromAgent.Sight await(String sight) {
    long end = System.nanoTime() + 10_000_000_000L;
    while (System.nanoTime() < end) {
      if (!told.isEmpty()
          && told.get(told.size() - 1) instanceof FromAgent.Sight last
          && last.sight().equals(sight)) {
        return last;
      }
      pause(20);
    }
    throw new AssertionError("never saw " + sight + " but " + told);
  }

  private static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  @Test
  void aFileGoesFromAbsentThroughEmptyAndGrowingToReady() throws IOException {
    watch("feed-*.csv", 1_500, 1);
    await("absent");
    Path file = Files.createFile(folder.resolve("feed-1.csv"));
    assertThat(await("empty").path()).isEqualTo(file.toString());
    Files.writeString(file, "berth 1\n", StandardOpenOption.APPEND);
    await("growing");
    FromAgent.Sight ready = await("ready");
    assertThat(ready.size()).isEqualTo(8);
    assertThat(ready.modified()).isEqualTo(file.toFile().lastModified());
  }

  @Test
  void aFileThatKeepsGrowingIsNotReadyAndIsToldOnce() throws IOException {
    watch("feed.csv", 1_200, 1);
    Path file = folder.resolve("feed.csv");
    for (int i = 0; i < 8; i++) {
      Files.writeString(file, "line\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
      pause(400);
    }
    assertThat(told).extracting(one -> ((FromAgent.Sight) one).sight()).doesNotContain("ready");
    assertThat(told.stream().filter(one -> ((FromAgent.Sight) one).sight().equals("growing")))
        .hasSize(1);
    await("ready");
  }

  @Test
  void aFileSmallerThanTheWatchAsksIsNotTakenForData() throws IOException {
    Files.writeString(folder.resolve("feed.csv"), "short");
    watch("feed.csv", 0, 100);
    await("empty");
    pause(1_200);
    assertThat(((FromAgent.Sight) told.get(told.size() - 1)).sight()).isEqualTo("empty");
  }

  @Test
  void aFileThatLayThereLongBeforeIsReadyAtTheSecondLook() throws IOException {
    Path file = Files.writeString(folder.resolve("feed.csv"), "old");
    Files.setLastModifiedTime(file, FileTime.fromMillis(System.currentTimeMillis() - 3_600_000));
    watch("feed.csv", 600_000, 1);
    await("ready");
  }

  @Test
  void ofSeveralTheOldestReadyOneIsTakenAndAnIgnoredOneNotAgainUnlessItsContentIsNew()
      throws IOException {
    for (int i = 1; i <= 2; i++) {
      Path file = Files.writeString(folder.resolve("feed-" + i + ".csv"), "x".repeat(i));
      Files.setLastModifiedTime(file, FileTime.fromMillis(1_700_000_000_000L + i * 1000L));
    }
    watch("feed-*.csv", 0, 1);
    FromAgent.Sight first = await("ready");
    assertThat(first.path()).endsWith("feed-1.csv");
    told.clear();
    watches.ignore(new ToAgent.Ignore(1, "feed", first.path(), first.size(), first.modified()));
    assertThat(await("ready").path()).endsWith("feed-2.csv");
    Files.writeString(folder.resolve("feed-1.csv"), "new content");
    Files.setLastModifiedTime(
        folder.resolve("feed-1.csv"), FileTime.fromMillis(1_700_000_000_500L));
    told.clear();
    assertThat(await("ready").path()).endsWith("feed-1.csv");
  }

  @Test
  void bracketsAndBracesInANameStandForThemselves() throws IOException {
    Files.writeString(folder.resolve("feed[1]{a}.csv"), "x");
    Files.writeString(folder.resolve("feed1a.csv"), "x");
    watch("feed[1]{a}.*", 0, 1);
    assertThat(await("ready").path()).endsWith("feed[1]{a}.csv");
  }

  @Test
  void aDirectoryThatIsNotThereYetIsSaidAndLookedIntoOnceItComes() throws IOException {
    watches.watch(new ToAgent.Watch(1, "feed", folder + "/later/feed.csv", 0, 1));
    assertThat(await("unreadable").path()).contains("does not exist");
    Files.createDirectories(folder.resolve("later"));
    await("absent");
    Files.writeString(folder.resolve("later/feed.csv"), "x");
    await("ready");
  }

  @Test
  void aDirectoryOfTheRightNameIsNoFileAndAnUnwatchedWatchIsSilent() throws IOException {
    Files.createDirectories(folder.resolve("feed.csv"));
    watch("feed.csv", 0, 1);
    await("absent");
    watches.unwatch(new ToAgent.Unwatch(1, "feed"));
    told.clear();
    Files.delete(folder.resolve("feed.csv"));
    Files.writeString(folder.resolve("feed.csv"), "x");
    pause(1_500);
    assertThat(told).isEmpty();
  }
}

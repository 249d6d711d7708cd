package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TidyingTest {
  @TempDir private Path folder;

  private FromAgent.Tidied tidy(Path file, long size, String moveTo) throws IOException {
    boolean there = Files.exists(file);
    long modified = there ? Files.getLastModifiedTime(file).toMillis() : 0;
    String key = there ? String.valueOf(Files.getAttribute(file, "unix:ino")) : "";
    return Tidying.tidy(
        new ToAgent.Tidy(
            1, 7, file.toString(), size, modified, key, List.of("a.csv.done"), moveTo));
  }

  @Test
  void aUsedFileIsMovedWithItsCompanionAndNeverOverAnother() throws IOException {
    Path done = folder.resolve("done");
    for (String content : List.of("first", "again")) {
      Path file = Files.writeString(folder.resolve("a.csv"), content);
      Files.createFile(folder.resolve("a.csv.done"));
      assertThat(tidy(file, 5, done.toString()).done()).isTrue();
      assertThat(file).doesNotExist();
      assertThat(folder.resolve("a.csv.done")).doesNotExist();
    }
    assertThat(done.resolve("a.csv")).hasContent("first");
    assertThat(done.resolve("a.csv.2")).hasContent("again");
    assertThat(done.resolve("a.csv.done")).exists();
  }

  @Test
  void askedTwiceItIsDoneOnceAndAnotherFileOfTheNameIsLeftAlone() throws IOException {
    Path file = Files.writeString(folder.resolve("a.csv"), "first");
    assertThat(tidy(file, 5, "").note()).isEqualTo("removed");
    assertThat(tidy(file, 5, "").note()).isEqualTo("was gone already");
    Files.writeString(file, "a new one");
    assertThat(tidy(file, 5, "").note()).contains("another file of this name");
    assertThat(file).hasContent("a new one");
  }

  @Test
  void whatCannotBeDoneIsSaidAndMayBeAskedAgain() throws IOException {
    Path file = Files.writeString(folder.resolve("a.csv"), "first");
    Path notDirectory = Files.writeString(folder.resolve("file"), "x");
    FromAgent.Tidied tidied = tidy(file, 5, notDirectory + "/done");
    assertThat(tidied.done()).isFalse();
    assertThat(tidied.note()).contains("file");
    assertThat(file).hasContent("first");
  }
}

package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.arrival.FileFacts;
import dev.purser.core.arrival.LookFor;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How files look from outside, links and odd ones among them. */
class FileLookTest {
  @TempDir private Path folder;
  private Path in;

  @BeforeEach
  void makeDirectory() throws IOException {
    in = Files.createDirectory(folder.resolve("in"));
  }

  private static LookFor with(String companion, String checksumFile) {
    return new LookFor("w", "/in", "*", true, 1, 0, companion, checksumFile, "", 0, true, 0, 0);
  }

  private static Optional<FileFacts> look(Path file) throws IOException {
    return FileLook.at(file, with("", ""), true);
  }

  @Test
  void aPlainFileIsKnownBySizeTimeAndInode() throws IOException {
    Path file = Files.writeString(in.resolve("a.csv"), "12345");
    Files.setLastModifiedTime(file, FileTime.fromMillis(1_000_000));
    FileFacts facts = look(file).orElseThrow();
    assertThat(facts.name()).isEqualTo("a.csv");
    assertThat(facts.size()).isEqualTo(5);
    assertThat(facts.modified()).isEqualTo(1_000_000);
    assertThat(facts.changed()).isGreaterThan(1_000_000_000_000L); // nobody can set that back
    assertThat(facts.key()).isNotEmpty();
    assertThat(facts.oddity()).isEqualTo(FileFacts.Oddity.NONE);
    assertThat(facts.ownClock()).isTrue();
  }

  @Test
  void aFileThatTookThePlaceOfAnotherOfTheSameSizeAndTimeIsAnotherOne() throws IOException {
    Path file = Files.writeString(in.resolve("a.csv"), "12345");
    Files.setLastModifiedTime(file, FileTime.fromMillis(1_000_000));
    FileFacts before = look(file).orElseThrow();
    Path other = Files.writeString(in.resolve("b"), "54321");
    Files.setLastModifiedTime(other, FileTime.fromMillis(1_000_000));
    Files.move(other, file, StandardCopyOption.REPLACE_EXISTING);
    FileFacts after = look(file).orElseThrow();
    assertThat(after.size()).isEqualTo(before.size());
    assertThat(after.modified()).isEqualTo(before.modified());
    assertThat(after.key()).isNotEqualTo(before.key());
  }

  @Test
  void whatIsNotThereOrNoFileIsNothing() throws IOException {
    assertThat(look(in.resolve("nothing"))).isEmpty();
    Files.createDirectory(in.resolve("a.csv"));
    assertThat(look(in.resolve("a.csv"))).isEmpty();
    Process pipe = new ProcessBuilder("mkfifo", in.resolve("pipe").toString()).start();
    assertThat(pipe.onExit().join().exitValue()).isZero();
    assertThat(look(in.resolve("pipe"))).isEmpty();
  }

  /** Where a link leads, and whether it is followed. */
  @ParameterizedTest
  @CsvSource({
    "target.csv, NONE",
    "./sub/../target.csv, NONE",
    "../outside.csv, LINK_OUT",
    "/etc/hostname, LINK_OUT",
    "gone.csv, LINK_OUT",
    "link.csv, LINK_OUT",
    "out-and-in, LINK_OUT"
  })
  void aLinkIsFollowedOnlyWithinItsDirectory(String to, FileFacts.Oddity oddity)
      throws IOException {
    Files.createDirectory(in.resolve("sub"));
    Files.writeString(in.resolve("target.csv"), "123");
    Files.writeString(folder.resolve("outside.csv"), "1234567");
    Files.createSymbolicLink(in.resolve("out-and-in"), folder.resolve("outside.csv"));
    Path link = Files.createSymbolicLink(in.resolve("link.csv"), Path.of(to));
    Optional<FileFacts> facts;
    try {
      facts = look(link);
    } catch (IOException e) {
      assertThat(to).isEqualTo("link.csv"); // to itself: the system says so
      return;
    }
    assertThat(facts.orElseThrow().oddity()).isEqualTo(oddity);
    if (oddity == FileFacts.Oddity.NONE) {
      assertThat(facts.get().size()).isEqualTo(3);
    }
  }

  @ParameterizedTest
  @CsvSource({
    "'${file.name}.done', '', a.csv.done, true",
    "'${file.stem}.done', '', a.done, true",
    "'${file.stem}.done', '', a.csv.done, false",
    "'', '${file.name}.md5', a.csv.md5, true",
    "'${file.name}.done', '${file.name}.md5', a.csv.md5, false",
    "'', '', x, true"
  })
  void companionsStandBesideTheirFile(
      String companion, String checksumFile, String there, boolean all) throws IOException {
    Path file = Files.writeString(in.resolve("a.csv"), "x");
    Files.createFile(in.resolve(there));
    FileFacts facts = FileLook.at(file, with(companion, checksumFile), true).orElseThrow();
    assertThat(facts.companion()).isEqualTo(all);
  }

  @Test
  void aDirectoryOfThisMachineIsKnownAndOneThatIsNotThereIsNot() {
    assertThat(FileLook.isLocal(in)).isTrue();
    assertThat(FileLook.isLocal(folder.resolve("nothing"))).isFalse();
  }
}

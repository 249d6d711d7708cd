package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.arrival.Content;
import dev.purser.core.arrival.LookFor;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is read of a file to know whether it is whole. */
class FileContentsTest {
  private static final String ABC_MD5 = "900150983cd24fb0d6963f7d28e17f72";
  private static final String ABC_SHA1 = "a9993e364706816aba3e25717850c26c9cd0d89d";
  private static final String ABC_SHA256 =
      "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";

  @TempDir private Path folder;

  private static LookFor asking(String checksumFile, String lastLine) {
    return new LookFor("w", "/in", "*", true, 1, 0, "", checksumFile, lastLine, 0, true, 0, 0);
  }

  private Path file(String text) throws IOException {
    return Files.writeString(folder.resolve("a.csv"), text);
  }

  // ---- checksums; the values for "abc" are those of RFC 1321 and FIPS 180-2

  @ParameterizedTest
  @CsvSource({
    "'900150983cd24fb0d6963f7d28e17f72', true",
    "'900150983CD24FB0D6963F7D28E17F72  a.csv', true",
    "'a9993e364706816aba3e25717850c26c9cd0d89d *a.csv', true",
    "'  ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad', true",
    "'00000000000000000000000000000000', false"
  })
  void aChecksumOfAnyUsualKindIsKnownByItsLength(String text, boolean right) throws IOException {
    Files.writeString(folder.resolve("a.csv.sum"), text);
    Content content = FileContents.read(file("abc"), asking("${file.name}.sum", ""));
    assertThat(content.checksum()).isEqualTo(ABC_SHA256);
    assertThat(content.expected()).isNotEmpty();
    assertThat(content.expected().equals(content.actual())).isEqualTo(right);
    assertThat(content.actual()).isIn(ABC_MD5, ABC_SHA1, ABC_SHA256);
  }

  @ParameterizedTest
  @CsvSource({
    "''",
    "'   '",
    "'not a checksum'",
    "'900150983cd24fb0d6963f7d28e17f7'",
    "'900150983cd24fb0d6963f7d28e17f7g'",
    "'a.csv  900150983cd24fb0d6963f7d28e17f72'"
  })
  void aFileThatHoldsNoChecksumGivesNone(String text) throws IOException {
    Files.writeString(folder.resolve("a.csv.sum"), text);
    Content content = FileContents.read(file("abc"), asking("${file.name}.sum", ""));
    assertThat(content.expected()).isEmpty();
    assertThat(content.actual()).isEmpty();
  }

  @Test
  void aChecksumFileOfMegabytesIsNone() throws IOException {
    Files.writeString(folder.resolve("a.csv.sum"), ABC_MD5 + " ".repeat(100_000));
    assertThat(FileContents.read(file("abc"), asking("${file.name}.sum", "")).expected()).isEmpty();
  }

  @Test
  void aChecksumFileThatIsGoneMeanwhileIsSaid() throws IOException {
    Path file = file("abc");
    assertThatThrownBy(() -> FileContents.read(file, asking("${file.name}.sum", "")))
        .isInstanceOf(NoSuchFileException.class);
  }

  // ---- the last line

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "'a\\nEND 2\\n'      | END 2",
        "'a\\nEND 2'        | END 2",
        "'a\\nEND 2\\n\\n \\n' | END 2",
        "'a\\r\\nEND 2\\r\\n'  | END 2",
        "'END'             | END",
        "'\\n\\n'            | ''",
        "'ø\\næøå'          | æøå"
      })
  void theLastLineThatSaysSomethingIsMeant(String text, String line) throws IOException {
    String whole = text.replace("\\n", "\n").replace("\\r", "\r");
    assertThat(FileContents.read(file(whole), asking("", "END*")).lastLine()).isEqualTo(line);
  }

  @Test
  void ofALargeFileOnlyTheEndIsLookedAtForIt() throws IOException {
    Path file = file("x".repeat(3_000_000) + "\nEND 1\n");
    assertThat(FileContents.read(file, asking("", "END*")).lastLine()).isEqualTo("END 1");
    Path endless = file("x".repeat(3_000_000));
    assertThat(FileContents.read(endless, asking("", "END*")).lastLine()).hasSize(1_000);
  }

  @Test
  void whatIsNotAskedForIsNotRead() throws IOException {
    Content content = FileContents.read(file("a\nEND\n"), asking("", ""));
    assertThat(content.lastLine()).isEmpty();
    assertThat(content.expected()).isEmpty();
    assertThat(content.checksum()).hasSize(64);
  }

  @Test
  void bytesThatAreNoTextDoNoHarm() throws IOException {
    Path file = folder.resolve("a.csv");
    Files.write(file, new byte[] {(byte) 0xe9, (byte) 0xff, '\n', 'E', 'N', 'D', '\n'});
    assertThat(FileContents.read(file, asking("", "END")).lastLine()).isEqualTo("END");
    Files.write(file, "END\n".getBytes(StandardCharsets.UTF_16LE));
    assertThat(FileContents.read(file, asking("", "END")).lastLine()).isNotEqualTo("END");
  }
}

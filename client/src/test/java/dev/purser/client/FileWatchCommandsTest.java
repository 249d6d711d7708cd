package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How files are shown in a line. */
class FileWatchCommandsTest {
  @ParameterizedTest
  @CsvSource({
    "0, 0 B",
    "999, 999 B",
    "9999, 9999 B",
    "10000, 10 kB",
    "123456, 123 kB",
    "999499, 999 kB",
    "1500000, 1.5 MB",
    "99000000, 99 MB",
    "1230000000, 1.2 GB",
    "5600000000000, 5.6 TB",
    "7800000000000000, 7800 TB"
  })
  void aSizeHasTwoOrThreeFigures(long bytes, String text) {
    assertThat(FileWatchCommands.size(bytes)).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource({
    "'/in/a b.csv', '/in/a b.csv'",
    "'/in/a\\nb', '/in/a\\x0Ab'",
    "'/in/\\t', '/in/\\x09'",
    "'/in/æøå', '/in/æøå'",
    "'/in/\\u001B[31mred', '/in/\\x1B[31mred'"
  })
  void aNameStaysInItsLineAndColoursNothing(String path, String shown) {
    String real = path.replace("\\n", "\n").replace("\\t", "\t").replace("\\u001B", "\u001B");
    assertThat(FileWatchCommands.shown(real)).isEqualTo(shown);
  }
}

package dev.purser.client;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneId;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The machine's zone, as its settings name it. */
class HereTest {
  @TempDir Path dir;

  @ParameterizedTest
  @CsvSource({
    "Europe/Oslo, /usr/share/zoneinfo/Asia/Tokyo, Europe/Oslo",
    "UTC, /usr/share/zoneinfo/Asia/Tokyo, UTC",
    ", /usr/share/zoneinfo/Asia/Tokyo, Asia/Tokyo",
    ", ../usr/share/zoneinfo/America/Argentina/Salta, America/Argentina/Salta",
    ", /usr/share/zoneinfo/Etc/UTC, UTC",
    ", /usr/share/zoneinfo/Zulu, UTC",
    "+02:00, , +02:00"
  })
  void isThatOfTheEnvironmentElseThatOfTheLink(String variable, Path to, String zone)
      throws IOException {
    Path link = dir.resolve("localtime");
    if (to != null) {
      Files.createSymbolicLink(link, to);
    }
    Map<String, String> environment = variable == null ? Map.of() : Map.of("TZ", variable);
    assertEquals(ZoneId.of(zone), Here.of(environment, link));
  }

  @ParameterizedTest
  @CsvSource({
    "'', /usr/share/zoneinfo/Asia/Tokyo",
    ":Europe/Oslo, /usr/share/zoneinfo/Asia/Tokyo",
    "CET-1CEST, /usr/share/zoneinfo/Asia/Tokyo",
    "No/Where, /usr/share/zoneinfo/Asia/Tokyo",
    ", /usr/share/zoneinfo/posix/Asia/Tokyo",
    ", /somewhere/rules",
    ", /where/it/UTC",
    ", "
  })
  void isWhatJavaSaysWhereItIsNotSaidPlainly(String variable, Path to) throws IOException {
    Path link = dir.resolve("localtime");
    if (to != null) {
      Files.createSymbolicLink(link, to);
    }
    Map<String, String> environment = variable == null ? Map.of() : Map.of("TZ", variable);
    assertEquals(ZoneId.systemDefault(), Here.of(environment, link));
  }

  @Test
  void isWhatJavaSaysWhereTheRulesAreNoLink() throws IOException {
    Path file = Files.writeString(dir.resolve("localtime"), "TZif2");
    assertEquals(ZoneId.systemDefault(), Here.of(Map.of(), file));
  }
}

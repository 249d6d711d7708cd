package dev.purser.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.Map;

/**
 * This machine's clock. Java's own way to its zone reads the rules of all zones in the world twice,
 * which takes as long as the rest of a command.
 */
final class Here {
  private static final String BELOW = "/zoneinfo/";
  private static ZoneId zone;

  private Here() {}

  /** This machine's zone, or that of {@code TZ}. */
  static ZoneId zone() {
    if (zone == null) {
      zone =
          System.getProperty("user.timezone", "").isEmpty()
              ? of(System.getenv(), Path.of("/etc/localtime"))
              : ZoneId.systemDefault();
    }
    return zone;
  }

  /**
   * The zone that an environment or else a link names; what Java says itself where neither does so
   * plainly.
   *
   * @param link to the rules of the machine's zone, below a directory {@code zoneinfo}
   */
  static ZoneId of(Map<String, String> environment, Path link) {
    String name = environment.get("TZ");
    try {
      if (name == null) {
        String to = Files.readSymbolicLink(link).toString();
        int at = to.lastIndexOf(BELOW);
        if (at < 0) {
          return ZoneId.systemDefault();
        }
        name = to.substring(at + BELOW.length());
      }
      return name.matches("(Etc/)?(UTC|UCT|Zulu)") ? ZoneId.of("UTC") : ZoneId.of(name);
    } catch (IOException | DateTimeException | UnsupportedOperationException e) {
      return ZoneId.systemDefault();
    }
  }
}

package dev.purser.agent;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Which start of this host's system it is, as proc(5) tells. */
final class Boot {
  private static final Path ID = Path.of("/proc/sys/kernel/random/boot_id");

  /** Field 22 of proc(5) stat, counted from the third. */
  private static final int STARTED = 19;

  private Boot() {}

  /** The id of this start; {@code ?} where it cannot be read. */
  static String id() {
    try {
      return Files.readString(ID).strip();
    } catch (IOException e) {
      return "?";
    }
  }

  /**
   * Whether a process is alive; one that got its id later is another.
   *
   * @param startedAt ticks after the host's start at which it began
   */
  static boolean isAlive(String process, String startedAt) {
    try {
      String stat = Files.readString(Path.of("/proc/" + process + "/stat"));
      String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
      return fields[STARTED].equals(startedAt) && !fields[0].equals("Z");
    } catch (IOException e) {
      return false;
    }
  }
}

package dev.purser.agent;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/**
 * The highest epoch that this agent has been told of, kept over restarts. Each service that becomes
 * the active one on the records has a higher epoch than all before it, so that one which does not
 * know yet that it was replaced is not obeyed.
 */
final class Epoch {
  private final Path file;
  private long highest;

  /** Reads what is kept in the agent's home. */
  Epoch(Path home) {
    this.file = home.resolve("epoch");
    try {
      highest = Files.exists(file) ? Long.parseLong(Files.readString(file).strip()) : 0;
    } catch (IOException | NumberFormatException e) {
      AgentLog.warn("cannot read " + file + ", beginning anew: " + e.getMessage());
    }
  }

  synchronized long highest() {
    return highest;
  }

  /** Whether a service of an epoch is to be obeyed; a higher one than before is kept in mind. */
  synchronized boolean obeys(long epoch) {
    if (epoch < highest) {
      AgentLog.warn(
          "did not obey a service of epoch " + epoch + ": one of epoch " + highest + " has been");
      return false;
    }
    if (epoch > highest) {
      highest = epoch;
      try {
        Path fresh = file.resolveSibling("epoch.new");
        Files.writeString(fresh, String.valueOf(epoch));
        Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE);
      } catch (IOException e) {
        AgentLog.warn("cannot write " + file + ": " + e.getMessage());
      }
    }
    return true;
  }
}

package dev.purser.agent;

import java.time.Instant;
import java.time.temporal.ChronoUnit;

/** The agent's own log: lines on standard error, for whatever collects them on the host. */
final class AgentLog {
  private AgentLog() {}

  static void info(String message) {
    line("info", message);
  }

  static void warn(String message) {
    line("warning", message);
  }

  private static void line(String level, String message) {
    System.err.println(Instant.now().truncatedTo(ChronoUnit.MILLIS) + " " + level + " " + message);
  }
}

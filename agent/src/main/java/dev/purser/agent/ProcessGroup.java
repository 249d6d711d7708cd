package dev.purser.agent;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * All processes of an attempt: its process group, and those that went away into a group of their
 * own, which are told by what they were given in their environment.
 */
final class ProcessGroup {
  private final long id;
  private final String mark;

  /**
   * @param id of the group
   * @param mark a variable of the environment, as {@code NAME=VALUE}, that only this attempt has
   */
  ProcessGroup(long id, String mark) {
    this.id = id;
    this.mark = mark;
  }

  /** Asks every process of the attempt to stop. */
  void ask() {
    signal("TERM");
  }

  /** Ends every process of the attempt. */
  void force() {
    signal("KILL");
  }

  /** Whether any process of the group itself is left. */
  boolean isGroupAlive() {
    return !processes(false).isEmpty();
  }

  /** The processes of the group itself that are left: name and number of each. */
  List<String> names() {
    List<String> names = new ArrayList<>();
    for (String process : processes(false)) {
      try {
        String name = Files.readString(Path.of("/proc", process, "comm"), StandardCharsets.UTF_8);
        names.add(name.strip() + " (" + process + ")");
      } catch (IOException e) {
        AgentLog.info("process " + process + " has just ended");
      }
    }
    return names;
  }

  /** Whether any process of the attempt is left, wherever it has gone. */
  boolean isAlive() {
    return !processes(true).isEmpty();
  }

  private void signal(String name) {
    List<String> targets = new ArrayList<>();
    for (String process : processes(true)) {
      targets.add(process);
    }
    if (targets.isEmpty()) {
      return;
    }
    try {
      Process kill =
          new ProcessBuilder(
                  "/bin/sh",
                  "-c",
                  "kill -s "
                      + name
                      + " -- -"
                      + id
                      + "; kill -s "
                      + name
                      + " -- "
                      + String.join(" ", targets))
              .redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .start();
      kill.waitFor(10, TimeUnit.SECONDS);
    } catch (IOException e) {
      AgentLog.warn("cannot signal group " + id + ": " + e.getMessage());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** What is dead and only not yet waited for does not count. */
  private List<String> processes(boolean wherever) {
    List<String> found = new ArrayList<>();
    try (Stream<Path> all = Files.list(Path.of("/proc"))) {
      all.filter(path -> Character.isDigit(path.getFileName().toString().charAt(0)))
          .filter(path -> isOne(path, wherever))
          .forEach(path -> found.add(path.getFileName().toString()));
    } catch (IOException | UncheckedIOException e) {
      AgentLog.warn("cannot look at processes: " + e.getMessage());
    }
    return found;
  }

  private boolean isOne(Path process, boolean wherever) {
    try {
      String stat = Files.readString(process.resolve("stat"), StandardCharsets.ISO_8859_1);
      String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ", 4);
      if (fields[0].equals("Z") || fields[0].equals("X")) {
        return false;
      }
      if (Long.parseLong(fields[2]) == id) {
        return true;
      }
      return wherever
          && (Files.readString(process.resolve("environ"), StandardCharsets.ISO_8859_1) + "\0")
              .contains(mark + "\0");
    } catch (IOException e) {
      return false; // it has just ended, or belongs to somebody else
    }
  }
}

package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;

/** How the host does, as its kernel tells (proc(5)). */
final class HostMachine {
  private final Path home;
  private final Path proc;

  /**
   * @param home on whose disk the agent depends
   */
  HostMachine(Path home) {
    this(home, Path.of("/proc"));
  }

  HostMachine(Path home, Path proc) {
    this.home = home;
    this.proc = proc;
  }

  /** A look at it now; what cannot be read is -1. */
  FromAgent.Machine look(int attempts) {
    Map<String, Long> memory = memory();
    File disk = home.toFile();
    long all = disk.getTotalSpace();
    return new FromAgent.Machine(
        Runtime.getRuntime().availableProcessors(),
        load(),
        memory.getOrDefault("MemAvailable", -1L),
        memory.getOrDefault("MemTotal", -1L),
        all == 0 ? -1 : disk.getUsableSpace(),
        all == 0 ? -1 : all,
        attempts);
  }

  private double load() {
    try {
      return Double.parseDouble(Files.readString(proc.resolve("loadavg")).split(" ")[0]);
    } catch (IOException | NumberFormatException e) {
      return -1;
    }
  }

  private Map<String, Long> memory() {
    Map<String, Long> found = new HashMap<>();
    try {
      for (String line : Files.readAllLines(proc.resolve("meminfo"))) {
        String[] words = line.split("[: ]+");
        if (words.length >= 2 && words[1].matches("\\d+")) {
          found.put(words[0], Long.parseLong(words[1]) * 1024);
        }
      }
    } catch (IOException e) {
      return Map.of();
    }
    return found;
  }
}

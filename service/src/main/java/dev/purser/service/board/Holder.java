package dev.purser.service.board;

import java.io.IOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;

/**
 * Which process holds the lease, so that one on the same machine can tell whether it lives.
 *
 * @param machine its boot and its space of process ids; empty where the system does not tell them
 * @param began when the process began, epoch milliseconds
 */
record Holder(String name, String machine, long process, long began) {

  /** This process. */
  static Holder self() {
    return new Holder(
        hostName(),
        machineOfSelf(),
        ProcessHandle.current().pid(),
        began(ProcessHandle.current()).orElse(0L));
  }

  private static String hostName() {
    try {
      return InetAddress.getLocalHost().getHostName();
    } catch (IOException e) {
      return "unknown host";
    }
  }

  private static String machineOfSelf() {
    try {
      return Files.readString(Path.of("/proc/sys/kernel/random/boot_id")).strip()
          + Files.readSymbolicLink(Path.of("/proc/self/ns/pid"));
    } catch (IOException e) {
      return "";
    }
  }

  private static Optional<Long> began(ProcessHandle process) {
    return process.info().startInstant().map(Instant::toEpochMilli);
  }

  /** Whether it is a process of this very machine that is there no more. */
  boolean isKnownToBeDead() {
    boolean here = !machine.isEmpty() && machine.equals(self().machine);
    return here
        && ProcessHandle.of(process)
            .filter(ProcessHandle::isAlive)
            .flatMap(Holder::began)
            .filter(at -> Math.abs(at - began) < 1_000)
            .isEmpty();
  }

  /** Reads what {@link #toString} gave. */
  static Optional<Holder> parse(String text) {
    String[] parts = text.split(" ");
    try {
      return parts.length == 4
          ? Optional.of(
              new Holder(parts[0], parts[1], Long.parseLong(parts[2]), Long.parseLong(parts[3])))
          : Optional.empty();
    } catch (NumberFormatException e) {
      return Optional.empty();
    }
  }

  /** Four words. */
  @Override
  public String toString() {
    return name.replace(' ', '-') + " " + machine + " " + process + " " + began;
  }
}

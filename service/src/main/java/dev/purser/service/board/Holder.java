package dev.purser.service.board;

import java.io.IOException;
import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;

/**
 * Which process holds the lease, so that one on the same machine can tell whether it lives.
 *
 * @param machine its boot and its space of process ids; empty where the system does not tell them
 * @param began when the process began, in ticks of the system since its start; epoch milliseconds
 *     where it tells none
 */
record Holder(String name, String machine, long process, long began) {

  /** Field 22 of proc(5) stat, counted from the one after the name. */
  private static final int START_TICKS = 19;

  /** No machine has run for so many ticks; as milliseconds it is the year 2001. */
  private static final long LEAST_MILLIS = 1_000_000_000_000L;

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

  /** In the system's own ticks where it tells them: no two processes of one number share one. */
  private static Optional<Long> began(ProcessHandle process) {
    try {
      String stat =
          Files.readString(
              Path.of("/proc", String.valueOf(process.pid()), "stat"), StandardCharsets.ISO_8859_1);
      String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
      return Optional.of(Long.parseLong(fields[START_TICKS]));
    } catch (IOException | NumberFormatException e) {
      return process.info().startInstant().map(Instant::toEpochMilli);
    }
  }

  private static Optional<Long> beganMillis(ProcessHandle process) {
    return process.info().startInstant().map(Instant::toEpochMilli);
  }

  /** Whether it is a process of this very machine that is there no more. */
  boolean isKnownToBeDead() {
    boolean here = !machine.isEmpty() && machine.equals(self().machine);
    return here
        && ProcessHandle.of(process)
            .filter(ProcessHandle::isAlive)
            .filter(this::beganThen)
            .isEmpty();
  }

  /** A service of before has written the time instead. */
  private boolean beganThen(ProcessHandle process) {
    return began < LEAST_MILLIS
        ? began(process).filter(at -> at == began).isPresent()
        : beganMillis(process).filter(at -> Math.abs(at - began) < 1_000).isPresent();
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

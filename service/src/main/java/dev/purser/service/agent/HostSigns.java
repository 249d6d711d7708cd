package dev.purser.service.agent;

import dev.purser.wire.agent.FromAgent;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** What is not as it should be with a host whose agent is there: its disk, memory or clock. */
public final class HostSigns {
  /** Further off than this, a clock is wrong. */
  public static final long WRONG_CLOCK_MILLIS = 2_000;

  /** With a smaller part of its disk free, a host is short of it. */
  public static final double SCARCE_DISK = 0.1;

  private static final double SCARCE_MEMORY = 0.03;

  private HostSigns() {}

  /**
   * What is wrong, by what it is: {@code disk}, {@code memory} or {@code clock}; as the end of a
   * sentence.
   *
   * @param ahead how far the host's clock is ahead of ours, in milliseconds
   */
  public static Map<String, String> wrong(FromAgent.Machine machine, long ahead) {
    Map<String, String> wrong = new TreeMap<>();
    if (part(machine.diskFree(), machine.disk()) < SCARCE_DISK) {
      wrong.put(
          "disk",
          "little is free where its agent keeps its journal: "
              + amounts(machine.diskFree(), machine.disk())
              + ". A full disk starts no work and loses output");
    }
    if (machine.memoryFree() >= 0 && part(machine.memoryFree(), machine.memory()) < SCARCE_MEMORY) {
      wrong.put(
          "memory",
          "little memory is free: "
              + amounts(machine.memoryFree(), machine.memory())
              + ". The system may end work to make room");
    }
    if (Math.abs(ahead) > WRONG_CLOCK_MILLIS) {
      wrong.put(
          "clock",
          "its clock is "
              + Math.abs(ahead) / 1_000
              + " s "
              + (ahead > 0 ? "ahead" : "behind")
              + ". Times on record are corrected by that; what the work itself stamps is wrong");
    }
    return wrong;
  }

  /** Which part is free; all of it where that is not known. */
  public static double part(long free, long all) {
    return all <= 0 || free < 0 ? 1.0 : (double) free / all;
  }

  private static String amounts(long free, long all) {
    return String.format(Locale.ROOT, "%.1f of %.1f GB", free / 1e9, all / 1e9);
  }
}

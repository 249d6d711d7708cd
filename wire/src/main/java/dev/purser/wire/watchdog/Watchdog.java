package dev.purser.wire.watchdog;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;

/**
 * Tells systemd, where a unit asks for it with {@code WatchdogSec}, that the program works: for as
 * long as it does, three times within the time that the unit allows. Once it does not any more,
 * nothing is told, and systemd starts it anew. Needs {@code NotifyAccess=all} in the unit, since
 * {@code systemd-notify} tells it.
 */
public final class Watchdog {
  private static final List<String> ALIVE = List.of("systemd-notify", "WATCHDOG=1");
  private static final long LONGEST_TELLING_SECONDS = 10;

  private final BooleanSupplier works;
  private final List<String> command;
  private final long everyMillis;

  /**
   * One that is not started yet.
   *
   * @param works whether the program works, asked on a thread of its own
   * @param command what tells that it does
   */
  Watchdog(BooleanSupplier works, List<String> command, long everyMillis) {
    this.works = works;
    this.command = command;
    this.everyMillis = everyMillis;
  }

  /** Begins to tell, where the unit asks for it. */
  public static void begin(BooleanSupplier works) {
    long every = everyMillis(System.getenv());
    if (every > 0) {
      new Watchdog(works, ALIVE, every).start();
    }
  }

  /** How often to tell, by what systemd gives to the process; 0 where it asks for nothing. */
  static long everyMillis(Map<String, String> environment) {
    String micros = environment.getOrDefault("WATCHDOG_USEC", "");
    boolean asked = environment.containsKey("NOTIFY_SOCKET") && micros.matches("\\d{4,15}");
    return asked ? Long.parseLong(micros) / 3_000 : 0;
  }

  Thread start() {
    Thread thread = new Thread(this::tellAgainAndAgain, "watchdog");
    thread.setDaemon(true);
    thread.start();
    return thread;
  }

  private void tellAgainAndAgain() {
    while (true) {
      try {
        if (works.getAsBoolean()) {
          tell();
        }
        Thread.sleep(everyMillis);
      } catch (InterruptedException e) {
        return;
      }
    }
  }

  private void tell() throws InterruptedException {
    try {
      Process telling =
          new ProcessBuilder(command)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .redirectError(ProcessBuilder.Redirect.DISCARD)
              .start();
      if (!telling.waitFor(LONGEST_TELLING_SECONDS, TimeUnit.SECONDS)) {
        telling.destroyForcibly();
      }
    } catch (IOException e) {
      // no such program, or no room for a process just now: tried again the next time
      return;
    }
  }
}

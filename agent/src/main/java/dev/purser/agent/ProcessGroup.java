package dev.purser.agent;

import java.io.IOException;
import java.util.concurrent.TimeUnit;

/** Signals to a process group. */
final class ProcessGroup {
  private final long id;

  ProcessGroup(long id) {
    this.id = id;
  }

  /** Asks every process of the group to stop. */
  void ask() {
    signal("TERM");
  }

  /** Ends every process of the group. */
  void force() {
    signal("KILL");
  }

  /** Whether any process of the group is left. */
  boolean isAlive() {
    return signal("0");
  }

  private boolean signal(String name) {
    try {
      Process kill =
          new ProcessBuilder("/bin/sh", "-c", "kill -s " + name + " -- -" + id)
              .redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .start();
      return kill.waitFor(10, TimeUnit.SECONDS) && kill.exitValue() == 0;
    } catch (IOException e) {
      AgentLog.warn("cannot signal group " + id + ": " + e.getMessage());
      return false;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }
}

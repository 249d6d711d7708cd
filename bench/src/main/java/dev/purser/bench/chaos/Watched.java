package dev.purser.bench.chaos;

import java.io.IOException;
import java.util.concurrent.atomic.AtomicReference;

/** A process that is killed now and then and started anew after a pause. */
final class Watched {
  final String name;
  private final Starter starter;
  private final AtomicReference<ProcessHandle> process = new AtomicReference<>();
  private volatile long startAfter;
  private volatile boolean starting;

  /** Starts it. */
  interface Starter {
    ProcessHandle start() throws IOException, InterruptedException;
  }

  Watched(String name, Starter starter) {
    this.name = name;
    this.starter = starter;
  }

  boolean isAlive() {
    ProcessHandle one = process.get();
    return one != null && one.isAlive();
  }

  /** {@code kill -9}; false where it is not there just now. */
  boolean kill(long pauseMillis) {
    ProcessHandle one = process.get();
    if (starting || one == null || !one.isAlive()) {
      return false;
    }
    startAfter = System.currentTimeMillis() + pauseMillis;
    one.destroyForcibly();
    return true;
  }

  /** Starts it where it should be there and is not. */
  void tend() {
    if (isAlive() || starting || System.currentTimeMillis() < startAfter) {
      return;
    }
    starting = true;
    Thread thread =
        new Thread(
            () -> {
              try {
                process.set(starter.start());
              } catch (IOException | RuntimeException e) {
                System.err.println(name + " did not start: " + e.getMessage());
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              } finally {
                starting = false;
              }
            },
            "start " + name);
    thread.setDaemon(true);
    thread.start();
  }

  /** SIGTERM, and wait. */
  void end() throws InterruptedException {
    while (starting) {
      Thread.sleep(50);
    }
    ProcessHandle one = process.get();
    if (one != null) {
      one.destroy();
      one.onExit()
          .orTimeout(30, java.util.concurrent.TimeUnit.SECONDS)
          .exceptionally(
              e -> {
                one.destroyForcibly();
                return one;
              })
          .join();
    }
  }
}

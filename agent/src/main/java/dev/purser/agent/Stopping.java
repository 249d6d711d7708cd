package dev.purser.agent;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;

/** Asks processes to stop, and forces them after a while; nothing of them is left. */
final class Stopping implements AutoCloseable {
  private static final long GRACE_OF_THE_REST_MILLIS = 5_000;

  private final ExecutorService stoppers = Executors.newCachedThreadPool();

  /** Stops an attempt, which may just be starting, without waiting for it. */
  void ask(Followed one, long graceMillis) {
    one.stopping = true;
    stoppers.execute(() -> stop(one, graceMillis));
  }

  /**
   * What a killed shell has left goes with it, and only then its attempt is over. Where it was
   * asked to stop, what is left has its grace.
   */
  void rest(Followed one, Runnable then) {
    stoppers.execute(
        () -> {
          if (!one.stopping) {
            stop(one, GRACE_OF_THE_REST_MILLIS);
          }
          awaitEnd(one);
          then.run();
        });
  }

  private static void awaitEnd(Followed one) {
    try {
      while (one.processes().filter(ProcessGroup::isGroupAlive).isPresent()) {
        Thread.sleep(50);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Stops attempts, and waits until they have stopped. */
  void all(List<Followed> attempts, long graceMillis) {
    List<Thread> threads = new ArrayList<>();
    for (Followed one : attempts) {
      one.stopping = true;
      Thread thread = new Thread(() -> stop(one, graceMillis));
      thread.start();
      threads.add(thread);
    }
    try {
      for (Thread thread : threads) {
        thread.join(graceMillis + 2_000);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static void stop(Followed one, long graceMillis) {
    try {
      Optional<ProcessGroup> group = one.processes();
      for (int tries = 0; group.isEmpty() && tries < 100; tries++) {
        Thread.sleep(50); // it is just being started
        group = one.processes();
      }
      if (group.isEmpty()) {
        return;
      }
      ProcessGroup processes = group.get();
      processes.ask();
      long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(graceMillis);
      while (processes.isAlive() && System.nanoTime() < end) {
        Thread.sleep(100);
      }
      while (processes.isAlive()) {
        processes.force();
        Thread.sleep(100);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void close() {
    stoppers.shutdownNow();
  }
}

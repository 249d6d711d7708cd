package dev.purser.service.outlook;

import dev.purser.core.forecast.Crew;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;

/** Plays samples on several threads. */
final class Threads implements Crew {
  private final int many;

  /**
   * Prepares.
   *
   * @param many with the caller's own, at least 1
   */
  Threads(int many) {
    this.many = many;
  }

  /** As many as there are cores but one, which is left to whoever decides. */
  static Threads butOne() {
    return new Threads(Math.max(1, Runtime.getRuntime().availableProcessors() - 1));
  }

  @Override
  public void work(Runnable work) {
    List<FutureTask<Void>> others = new ArrayList<>();
    for (int i = 1; i < many; i++) {
      FutureTask<Void> task = new FutureTask<>(work, null);
      Thread thread = new Thread(task, "outlook-" + i);
      thread.setDaemon(true);
      thread.start();
      others.add(task);
    }
    work.run();
    for (FutureTask<Void> other : others) {
      try {
        other.get();
      } catch (ExecutionException e) {
        throw new IllegalStateException("a sample failed", e.getCause());
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new IllegalStateException("interrupted while samples were played", e);
      }
    }
  }
}

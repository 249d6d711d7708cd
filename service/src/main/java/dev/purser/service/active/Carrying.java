package dev.purser.service.active;

import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * Rounds whose work is carried by several threads, by a key each: of one key only one thing is done
 * at a time, and none waits for another key.
 */
public abstract class Carrying extends Rounds {
  private final int carriers;
  private final Set<Object> busy = ConcurrentHashMap.newKeySet();
  private ExecutorService pool;

  /**
   * Rounds that have not begun.
   *
   * @param carriers how many may be slow at once before others wait
   */
  protected Carrying(String name, long everyMillis, Active service, int carriers) {
    super(name, everyMillis, service);
    this.carriers = carriers;
  }

  @Override
  public void start() {
    pool = Executors.newFixedThreadPool(carriers);
    super.start();
  }

  @Override
  public void stop() {
    super.stop();
    pool.shutdownNow();
  }

  /** Has something done, unless something of the same key is being done now. */
  protected void carry(Object key, Runnable work) {
    if (busy.add(key)) {
      pool.execute(
          () -> {
            try {
              work.run();
            } finally {
              busy.remove(key);
            }
          });
    }
  }
}

package dev.purser.service.active;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;

/**
 * Work that goes on in rounds, in a thread of its own, for as long as the service lives and is the
 * active one. A round that fails is told in the log, and the next one tries again.
 */
public abstract class Rounds implements SmartLifecycle {
  private static final Logger LOG = LoggerFactory.getLogger(Rounds.class);
  private static final long AFTER_TROUBLE_MILLIS = 2_000;

  private final String name;
  private final long everyMillis;
  private final Active service;
  private volatile boolean running;
  private Thread thread;

  /**
   * Rounds that have not begun.
   *
   * @param name of the thread
   * @param everyMillis between two rounds
   */
  protected Rounds(String name, long everyMillis, Active service) {
    this.name = name;
    this.everyMillis = everyMillis;
    this.service = service;
  }

  /** Does what there is to do; whether there is more, so that the next round comes at once. */
  protected abstract boolean round();

  @Override
  public void start() {
    running = true;
    thread = new Thread(this::goOn, name);
    thread.setDaemon(true);
    thread.start();
  }

  @Override
  public void stop() {
    running = false;
    thread.interrupt();
  }

  @Override
  public boolean isRunning() {
    return running;
  }

  private void goOn() {
    while (running) {
      long pause = everyMillis;
      try {
        if (service.isActive() && round()) {
          pause = 1;
        }
      } catch (RuntimeException e) {
        LOG.warn("the {} cannot do its work, and tries again: {}", name, e.toString());
        pause = AFTER_TROUBLE_MILLIS;
      }
      try {
        Thread.sleep(pause);
      } catch (InterruptedException e) {
        break;
      }
    }
  }
}

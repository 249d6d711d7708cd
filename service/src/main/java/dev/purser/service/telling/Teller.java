package dev.purser.service.telling;

import dev.purser.service.active.Active;
import dev.purser.service.live.Live;
import java.time.Clock;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Decides who is told of what is to be told, at its own pace beside the engine: what comes of one
 * thing together, what waits for its time, what goes on its way. The {@link Courier} carries it.
 */
@Component
class Teller implements SmartLifecycle {
  private static final Logger LOG = LoggerFactory.getLogger(Teller.class);
  private static final long LOOK_EVERY_MILLIS = 250;
  private static final long AFTER_TROUBLE_MILLIS = 2_000;

  private final Telling telling;
  private final Active service;
  private final Clock clock;
  private final Live live;
  private volatile boolean running;
  private Thread thread;

  Teller(Telling telling, Active service, Clock clock, Live live) {
    this.telling = telling;
    this.service = service;
    this.clock = clock;
    this.live = live;
  }

  @Override
  public void start() {
    running = true;
    thread = new Thread(this::tell, "teller");
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

  private void tell() {
    while (running) {
      try {
        boolean more = false;
        if (service.isActive()) {
          Telling.Done done = telling.look(clock.instant());
          more = done.isMore();
          if (done.isAny()) {
            live.alertsChanged();
          }
        }
        Thread.sleep(more ? 1 : LOOK_EVERY_MILLIS);
      } catch (InterruptedException e) {
        break;
      } catch (RuntimeException e) {
        LOG.warn("the teller cannot do its work, and tries again: {}", e.toString());
        pause();
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(AFTER_TROUBLE_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}

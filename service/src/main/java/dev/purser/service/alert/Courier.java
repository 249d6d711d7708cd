package dev.purser.service.alert;

import dev.purser.service.active.Active;
import dev.purser.service.active.GrowingWait;
import io.micrometer.core.instrument.MeterRegistry;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Carries alerts to their recipients, at its own pace: takes what is due from the outbox, tries,
 * and writes down how it went. A failed try is made again after a growing wait, for ever.
 */
@Component
class Courier implements SmartLifecycle {
  private static final Logger LOG = LoggerFactory.getLogger(Courier.class);
  private static final GrowingWait WAITS =
      new GrowingWait(Duration.ofSeconds(2), Duration.ofMinutes(10));
  private static final long LOOK_EVERY_MILLIS = 500;

  private final Outbox outbox;
  private final Map<String, Channel> channels;
  private final Active service;
  private final Clock clock;
  private final MeterRegistry meters;
  private volatile boolean running;
  private Thread thread;

  Courier(
      Outbox outbox, List<Channel> channels, Active service, Clock clock, MeterRegistry meters) {
    this.outbox = outbox;
    this.channels = channels.stream().collect(Collectors.toMap(Channel::name, Function.identity()));
    this.service = service;
    this.clock = clock;
    this.meters = meters;
  }

  @Override
  public void start() {
    running = true;
    thread = new Thread(this::carry, "courier");
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

  private void carry() {
    ExecutorService carriers = Executors.newFixedThreadPool(4);
    while (running) {
      try {
        List<DeliveryRow> due = service.isActive() ? outbox.due(clock.instant(), 50) : List.of();
        List<Callable<Void>> tries = new ArrayList<>();
        due.forEach(delivery -> tries.add(() -> carry(delivery)));
        carriers.invokeAll(tries);
        if (due.isEmpty()) {
          Thread.sleep(LOOK_EVERY_MILLIS);
        }
      } catch (InterruptedException e) {
        break;
      } catch (RuntimeException e) {
        LOG.warn("the courier cannot look into the outbox: {}", e.getMessage());
        pause();
      }
    }
    carriers.shutdownNow();
  }

  private static void pause() {
    try {
      Thread.sleep(2_000);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private Void carry(DeliveryRow delivery) {
    try {
      AlertRow alert = outbox.alert(delivery.alert);
      channels
          .get(delivery.channel)
          .deliver(alert, delivery.address, "alert-" + alert.id + "-" + delivery.id);
      outbox.delivered(delivery.id, clock.instant());
      meters.counter("purser.alerts.delivered", "channel", delivery.channel).increment();
    } catch (Channel.DeliveryFailed | RuntimeException e) {
      Instant next = clock.instant().plus(waitAfter(delivery.tries));
      outbox.failed(delivery.id, next, String.valueOf(e.getMessage()));
      meters.counter("purser.alerts.failed", "channel", delivery.channel).increment();
    }
    return null;
  }

  static Duration waitAfter(int tries) {
    return WAITS.after(tries);
  }
}

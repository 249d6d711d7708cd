package dev.purser.service.alert;

import dev.purser.service.active.Active;
import dev.purser.service.active.Carrying;
import dev.purser.service.active.GrowingWait;
import io.micrometer.core.instrument.MeterRegistry;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Carries alerts to their recipients, at its own pace: takes what is due from the outbox, tries,
 * and writes down how it went. A failed try is made again after a growing wait, for ever.
 */
@Component
class Courier extends Carrying {
  private static final Logger LOG = LoggerFactory.getLogger(Courier.class);
  private static final GrowingWait WAITS =
      new GrowingWait(Duration.ofSeconds(2), Duration.ofMinutes(10));
  private static final long LOOK_EVERY_MILLIS = 150;

  /** So many receivers may be slow at once before others wait. */
  private static final int CARRIERS = 16;

  private static final int MOST_RECEIVERS = 500;
  private static final int MOST_AT_A_TIME = 20;

  private final Outbox outbox;
  private final Messages messages;
  private final Map<String, Channel> channels;
  private final Active service;
  private final Clock clock;
  private final MeterRegistry meters;

  Courier(
      Outbox outbox,
      Messages messages,
      List<Channel> channels,
      Active service,
      Clock clock,
      MeterRegistry meters) {
    super("courier", LOOK_EVERY_MILLIS, service, CARRIERS);
    this.outbox = outbox;
    this.messages = messages;
    this.channels = channels.stream().collect(Collectors.toMap(Channel::name, Function.identity()));
    this.service = service;
    this.clock = clock;
    this.meters = meters;
  }

  /**
   * Each receiver has a carrier of its own for as long as something is due: none waits for another.
   */
  @Override
  protected boolean round() {
    for (Outbox.Receiver one : outbox.receivers(clock.instant(), MOST_RECEIVERS)) {
      carry(one, () -> carryTo(one));
    }
    return false;
  }

  private void carryTo(Outbox.Receiver receiver) {
    try {
      for (DeliveryRow one : outbox.due(receiver, clock.instant(), MOST_AT_A_TIME)) {
        if (!isRunning() || !service.isSure() || !carry(one)) {
          break; // what fails for one fails for the next: it waits
        }
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot carry to {}: {}", receiver.address(), e.getMessage());
    }
  }

  /** Whether the receiver took it, or will never take it; else the others to it wait, too. */
  private boolean carry(DeliveryRow delivery) {
    try {
      Channel channel = channels.get(delivery.channel);
      if (channel == null) {
        throw new Channel.Refused("there is no way \"" + delivery.channel + "\" any more");
      }
      String answer = channel.deliver(messages.of(delivery), messages.way(delivery));
      outbox.delivered(delivery.id, clock.instant(), answer);
      meters.counter("purser.alerts.delivered", "channel", delivery.channel).increment();
      return true;
    } catch (Channel.Refused e) {
      outbox.refused(delivery.id, String.valueOf(e.getMessage()));
      meters.counter("purser.alerts.refused", "channel", delivery.channel).increment();
      return true;
    } catch (Channel.DeliveryFailed | RuntimeException e) {
      Instant next = clock.instant().plus(waitAfter(delivery.tries));
      outbox.failed(delivery, next, String.valueOf(e.getMessage()));
      meters.counter("purser.alerts.failed", "channel", delivery.channel).increment();
      return false;
    }
  }

  static Duration waitAfter(int tries) {
    return WAITS.after(tries);
  }
}

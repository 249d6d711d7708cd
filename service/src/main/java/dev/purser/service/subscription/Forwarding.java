package dev.purser.service.subscription;

import dev.purser.service.active.Active;
import dev.purser.service.active.Carrying;
import dev.purser.service.active.GrowingWait;
import dev.purser.service.alert.Channel;
import dev.purser.service.channel.CloudEvents;
import dev.purser.service.event.Event;
import java.time.Clock;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Tells subscribers of what has happened, each in order and from where it stands: what fails is
 * tried again, and what comes after it waits. No subscriber waits for another. A crash tells at
 * most one event of each again, under the same id.
 */
@Component
class Forwarding extends Carrying {
  private static final Logger LOG = LoggerFactory.getLogger(Forwarding.class);
  private static final GrowingWait WAITS =
      new GrowingWait(Duration.ofSeconds(2), Duration.ofMinutes(10));
  private static final long LOOK_EVERY_MILLIS = 500;
  private static final int CARRIERS = 8;
  private static final int MOST_AT_A_TIME = 100;
  private static final int LOOKS_AT_OWNERS_EVERY = 10;

  private final Subscriptions subscriptions;
  private final Events events;
  private final CloudEvents sender;
  private final Active service;
  private final Clock clock;
  private int rounds;

  Forwarding(
      Subscriptions subscriptions, Events events, CloudEvents sender, Active service, Clock clock) {
    super("forwarding", LOOK_EVERY_MILLIS, service, CARRIERS);
    this.subscriptions = subscriptions;
    this.events = events;
    this.sender = sender;
    this.service = service;
    this.clock = clock;
  }

  @Override
  protected boolean round() {
    if (rounds++ % LOOKS_AT_OWNERS_EVERY == 0) {
      int ended = subscriptions.endOrphans();
      if (ended > 0) {
        LOG.info("{} subscriptions have ended with their owners", ended);
      }
    }
    for (Subscriptions.Due one : subscriptions.due(clock.instant())) {
      if (events.settled(one.place().topic) > one.place().number) {
        carry(one.row().id + " " + one.place().topic, () -> carryOn(one));
      }
    }
    return false;
  }

  private void carryOn(Subscriptions.Due due) {
    try {
      forward(due);
    } catch (RuntimeException e) {
      LOG.warn("cannot tell subscription {}: {}", due.row().id, e.toString());
    }
  }

  private void forward(Subscriptions.Due due) {
    SubscriptionPlaceRow place = due.place();
    long settled = events.settled(place.topic);
    List<Event> found = events.after(place.topic, place.number, MOST_AT_A_TIME);
    for (Event event : found) {
      boolean wanted = events.isWanted(event, due.row().wanted());
      if (wanted && !tell(due, event)) {
        return;
      }
      if (wanted && !subscriptions.goOn(place, event.number(), true)) {
        return;
      }
    }
    long end = found.size() < MOST_AT_A_TIME ? settled : found.get(found.size() - 1).number();
    if (end > place.number) {
      subscriptions.goOn(place, end, false); // what was not wanted need not be looked at again
    }
  }

  private boolean tell(Subscriptions.Due due, Event event) {
    if (!isRunning() || !service.isSure()) {
      return false;
    }
    Map<String, Object> about = new LinkedHashMap<>();
    about.put("id", event.topic() + "-" + event.number());
    about.put("type", "dev.purser." + event.type());
    about.put("subject", event.subject());
    about.put("time", event.at().toString());
    about.put("sequence", "%019d".formatted(event.number()));
    try {
      sender.post(subscriptions.way(due.row()), about, event.data());
      return true;
    } catch (Channel.Refused e) {
      subscriptions.end(due.row().id, String.valueOf(e.getMessage()));
    } catch (Channel.DeliveryFailed | RuntimeException e) {
      subscriptions.failed(
          due.place(),
          clock.instant().plus(WAITS.after(due.place().tries)),
          String.valueOf(e.getMessage()));
    }
    return false;
  }
}

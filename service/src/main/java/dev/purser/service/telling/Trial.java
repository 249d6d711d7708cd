package dev.purser.service.telling;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Way;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import dev.purser.service.alert.Messages;
import dev.purser.service.people.People;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Tries at once, and marked as a test, every way by which somebody is reached now. */
@Component
public class Trial {
  private static final int MOST = 20;

  private final Map<String, Channel> channels;
  private final Messages messages;
  private final People people;
  private final Clock clock;

  Trial(List<Channel> channels, Messages messages, People people, Clock clock) {
    this.channels = channels.stream().collect(Collectors.toMap(Channel::name, Function.identity()));
    this.messages = messages;
    this.people = people;
    this.clock = clock;
  }

  /**
   * What came of one way.
   *
   * @param answer what the receiver answered, or why it was not reached
   */
  public record Tried(
      String recipient, String channel, String address, boolean arrived, String answer) {}

  /**
   * Sends a test to a recipient, a duty or {@code person NAME}.
   *
   * @param who has asked for it
   */
  public List<Tried> of(String to, String who, Definitions definitions) {
    Instant now = clock.instant();
    List<Tried> all = new ArrayList<>();
    for (Addressees.Reached one :
        Addressees.of(to, Optional.empty(), definitions, people::byName, now)) {
      if (!one.note().isEmpty()) {
        all.add(new Tried(one.name(), "", "", false, one.note()));
      }
      for (Way way : one.ways()) {
        if (all.size() < MOST) {
          all.add(tried(one.name(), way, messages.test(one.name(), who, now)));
        }
      }
    }
    return all;
  }

  private Tried tried(String name, Way way, Message message) {
    try {
      String answer = channels.get(way.channel()).deliver(message, way);
      return new Tried(name, way.channel(), way.address(), true, answer);
    } catch (Channel.DeliveryFailed | RuntimeException e) {
      return new Tried(name, way.channel(), way.address(), false, String.valueOf(e.getMessage()));
    }
  }
}

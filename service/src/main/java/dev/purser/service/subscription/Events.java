package dev.purser.service.subscription;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.board.Engine;
import dev.purser.service.event.Event;
import dev.purser.service.event.EventLog;
import dev.purser.service.event.Settled;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** All topics, each with how far its events are known. */
@Component
public class Events {
  private final Map<String, EventLog> logs;
  private final Map<String, Settled> settled = new TreeMap<>();
  private final Engine engine;
  private final Clock clock;

  Events(List<EventLog> logs, Engine engine, Clock clock) {
    this.logs =
        new TreeMap<>(
            logs.stream().collect(Collectors.toMap(EventLog::topic, Function.identity())));
    this.logs.keySet().forEach(topic -> settled.put(topic, new Settled()));
    this.engine = engine;
    this.clock = clock;
  }

  /**
   * Which events are wanted; nothing said of something is any.
   *
   * @param stream with those below it
   */
  public record Wanted(String department, String stream, String kind) {}

  /** Notes how far the numbers have come. */
  @Scheduled(fixedDelay = 500)
  void look() {
    logs.forEach((topic, log) -> settled.get(topic).seen(clock.instant(), log.newest()));
  }

  /** The names of all topics. */
  public List<String> topics() {
    return List.copyOf(logs.keySet());
  }

  /**
   * Refuses a topic that there is not.
   *
   * @throws NotUnderstood where there is none of that name
   */
  public void check(String topic) {
    if (!logs.containsKey(topic)) {
      throw new NotUnderstood(
          "there is no topic \"" + topic + "\"" + Nearest.hint(topic, logs.keySet()));
    }
  }

  /** The number up to which all events of a topic are known. */
  public long settled(String topic) {
    check(topic);
    return settled.get(topic).number();
  }

  /** Events of a topic after a number, in order, as far as they are settled. */
  public List<Event> after(String topic, long number, int most) {
    long to = settled(topic);
    return number >= to ? List.of() : logs.get(topic).between(number, to, most);
  }

  /** Whether an event is wanted. */
  public boolean isWanted(Event event, Wanted wanted) {
    String stream = event.stream();
    boolean inStream =
        wanted.stream().isEmpty()
            || stream.equals(wanted.stream())
            || stream.startsWith(wanted.stream() + "/");
    return inStream
        && (wanted.kind().isEmpty() || event.kind().equals(wanted.kind()))
        && (wanted.department().isEmpty() || department(event).equals(wanted.department()));
  }

  private String department(Event event) {
    return event.department().isEmpty()
        ? engine.definitions().departmentOf(event.stream())
        : event.department();
  }
}

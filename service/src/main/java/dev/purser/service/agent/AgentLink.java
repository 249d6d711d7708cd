package dev.purser.service.agent;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Where;
import dev.purser.service.Settings;
import dev.purser.service.arrival.Lookouts;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.output.OutputStore;
import dev.purser.service.road.RoadAsked;
import dev.purser.service.road.Roads;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.web.socket.CloseStatus;
import org.springframework.web.socket.TextMessage;
import org.springframework.web.socket.WebSocketSession;
import org.springframework.web.socket.adapter.NativeWebSocketSession;
import org.springframework.web.socket.handler.TextWebSocketHandler;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Every agent's connection: turns what they say into events, and instructions into messages. */
@Component
public class AgentLink extends TextWebSocketHandler {
  private static final Logger LOG = LoggerFactory.getLogger(AgentLink.class);
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final long SILENT_MILLIS = 12_000;
  private static final long SEND_LIMIT_MILLIS = 5_000;
  private static final int SENDERS = 32;

  private final Engine engine;
  private final OutputStore outputs;
  private final HostRecords hosts;
  private final Lookouts lookouts;
  private final Journals journals;
  private final Live live;
  private final Clock clock;
  private final Map<String, AgentConnection> connected = new ConcurrentHashMap<>();
  private final ExecutorService senders;
  private final AttemptOwners owners;
  private final NoticeAnswers notices;
  private final AttemptNews news;
  private final SecretMask mask;
  private final PrivateLinks privateLinks;
  private final Roads roads;
  private final long clockOffset;

  AgentLink(
      Engine engine,
      OutputStore outputs,
      HostRecords hosts,
      Lookouts lookouts,
      Journals journals,
      AttemptOwners owners,
      NoticeAnswers notices,
      PrivateLinks privateLinks,
      Roads roads,
      Live live,
      SecretMask mask,
      Clock clock,
      Settings settings,
      MeterRegistry meters) {
    this.mask = mask;
    this.privateLinks = privateLinks;
    this.roads = roads;
    roads.agents(host -> isThere(host), privateLinks::has);
    this.clockOffset = settings.clockOffset().toMillis();
    this.engine = engine;
    this.outputs = outputs;
    this.hosts = hosts;
    this.lookouts = lookouts;
    this.journals = journals;
    this.owners = owners;
    this.notices = notices;
    this.news = new AttemptNews(owners);
    this.live = live;
    this.clock = clock;
    this.senders =
        Executors.newFixedThreadPool(
            SENDERS,
            work -> {
              Thread thread = new Thread(work, "to agents");
              thread.setDaemon(true);
              return thread;
            });
    Gauge.builder("purser.agents.connected", connected::size).register(meters);
  }

  @PreDestroy
  void stop() {
    senders.shutdown();
  }

  /**
   * What is known of a connection.
   *
   * @param ahead how far the host's clock is ahead of ours, in milliseconds
   */
  public record Presence(Instant since, Instant lastSeen, long ahead, FromAgent.Machine machine) {}

  /** The connection of a host, if its agent is there. */
  public Optional<Presence> presence(String host) {
    return Optional.ofNullable(connected.get(host))
        .map(
            one ->
                new Presence(
                    one.since,
                    Instant.ofEpochMilli(one.lastSeen),
                    one.clockDifference(),
                    one.machine));
  }

  private boolean isThere(String host) {
    AgentConnection one = connected.get(host);
    return one != null && one.welcomed && one.isOpen();
  }

  @EventListener
  void roadAsked(RoadAsked asked) {
    send(asked.host(), asked.message());
  }

  /** Whether another installation is connected under a host's name just now. */
  boolean isTaken(String host, String instance) {
    AgentConnection there = connected.get(host);
    return there != null && there.isOpen() && !there.instance.equals(instance);
  }

  // ---- connections

  @Override
  public boolean supportsPartialMessages() {
    return true; // a large frame is put together here: a buffer each for a thousand agents is much
  }

  @Override
  public void afterConnectionEstablished(WebSocketSession session) {
    if (session instanceof NativeWebSocketSession wrapped
        && wrapped.getNativeSession() instanceof jakarta.websocket.Session inner) {
      inner
          .getUserProperties()
          .put("org.apache.tomcat.websocket.BLOCKING_SEND_TIMEOUT", SEND_LIMIT_MILLIS);
    }
    AgentConnection fresh = new AgentConnection(session, senders, clock.instant(), clockOffset);
    privateLinks.take(fresh.host, session);
    AgentConnection old = connected.put(fresh.host, fresh);
    if (old != null) {
      old.close("the same agent has connected again");
    }
    if (!engine.isActive()) {
      drop(fresh, "this service does not decide just now");
    }
  }

  @Override
  public void afterConnectionClosed(WebSocketSession session, CloseStatus status) {
    AgentConnection there = connected.get(AgentConnection.host(session));
    if (there != null && there.is(session) && connected.remove(there.host, there)) {
      lost(there.host);
    }
  }

  private void drop(AgentConnection one, String reason) {
    if (connected.remove(one.host, one)) {
      lost(one.host);
    }
    one.close(reason);
  }

  private void lost(String host) {
    if (engine.isActive()) {
      LOG.info("host {} is not connected any more", host);
      engine.hear(turn -> turn.apply(new BoardEvent.HostLost(turn.now(), host)));
    }
    live.hostsChanged();
  }

  @Scheduled(fixedDelayString = "PT2S")
  void dropSilent() {
    long before = clock.millis() - SILENT_MILLIS;
    connected.forEach(
        (host, one) -> {
          if (one.lastSeen < before) {
            drop(one, "nothing was heard for " + SILENT_MILLIS / 1000 + " s");
          }
        });
  }

  /** What is seen of hosts is kept from time to time, to be known when they are away. */
  @Scheduled(fixedDelayString = "PT20S")
  void keepSights() {
    if (engine.isActive() && !connected.isEmpty()) {
      hosts.seen(List.copyOf(connected.values()));
    }
  }

  /** After the board was taken up anew, every agent must say again what it knows. */
  @EventListener
  void takenUp(Engine.TakenUp event) {
    dropAll("the service has taken up its records anew");
  }

  @EventListener
  void steppedDown(Engine.SteppedDown event) {
    dropAll("another service is active now");
  }

  /**
   * Another service may be active by now: agents look for it, and come back where there is none.
   */
  @EventListener
  void cutOff(Engine.CutOff event) {
    dropAll("the database is away");
  }

  /** Ends the connection of a host, whose key is good no more. */
  public void drop(String host, String reason) {
    AgentConnection one = connected.remove(host);
    if (one != null) {
      one.close(reason);
      live.hostsChanged();
    }
  }

  private void dropAll(String reason) {
    for (AgentConnection one : List.copyOf(connected.values())) {
      if (connected.remove(one.host, one)) {
        one.close(reason);
      }
    }
  }

  // ---- what agents say

  @Override
  protected void handleTextMessage(WebSocketSession session, TextMessage message) {
    AgentConnection one = connected.get(AgentConnection.host(session));
    if (one == null || !one.is(session)) {
      return;
    }
    one.lastSeen = clock.millis();
    one.hear(message).ifPresent(frame -> take(one, frame));
  }

  /** What cannot be read is told and skipped: the rest of the frame counts. */
  private void take(AgentConnection one, String frame) {
    JsonNode all;
    try {
      all = JSON.readTree(frame);
    } catch (JacksonException e) {
      LOG.warn("host {} said something that is not a message: {}", one.host, e.getMessage());
      one.close("this is not a message: " + shortly(e));
      return;
    }
    if (!all.isArray()) {
      one.close(
          "this service speaks protocol " + FromAgent.PROTOCOL + ": upgrade the agent, or both");
      return;
    }
    for (JsonNode each : all) {
      try {
        take(one, JSON.treeToValue(each, FromAgent.class));
      } catch (JacksonException e) {
        LOG.warn("host {} said something unknown: {}", one.host, e.getMessage());
      } catch (RuntimeException e) {
        LOG.warn("cannot take what host {} said; it will say it again: {}", one.host, e.toString());
        one.close("the service could not take a message; say it again");
        return;
      }
    }
  }

  private static String shortly(JacksonException e) {
    String text = e.getOriginalMessage();
    return text.length() > 80 ? text.substring(0, 80) : text; // a reason has 123 bytes at most
  }

  private void take(AgentConnection one, FromAgent message) {
    if (one.greeted || message instanceof FromAgent.Hello) {
      message.accept(new Said(one));
    } else {
      one.close("say hello first");
    }
  }

  /** What is done with each kind of message. */
  private final class Said implements FromAgent.Visitor<Void> {
    private final AgentConnection one;

    Said(AgentConnection one) {
      this.one = one;
    }

    @Override
    public Void visit(FromAgent.Hello message) {
      greet(one, message);
      return null;
    }

    @Override
    public Void visit(FromAgent.Alive message) {
      one.ahead = message.clock() - clock.millis();
      one.machine = message.machine() == null ? FromAgent.Machine.UNKNOWN : message.machine();
      return null;
    }

    @Override
    public Void visit(FromAgent.Began message) {
      orSayAgain(one, engine.hear(turn -> news.began(turn, one, message)));
      return null;
    }

    @Override
    public Void visit(FromAgent.Ended message) {
      AttemptNews.Whole whole = AttemptNews.Whole.of(message, mask);
      ToAgent answer =
          new ToAgent.Recorded(message.run(), message.attempt(), message.output() != null);
      orSayAgain(
          one,
          engine
              .hear(
                  turn -> news.ended(turn, one, whole), turn -> news.endedInShort(turn, one, whole))
              .thenRun(() -> one.send(answer)));
      return null;
    }

    @Override
    public Void visit(FromAgent.Output message) {
      keep(one, message);
      return null;
    }

    @Override
    public Void visit(FromAgent.Found message) {
      orSayAgain(one, lookouts.found(one.host, message).thenAccept(one::send));
      return null;
    }

    @Override
    public Void visit(FromAgent.Trouble message) {
      orSayAgain(one, lookouts.trouble(one.host, message.watch(), message.text()));
      return null;
    }

    @Override
    public Void visit(FromAgent.Tidied message) {
      orSayAgain(one, lookouts.tidied(message.arrival(), message.done(), message.note()));
      return null;
    }

    @Override
    public Void visit(FromAgent.Tried message) {
      lookouts.tried(message);
      return null;
    }

    @Override
    public Void visit(FromAgent.Reached message) {
      roads.said(message);
      return null;
    }

    @Override
    public Void visit(FromAgent.Notified message) {
      notices.said(one.host, message);
      return null;
    }
  }

  /** What could not be put on record must be said again: agents do so when they connect. */
  private static void orSayAgain(AgentConnection one, CompletableFuture<?> told) {
    told.whenComplete(
        (done, failure) -> {
          if (failure != null) {
            one.close("the service could not take a message; say it again");
          }
        });
  }

  private void keep(AgentConnection one, FromAgent.Output output) {
    if (!owners.isOn(one.host, output.run(), output.attempt())) {
      // as if it were kept, so that nothing is said for ever
      long end = output.offset() + output.data().length;
      one.send(new ToAgent.OutputTaken(output.run(), output.attempt(), end, output.complete()));
      return;
    }
    long kept =
        outputs.keep(
            Where.onHost(one.host),
            output.run(),
            output.attempt(),
            output.offset(),
            output.data(),
            output.complete(),
            output.total());
    boolean complete = output.complete() && kept == output.offset() + output.data().length;
    one.send(new ToAgent.OutputTaken(output.run(), output.attempt(), kept, complete));
    live.outputGrew(output.run());
  }

  private void greet(AgentConnection one, FromAgent.Hello hello) {
    if (hello.protocol() != FromAgent.PROTOCOL) {
      String which = hello.protocol() < FromAgent.PROTOCOL ? "agent" : "service";
      LOG.warn(
          "host {} runs agent {}, which speaks protocol {}, not {}: upgrade the {}",
          one.host,
          hello.version(),
          hello.protocol(),
          FromAgent.PROTOCOL,
          which);
      one.close("protocol " + FromAgent.PROTOCOL + " is spoken here: upgrade the " + which);
      return;
    }
    if (hello.epoch() > engine.epoch()) {
      LOG.warn(
          "host {} has obeyed a service of epoch {}; this one has {}: is it on the same database?",
          one.host,
          hello.epoch(),
          engine.epoch());
      one.close("the agent has obeyed a newer service (epoch " + hello.epoch() + ")");
      return;
    }
    one.ahead = hello.clock() - clock.millis();
    one.machine = hello.machine() == null ? FromAgent.Machine.UNKNOWN : hello.machine();
    hosts.seen(one.host, hello.version(), String.join(",", hello.labels()));
    one.greeted = true;
    orSayAgain(
        one,
        engine
            .hear(turn -> journals.compare(turn, one.host, hello, one.ahead))
            .thenAccept(
                answers -> {
                  one.send(new ToAgent.Welcome("Purser 0.1.0", clock.millis(), engine.epoch()));
                  one.welcomed = true;
                  answers.forEach(one::send);
                  sendLook(one);
                  lookouts.toTidy(one.host).forEach(one::send);
                  LOG.info("host {} is connected", one.host);
                  live.hostsChanged();
                }));
  }

  // ---- what agents are told

  /** What is looked for has changed. */
  @EventListener
  void lookoutsChanged(Lookouts.Changed event) {
    connected.values().forEach(one -> sendLook(one));
  }

  /** Nothing comes before the welcome, and what is newer comes last. */
  private void sendLook(AgentConnection one) {
    synchronized (one) {
      if (one.welcomed) {
        ToAgent.Look look = lookouts.lookFor(one.host);
        if (!look.equals(one.look)) {
          one.look = look;
          one.send(look);
        }
      }
    }
  }

  @EventListener
  void toHost(Lookouts.ToHost told) {
    send(told.host(), told.message());
  }

  /** Sends, if the host is there; if it is not, it is told when it says hello. */
  void send(String host, ToAgent message) {
    AgentConnection one = connected.get(host);
    if (one != null) {
      one.send(message);
    }
  }
}

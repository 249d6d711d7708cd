package dev.purser.service.agent;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.Ending;
import dev.purser.core.board.FileSight;
import dev.purser.core.board.Instruction;
import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunState;
import dev.purser.core.board.RunStatus;
import dev.purser.core.definition.FileWatch;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.live.Live;
import dev.purser.service.output.OutputStore;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.web.socket.CloseStatus;
import org.springframework.web.socket.TextMessage;
import org.springframework.web.socket.WebSocketSession;
import org.springframework.web.socket.handler.ConcurrentWebSocketSessionDecorator;
import org.springframework.web.socket.handler.TextWebSocketHandler;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** Every agent's connection: turns what they say into events, and instructions into messages. */
@Component
public class AgentLink extends TextWebSocketHandler {
  private static final Logger LOG = LoggerFactory.getLogger(AgentLink.class);
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final long SILENT_MILLIS = 12_000;
  private static final int SEND_LIMIT_MILLIS = 10_000;
  private static final int SEND_BUFFER = 4 * 1024 * 1024;

  private final Engine engine;
  private final OutputStore outputs;
  private final HostRecords hosts;
  private final Arrivals arrivals;
  private final StartMessages messages;
  private final Live live;
  private final Clock clock;
  private final Map<String, Connected> connected = new ConcurrentHashMap<>();

  AgentLink(
      Engine engine,
      OutputStore outputs,
      HostRecords hosts,
      Arrivals arrivals,
      StartMessages messages,
      Live live,
      Clock clock,
      MeterRegistry meters) {
    this.engine = engine;
    this.outputs = outputs;
    this.hosts = hosts;
    this.arrivals = arrivals;
    this.messages = messages;
    this.live = live;
    this.clock = clock;
    Gauge.builder("purser.agents.connected", connected::size).register(meters);
  }

  /** A connected agent. */
  private static final class Connected {
    final WebSocketSession session;
    final String instance;
    final Instant since;
    volatile long lastSeen;

    /** How far the host's clock is ahead of ours, in milliseconds. */
    volatile long ahead;

    Connected(WebSocketSession session, String instance, Instant since) {
      this.session = session;
      this.instance = instance;
      this.since = since;
      this.lastSeen = since.toEpochMilli();
    }
  }

  /** What is known of a connection. */
  public record Presence(Instant since, Instant lastSeen) {}

  /** The connection of a host, if its agent is there. */
  public Optional<Presence> presence(String host) {
    return Optional.ofNullable(connected.get(host))
        .map(one -> new Presence(one.since, Instant.ofEpochMilli(one.lastSeen)));
  }

  /** Whether another installation is connected under a host's name just now. */
  boolean isTaken(String host, String instance) {
    Connected there = connected.get(host);
    return there != null && there.session.isOpen() && !there.instance.equals(instance);
  }

  // ---- connections

  @Override
  public void afterConnectionEstablished(WebSocketSession session) {
    session.setTextMessageSizeLimit(1024 * 1024);
    WebSocketSession safe =
        new ConcurrentWebSocketSessionDecorator(session, SEND_LIMIT_MILLIS, SEND_BUFFER);
    Connected fresh = new Connected(safe, instance(session), clock.instant());
    Connected old = connected.put(host(session), fresh);
    if (old != null) {
      close(old, "the same agent has connected again");
    }
  }

  private static String host(WebSocketSession session) {
    return (String) session.getAttributes().get("host");
  }

  private static String instance(WebSocketSession session) {
    return (String) session.getAttributes().get("instance");
  }

  private static void close(Connected one, String reason) {
    try {
      one.session.close(CloseStatus.NORMAL.withReason(reason));
    } catch (IOException e) {
      LOG.debug("closing failed", e);
    }
  }

  @Override
  public void afterConnectionClosed(WebSocketSession session, CloseStatus status) {
    String host = host(session);
    Connected there = connected.get(host);
    if (there != null && there.session.getId().equals(session.getId())) {
      connected.remove(host, there);
      lost(host);
    }
  }

  private void lost(String host) {
    LOG.info("host {} is not connected any more", host);
    engine.tell(now -> new BoardEvent.HostLost(now, host));
    live.hostsChanged();
  }

  @Scheduled(fixedDelayString = "PT2S")
  void dropSilent() {
    long before = clock.millis() - SILENT_MILLIS;
    connected.forEach(
        (host, one) -> {
          if (one.lastSeen < before && connected.remove(host, one)) {
            close(one, "nothing was heard for " + SILENT_MILLIS / 1000 + " s");
            lost(host);
          }
        });
  }

  /** After the board was taken up anew, every agent must say again what it knows. */
  @EventListener
  void takenUp(Engine.TakenUp event) {
    arrivals.forget();
    List.copyOf(connected.keySet())
        .forEach(
            host -> {
              Connected one = connected.remove(host);
              if (one != null) {
                close(one, "the service has taken up its records anew");
              }
            });
  }

  // ---- what agents say

  @Override
  protected void handleTextMessage(WebSocketSession session, TextMessage message) {
    String host = host(session);
    Connected one = connected.get(host);
    if (one == null || !one.session.getId().equals(session.getId())) {
      return;
    }
    one.lastSeen = clock.millis();
    try {
      take(host, one, JSON.readValue(message.getPayload(), FromAgent.class));
    } catch (JacksonException e) {
      LOG.warn("host {} said something unknown: {}", host, e.getMessage());
    } catch (RuntimeException e) {
      LOG.warn("cannot take what host {} said; it will say it again: {}", host, e.toString());
      close(one, "the service could not take a message; say it again");
    }
  }

  private void take(String host, Connected one, FromAgent message) {
    if (message instanceof FromAgent.Hello hello) {
      greet(host, one, hello);
    } else if (message instanceof FromAgent.Began began) {
      orSayAgain(one, engine.tell(now -> began(now, began, one.ahead)));
    } else if (message instanceof FromAgent.Ended ended) {
      orSayAgain(
          one,
          engine
              .tell(now -> ended(now, ended, one.ahead))
              .thenRun(() -> send(host, new ToAgent.Recorded(ended.run(), ended.attempt()))));
    } else if (message instanceof FromAgent.Output output) {
      keep(host, output);
    } else if (message instanceof FromAgent.Sight sight) {
      orSayAgain(one, see(host, sight));
    }
  }

  /** What could not be put on record must be said again: agents do so when they connect. */
  private static void orSayAgain(Connected one, CompletableFuture<?> told) {
    told.whenComplete(
        (done, failure) -> {
          if (failure != null) {
            close(one, "the service could not take a message; say it again");
          }
        });
  }

  private static BoardEvent began(long now, FromAgent.Began began, long ahead) {
    return new BoardEvent.AttemptBegan(
        now, began.run(), began.attempt(), Math.min(now, began.at() - ahead));
  }

  private static BoardEvent ended(long now, FromAgent.Ended ended, long ahead) {
    Ending.Kind kind =
        switch (ended.how()) {
          case "exited" -> Ending.Kind.EXITED;
          case "not-started" -> Ending.Kind.NOT_STARTED;
          case "nothing-to-do" -> Ending.Kind.NOTHING_TO_DO;
          case "check-failed" -> Ending.Kind.CHECK_FAILED;
          default -> Ending.Kind.LOST;
        };
    return new BoardEvent.AttemptEnded(
        now,
        ended.run(),
        ended.attempt(),
        new Ending(kind, ended.code(), ended.note()),
        Math.min(now, ended.at() - ahead),
        ended.values() == null ? Map.of() : ended.values());
  }

  private void keep(String host, FromAgent.Output output) {
    long kept =
        outputs.keep(
            output.run(),
            output.attempt(),
            output.offset(),
            output.data(),
            output.complete(),
            output.total());
    boolean complete = output.complete() && kept == output.offset() + output.data().length;
    send(host, new ToAgent.OutputTaken(output.run(), output.attempt(), kept, complete));
    live.outputGrew(output.run());
  }

  private CompletableFuture<?> see(String host, FromAgent.Sight sight) {
    if (sight.sight().equals("ready")) {
      return engine
          .ask(turn -> arrivals.take(turn, host, sight))
          .thenAccept(
              taken -> {
                if (!taken) {
                  send(
                      host,
                      new ToAgent.Ignore(
                          sight.run(),
                          sight.watch(),
                          sight.path(),
                          sight.size(),
                          sight.modified()));
                }
              });
    }
    FileSight seen =
        switch (sight.sight()) {
          case "empty" -> FileSight.EMPTY;
          case "growing" -> FileSight.GROWING;
          case "unreadable" -> FileSight.UNREADABLE;
          default -> FileSight.ABSENT;
        };
    return engine.ask(turn -> arrivals.see(turn, sight, seen));
  }

  /**
   * Compares what both sides know, then lets the board place work here. What is compared is what
   * was active before: what the board starts because the host is there is not expected in the
   * journal.
   */
  private void greet(String host, Connected one, FromAgent.Hello hello) {
    if (hello.protocol() != FromAgent.PROTOCOL) {
      close(
          one,
          "this service speaks protocol " + FromAgent.PROTOCOL + ", the agent " + hello.protocol());
      return;
    }
    long difference = hello.clock() - clock.millis();
    one.ahead = difference;
    hosts.seen(host, hello.version(), String.join(",", hello.labels()), difference);
    send(host, new ToAgent.Welcome("Purser 0.1.0", clock.millis()));
    engine
        .ask(turn -> reconcile(turn, host, hello, one.ahead))
        .thenAccept(
            answers -> {
              answers.forEach(answer -> send(host, answer));
              LOG.info("host {} is connected", host);
              live.hostsChanged();
            });
  }

  private List<ToAgent> reconcile(Turn turn, String host, FromAgent.Hello hello, long ahead) {
    List<ToAgent> answers = new ArrayList<>();
    Map<String, FromAgent.Known> known = new HashMap<>();
    hello.attempts().forEach(one -> known.put(one.run() + "." + one.attempt(), one));
    Board board = turn.board();
    for (RunSpec run : board.runs()) {
      RunStatus status = board.status(run.id()).orElseThrow();
      if (status.state().isActive() && status.host().equals(host)) {
        FromAgent.Known there = known.remove(run.id() + "." + status.attempts());
        if (there == null) {
          missing(turn, run, status, answers);
        } else {
          found(turn, status, there, ahead, answers);
        }
        stillStopping(run, status, there, answers);
      }
      if (status.state() == RunState.WAITING) {
        watches(run, status, host).forEach(answers::add);
      }
    }
    for (FromAgent.Known old : known.values()) {
      if (old.ended() != null) {
        answers.add(new ToAgent.Recorded(old.run(), old.attempt()));
      } else {
        answers.add(new ToAgent.Stop(old.run(), old.attempt(), 10_000));
      }
    }
    turn.apply(new BoardEvent.HostSeen(turn.now(), host, Set.copyOf(hello.labels())));
    return answers;
  }

  private void missing(Turn turn, RunSpec run, RunStatus status, List<ToAgent> answers) {
    if (status.state() == RunState.STARTING) {
      try {
        answers.add(messages.start(turn.definitions(), turn.board(), run, status));
      } catch (StartMessages.Unfillable e) {
        cannotStart(turn, run, status, e.getMessage());
      }
    } else {
      Ending lost =
          new Ending(Ending.Kind.LOST, -1, "its host knows nothing of the attempt any more");
      turn.apply(new BoardEvent.AttemptEnded(turn.now(), run.id(), status.attempts(), lost));
    }
  }

  private static void cannotStart(Turn turn, RunSpec run, RunStatus status, String because) {
    Ending ending = new Ending(Ending.Kind.NO_VALUE, -1, because);
    turn.apply(new BoardEvent.AttemptEnded(turn.now(), run.id(), status.attempts(), ending));
  }

  private static void found(
      Turn turn, RunStatus status, FromAgent.Known there, long ahead, List<ToAgent> answers) {
    // When it began was told to nobody; it was sent when the run came into its state.
    turn.apply(
        new BoardEvent.AttemptBegan(turn.now(), there.run(), there.attempt(), status.since()));
    if (there.ended() != null) {
      turn.apply(ended(turn.now(), there.ended(), ahead));
      answers.add(new ToAgent.Recorded(there.run(), there.attempt()));
    }
  }

  private static void stillStopping(
      RunSpec run, RunStatus status, FromAgent.Known there, List<ToAgent> answers) {
    boolean runs = there != null && there.ended() == null;
    if (runs && status.stopping() != RunStatus.Stopping.NO) {
      long grace = run.run().job().grace().toMillis();
      answers.add(new ToAgent.Stop(run.id(), status.attempts(), grace));
    }
  }

  private static List<ToAgent> watches(RunSpec run, RunStatus status, String host) {
    List<ToAgent> watches = new ArrayList<>();
    for (int i = 0; i < status.files().size(); i++) {
      FileWatch watch = run.run().watches().get(i);
      if (watch.host().equals(host) && status.files().get(i).sight() != FileSight.ARRIVED) {
        watches.add(StartMessages.watch(run, watch));
      }
    }
    return watches;
  }

  // ---- what agents are told

  @EventListener
  void committed(Engine.Committed committed) {
    for (Instruction instruction : committed.instructions()) {
      if (instruction instanceof Instruction.StartAttempt start) {
        start(start);
      } else if (instruction instanceof Instruction.StopAttempt stop) {
        send(stop.host(), new ToAgent.Stop(stop.run(), stop.attempt(), stop.graceMillis()));
      } else if (instruction instanceof Instruction.WatchFile watch) {
        watch(watch.run(), watch.watch(), true);
      } else if (instruction instanceof Instruction.UnwatchFile unwatch) {
        watch(unwatch.run(), unwatch.watch(), false);
      }
    }
  }

  private void start(Instruction.StartAttempt start) {
    Optional<RunSpec> run = engine.look(board -> board.run(start.run()));
    Optional<RunStatus> status = engine.look(board -> board.status(start.run()));
    boolean current = status.isPresent() && status.get().attempts() == start.attempt();
    if (run.isEmpty() || !current || !status.get().state().isActive()) {
      return;
    }
    try {
      ToAgent.Start message =
          engine.look(
              board -> messages.start(engine.definitions(), board, run.get(), status.get()));
      send(start.host(), message);
    } catch (StartMessages.Unfillable e) {
      engine.ask(
          turn -> {
            cannotStart(turn, run.get(), status.get(), e.getMessage());
            return true;
          });
    }
  }

  private void watch(long id, String name, boolean on) {
    Optional<RunSpec> run = engine.look(board -> board.run(id));
    run.stream()
        .flatMap(found -> found.run().watches().stream())
        .filter(watch -> watch.name().equals(name))
        .forEach(
            watch ->
                send(
                    watch.host(),
                    on ? StartMessages.watch(run.get(), watch) : new ToAgent.Unwatch(id, name)));
  }

  /** Sends, if the host is there; if it is not, it is told when it says hello. */
  private void send(String host, ToAgent message) {
    Connected one = connected.get(host);
    if (one == null) {
      return;
    }
    try {
      one.session.sendMessage(
          new TextMessage(JSON.writerFor(ToAgent.class).writeValueAsString(message)));
    } catch (IOException | IllegalStateException e) {
      LOG.warn("cannot send to host {}: {}", host, e.getMessage());
      close(one, "sending failed");
    }
  }
}

package dev.purser.agent;

import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.net.http.WebSocketHandshakeException;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The connection to the service: dials out, says hello, and dials again when it is cut. */
final class Link implements WebSocket.Listener {
  /** A round takes as long only where the loop hangs. */
  private static final Duration LONGEST_ROUND = Duration.ofMinutes(2);

  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int FRAME = 256 * 1024;
  private static final long FIRST_PAUSE_MILLIS = 200;
  private static final long LONGEST_PAUSE_MILLIS = 5_000;
  private static final Duration ALIVE_EVERY = Duration.ofSeconds(3);
  private static final Duration SILENT = Duration.ofSeconds(10);
  private static final String VERSION = "0.1.0";

  private final List<URI> services;
  private final String host;
  private final String key;
  private final String instance;
  private final Set<String> labels;
  private final HostMachine machine;
  private final Epoch epoch;
  private final HttpClient http =
      HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();

  private final StringBuilder partial = new StringBuilder();
  private final Told told = new Told();
  private Attempts attempts;
  private FileWatches watches;
  private Notices notices;
  private Roads roads;
  private volatile WebSocket socket;
  private volatile URI connectedTo;
  private volatile boolean welcomed;
  private volatile long lastRound = System.nanoTime();
  private volatile long lastHeard;
  private final Deque<String> queue = new ArrayDeque<>();
  private boolean sending;
  private volatile CompletableFuture<String> closed = new CompletableFuture<>();

  /**
   * @param services addresses of the services, http or https, of which one is active
   * @param home where the highest epoch is kept
   */
  Link(
      List<URI> services, String host, String key, String instance, Set<String> labels, Path home) {
    this.services = List.copyOf(services);
    this.host = host;
    this.key = key;
    this.instance = instance;
    this.labels = labels;
    this.machine = new HostMachine(home);
    this.epoch = new Epoch(home);
  }

  void serve(Attempts attempts, FileWatches watches, Notices notices, Roads roads) {
    this.roads = roads;
    this.attempts = attempts;
    this.watches = watches;
    this.notices = notices;
  }

  /** Stays connected until the thread is interrupted. */
  void run() throws InterruptedException {
    long pause = FIRST_PAUSE_MILLIS;
    Map<URI, String> lastProblems = new HashMap<>();
    for (int tries = 0; !Thread.currentThread().isInterrupted(); ) {
      lastRound = System.nanoTime();
      URI service = services.get(tries % services.size());
      String problem;
      try {
        connect(service);
        problem = stayAlive();
        if (welcomed) {
          pause = FIRST_PAUSE_MILLIS;
          tries--; // the same one again first
        }
      } catch (ExecutionException | CompletionException e) {
        problem = explain(e.getCause() == null ? e : e.getCause());
      }
      if (!problem.equals(lastProblems.put(service, problem))) {
        AgentLog.warn("not connected to " + service + ": " + problem + "; trying again");
      }
      tries++;
      Thread.sleep(pause);
      if (tries % services.size() == 0) {
        pause = Math.min(pause * 2, LONGEST_PAUSE_MILLIS);
      }
    }
  }

  /** Whether its loop goes round, connected or not. */
  boolean isAlive() {
    return System.nanoTime() - lastRound < LONGEST_ROUND.toNanos();
  }

  private static String explain(Throwable cause) {
    if (cause instanceof WebSocketHandshakeException handshake) {
      String reason =
          handshake.getResponse().headers().firstValue("Purser-Reason").orElse("no reason given");
      return "the service refuses (" + handshake.getResponse().statusCode() + "): " + reason;
    }
    String message = cause.getMessage();
    return message == null ? cause.getClass().getSimpleName() : message;
  }

  private void connect(URI service) throws ExecutionException, InterruptedException {
    closed = new CompletableFuture<>();
    partial.setLength(0);
    welcomed = false;
    lastHeard = System.nanoTime();
    WebSocket fresh = dial(service, Enrolment.LINK_PATH, this).get();
    connectedTo = service;
    synchronized (this) {
      queue.clear();
      sending = false;
      socket = fresh;
    }
    watches.disconnected();
    sendNow(
        new FromAgent.Hello(
            FromAgent.PROTOCOL,
            VERSION,
            labels,
            System.currentTimeMillis(),
            epoch.highest(),
            machine.look(attempts.running()),
            attempts.known()));
  }

  private CompletableFuture<WebSocket> dial(URI service, String path, WebSocket.Listener listener) {
    String scheme = "https".equals(service.getScheme()) ? "wss" : "ws";
    return http.newWebSocketBuilder()
        .header("Authorization", "Bearer " + key)
        .header(Enrolment.HOST_HEADER, host)
        .header(Enrolment.INSTANCE_HEADER, instance)
        .connectTimeout(Duration.ofSeconds(10))
        .buildAsync(URI.create(scheme + "://" + service.getAuthority() + path), listener);
  }

  /** Connects once more to the service, for a road that it has asked for. */
  CompletableFuture<WebSocket> dialRoad(String road, WebSocket.Listener end) {
    return dial(connectedTo, Enrolment.ROAD_PATH + road, end);
  }

  private String stayAlive() throws InterruptedException {
    while (true) {
      lastRound = System.nanoTime();
      try {
        return closed.get(ALIVE_EVERY.toMillis(), TimeUnit.MILLISECONDS);
      } catch (TimeoutException e) {
        if (System.nanoTime() - lastHeard > SILENT.toNanos()) {
          socket.abort();
          return "nothing was heard from the service for " + SILENT.toSeconds() + " s";
        }
        ping();
        send(new FromAgent.Alive(System.currentTimeMillis(), machine.look(attempts.running())));
      } catch (ExecutionException e) {
        return String.valueOf(e.getCause().getMessage());
      }
    }
  }

  /** Whoever hears it answers: a service that is frozen, or cut off, does not. */
  private void ping() {
    try {
      socket.sendPing(ByteBuffer.allocate(0));
    } catch (IllegalStateException e) {
      // the one before is still on its way: silence will tell
    }
  }

  @Override
  public CompletionStage<?> onPong(WebSocket from, ByteBuffer message) {
    lastHeard = System.nanoTime();
    from.request(1);
    return null;
  }

  /** Sends a message if the service has said welcome; what is lost is told again later. */
  void send(FromAgent message) {
    if (welcomed) {
      sendNow(message);
    }
  }

  /** What comes while a frame is on its way goes out together with the next. */
  private synchronized void sendNow(FromAgent message) {
    queue.add(JSON.writerFor(FromAgent.class).writeValueAsString(message));
    if (!sending) {
      sendQueue(socket);
    }
  }

  private synchronized void sendQueue(WebSocket current) {
    sending = !queue.isEmpty();
    if (!sending || current != socket) {
      return;
    }
    StringBuilder frame = new StringBuilder("[");
    while (!queue.isEmpty() && frame.length() < FRAME) {
      frame.append(frame.length() == 1 ? "" : ",").append(queue.poll());
    }
    current
        .sendText(frame.append("]"), true)
        .whenComplete(
            (done, failed) -> {
              if (failed == null) {
                sendQueue(current);
              } else {
                current.abort();
                closed.complete(String.valueOf(failed.getMessage()));
              }
            });
  }

  @Override
  public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
    lastHeard = System.nanoTime();
    partial.append(data);
    if (last) {
      String text = partial.toString();
      partial.setLength(0);
      try {
        JSON.readTree(text).forEach(this::take);
      } catch (JacksonException e) {
        AgentLog.warn("the service said something that is not a message: " + e.getMessage());
      }
    }
    from.request(1);
    return null;
  }

  private void take(JsonNode message) {
    try {
      take(JSON.treeToValue(message, ToAgent.class));
    } catch (JacksonException e) {
      AgentLog.warn("the service said something that this agent does not know: " + e.getMessage());
    } catch (RuntimeException e) {
      AgentLog.warn("cannot do what the service said: " + e);
    }
  }

  private void take(ToAgent message) {
    message.accept(told);
  }

  /** What is done with each kind of message. */
  private final class Told implements ToAgent.Visitor<Void> {
    @Override
    public Void visit(ToAgent.Welcome message) {
      welcome(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.Start message) {
      if (epoch.obeys(message.epoch())) {
        attempts.start(message);
      }
      return null;
    }

    @Override
    public Void visit(ToAgent.Stop message) {
      if (epoch.obeys(message.epoch())) {
        attempts.stop(message);
      }
      return null;
    }

    @Override
    public Void visit(ToAgent.Recorded message) {
      attempts.recorded(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.OutputTaken message) {
      attempts.outputTaken(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.Look message) {
      watches.look(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.FoundTaken message) {
      watches.taken(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.Tidy message) {
      if (epoch.obeys(message.epoch())) {
        watches.tidy(message);
      }
      return null;
    }

    @Override
    public Void visit(ToAgent.Try message) {
      watches.tryOut(message);
      return null;
    }

    @Override
    public Void visit(ToAgent.Notify message) {
      if (epoch.obeys(message.epoch())) {
        notices.hand(message);
      }
      return null;
    }

    @Override
    public Void visit(ToAgent.Reach message) {
      if (epoch.obeys(message.epoch())) {
        roads.reach(message);
      }
      return null;
    }
  }

  private void welcome(ToAgent.Welcome welcome) {
    if (!epoch.obeys(welcome.epoch())) {
      WebSocket current = socket;
      closed.complete("this service is not the active one any more");
      current.abort();
      return;
    }
    welcomed = true;
    AgentLog.info(
        "connected (" + welcome.version() + ", epoch " + welcome.epoch() + ") as " + host);
    attempts.connectionIsNew();
    watches.connected(welcome.clock());
  }

  @Override
  public CompletionStage<?> onClose(WebSocket from, int code, String reason) {
    closed.complete("the service closed the connection" + (reason.isEmpty() ? "" : ": " + reason));
    return null;
  }

  @Override
  public void onError(WebSocket from, Throwable error) {
    closed.complete(explain(error));
  }
}

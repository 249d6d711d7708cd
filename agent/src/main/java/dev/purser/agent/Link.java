package dev.purser.agent;

import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.net.http.WebSocketHandshakeException;
import java.time.Duration;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** The connection to the service: dials out, says hello, and dials again when it is cut. */
final class Link implements WebSocket.Listener {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final long FIRST_PAUSE_MILLIS = 200;
  private static final long LONGEST_PAUSE_MILLIS = 5_000;
  private static final Duration ALIVE_EVERY = Duration.ofSeconds(3);
  private static final String VERSION = "0.1.0";

  private final URI service;
  private final String host;
  private final String key;
  private final String instance;
  private final Set<String> labels;
  private final HttpClient http =
      HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();

  private final StringBuilder partial = new StringBuilder();
  private Attempts attempts;
  private FileWatches watches;
  private volatile WebSocket socket;
  private volatile boolean welcomed;
  private CompletableFuture<?> sending = CompletableFuture.completedFuture(null);
  private volatile CompletableFuture<String> closed = new CompletableFuture<>();

  /**
   * @param service the service's address, http or https
   */
  Link(URI service, String host, String key, String instance, Set<String> labels) {
    this.service = service;
    this.host = host;
    this.key = key;
    this.instance = instance;
    this.labels = labels;
  }

  void serve(Attempts attempts, FileWatches watches) {
    this.attempts = attempts;
    this.watches = watches;
  }

  /** Stays connected until the thread is interrupted. */
  void run() throws InterruptedException {
    long pause = FIRST_PAUSE_MILLIS;
    String lastProblem = "";
    while (!Thread.currentThread().isInterrupted()) {
      String problem;
      try {
        connect();
        pause = FIRST_PAUSE_MILLIS;
        problem = stayAlive();
      } catch (ExecutionException | CompletionException e) {
        problem = explain(e.getCause() == null ? e : e.getCause());
      }
      if (!problem.equals(lastProblem)) {
        AgentLog.warn("not connected to " + service + ": " + problem + "; trying again");
        lastProblem = problem;
      }
      Thread.sleep(pause);
      pause = Math.min(pause * 2, LONGEST_PAUSE_MILLIS);
    }
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

  private void connect() throws ExecutionException, InterruptedException {
    closed = new CompletableFuture<>();
    partial.setLength(0);
    welcomed = false;
    String scheme = "https".equals(service.getScheme()) ? "wss" : "ws";
    URI address = URI.create(scheme + "://" + service.getAuthority() + Enrolment.LINK_PATH);
    WebSocket fresh =
        http.newWebSocketBuilder()
            .header("Authorization", "Bearer " + key)
            .header(Enrolment.HOST_HEADER, host)
            .header(Enrolment.INSTANCE_HEADER, instance)
            .connectTimeout(Duration.ofSeconds(10))
            .buildAsync(address, this)
            .get();
    synchronized (this) {
      sending = CompletableFuture.completedFuture(null);
      socket = fresh;
    }
    watches.clear();
    sendNow(
        new FromAgent.Hello(
            FromAgent.PROTOCOL, VERSION, labels, System.currentTimeMillis(), attempts.known()));
  }

  private String stayAlive() throws InterruptedException {
    while (true) {
      try {
        return closed.get(ALIVE_EVERY.toMillis(), TimeUnit.MILLISECONDS);
      } catch (TimeoutException e) {
        send(new FromAgent.Alive(System.currentTimeMillis()));
      } catch (ExecutionException e) {
        return String.valueOf(e.getCause().getMessage());
      }
    }
  }

  /** Sends a message if the service has said welcome; what is lost is told again later. */
  void send(FromAgent message) {
    if (welcomed) {
      sendNow(message);
    }
  }

  private synchronized void sendNow(FromAgent message) {
    WebSocket current = socket;
    String text = JSON.writerFor(FromAgent.class).writeValueAsString(message);
    sending =
        sending.handle((done, failed) -> null).thenCompose(done -> current.sendText(text, true));
    sending.exceptionally(
        failed -> {
          current.abort();
          closed.complete(String.valueOf(failed.getMessage()));
          return null;
        });
  }

  @Override
  public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
    partial.append(data);
    if (last) {
      String text = partial.toString();
      partial.setLength(0);
      try {
        take(JSON.readValue(text, ToAgent.class));
      } catch (JacksonException e) {
        AgentLog.warn(
            "the service said something that this agent does not know: " + e.getMessage());
      } catch (RuntimeException e) {
        AgentLog.warn("cannot do what the service said: " + e);
      }
    }
    from.request(1);
    return null;
  }

  private void take(ToAgent message) {
    if (message instanceof ToAgent.Start start) {
      attempts.start(start);
    } else if (message instanceof ToAgent.Stop stop) {
      attempts.stop(stop);
    } else if (message instanceof ToAgent.Recorded recorded) {
      attempts.recorded(recorded.run(), recorded.attempt());
    } else if (message instanceof ToAgent.OutputTaken taken) {
      attempts.outputTaken(taken);
    } else if (message instanceof ToAgent.Watch watch) {
      watches.watch(watch);
    } else if (message instanceof ToAgent.Unwatch unwatch) {
      watches.unwatch(unwatch);
    } else if (message instanceof ToAgent.Ignore ignore) {
      watches.ignore(ignore);
    } else if (message instanceof ToAgent.Welcome welcome) {
      attempts.connectionIsNew();
      welcomed = true;
      AgentLog.info("connected to " + service + " (" + welcome.version() + ") as " + host);
    }
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

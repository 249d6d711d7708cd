package dev.purser.bench.load;

import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.atomic.AtomicLong;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * An agent as the service sees one. Its work is over at once, with a line of output; like the real
 * one it holds back when too much of what it told is not recorded yet.
 */
final class SimulatedAgent implements WebSocket.Listener {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int WINDOW = 256;
  private static final int FRAME = 256 * 1024;

  final String host;
  private final AtomicLong recorded;
  private final StringBuilder partial = new StringBuilder();
  private final Deque<String> queue = new ArrayDeque<>();
  private final Deque<FromAgent.Ended> ends = new ArrayDeque<>();
  private final CompletableFuture<Void> welcomed = new CompletableFuture<>();
  private int unrecorded;
  private boolean sending;
  private WebSocket socket;
  private volatile String closed = "";

  /**
   * An agent.
   *
   * @param recorded counts the ends that are on record
   */
  SimulatedAgent(String host, AtomicLong recorded) {
    this.host = host;
    this.recorded = recorded;
  }

  void connect(HttpClient http, URI service, String key) {
    socket =
        http.newWebSocketBuilder()
            .header("Authorization", "Bearer " + key)
            .header(Enrolment.HOST_HEADER, host)
            .header(Enrolment.INSTANCE_HEADER, host)
            .buildAsync(URI.create("ws://" + service.getAuthority() + Enrolment.LINK_PATH), this)
            .join();
    send(
        new FromAgent.Hello(
            FromAgent.PROTOCOL,
            "simulated",
            Set.of("fleet"),
            System.currentTimeMillis(),
            0,
            FromAgent.Machine.UNKNOWN,
            List.of()));
    welcomed.join();
  }

  /** Why it is not connected any more; empty where it is. */
  String closed() {
    return closed;
  }

  void alive() {
    send(new FromAgent.Alive(System.currentTimeMillis(), FromAgent.Machine.UNKNOWN));
  }

  private synchronized void send(FromAgent message) {
    queue.add(JSON.writerFor(FromAgent.class).writeValueAsString(message));
    if (!sending) {
      sendQueue();
    }
  }

  private synchronized void sendQueue() {
    sending = !queue.isEmpty();
    if (!sending) {
      return;
    }
    StringBuilder frame = new StringBuilder("[");
    while (!queue.isEmpty() && frame.length() < FRAME) {
      frame.append(frame.length() == 1 ? "" : ",").append(queue.poll());
    }
    socket.sendText(frame.append("]"), true).thenRun(this::sendQueue);
  }

  @Override
  public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
    partial.append(data);
    if (last) {
      for (JsonNode message : JSON.readTree(partial.toString())) {
        take(JSON.treeToValue(message, ToAgent.class));
      }
      partial.setLength(0);
    }
    from.request(1);
    return null;
  }

  private synchronized void take(ToAgent message) {
    if (message instanceof ToAgent.Start start) {
      long now = System.currentTimeMillis();
      byte[] output =
          ("run " + start.run() + " on " + host + ", attempt " + start.attempt() + "\n")
              .getBytes(StandardCharsets.UTF_8);
      ends.add(
          new FromAgent.Ended(
              start.run(), start.attempt(), "exited", 0, "", now, now, Map.of(), output));
      tell();
    } else if (message instanceof ToAgent.Recorded) {
      unrecorded--;
      recorded.incrementAndGet();
      tell();
    } else if (message instanceof ToAgent.Welcome) {
      welcomed.complete(null);
    }
  }

  private void tell() {
    while (!ends.isEmpty() && unrecorded < WINDOW) {
      unrecorded++;
      send(ends.poll());
    }
  }

  @Override
  public CompletionStage<?> onClose(WebSocket from, int code, String reason) {
    closed = "closed: " + reason;
    welcomed.completeExceptionally(new IllegalStateException(closed));
    return null;
  }

  @Override
  public void onError(WebSocket from, Throwable error) {
    closed = String.valueOf(error);
    welcomed.completeExceptionally(error);
  }
}

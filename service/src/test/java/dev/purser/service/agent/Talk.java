package dev.purser.service.agent;

import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.agent.FromAgent;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import tools.jackson.databind.json.JsonMapper;

/** An agent's connection, spoken by hand. */
public final class Talk implements WebSocket.Listener {
  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static final JsonMapper JSON = new JsonMapper();

  final CompletableFuture<String> closed = new CompletableFuture<>();
  private final BlockingQueue<String> heard = new LinkedBlockingQueue<>();
  private final StringBuilder part = new StringBuilder();
  private WebSocket socket;

  /** Connects. */
  public static Talk connect(int port, String host, String key, String instance) throws Exception {
    Talk fresh = new Talk();
    fresh.socket =
        HTTP.newWebSocketBuilder()
            .header("Authorization", "Bearer " + key)
            .header(Enrolment.HOST_HEADER, host)
            .header(Enrolment.INSTANCE_HEADER, instance)
            .buildAsync(URI.create("ws://127.0.0.1:" + port + Enrolment.LINK_PATH), fresh)
            .get(20, TimeUnit.SECONDS);
    return fresh;
  }

  /** The first message. */
  public static String hello(long clock, long epoch) {
    return hello(FromAgent.PROTOCOL, clock, epoch);
  }

  public static String hello(int protocol, long clock, long epoch) {
    return "[{\"type\":\"hello\",\"protocol\":"
        + protocol
        + ",\"version\":\"9.9\",\"labels\":[],\"clock\":"
        + clock
        + ",\"epoch\":"
        + epoch
        + ",\"attempts\":[]}]";
  }

  @Override
  public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
    part.append(data);
    if (last) {
      // one by one: whether two messages share a frame is a matter of moments
      JSON.readTree(part.toString()).forEach(message -> heard.add(message.toString()));
      part.setLength(0);
    }
    from.request(1);
    return null;
  }

  @Override
  public CompletionStage<?> onClose(WebSocket from, int code, String reason) {
    closed.complete(reason);
    return null;
  }

  @Override
  public void onError(WebSocket from, Throwable error) {
    closed.complete("cut: " + error.getMessage());
  }

  /** Says a frame. */
  public void say(String text) throws Exception {
    socket.sendText(text, true).get(10, TimeUnit.SECONDS);
  }

  /** A piece of a message that goes on. */
  void sayPart(String text) throws Exception {
    socket.sendText(text, false).get(10, TimeUnit.SECONDS);
  }

  /** Cuts the connection. */
  public void hangUp() {
    socket.abort();
  }

  String closedBecause() throws Exception {
    return closed.get(15, TimeUnit.SECONDS);
  }

  /** Waits for a message with some text in it; those before it are passed over. */
  public String awaitMessage(String with) throws Exception {
    for (int i = 0; i < 200; i++) {
      String message = heard.poll(100, TimeUnit.MILLISECONDS);
      if (message != null && message.contains(with)) {
        return message;
      }
    }
    throw new AssertionError("never heard " + with);
  }
}

package dev.purser.service.road;

import dev.purser.wire.agent.Enrolment;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.web.socket.BinaryMessage;
import org.springframework.web.socket.CloseStatus;
import org.springframework.web.socket.WebSocketSession;
import org.springframework.web.socket.handler.BinaryWebSocketHandler;

/** This end of roads: carries bytes between connections of this machine and those of agents. */
@Component
public class RoadHandler extends BinaryWebSocketHandler {
  private static final Logger LOG = LoggerFactory.getLogger(RoadHandler.class);
  private static final int PIECE = 32 * 1024;

  private final Roads roads;
  private final Map<String, Carried> carried = new ConcurrentHashMap<>();

  RoadHandler(Roads roads) {
    this.roads = roads;
  }

  @Override
  public boolean supportsPartialMessages() {
    return true; // what is carried has no messages
  }

  @Override
  public void afterConnectionEstablished(WebSocketSession session) throws IOException {
    String path = session.getUri() == null ? "" : session.getUri().getPath();
    String id = path.substring(path.indexOf(Enrolment.ROAD_PATH) + Enrolment.ROAD_PATH.length());
    String host = String.valueOf(session.getAttributes().get("host"));
    Optional<Carried> asked = roads.take(host, id);
    if (asked.isEmpty()) {
      session.close(CloseStatus.POLICY_VIOLATION.withReason("nobody asked for this road"));
      return;
    }
    carried.put(session.getId(), asked.get());
    Thread thread = new Thread(() -> carry(asked.get(), session), "road from " + host);
    thread.setDaemon(true);
    thread.start();
  }

  private static void carry(Carried from, WebSocketSession to) {
    try (InputStream in = from.in()) {
      byte[] piece = new byte[PIECE];
      for (int count = in.read(piece); count >= 0; count = in.read(piece)) {
        to.sendMessage(new BinaryMessage(ByteBuffer.wrap(piece, 0, count)));
      }
      to.close(CloseStatus.NORMAL);
    } catch (IOException | IllegalStateException e) {
      LOG.debug("a road has ended", e);
      close(to);
    }
  }

  /** Waits until it is taken: so the agent is asked for more only then. */
  @Override
  protected void handleBinaryMessage(WebSocketSession session, BinaryMessage message) {
    Carried one = carried.get(session.getId());
    if (one == null) {
      return;
    }
    try {
      byte[] bytes = new byte[message.getPayloadLength()];
      message.getPayload().get(bytes);
      OutputStream out = one.socket().getOutputStream();
      out.write(bytes);
      out.flush();
    } catch (IOException e) {
      LOG.debug("a road has ended", e);
      close(session);
    }
  }

  private static void close(WebSocketSession session) {
    try {
      session.close();
    } catch (IOException e) {
      LOG.debug("a road was closed already", e);
    }
  }

  @Override
  public void afterConnectionClosed(WebSocketSession session, CloseStatus status) {
    Carried one = carried.remove(session.getId());
    if (one != null) {
      RoadPort.hangUp(one.socket());
    }
  }
}

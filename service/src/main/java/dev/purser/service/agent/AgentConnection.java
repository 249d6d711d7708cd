package dev.purser.service.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;
import java.util.concurrent.Executor;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.web.socket.CloseStatus;
import org.springframework.web.socket.TextMessage;
import org.springframework.web.socket.WebSocketSession;
import tools.jackson.databind.json.JsonMapper;

/**
 * One agent's connection. What it is told waits in a line of its own and is sent by the senders'
 * threads, as many messages a frame as have come together: a slow agent keeps nobody waiting.
 */
final class AgentConnection {
  private static final Logger LOG = LoggerFactory.getLogger(AgentConnection.class);
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int FRAME = 256 * 1024;
  private static final int LONGEST_LINE = 50_000;
  private static final int LARGEST_FRAME = 8 * 1024 * 1024;

  final String host;
  final String instance;
  final Instant since;
  volatile ToAgent.Look look;
  volatile long lastSeen;

  /** How far the host's clock is ahead of ours, in milliseconds. */
  volatile long ahead;

  private final long offset;

  volatile FromAgent.Machine machine = FromAgent.Machine.UNKNOWN;
  volatile boolean greeted;

  /** Whether it has been told that it is welcome; nothing is said before. */
  volatile boolean welcomed;

  private final WebSocketSession session;
  private final Executor senders;
  private final StringBuilder heard = new StringBuilder();
  private final Deque<ToAgent> line = new ArrayDeque<>();
  private boolean sending;
  private boolean closed;

  /**
   * A connection that has just been made.
   *
   * @param offset how far our own clock is ahead of the machine's, in milliseconds
   */
  AgentConnection(WebSocketSession session, Executor senders, Instant since, long offset) {
    this.offset = offset;
    this.session = session;
    this.senders = senders;
    this.host = host(session);
    this.instance = (String) session.getAttributes().get("instance");
    this.since = since;
    this.lastSeen = since.toEpochMilli();
  }

  /** How wrong the host's clock is, in milliseconds: what people should look after. */
  long clockDifference() {
    return ahead + offset;
  }

  static String host(WebSocketSession session) {
    return (String) session.getAttributes().get("host");
  }

  boolean is(WebSocketSession other) {
    return session.getId().equals(other.getId());
  }

  boolean isOpen() {
    return session.isOpen();
  }

  /**
   * Takes a piece of a frame; the connection's own thread calls it.
   *
   * @return the frame, once it is whole
   */
  Optional<String> hear(TextMessage piece) {
    if (heard.length() + piece.getPayloadLength() > LARGEST_FRAME) {
      heard.setLength(0);
      close("a message was larger than " + LARGEST_FRAME / 1024 / 1024 + " MB");
      return Optional.empty();
    }
    if (heard.isEmpty() && piece.isLast()) {
      return Optional.of(piece.getPayload());
    }
    heard.append(piece.getPayload());
    if (!piece.isLast()) {
      return Optional.empty();
    }
    String whole = heard.toString();
    heard.setLength(0);
    heard.trimToSize();
    return Optional.of(whole);
  }

  /** Puts a message in the line; never waits. */
  void send(ToAgent message) {
    boolean tooLong;
    synchronized (this) {
      if (closed) {
        return;
      }
      line.add(message);
      tooLong = line.size() > LONGEST_LINE;
      if (sending && !tooLong) {
        return;
      }
      sending = true;
    }
    if (tooLong) {
      close("the agent does not take what it is told");
    } else {
      senders.execute(this::sendLine);
    }
  }

  private void sendLine() {
    try {
      String frame = nextFrame();
      while (!frame.isEmpty()) {
        session.sendMessage(new TextMessage(frame));
        frame = nextFrame();
      }
    } catch (IOException | RuntimeException e) {
      LOG.info("cannot send to host {}: {}", host, e.toString());
      close("sending failed");
    }
  }

  private String nextFrame() {
    StringBuilder frame = new StringBuilder();
    while (frame.length() < FRAME) {
      ToAgent message;
      synchronized (this) {
        message = closed ? null : line.poll();
        if (message == null) {
          sending = !frame.isEmpty();
          break;
        }
      }
      frame.append(frame.isEmpty() ? "[" : ",");
      frame.append(JSON.writerFor(ToAgent.class).writeValueAsString(message));
    }
    return frame.isEmpty() ? "" : frame.append("]").toString();
  }

  /** Closes it, on a thread of the senders: closing waits for the other side. */
  void close(String reason) {
    synchronized (this) {
      if (closed) {
        return;
      }
      closed = true;
      line.clear();
    }
    senders.execute(
        () -> {
          try {
            session.close(CloseStatus.NORMAL.withReason(reason));
          } catch (IOException | RuntimeException e) {
            LOG.debug("closing failed", e);
          }
        });
  }
}

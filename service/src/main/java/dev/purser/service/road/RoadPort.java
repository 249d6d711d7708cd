package dev.purser.service.road;

import java.io.IOException;
import java.io.PushbackInputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A port of this machine, open to this process alone, from which a road leads to one address. */
final class RoadPort {
  private static final Logger LOG = LoggerFactory.getLogger(RoadPort.class);
  private static final long IDLE_MILLIS = 600_000;
  private static final int LONGEST_HEAD = 16 * 1024;
  private static final byte[] CONNECT = "CONNECT ".getBytes(StandardCharsets.US_ASCII);
  private static final byte[] THROUGH =
      "HTTP/1.1 200 Connection established\r\n\r\n".getBytes(StandardCharsets.US_ASCII);

  private final Roads.Target target;
  private final Roads roads;
  private final ServerSocket door;
  private volatile long used = System.nanoTime();
  private volatile long reached = System.nanoTime() - IDLE_MILLIS * 1_000_000;

  RoadPort(Roads.Target target, Roads roads) throws IOException {
    this.target = target;
    this.roads = roads;
    this.door = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    thread("road to " + target.address(), this::accept);
  }

  private static void thread(String name, Runnable work) {
    Thread thread = new Thread(work, name);
    thread.setDaemon(true);
    thread.start();
  }

  /** Where it listens. */
  InetSocketAddress address() {
    used = System.nanoTime();
    return new InetSocketAddress(door.getInetAddress(), door.getLocalPort());
  }

  /** Whether it is not known, since so long, that the address can be reached. */
  boolean isUnsure(long millis) {
    return System.nanoTime() - reached > millis * 1_000_000;
  }

  /** It is. */
  void isReached() {
    reached = System.nanoTime();
  }

  boolean isIdle() {
    return System.nanoTime() - used > IDLE_MILLIS * 1_000_000;
  }

  private void accept() {
    while (!door.isClosed()) {
      try {
        Socket socket = door.accept();
        used = System.nanoTime();
        thread("road from " + target.host(), () -> begin(socket));
      } catch (IOException e) {
        if (!door.isClosed()) {
          LOG.warn("a road cannot be taken: {}", e.getMessage());
        }
      }
    }
  }

  private void begin(Socket socket) {
    try {
      if (!OwnConnections.isOwn(socket)) {
        LOG.warn("another process tried to use the road to {}", target.address());
        socket.close();
        return;
      }
      socket.setTcpNoDelay(true);
      PushbackInputStream in = new PushbackInputStream(socket.getInputStream(), CONNECT.length);
      boolean asksForRoad = target.asProxy() && beginsWithConnect(in);
      if (asksForRoad) {
        skipHead(in);
      }
      roads.begin(target, new Carried(socket, in));
      if (asksForRoad) {
        socket.getOutputStream().write(THROUGH); // it is through before the answer says so
      }
    } catch (IOException e) {
      LOG.info("the road to {} is blocked: {}", target.address(), e.getMessage());
      hangUp(socket);
    }
  }

  /** Whatever does not begin with it is for the address itself, and is left to be read. */
  private static boolean beginsWithConnect(PushbackInputStream in) throws IOException {
    byte[] first = new byte[CONNECT.length];
    int count = in.readNBytes(first, 0, first.length);
    boolean same = count == first.length && Arrays.equals(first, CONNECT);
    if (!same) {
      in.unread(first, 0, count);
    }
    return same;
  }

  /** Up to the empty line: where it leads is known. */
  private static void skipHead(PushbackInputStream in) throws IOException {
    int newLines = 0;
    for (int count = 0; newLines < 2; count++) {
      int next = in.read();
      if (next < 0 || count > LONGEST_HEAD) {
        throw new IOException("a request without an end");
      }
      newLines = next == '\n' ? newLines + 1 : next == '\r' ? newLines : 0;
    }
  }

  static void hangUp(Socket socket) {
    try {
      socket.close();
    } catch (IOException e) {
      LOG.debug("a connection was closed already", e);
    }
  }

  void close() {
    try {
      door.close();
    } catch (IOException e) {
      LOG.debug("a port was closed already", e);
    }
  }
}

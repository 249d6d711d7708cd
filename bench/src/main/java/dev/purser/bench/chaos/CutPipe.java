package dev.purser.bench.chaos;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** A way to a local port that can be cut: what was said and not yet heard is gone. */
final class CutPipe implements AutoCloseable {
  private final ServerSocket door;
  private final int target;
  private final Set<Socket> open = ConcurrentHashMap.newKeySet();
  private volatile long refuseUntil;

  CutPipe(int target) throws IOException {
    this.target = target;
    this.door = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    run("door", this::accept);
  }

  int port() {
    return door.getLocalPort();
  }

  /** Cuts all connections, and lets no new one in for a while. */
  void cut(long forMillis) {
    refuseUntil = System.currentTimeMillis() + forMillis;
    open.forEach(CutPipe::close);
  }

  private void accept() {
    while (!door.isClosed()) {
      try {
        Socket from = door.accept();
        if (System.currentTimeMillis() < refuseUntil) {
          close(from);
        } else {
          run("pipe", () -> join(from));
        }
      } catch (IOException e) {
        return;
      }
    }
  }

  private void join(Socket from) {
    open.add(from);
    try (Socket to = new Socket(InetAddress.getLoopbackAddress(), target)) {
      open.add(to);
      run("pipe back", () -> pump(to, from));
      pump(from, to);
      open.remove(to);
    } catch (IOException e) {
      close(from);
    }
    open.remove(from);
  }

  private static void pump(Socket from, Socket to) {
    try {
      InputStream in = from.getInputStream();
      OutputStream out = to.getOutputStream();
      byte[] some = new byte[16 * 1024];
      for (int n = in.read(some); n >= 0; n = in.read(some)) {
        out.write(some, 0, n);
      }
    } catch (IOException e) {
      // cut: that is what it is for
    }
    close(from);
    close(to);
  }

  private static void run(String name, Runnable work) {
    Thread thread = new Thread(work, name);
    thread.setDaemon(true);
    thread.start();
  }

  private static void close(Socket socket) {
    try {
      socket.setSoLinger(true, 0); // a cut, no goodbye
      socket.close();
    } catch (IOException e) {
      // it is closed already
    }
  }

  @Override
  public void close() throws IOException {
    door.close();
    open.forEach(CutPipe::close);
  }
}

package dev.purser.agent;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Socket;
import java.net.http.WebSocket;
import java.nio.ByteBuffer;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ExecutorService;

/**
 * This end of a road: carries bytes between a connection of this host and one to the service, each
 * as fast as the other takes them.
 */
final class RoadEnd implements WebSocket.Listener {
  private static final int PIECE = 32 * 1024;

  private final Socket there;
  private final ExecutorService threads;

  /** Connects to the service for a road. */
  interface Dialler {
    /** Connects, and completes once it is through. */
    CompletableFuture<WebSocket> dial(String road, WebSocket.Listener end);
  }

  RoadEnd(Socket there, ExecutorService threads) {
    this.there = there;
    this.threads = threads;
  }

  /** Carries until either side ends. */
  void run(Dialler dialler, String road) {
    WebSocket service;
    try {
      service = dialler.dial(road, this).join();
    } catch (CompletionException e) {
      AgentLog.warn("cannot connect for a road: " + e.getCause());
      return;
    }
    try (InputStream in = there.getInputStream()) {
      byte[] piece = new byte[PIECE];
      for (int count = in.read(piece); count >= 0; count = in.read(piece)) {
        service.sendBinary(ByteBuffer.wrap(piece, 0, count), true).join();
      }
      service.sendClose(WebSocket.NORMAL_CLOSURE, "").join();
    } catch (IOException | CompletionException e) {
      service.abort(); // whichever side broke off, the other is told
    }
  }

  /** What the service says goes on before more is asked for. */
  @Override
  public CompletionStage<?> onBinary(WebSocket from, ByteBuffer data, boolean last) {
    byte[] bytes = new byte[data.remaining()];
    data.get(bytes);
    CompletableFuture<Void> done = new CompletableFuture<>();
    threads.execute(
        () -> {
          try {
            OutputStream out = there.getOutputStream();
            out.write(bytes);
            out.flush();
            from.request(1);
          } catch (IOException e) {
            from.abort();
            hangUp();
          } finally {
            done.complete(null);
          }
        });
    return done;
  }

  @Override
  public CompletionStage<?> onClose(WebSocket from, int code, String reason) {
    hangUp();
    return null;
  }

  @Override
  public void onError(WebSocket from, Throwable error) {
    hangUp();
  }

  private void hangUp() {
    try {
      there.close();
    } catch (IOException e) {
      AgentLog.info("a road was closed already");
    }
  }
}

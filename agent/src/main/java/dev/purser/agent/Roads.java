package dev.purser.agent;

import dev.purser.wire.agent.FilesTalk;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.UnknownHostException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;

/**
 * Roads through this host: the service reaches what only this host reaches, and speaks with it
 * itself. Nothing of what goes over a road is read or kept here.
 */
final class Roads implements AutoCloseable {
  private static final int MILLIS_TO_CONNECT = 10_000;
  private static final int MOST = 400;

  private final Consumer<FromAgent> out;
  private final RoadEnd.Dialler dialler;
  private final OwnFiles files;
  private final AtomicInteger open = new AtomicInteger();
  private final ExecutorService threads =
      Executors.newCachedThreadPool(
          work -> {
            Thread thread = new Thread(work, "road");
            thread.setDaemon(true);
            return thread;
          });

  /**
   * @param out takes what is to be told to the service
   * @param dialler connects to the service for a road
   * @param files the host's own
   */
  Roads(Consumer<FromAgent> out, RoadEnd.Dialler dialler, OwnFiles files) {
    this.files = files;
    this.out = out;
    this.dialler = dialler;
  }

  /** Reaches an address, and keeps the connection where that was asked. */
  void reach(ToAgent.Reach asked) {
    try {
      threads.execute(() -> answer(asked));
    } catch (RejectedExecutionException e) {
      AgentLog.info("a road was asked for while the agent is being stopped");
    }
  }

  private void answer(ToAgent.Reach asked) {
    if (open.incrementAndGet() > MOST) {
      open.decrementAndGet();
      out.accept(new FromAgent.Reached(asked.id(), "there are " + MOST + " roads already"));
      return;
    }
    if (isFiles(asked) && !files.problem().isEmpty()) {
      open.decrementAndGet();
      out.accept(new FromAgent.Reached(asked.id(), files.problem()));
      return;
    }
    try (Socket there = isFiles(asked) ? files.door(threads) : connected(asked)) {
      there.setTcpNoDelay(true);
      out.accept(new FromAgent.Reached(asked.id(), ""));
      if (asked.keep()) {
        new RoadEnd(there, threads).run(dialler, asked.id());
      }
    } catch (UnknownHostException e) {
      out.accept(new FromAgent.Reached(asked.id(), "no such host"));
    } catch (IOException | IllegalArgumentException e) {
      out.accept(new FromAgent.Reached(asked.id(), String.valueOf(e.getMessage())));
    } finally {
      open.decrementAndGet();
    }
  }

  private static boolean isFiles(ToAgent.Reach asked) {
    return asked.address().equals(FilesTalk.FILES) && asked.port() == 0;
  }

  private static Socket connected(ToAgent.Reach asked) throws IOException {
    Socket there = new Socket();
    try {
      there.connect(new InetSocketAddress(asked.address(), asked.port()), MILLIS_TO_CONNECT);
      return there;
    } catch (IOException | IllegalArgumentException e) {
      there.close();
      throw e;
    }
  }

  @Override
  public void close() {
    threads.shutdownNow();
  }
}

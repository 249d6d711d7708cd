package dev.purser.service.road;

import dev.purser.remote.http.Road;
import dev.purser.service.board.Engine;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.util.HashMap;
import java.util.Iterator;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Predicate;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * The roads of this service. To whoever uses one it is a port of this machine, open to this process
 * alone; behind it the agent of a host carries the bytes to an address of its own network. What is
 * said over it, signing in and encryption with it, is between the service and that address.
 */
@Component
public class Roads {
  private static final long ANSWERS_IN_MILLIS = 15_000;
  private static final long KNOWN_FOR_MILLIS = 10_000;

  private final Engine engine;
  private final ApplicationEventPublisher publisher;
  private final Map<String, CompletableFuture<String>> asked = new ConcurrentHashMap<>();
  private final Map<String, Pending> pending = new ConcurrentHashMap<>();
  private final Map<Target, RoadPort> ports = new HashMap<>();
  private volatile Predicate<String> isPrivate = host -> false;
  private volatile Predicate<String> isThere = host -> false;

  Roads(Engine engine, ApplicationEventPublisher publisher) {
    this.engine = engine;
    this.publisher = publisher;
  }

  /** Where a road leads. */
  record Target(String host, String address, int port, boolean asProxy) {}

  /** A connection of this machine for which an agent is to connect. */
  private record Pending(String host, Carried carried, long since) {}

  /**
   * How agents are connected.
   *
   * @param there whether the agent of a host is
   * @param privately whether nobody on the way can read what is said
   */
  public void agents(Predicate<String> there, Predicate<String> privately) {
    isThere = there;
    isPrivate = privately;
  }

  /** Whether the agent of a host is there. */
  public boolean isThere(String host) {
    return isThere.test(host);
  }

  /** The road through a host. */
  public Road through(String host) {
    return new Through(host);
  }

  /** A road through a host; two to the same host are the same. */
  private final class Through implements Road {
    private final String host;

    Through(String host) {
      this.host = host;
    }

    @Override
    public boolean isDirect() {
      return false;
    }

    @Override
    public InetSocketAddress to(String address, int port) throws IOException {
      return open(new Target(host, address, port, false));
    }

    @Override
    public InetSocketAddress proxyTo(String address, int port) throws IOException {
      return open(new Target(host, address, port, true));
    }

    @Override
    public boolean equals(Object other) {
      return other instanceof Through one && one.host.equals(host);
    }

    @Override
    public int hashCode() {
      return host.hashCode();
    }
  }

  private InetSocketAddress open(Target target) throws IOException {
    if (!isThere.test(target.host())) {
      throw new Road.BlockedException("the agent of " + target.host() + " is not connected");
    }
    if (!isPrivate.test(target.host())) {
      throw new IOException(
          "the agent of "
              + target.host()
              + " is connected without encryption: no road leads there");
    }
    RoadPort port;
    synchronized (ports) {
      port = ports.get(target);
      if (port == null) {
        port = new RoadPort(target, this);
        ports.put(target, port);
      }
    }
    if (port.isUnsure(KNOWN_FOR_MILLIS)) {
      probe(target);
      port.isReached();
    }
    return port.address();
  }

  /** That it can be reached is known before anything is said. */
  private void probe(Target target) throws Road.BlockedException {
    String problem = ask(target, UUID.randomUUID().toString(), false);
    if (!problem.isEmpty()) {
      throw new Road.BlockedException(
          target.host()
              + " cannot reach "
              + target.address()
              + ":"
              + target.port()
              + ": "
              + problem);
    }
  }

  private String ask(Target target, String id, boolean keep) {
    CompletableFuture<String> answer = new CompletableFuture<>();
    asked.put(id, answer);
    try {
      publisher.publishEvent(
          new RoadAsked(
              target.host(),
              new ToAgent.Reach(engine.epoch(), id, target.address(), target.port(), keep)));
      return answer.get(ANSWERS_IN_MILLIS, TimeUnit.MILLISECONDS);
    } catch (TimeoutException e) {
      return "its agent does not answer";
    } catch (ExecutionException e) {
      return String.valueOf(e.getCause().getMessage());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return "interrupted";
    } finally {
      asked.remove(id);
    }
  }

  /** What an agent says of something that it was asked to reach. */
  public void said(FromAgent.Reached reached) {
    CompletableFuture<String> answer = asked.get(reached.id());
    if (answer != null) {
      answer.complete(reached.problem());
    }
  }

  // ---- connections

  /** Has the agent connect for a connection of this machine, which is closed where it does not. */
  void begin(Target target, Carried carried) throws IOException {
    String id = UUID.randomUUID().toString();
    pending.put(id, new Pending(target.host(), carried, System.nanoTime()));
    String problem = ask(target, id, true);
    if (!problem.isEmpty()) {
      pending.remove(id);
      throw new Road.BlockedException(problem);
    }
  }

  /** The connection for which an agent has connected; empty where it is none of its. */
  Optional<Carried> take(String host, String id) {
    return Optional.ofNullable(pending.remove(id))
        .filter(one -> one.host().equals(host))
        .map(Pending::carried);
  }

  /** What nobody has used for long is closed. */
  @Scheduled(fixedDelayString = "PT1M")
  void tidy() {
    long before = System.nanoTime() - 2 * ANSWERS_IN_MILLIS * 1_000_000;
    pending.values().stream()
        .filter(one -> one.since() < before)
        .forEach(one -> RoadPort.hangUp(one.carried().socket()));
    pending.values().removeIf(one -> one.since() < before);
    synchronized (ports) {
      for (Iterator<RoadPort> all = ports.values().iterator(); all.hasNext(); ) {
        RoadPort port = all.next();
        if (port.isIdle()) {
          port.close();
          all.remove();
        }
      }
    }
  }

  @PreDestroy
  void close() {
    synchronized (ports) {
      ports.values().forEach(RoadPort::close);
      ports.clear();
    }
  }
}

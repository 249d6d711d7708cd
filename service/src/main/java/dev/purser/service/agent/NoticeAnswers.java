package dev.purser.service.agent;

import dev.purser.wire.agent.FromAgent;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;

/** What agents say of the alerts that they were asked to hand to commands. */
@Component
class NoticeAnswers {
  private final Map<Asked, CompletableFuture<FromAgent.Notified>> open = new ConcurrentHashMap<>();

  private record Asked(String host, String id) {}

  /** Asks, and waits for the answer; empty where none comes in time. */
  Optional<FromAgent.Notified> ask(String host, String id, Runnable asking, long waitMillis) {
    Asked asked = new Asked(host, id);
    CompletableFuture<FromAgent.Notified> answer = new CompletableFuture<>();
    open.put(asked, answer);
    try {
      asking.run();
      return Optional.ofNullable(
          answer.completeOnTimeout(null, waitMillis, TimeUnit.MILLISECONDS).join());
    } finally {
      open.remove(asked, answer);
    }
  }

  /** What a host says counts only for what it was asked itself. */
  void said(String host, FromAgent.Notified notified) {
    CompletableFuture<FromAgent.Notified> answer = open.get(new Asked(host, notified.id()));
    if (answer != null) {
      answer.complete(notified);
    }
  }
}

package dev.purser.service.people;

import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** Slows down whoever guesses passwords: after five failures, a wait that doubles with each. */
@Component
public class SignInGuard {
  private static final int FREE = 5;
  private static final int LONGEST_SECONDS = 300;
  private static final int MOST_REMEMBERED = 10_000;

  private final Clock clock;
  private final Map<String, Failures> failures = new ConcurrentHashMap<>();

  SignInGuard(Clock clock) {
    this.clock = clock;
  }

  private record Failures(int count, long until) {}

  /** How long somebody must wait before the next try; zero for not at all. */
  public Duration waitFor(String who) {
    Failures found = failures.get(who);
    long left = found == null ? 0 : found.until() - clock.millis();
    return Duration.ofMillis(Math.max(0, left));
  }

  /** Notes a failure. */
  public void failed(String who) {
    if (failures.size() > MOST_REMEMBERED) {
      failures.values().removeIf(one -> one.until() < clock.millis());
    }
    failures.merge(who, new Failures(1, 0), (old, one) -> next(old.count() + 1));
  }

  private Failures next(int count) {
    int seconds = count < FREE ? 0 : Math.min(LONGEST_SECONDS, 1 << Math.min(count - FREE, 10));
    return new Failures(count, clock.millis() + seconds * 1000L);
  }

  /** Forgets the failures of somebody who has signed in. */
  public void succeeded(String who) {
    failures.remove(who);
  }
}

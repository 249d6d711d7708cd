package dev.purser.service.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.purser.service.active.GrowingWait;
import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;

/** Slows down whoever guesses passwords: after five failures, a wait that doubles with each. */
@Component
public class SignInGuard {
  private static final int FREE = 5;
  private static final GrowingWait WAITS =
      new GrowingWait(Duration.ofSeconds(1), Duration.ofMinutes(5));
  private static final int MOST_REMEMBERED = 10_000;
  private static final Duration REMEMBERED = Duration.ofHours(1);

  private final Clock clock;
  private final Cache<String, Failures> failures;

  SignInGuard(Clock clock) {
    this.clock = clock;
    this.failures =
        Caffeine.newBuilder()
            .maximumSize(MOST_REMEMBERED)
            .expireAfterWrite(REMEMBERED)
            .ticker(() -> TimeUnit.MILLISECONDS.toNanos(clock.millis()))
            .build();
  }

  private record Failures(int count, long until) {}

  /** How long somebody must wait before the next try; zero for not at all. */
  public Duration waitFor(String who) {
    Failures found = failures.getIfPresent(who);
    long left = found == null ? 0 : found.until() - clock.millis();
    return Duration.ofMillis(Math.max(0, left));
  }

  /** Notes a failure. */
  public void failed(String who) {
    failures.asMap().merge(who, new Failures(1, 0), (old, one) -> next(old.count() + 1));
  }

  private Failures next(int count) {
    long wait = count < FREE ? 0 : WAITS.after(count - FREE).toMillis();
    return new Failures(count, clock.millis() + wait);
  }

  /** Forgets the failures of somebody who has signed in. */
  public void succeeded(String who) {
    failures.invalidate(who);
  }
}

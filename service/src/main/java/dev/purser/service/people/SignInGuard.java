package dev.purser.service.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.purser.service.active.GrowingWait;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;

/**
 * Slows down whoever guesses passwords: failures are counted for the person at an address, for the
 * address with whatever names, and for the name from wherever; each has some that are free, and
 * then a wait that doubles. Who has signed in from an address before is known there: only their own
 * failures there count, so that nobody keeps them out by failing in their name.
 */
@Component
public class SignInGuard {
  private static final int FREE_OF_PERSON_THERE = 5;
  private static final int FREE_OF_MANY = 20;
  private static final GrowingWait WAITS =
      new GrowingWait(Duration.ofSeconds(1), Duration.ofMinutes(5));
  private static final int MOST_REMEMBERED = 30_000;
  private static final Duration REMEMBERED = Duration.ofHours(1);

  private final Clock clock;
  private final Cache<Budget, Failures> failures;

  SignInGuard(Clock clock) {
    this.clock = clock;
    this.failures =
        Caffeine.newBuilder()
            .maximumSize(MOST_REMEMBERED)
            .expireAfterWrite(REMEMBERED)
            .ticker(() -> TimeUnit.MILLISECONDS.toNanos(clock.millis()))
            .build();
  }

  /**
   * Somebody at the door.
   *
   * @param address of an IPv6 network the first half counts, for one machine has all of the rest
   * @param known whether this person has signed in from there before
   */
  public record Comer(String name, String address, boolean known) {
    /** Cuts what is more of the address than counts. */
    public Comer {
      address = network(address);
    }

    private static String network(String address) {
      String[] parts = address.split(":", -1);
      return parts.length <= 4 ? address : String.join(":", List.of(parts).subList(0, 4)) + "::";
    }

    private List<Budget> budgets() {
      Budget there = new Budget(name, address, FREE_OF_PERSON_THERE);
      return known
          ? List.of(there)
          : List.of(
              there, new Budget("", address, FREE_OF_MANY), new Budget(name, "", FREE_OF_MANY));
    }
  }

  private record Budget(String name, String address, int free) {}

  private record Failures(int count, long until) {}

  /** How long somebody must wait before the next try; zero for not at all. */
  public Duration waitFor(Comer comer) {
    return comer.budgets().stream()
        .map(this::waitFor)
        .max(Duration::compareTo)
        .orElse(Duration.ZERO);
  }

  private Duration waitFor(Budget budget) {
    Failures found = failures.getIfPresent(budget);
    long left = found == null ? 0 : found.until() - clock.millis();
    return Duration.ofMillis(Math.max(0, left));
  }

  /** Notes a failure. */
  public void failed(Comer comer) {
    for (Budget budget : comer.budgets()) {
      failures.asMap().merge(budget, next(budget, 1), (old, one) -> next(budget, old.count() + 1));
    }
  }

  private Failures next(Budget budget, int count) {
    long wait = count < budget.free() ? 0 : WAITS.after(count - budget.free()).toMillis();
    return new Failures(count, clock.millis() + wait);
  }

  /** Forgets what somebody who has signed in failed at before, there. */
  public void succeeded(Comer comer) {
    failures.invalidate(new Budget(comer.name(), comer.address(), FREE_OF_PERSON_THERE));
  }

  /** Forgets all failures with a name: an administrator has let them in again. */
  public void forget(String name) {
    failures.asMap().keySet().removeIf(budget -> budget.name().equals(name));
  }

  /** Forgets everything. */
  void clear() {
    failures.invalidateAll();
  }
}

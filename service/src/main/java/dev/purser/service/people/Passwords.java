package dev.purser.service.people;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.active.NotNow;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;

/**
 * Hashes passwords with Argon2id. One hash costs 16 MiB and a good part of a second on purpose, so
 * that only a few are worked out at once and nobody who waits for one holds anything of the
 * database: a crowd at the door costs those inside nothing.
 */
@Component
public class Passwords {
  private static final int SHORTEST = 12;
  private static final int AT_ONCE = 2;
  private static final int MOST_WAITING = 16;
  private static final long LONGEST_WAIT_SECONDS = 5;

  /** A hash that no password has, to compare with where there is no such person. */
  private static final String NOBODY =
      "$argon2id$v=19$m=16384,t=2,p=1$c29tZXNhbHRzb21lc2FsdA"
          + "$5nNqCqXnUwfnSLSpKXn5Yp3mYGlBPXrxWkVEbRUiV2k";

  private final PasswordEncoder encoder = Argon2PasswordEncoder.defaultsForSpringSecurity_v5_8();
  private final Semaphore places = new Semaphore(AT_ONCE, true);

  /**
   * The hash of a new password.
   *
   * @throws NotUnderstood where it is too short
   * @throws NotNow where too many sign in at once
   */
  public String hash(String password) {
    if (password.length() < SHORTEST) {
      throw new NotUnderstood(
          "the password is too short; it needs at least " + SHORTEST + " characters");
    }
    return inTurn(() -> encoder.encode(password));
  }

  /**
   * Whether a password is that of a hash; takes as long for nobody's as for somebody's.
   *
   * @param hash empty for nobody
   * @throws NotNow where too many sign in at once
   */
  public boolean matches(String password, Optional<String> hash) {
    return inTurn(() -> encoder.matches(password, hash.orElse(NOBODY))) && hash.isPresent();
  }

  private <T> T inTurn(Supplier<T> work) {
    if (places.getQueueLength() >= MOST_WAITING || !hasPlace()) {
      throw new NotNow("too many people are signing in at once; try again in a few seconds");
    }
    try {
      return work.get();
    } finally {
      places.release();
    }
  }

  private boolean hasPlace() {
    try {
      return places.tryAcquire(LONGEST_WAIT_SECONDS, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }
}

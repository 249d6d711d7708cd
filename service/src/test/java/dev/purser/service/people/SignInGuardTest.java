package dev.purser.service.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Clock;
import java.time.Duration;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SignInGuardTest {
  private final Clock clock = mock(Clock.class);
  private final SignInGuard guard = new SignInGuard(clock);

  @BeforeEach
  void begin() {
    when(clock.millis()).thenReturn(1_000_000L);
  }

  private Duration afterFailures(int failures) {
    for (int i = 0; i < failures; i++) {
      guard.failed("ida 10.0.0.1");
    }
    return guard.waitFor("ida 10.0.0.1");
  }

  @Test
  void fourMistakesAreFreeAndThenTheWaitDoubles() {
    assertThat(afterFailures(4)).isZero();
    assertThat(afterFailures(1)).isEqualTo(Duration.ofSeconds(1));
    assertThat(afterFailures(1)).isEqualTo(Duration.ofSeconds(2));
    assertThat(afterFailures(1)).isEqualTo(Duration.ofSeconds(4));
    assertThat(afterFailures(30)).isEqualTo(Duration.ofMinutes(5));
  }

  @Test
  void theWaitPassesAndSuccessForgetsEverything() {
    assertThat(afterFailures(6)).isPositive();
    assertThat(guard.waitFor("ola 10.0.0.1")).isZero();
    when(clock.millis()).thenReturn(1_002_000L);
    assertThat(guard.waitFor("ida 10.0.0.1")).isZero();
    guard.succeeded("ida 10.0.0.1");
    assertThat(afterFailures(4)).isZero();
  }

  /** Who tries one name a thousand times is not forgotten for trying others in between. */
  @Test
  void tryingOtherNamesMakesNobodyForgotten() {
    assertThat(afterFailures(8)).isEqualTo(Duration.ofSeconds(8));
    for (int i = 0; i < 9_000; i++) {
      guard.failed("name " + i + " 10.0.0.1");
    }
    assertThat(guard.waitFor("ida 10.0.0.1")).isEqualTo(Duration.ofSeconds(8));
    when(clock.millis()).thenReturn(1_000_000L + Duration.ofMinutes(61).toMillis());
    assertThat(afterFailures(4)).isZero();
  }

  @Test
  void secretsAreLongDifferentAndTypable() {
    assertThat(Secrets.fresh()).hasSize(43).isNotEqualTo(Secrets.fresh());
    assertThat(Secrets.password()).matches("[a-z2-9]{20}").doesNotContain("l", "o", "i");
    assertThat(Secrets.hash("abc"))
        .isEqualTo("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
  }
}

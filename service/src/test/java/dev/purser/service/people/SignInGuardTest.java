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

  private static final SignInGuard.Comer IDA = new SignInGuard.Comer("ida", "10.0.0.1", false);

  private static SignInGuard.Comer stranger(String name, String address) {
    return new SignInGuard.Comer(name, address, false);
  }

  private Duration afterFailures(int failures) {
    for (int i = 0; i < failures; i++) {
      guard.failed(IDA);
    }
    return guard.waitFor(IDA);
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
    assertThat(guard.waitFor(stranger("ola", "10.0.0.1"))).isZero();
    when(clock.millis()).thenReturn(1_002_000L);
    assertThat(guard.waitFor(IDA)).isZero();
    guard.succeeded(IDA);
    assertThat(afterFailures(4)).isZero();
  }

  /** Who tries one name a thousand times is not forgotten for trying others in between. */
  @Test
  void tryingOtherNamesMakesNobodyForgotten() {
    assertThat(afterFailures(8)).isEqualTo(Duration.ofSeconds(8));
    for (int i = 0; i < 9_000; i++) {
      guard.failed(stranger("name " + i, "10.1." + i / 250 + "." + i % 250));
    }
    assertThat(guard.waitFor(IDA)).isEqualTo(Duration.ofSeconds(8));
    when(clock.millis()).thenReturn(1_000_000L + Duration.ofMinutes(61).toMillis());
    assertThat(afterFailures(4)).isZero();
  }

  /** Names from one address, and one name from many addresses, are guessing too. */
  @Test
  void anAddressAndANameHaveABudgetOfTheirOwn() {
    for (int i = 0; i < 20; i++) {
      guard.failed(stranger("name" + i, "10.0.0.7"));
      guard.failed(stranger("ola", "10.7.0." + i));
    }
    assertThat(guard.waitFor(stranger("another", "10.0.0.7"))).isEqualTo(Duration.ofSeconds(1));
    assertThat(guard.waitFor(stranger("ola", "10.9.9.9"))).isEqualTo(Duration.ofSeconds(1));
    assertThat(guard.waitFor(stranger("another", "10.9.9.9"))).isZero();
  }

  /** Nobody is kept out by others who fail in their name, from where they have come in before. */
  @Test
  void whoIsKnownAtAnAddressIsSpared() {
    for (int i = 0; i < 50; i++) {
      guard.failed(stranger("ida", "10.7.0." + i));
      guard.failed(stranger("name" + i, "10.0.0.1"));
    }
    assertThat(guard.waitFor(IDA)).isPositive();
    SignInGuard.Comer known = new SignInGuard.Comer("ida", "10.0.0.1", true);
    assertThat(guard.waitFor(known)).isZero();
    for (int i = 0; i < 6; i++) {
      guard.failed(known);
    }
    assertThat(guard.waitFor(known)).isPositive();
  }

  @Test
  void aNetworkOfTheSixthVersionIsOneAddress() {
    for (int i = 0; i < 20; i++) {
      guard.failed(stranger("name" + i, "2001:db8:0:1:0:0:0:" + i));
    }
    assertThat(guard.waitFor(stranger("another", "2001:db8:0:1:0:0:7:7"))).isPositive();
    assertThat(guard.waitFor(stranger("another", "2001:db8:0:2:0:0:7:7"))).isZero();
  }

  @Test
  void secretsAreLongDifferentAndTypable() {
    assertThat(Secrets.fresh()).hasSize(43).isNotEqualTo(Secrets.fresh());
    assertThat(Secrets.password()).matches("[a-z2-9]{20}").doesNotContain("l", "o", "i");
    assertThat(Secrets.hash("abc"))
        .isEqualTo("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
  }
}

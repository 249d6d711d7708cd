package dev.purser.service.board;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Whether the process that holds the lease is known to be dead. */
class HolderTest {
  @Test
  void itIsReadAsItWasWritten() {
    assertThat(Holder.parse(Holder.self().toString())).contains(Holder.self());
  }

  @Test
  void aProcessThatLivesIsNotDead() {
    assertThat(Holder.self().isKnownToBeDead()).isFalse();
  }

  @Test
  void aProcessOfThisMachineThatIsGoneIsDead() throws IOException, InterruptedException {
    Process process = new ProcessBuilder("true").start();
    process.waitFor();
    Holder self = Holder.self();
    assertThat(new Holder(self.name(), self.machine(), process.pid(), 1).isKnownToBeDead())
        .isTrue();
  }

  @Test
  void itsNumberMayHaveBeenGivenToAnother() {
    Holder self = Holder.self();
    Holder before = new Holder(self.name(), self.machine(), self.process(), self.began() - 60_000);
    assertThat(before.isKnownToBeDead()).isTrue();
  }

  /** Two starts with one number are told apart to the tick. */
  @Test
  void aTickMakesAnother() {
    Holder self = Holder.self();
    assertThat(
            new Holder(self.name(), self.machine(), self.process(), self.began() + 1)
                .isKnownToBeDead())
        .isTrue();
  }

  @Test
  void aServiceOfBeforeIsKnownByItsTime() {
    Holder self = Holder.self();
    long millis = ProcessHandle.current().info().startInstant().orElseThrow().toEpochMilli();
    assertThat(new Holder(self.name(), self.machine(), self.process(), millis).isKnownToBeDead())
        .isFalse();
    assertThat(
            new Holder(self.name(), self.machine(), self.process(), millis - 60_000)
                .isKnownToBeDead())
        .isTrue();
  }

  @Test
  void ofAnotherMachineNothingIsKnown() {
    assertThat(new Holder("elsewhere", "another-boot", 1, 1).isKnownToBeDead()).isFalse();
    assertThat(new Holder("elsewhere", "", 1, 1).isKnownToBeDead()).isFalse();
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "a b c", "a b c d", "a b 1 2 3"})
  void whatIsNoHolderIsNone(String text) {
    assertThat(Holder.parse(text)).isEmpty();
  }
}

package dev.purser.wire.watchdog;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WatchdogTest {
  @ParameterizedTest
  @CsvSource({"120000000, true, 40000", "120000000, false, 0", "'', true, 0", "soon, true, 0"})
  void itIsToldThreeTimesWithinWhatTheUnitAllows(String micros, boolean socket, long millis) {
    Map<String, String> environment =
        socket
            ? Map.of("WATCHDOG_USEC", micros, "NOTIFY_SOCKET", "/run/systemd/notify")
            : Map.of("WATCHDOG_USEC", micros);
    assertThat(Watchdog.everyMillis(environment)).isEqualTo(millis);
  }

  /** What does not work is not said to; once it works again, it is. */
  @Test
  void nothingIsToldWhileItDoesNotWork(@TempDir Path folder) throws Exception {
    AtomicBoolean works = new AtomicBoolean();
    CountDownLatch asked = new CountDownLatch(3);
    Path told = folder.resolve("told");
    Thread thread =
        new Watchdog(
                () -> {
                  asked.countDown();
                  return works.get();
                },
                List.of("touch", told.toString()),
                10)
            .start();
    assertThat(asked.await(20, TimeUnit.SECONDS)).isTrue();
    assertThat(told).doesNotExist();
    works.set(true);
    for (int i = 0; i < 2_000 && !Files.exists(told); i++) {
      Thread.sleep(10);
    }
    assertThat(told).exists();
    thread.interrupt();
    thread.join(20_000);
    assertThat(thread.isAlive()).isFalse();
  }
}

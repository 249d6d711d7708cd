package dev.purser.service.active;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

class LastResortTest {
  /** A program that would never end by itself, in which somebody needs the last resort. */
  static final class Stuck {
    public static void main(String[] args) throws InterruptedException {
      Runtime.getRuntime()
          .addShutdownHook(
              new Thread(
                  () -> {
                    try {
                      Thread.sleep(60_000);
                    } catch (InterruptedException e) {
                      Thread.currentThread().interrupt();
                    }
                  }));
      new Thread(
              () -> new LastResort().end("it is stuck", new StackOverflowError("deep")), "engine")
          .start();
      Thread.sleep(60_000);
    }
  }

  @Test
  void theProcessEndsAtOnceWithACodeAfterWhichItIsStartedAgain() throws Exception {
    Process process =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                Stuck.class.getName())
            .redirectErrorStream(true)
            .start();
    String said =
        new String(
            process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
    assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
    assertThat(process.exitValue()).isEqualTo(70);
    assertThat(said).contains("it is stuck; this process ends, to be started again", "deep");
  }
}

package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The start of a database of our own, where its preparation dies half-way. */
class SetupTest {
  private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();

  @TempDir Path home;

  @Test
  void aPreparationThatDiedHalfWayIsDoneAnew() throws Exception {
    dyingAt("[ ! -e " + home + "/died ] && touch " + home + "/died");
    assertThat(start()).as("what was said").isZero();
    assertThat(home.resolve("died")).exists();
    assertThat(Files.readString(home.resolve("one"))).contains("42");
    assertThat(home.resolve("database/data.new")).doesNotExist();
    assertThat(home.resolve("database/data/half")).doesNotExist();
  }

  @Test
  void oneThatDiesEachTimeSaysWhyAndLeavesNoDatabase() throws Exception {
    dyingAt("true");
    assertThat(start()).isEqualTo(1);
    assertThat(Files.readString(home.resolve("said")))
        .contains("no room left for made-up tables", "a database cannot be prepared in");
    assertThat(home.resolve("database/data")).doesNotExist();
  }

  /** Puts a preparation before the real one that dies half-way while a condition holds. */
  private void dyingAt(String condition) throws IOException {
    Path tools = Files.createDirectories(home.resolve("tools"));
    Path tool = tools.resolve("mariadb-install-db");
    Files.writeString(
        tool,
        """
        #!/bin/bash
        if %s; then
          for option; do [[ $option = --datadir=* ]] && data=${option#--datadir=}; done
          mkdir -p "$data/mysql"; touch "$data/half"
          echo "no room left for made-up tables"
          exit 1
        fi
        PATH=${PATH#*:} exec mariadb-install-db "$@"
        """
            .formatted(condition));
    assertThat(tool.toFile().setExecutable(true)).isTrue();
  }

  private int start() throws IOException, InterruptedException {
    int port;
    try (ServerSocket socket = new ServerSocket(0)) {
      port = socket.getLocalPort();
    }
    String script =
        """
        PATH=%1$s/tools:$PATH
        . %2$s/bin/setup
        start_database %1$s/database %3$d
        mariadb --no-defaults --socket=%1$s/database/socket -e 'select 6 * 7' >%1$s/one
        kill $DATABASE_PID; wait $DATABASE_PID
        """
            .formatted(home, ROOT, port);
    Process process =
        new ProcessBuilder("bash", "-c", script)
            .redirectErrorStream(true)
            .redirectOutput(home.resolve("said").toFile())
            .start();
    assertThat(process.waitFor(90, TimeUnit.SECONDS)).isTrue();
    return process.exitValue();
  }
}

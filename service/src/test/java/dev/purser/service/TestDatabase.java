package dev.purser.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** A real MariaDB for the tests of this module, stopped with their JVM. */
public final class TestDatabase {
  private static final int PORT = start();

  private TestDatabase() {}

  /** Its address. */
  public static String url() {
    return "jdbc:mariadb://127.0.0.1:" + PORT + "/purser";
  }

  private static int start() {
    try {
      int port;
      try (ServerSocket socket = new ServerSocket(0)) {
        port = socket.getLocalPort();
      }
      Path home = Files.createTempDirectory("purser-service-test");
      String script =
          ". ../bin/setup; start_database "
              + home
              + " "
              + port
              + "; echo $DATABASE_PID >"
              + home
              + "/started";
      Process setup = new ProcessBuilder("bash", "-c", script).inheritIO().start();
      if (!setup.waitFor(60, TimeUnit.SECONDS) || setup.exitValue() != 0) {
        throw new IllegalStateException("MariaDB did not start; see " + home + "/log");
      }
      long pid = Long.parseLong(Files.readString(home.resolve("started")).strip());
      Runtime.getRuntime().addShutdownHook(new Thread(() -> stop(pid, home)));
      return port;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  private static void stop(long pid, Path home) {
    ProcessHandle.of(pid).ifPresent(ProcessHandle::destroyForcibly);
    try {
      new ProcessBuilder("rm", "-rf", home.toString()).start().waitFor();
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}

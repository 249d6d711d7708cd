package dev.purser.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * A real PostgreSQL for tests, on loopback, with a user purser whose password is purser; stopped
 * with their JVM. It does not run as root, so then it runs as the user of its package.
 */
public final class TestPostgres {
  private static final int PORT = start();

  private TestPostgres() {}

  /** Its address. */
  public static String url() {
    return "jdbc:postgresql://127.0.0.1:" + PORT + "/postgres";
  }

  private static int start() {
    try {
      int port;
      try (ServerSocket socket = new ServerSocket(0)) {
        port = socket.getLocalPort();
      }
      Path home = Files.createTempDirectory("purser-postgres-test");
      Path password = home.resolve("password");
      Files.writeString(password, "purser\n");
      if (isRoot()) {
        run(List.of("chown", "-R", "postgres", home.toString()));
      }
      Path data = home.resolve("data");
      asUser(
          bin("initdb"),
          "-D",
          data.toString(),
          "-U",
          "purser",
          "--pwfile",
          password.toString(),
          "--auth=scram-sha-256",
          "--no-sync",
          "-E",
          "UTF8",
          "--locale=C");
      String options = "-p " + port + " -h 127.0.0.1 -k " + home + " -F";
      asUser(
          bin("pg_ctl"),
          "-D",
          data.toString(),
          "-w",
          "-l",
          home.resolve("log").toString(),
          "-o",
          options,
          "start");
      Runtime.getRuntime().addShutdownHook(new Thread(() -> stop(data, home)));
      return port;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void stop(Path data, Path home) {
    asUser(bin("pg_ctl"), "-D", data.toString(), "-m", "immediate", "stop");
    run(List.of("rm", "-rf", home.toString()));
  }

  private static String bin(String name) {
    try (Stream<Path> versions = Files.list(Path.of("/usr/lib/postgresql"))) {
      return versions
          .map(version -> version.resolve("bin").resolve(name))
          .filter(Files::isExecutable)
          .max(Comparator.naturalOrder())
          .orElseThrow()
          .toString();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static boolean isRoot() {
    return "root".equals(System.getProperty("user.name"));
  }

  private static void asUser(String... command) {
    List<String> all = new ArrayList<>();
    if (isRoot()) {
      all.addAll(List.of("runuser", "-u", "postgres", "--"));
    }
    all.addAll(List.of(command));
    run(all);
  }

  private static void run(List<String> command) {
    try {
      Process process =
          new ProcessBuilder(command)
              .directory(new java.io.File("/"))
              .redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .start();
      if (!process.waitFor(60, TimeUnit.SECONDS) || process.exitValue() != 0) {
        throw new IllegalStateException("failed: " + command);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}

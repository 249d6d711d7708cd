package dev.purser.bench.chaos;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;

/** A database, two services on it, and agents that reach both through pipes that can be cut. */
final class Harbour implements AutoCloseable {
  private static final int LONGEST_START_SECONDS = 120;

  final Path work;
  final Watched database;
  final List<Watched> services = new ArrayList<>();
  final Map<String, Watched> agents = new ConcurrentHashMap<>();
  final List<String> addresses = new ArrayList<>();
  private final Map<String, List<CutPipe>> pipes = new ConcurrentHashMap<>();
  private final Path root;
  private final int databasePort = freePort();
  private final Map<String, String> tokens = new ConcurrentHashMap<>();
  private volatile boolean tending = true;

  /**
   * Makes it; nothing is started yet.
   *
   * @param root of the project's checkout
   */
  Harbour(Path root, Path work) throws IOException {
    this.root = root;
    this.work = work;
    database = new Watched("database", this::startDatabase);
    for (int i = 0; i < 2; i++) {
      int port = freePort();
      String name = "service-" + i;
      addresses.add("http://127.0.0.1:" + port);
      services.add(new Watched(name, () -> startService(name, port)));
    }
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    }
  }

  /** Starts what is not there, again and again, until it is closed. */
  void tend() {
    Thread thread =
        new Thread(
            () -> {
              while (tending) {
                database.tend();
                services.forEach(Watched::tend);
                agents.values().forEach(Watched::tend);
                pause(100);
              }
            },
            "tend");
    thread.setDaemon(true);
    thread.start();
  }

  static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  private ProcessHandle startDatabase() throws IOException, InterruptedException {
    String script =
        ". "
            + root
            + "/bin/setup; start_database "
            + work
            + "/database "
            + databasePort
            + "; echo $DATABASE_PID >"
            + work
            + "/database.pid";
    Process setup = start("database", List.of("bash", "-c", script), Map.of());
    if (!setup.waitFor(LONGEST_START_SECONDS, TimeUnit.SECONDS) || setup.exitValue() != 0) {
      setup.destroyForcibly();
      throw new IOException("see " + work + "/database.log");
    }
    long id = Long.parseLong(Files.readString(work.resolve("database.pid")).strip());
    return ProcessHandle.of(id).orElseThrow(() -> new IOException("it is gone again"));
  }

  private ProcessHandle startService(String name, int port) throws IOException {
    Map<String, String> environment = new HashMap<>();
    environment.put("PURSER_PORT", String.valueOf(port));
    environment.put("PURSER_DATABASE_URL", "jdbc:mariadb://127.0.0.1:" + databasePort + "/purser");
    environment.put("PURSER_DATABASE_PASSWORD", "purser");
    environment.put("PURSER_MAY_CALL", "127.0.0.1");
    environment.put("PURSER_CHAOS_RECORDS", "purser");
    environment.put("CHAOS_DESK", "made-up-api-key");
    environment.put("CHAOS_CLIENT", "made-up-client-secret");
    environment.put("PURSER_CONSOLE_ADDRESS", "http://127.0.0.1:" + port);
    environment.put("PURSER_JAVA_OPTIONS", "-Xmx256m -XX:TieredStopAtLevel=1 -XX:+UseSerialGC");
    return start(name, List.of(root + "/bin/service"), environment).toHandle();
  }

  /** The port of the database. */
  int databasePort() {
    return databasePort;
  }

  /** Adds an agent; it is started at the next look. */
  void addAgent(String host, String token) throws IOException {
    tokens.put(host, token);
    List<CutPipe> ways = new ArrayList<>();
    for (String address : addresses) {
      ways.add(new CutPipe(Integer.parseInt(address.substring(address.lastIndexOf(':') + 1))));
    }
    pipes.put(host, ways);
    agents.put(host, new Watched("agent " + host, () -> startAgent(host)));
  }

  private ProcessHandle startAgent(String host) throws IOException {
    Path home = work.resolve(host);
    Files.createDirectories(home);
    Files.writeString(home.resolve("token"), tokens.get(host));
    String services =
        String.join(
            ",", pipes.get(host).stream().map(pipe -> "http://127.0.0.1:" + pipe.port()).toList());
    List<String> command =
        List.of(
            root + "/bin/agent",
            "--service",
            services,
            "--host",
            host,
            "--home",
            home.toString(),
            "--token-file",
            home.resolve("token").toString());
    String options = "-Xmx64m -XX:+UseSerialGC -XX:TieredStopAtLevel=1";
    return start(host, command, Map.of("PURSER_JAVA_OPTIONS", options)).toHandle();
  }

  /** Cuts the connections of an agent. */
  void cut(String host, long forMillis) {
    pipes.get(host).forEach(pipe -> pipe.cut(forMillis));
  }

  private Process start(String name, List<String> command, Map<String, String> environment)
      throws IOException {
    ProcessBuilder builder =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.appendTo(work.resolve(name + ".log").toFile()));
    builder.environment().putAll(environment);
    return builder.start();
  }

  /** What a query finds, a row a line, columns with tabs between. */
  List<String> query(String text) throws IOException, InterruptedException {
    Process client =
        new ProcessBuilder(
                "mariadb",
                "--no-defaults",
                "--socket=" + work + "/database/socket",
                "-BN",
                "purser",
                "-e",
                text)
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    String out = new String(client.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    if (client.waitFor() != 0) {
      throw new IOException("the query failed: " + text);
    }
    return out.lines().toList();
  }

  @Override
  public void close() throws IOException, InterruptedException {
    tending = false;
    pause(300);
    for (Watched agent : agents.values()) {
      agent.end();
    }
    for (Watched service : services) {
      service.end();
    }
    database.end();
    for (List<CutPipe> ways : pipes.values()) {
      for (CutPipe way : ways) {
        way.close();
      }
    }
  }
}

package dev.purser.e2e;

import dev.purser.outside.Sink;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.CookieManager;
import java.net.ServerSocket;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Everything for real: a MariaDB, the service, agents, and a sink, each a process of its own. */
final class Harbour implements AutoCloseable {
  static final JsonMapper JSON = JsonMapper.builder().build();
  static final String PASSWORD = "harbour-light-2027";
  private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();
  private static final Map<String, String> AGENT_OPTIONS =
      Map.of("PURSER_JAVA_OPTIONS", "-Xmx64m -XX:+UseSerialGC -XX:TieredStopAtLevel=1");

  final Path home;
  final Sink sink;
  int port = freePort();
  int databasePort = freePort();
  private boolean hadDatabase;
  private final Map<String, Process> agents = new HashMap<>();
  private final Map<String, List<String>> agentOptions = new HashMap<>();
  private final HttpClient http =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
  private Process database;
  private Process service;
  private String token = "";
  private String clientServices = "";
  private final Map<String, String> settings = new HashMap<>();
  private final String moreClasses;

  Harbour() throws IOException {
    this(Map.of());
  }

  Harbour(Map<String, String> settings) throws IOException {
    this(settings, "");
  }

  /**
   * With a service that has more in it.
   *
   * @param moreClasses a directory of classes; empty for none
   */
  Harbour(Map<String, String> settings, String moreClasses) throws IOException {
    this.settings.putAll(settings);
    this.moreClasses = moreClasses;
    home = Files.createTempDirectory("purser-e2e");
    sink = new Sink(0, 0);
    startDatabase();
    startService();
    firstSignIn();
  }

  /** The clock of the service, and of what it tells its agents. */
  Instant now() {
    return Instant.now().plus(Duration.parse(settings.getOrDefault("PURSER_CLOCK_OFFSET", "PT0S")));
  }

  /** How far a service must be ahead to begin at a time of today, UTC. */
  static Duration clockAt(LocalTime time) {
    Instant now = Instant.now();
    return Duration.between(now, now.atOffset(ZoneOffset.UTC).with(time).toInstant());
  }

  /**
   * The service that is started next is so much further ahead: time goes by while none is there.
   */
  void turnClock(Duration by) {
    Duration ahead = Duration.between(Instant.now(), now()).plus(by);
    settings.put("PURSER_CLOCK_OFFSET", ahead.truncatedTo(ChronoUnit.SECONDS).toString());
  }

  static int freePort() {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  // ---- processes

  /** A port that was free may be another's a moment later: then the first start takes one anew. */
  void startDatabase() throws IOException {
    Path pid = home.resolve("database.pid");
    Files.deleteIfExists(pid);
    for (int tries = 1; !Files.exists(pid); tries++) {
      if (tries > 3) {
        throw new IllegalStateException(
            "the database does not start: " + Files.readString(home.resolve("database.log")));
      }
      if (tries > 1 && !hadDatabase) {
        databasePort = freePort();
      }
      tryDatabase();
    }
    hadDatabase = true;
    databaseHandle = ProcessHandle.of(Long.parseLong(Files.readString(pid).strip())).orElseThrow();
  }

  private void tryDatabase() throws IOException {
    Path script = home.resolve("database.sh");
    Files.writeString(
        script,
        ". "
            + ROOT
            + "/bin/setup\nstart_database "
            + home
            + "/database "
            + databasePort
            + "\necho $DATABASE_PID >"
            + home
            + "/database.pid\n");
    Process setup = start("database", List.of("bash", script.toString()), Map.of());
    await("the database", () -> !setup.isAlive(), 60);
    database = setup;
  }

  private ProcessHandle databaseHandle;

  void killDatabase() {
    databaseHandle.destroyForcibly();
    await("the database's death", () -> !databaseHandle.isAlive(), 20);
  }

  void startService() throws IOException {
    service = startService("service", port);
    await("the service", this::isHealthy, 90);
  }

  /** Starts another service on the same database; it is not waited for. */
  Process startService(String name, int port) throws IOException {
    Map<String, String> environment = new HashMap<>(settings);
    environment.put("PURSER_PORT", String.valueOf(port));
    environment.put("PURSER_DATABASE_URL", "jdbc:mariadb://127.0.0.1:" + databasePort + "/purser");
    environment.put("PURSER_DATABASE_PASSWORD", "purser");
    environment.putIfAbsent("PURSER_MAY_CALL", "127.0.0.1");
    environment.put("PURSER_MAIL_PORT", String.valueOf(sink.smtpPort()));
    environment.put("PURSER_ZONE", "UTC");
    environment.put("PURSER_CONSOLE_ADDRESS", "http://127.0.0.1:" + port);
    environment.put("PURSER_JAVA_OPTIONS", "-Xmx256m -XX:TieredStopAtLevel=1 -XX:+UseSerialGC");
    return start(name, serviceCommand(), environment);
  }

  private List<String> serviceCommand() {
    if (moreClasses.isEmpty()) {
      return List.of(ROOT.resolve("bin/service").toString());
    }
    return List.of(
        ProcessHandle.current().info().command().orElseThrow(),
        "-Xmx256m",
        "-XX:TieredStopAtLevel=1",
        "-XX:+UseSerialGC",
        "-cp",
        ROOT.resolve("service/target/purser-service-0.1.0.jar") + ":" + moreClasses,
        "dev.purser.service.PurserService");
  }

  private boolean isHealthy() {
    if (!service.isAlive()) {
      throw new IllegalStateException("the service has died: " + log("service"));
    }
    try {
      return send("GET", "/actuator/health", null, Map.of()).statusCode() == 200;
    } catch (IllegalStateException e) {
      return false;
    }
  }

  /** Changes records behind the service's back, to bring about what takes days. */
  void sql(String statement) throws IOException {
    Process client =
        start(
            "sql",
            List.of(
                "mariadb",
                "--no-defaults",
                "--socket=" + home + "/database/socket",
                "purser",
                "-e",
                statement),
            Map.of());
    await("the statement", () -> !client.isAlive(), 20);
    if (client.exitValue() != 0) {
      throw new IllegalStateException(log("sql"));
    }
  }

  /** {@code kill -9}. */
  void killService() {
    service.destroyForcibly();
    await("the service's death", () -> !service.isAlive(), 20);
  }

  long serviceHeapMegabytes() {
    String text = send("GET", "/actuator/prometheus", null, bearer()).body();
    double bytes =
        text.lines()
            .filter(line -> line.startsWith("jvm_memory_used_bytes{area=\"heap\""))
            .mapToDouble(line -> Double.parseDouble(line.substring(line.lastIndexOf(' '))))
            .sum();
    return (long) (bytes / 1e6);
  }

  void startAgent(String host) throws IOException {
    startAgent(host, address(""));
  }

  /**
   * Starts an agent.
   *
   * @param services addresses with commas between
   */
  void startAgent(String host, String services) throws IOException {
    Path agentHome = home.resolve("agent-" + host);
    Files.createDirectories(agentHome);
    List<String> command = agentCommand(services, host, agentHome);
    command.addAll(agentOptions.getOrDefault(host, List.of()));
    if (!Files.exists(agentHome.resolve("key"))) {
      String enrolment =
          post("/api/v1/hosts/" + host + "/enrolment-token", Map.of()).get("token").asString();
      Files.writeString(agentHome.resolve("token"), enrolment);
      command.addAll(List.of("--token-file", agentHome.resolve("token").toString()));
    }
    agents.put(host, start("agent-" + host, command, AGENT_OPTIONS));
    await("agent " + host, () -> isConnected(host), 30);
  }

  /** The agent of a host is started with more from now on. */
  void agentOptions(String host, String... options) {
    agentOptions.put(host, List.of(options));
  }

  boolean isConnected(String host) {
    for (JsonNode one : get("/api/v1/hosts")) {
      if (one.get("name").asString().equals(host)) {
        return one.get("connected").asBoolean();
      }
    }
    return false;
  }

  void killAgent(String host) {
    agents.get(host).destroyForcibly();
    await("the agent's death", () -> !agents.get(host).isAlive(), 20);
  }

  /** Which services the command line knows, with commas between. */
  void clientKnows(String services) {
    clientServices = services;
  }

  /** Runs a program to its end; gives its exit code and all that it printed. */
  record Ran(int code, String out) {}

  Ran purser(String... arguments) throws IOException, InterruptedException {
    List<String> command = new ArrayList<>(List.of(ROOT.resolve("bin/purser").toString()));
    command.addAll(List.of(arguments));
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder
        .environment()
        .put("PURSER_SERVICE", clientServices.isEmpty() ? address("") : clientServices);
    builder.environment().put("PURSER_TOKEN", token);
    builder.environment().put("XDG_CACHE_HOME", home.resolve("cache").toString());
    Process process = builder.start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    return new Ran(process.waitFor(), out);
  }

  Process agentProcess(String host, Path agentHome) throws IOException {
    return start("stray-" + host, agentCommand(address(""), host, agentHome), AGENT_OPTIONS);
  }

  private static List<String> agentCommand(String services, String host, Path agentHome) {
    return new ArrayList<>(
        List.of(
            ROOT.resolve("bin/agent").toString(),
            "--service",
            services,
            "--host",
            host,
            "--home",
            agentHome.toString()));
  }

  /** Goes on with the service of another port as the one that is asked. */
  void turnTo(Process other, int otherPort) {
    service = other;
    port = otherPort;
  }

  Process service() {
    return service;
  }

  private Process start(String name, List<String> command, Map<String, String> environment)
      throws IOException {
    ProcessBuilder builder =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.appendTo(home.resolve(name + ".log").toFile()));
    builder.environment().putAll(environment);
    return builder.start();
  }

  String log(String name) {
    try {
      return Files.readString(home.resolve(name + ".log"));
    } catch (IOException e) {
      return "";
    }
  }

  // ---- the API

  String address(String path) {
    return "http://127.0.0.1:" + port + path;
  }

  private void firstSignIn() {
    await("the one-time password", () -> log("service").contains("one-time password"), 20);
    String line =
        log("service")
            .lines()
            .filter(l -> l.contains("one-time password"))
            .findFirst()
            .orElseThrow();
    String oneTime = line.substring(line.lastIndexOf(' ') + 1);
    token = signIn("admin", oneTime, PASSWORD);
    for (String role : List.of("viewer", "operator", "author")) {
      addPerson(role, role);
    }
  }

  /** Adds a person, who replaces the first password as everybody must. */
  void addPerson(String name, String role) {
    String first = "first-of-" + PASSWORD;
    send("PUT", "/api/v1/people/" + name, Map.of("role", role, "password", first), bearer());
    signIn(name, first, PASSWORD);
  }

  String signIn(String name, String password, String newPassword) {
    Map<String, String> request = new HashMap<>();
    request.put("name", name);
    request.put("password", password);
    request.put("tokenLabel", "test");
    request.put("newPassword", newPassword);
    HttpResponse<String> response = send("POST", "/api/v1/session", request, Map.of());
    if (response.statusCode() != 200) {
      throw new IllegalStateException(response.body());
    }
    return JSON.readTree(response.body()).get("token").asString();
  }

  Map<String, String> bearer() {
    return Map.of("Authorization", "Bearer " + token);
  }

  HttpResponse<String> send(String method, String path, Object body, Map<String, String> headers) {
    return send(http, method, path, body, headers);
  }

  HttpResponse<String> send(
      HttpClient client, String method, String path, Object body, Map<String, String> headers) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(address(path))).timeout(Duration.ofSeconds(60));
    headers.forEach(request::header);
    if (body == null) {
      request.method(method, HttpRequest.BodyPublishers.noBody());
    } else {
      request.header("Content-Type", "application/json");
      request.method(method, HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
    }
    try {
      return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
    } catch (IOException e) {
      throw new IllegalStateException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  /** A client with cookies, as a browser is. */
  HttpClient browserLike() {
    return HttpClient.newBuilder()
        .version(HttpClient.Version.HTTP_1_1)
        .cookieHandler(new CookieManager())
        .build();
  }

  JsonNode get(String path) {
    return expect(send("GET", path, null, bearer()));
  }

  JsonNode post(String path, Object body) {
    return expect(send("POST", path, body, bearer()));
  }

  private static JsonNode expect(HttpResponse<String> response) {
    if (response.statusCode() / 100 != 2) {
      throw new IllegalStateException(response.statusCode() + " " + response.body());
    }
    return JSON.readTree(response.body());
  }

  static Map<String, Object> files(String... texts) {
    List<Map<String, String>> files = new ArrayList<>();
    for (int i = 0; i < texts.length; i++) {
      files.add(Map.of("name", "f" + i + ".yaml", "text", texts[i]));
    }
    return Map.of("files", files, "reason", "test");
  }

  JsonNode publish(String... texts) {
    HttpResponse<String> response = send("POST", "/api/v1/definitions", files(texts), bearer());
    JsonNode result = JSON.readTree(response.body());
    if (response.statusCode() != 200) {
      throw new IllegalStateException(response.body());
    }
    return result;
  }

  /** Starts a stream by hand; gives the ids of its runs by job. */
  Map<String, Long> startStream(String stream) {
    Map<String, Long> ids = new HashMap<>();
    for (JsonNode run :
        post("/api/v1/starts", Map.of("stream", stream, "job", "", "reason", "")).get("runs")) {
      ids.put(run.get("job").asString(), run.get("id").asLong());
    }
    return ids;
  }

  JsonNode run(long id) {
    return get("/api/v1/runs/" + id).get("run");
  }

  String state(long id) {
    return run(id).get("state").asString();
  }

  void awaitState(long id, String state, int seconds) {
    await("run " + id + " to be " + state, () -> state(id).equals(state), seconds);
  }

  HttpResponse<String> act(long id, String action) {
    return send(
        "POST",
        "/api/v1/runs/" + id + "/actions",
        Map.of("action", action, "reason", "test"),
        bearer());
  }

  String output(long id) {
    return get("/api/v1/runs/" + id + "/output").get("text").asString();
  }

  static String encode(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  static void await(String what, BooleanSupplier condition, int seconds) {
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(seconds);
    while (!condition.getAsBoolean()) {
      if (System.nanoTime() > end) {
        throw new AssertionError("waited " + seconds + " s for " + what);
      }
      try {
        Thread.sleep(50);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new AssertionError(e);
      }
    }
  }

  /** Work outlives its agent: what is still there at the end goes with the test. */
  void stopWork() {
    ProcessHandle.allProcesses()
        .filter(one -> one.info().commandLine().orElse("").contains(home + "/agent-"))
        .filter(one -> one.info().commandLine().orElse("").contains("starter.pl"))
        .forEach(
            supervisor -> {
              supervisor.descendants().forEach(ProcessHandle::destroyForcibly);
              supervisor.destroyForcibly();
            });
  }

  @Override
  public void close() throws IOException {
    agents.values().forEach(Process::destroy);
    await("the agents' end", () -> agents.values().stream().noneMatch(Process::isAlive), 30);
    stopWork();
    service.destroy();
    await("the service's end", () -> !service.isAlive(), 60);
    databaseHandle.destroy();
    await("the database's end", () -> !databaseHandle.isAlive(), 30);
    sink.close();
    if (database.isAlive()) {
      database.destroyForcibly();
    }
    await("the directory's end", this::removeHome, 30);
  }

  /** Gives false where a process that is ending has written once more. */
  private boolean removeHome() {
    try (var all = Files.walk(home)) {
      for (Path file : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(file);
      }
      return true;
    } catch (DirectoryNotEmptyException | NoSuchFileException | UncheckedIOException e) {
      return false;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}

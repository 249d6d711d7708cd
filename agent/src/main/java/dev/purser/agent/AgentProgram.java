package dev.purser.agent;

import dev.purser.wire.agent.Enrolment;
import dev.purser.wire.trust.Trust;
import dev.purser.wire.watchdog.Watchdog;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import tools.jackson.databind.json.JsonMapper;

/** The agent's command line. */
@CommandLine.Command(
    name = "agent",
    mixinStandardHelpOptions = true,
    version = "Purser agent 0.1.0",
    description = "Runs the work of one host, as the Purser service says.",
    footer = {
      "",
      "Example, the first time on a host (the token is from: purser hosts enrol quay-north):",
      "  agent --service http://127.0.0.1:8087 --host quay-north --home /var/lib/purser-agent \\",
      "        --token-file token"
    })
public final class AgentProgram implements Callable<Integer> {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int STANDS_BY = 503;

  @CommandLine.Option(
      names = "--service",
      required = true,
      split = ",",
      description =
          "Address of the service; where another stands by, both, with a comma between them.")
  private List<URI> services;

  @CommandLine.Option(names = "--host", required = true, description = "Name of this host.")
  private String host;

  @CommandLine.Option(
      names = "--home",
      required = true,
      description = "Directory for the journal, output and key.")
  private Path home;

  @CommandLine.Option(
      names = "--token-file",
      description = "File with the enrolment token; needed only where there is no key yet.")
  private Path tokenFile;

  @CommandLine.Option(
      names = "--label",
      split = ",",
      hidden = true,
      description = "Does nothing any more: labels stand in the definition of the host.")
  private Set<String> labels = new TreeSet<>();

  @CommandLine.Option(
      names = "--run-as",
      split = ",",
      description =
          "Users on whose behalf work may run on this host; without it only the agent's own. What"
              + " is not named here no definition can do.")
  private Set<String> runAs = new TreeSet<>();

  @CommandLine.Option(
      names = "--pass-on",
      split = ",",
      description =
          "Variables of the agent's own environment that work is given too, besides PATH, LANG, LC_*,"
              + " TZ, TMPDIR and its user's own.")
  private Set<String> passOn = new TreeSet<>();

  @CommandLine.Option(
      names = "--files",
      split = ",",
      description =
          "Directories in which transfers may read and write files, as the agent's user; without it"
              + " none.")
  private Set<Path> files = new TreeSet<>();

  @CommandLine.Option(
      names = "--stop-work-on-exit",
      description = "Stop running work when the agent is stopped; otherwise it goes on.")
  private boolean stopWorkOnExit;

  /** Held for as long as this program lives. */
  private FileChannel lock;

  /** Starts an agent. */
  public static void main(String[] args) {
    System.exit(new CommandLine(new AgentProgram()).execute(args));
  }

  @Override
  public Integer call() throws IOException, InterruptedException {
    Trust.asTheEnvironmentSays();
    Files.createDirectories(home);
    if (!labels.isEmpty()) {
      AgentLog.warn("--label does nothing any more: labels stand in the definition of the host");
    }
    services.stream().filter(AgentProgram::canBeRead).forEach(AgentProgram::warnOfPlainHttp);
    if (!keepOthersOut()) {
      AgentLog.warn("another agent is at work in " + home + "; stop it first");
      return 1;
    }
    Path keyFile = home.resolve("key");
    if (!Files.exists(keyFile) && !enrol(keyFile)) {
      return 1;
    }
    Link link =
        new Link(services, host, Files.readString(keyFile).strip(), instance(), labels, home);
    FileWatches watches = new FileWatches(link::send);
    RunAs users = new RunAs(System.getProperty("user.name"), runAs);
    Attempts attempts = new Attempts(home, users, passOn, link::send);
    Notices notices = new Notices(users, passOn, link::send);
    Roads roads = new Roads(link::send, link::dialRoad, new OwnFiles(files));
    link.serve(attempts, watches, notices, roads);
    Runtime.getRuntime().addShutdownHook(new Thread(() -> stop(attempts, watches, notices)));
    Watchdog.begin(link::isAlive);
    link.run();
    return 0;
  }

  /** Whether what is said to a service can be read by others on the way. */
  static boolean canBeRead(URI service) {
    String host = service.getHost() == null ? "" : service.getHost();
    boolean here = host.equals("localhost") || host.startsWith("127.") || host.equals("[::1]");
    return "http".equalsIgnoreCase(service.getScheme()) && !here;
  }

  private static void warnOfPlainHttp(URI service) {
    AgentLog.warn(
        "the service is asked by plain http ("
            + service
            + "): the key of this host and all output can be read on the way; use https");
  }

  private void stop(Attempts attempts, FileWatches watches, Notices notices) {
    watches.close();
    notices.close();
    if (stopWorkOnExit) {
      attempts.stopAll(2_000);
    }
    attempts.close();
  }

  /** Exchanges the token for a key, and keeps the key for this host's eyes only. */
  private boolean enrol(Path keyFile) throws IOException, InterruptedException {
    if (tokenFile == null || !Files.exists(tokenFile)) {
      AgentLog.warn("this agent has no key yet; give it --token-file with an enrolment token");
      return false;
    }
    Enrolment.Request request = new Enrolment.Request(host, Files.readString(tokenFile).strip());
    HttpResponse<String> response = ask(JSON.writeValueAsString(request));
    if (response.statusCode() != 200) {
      AgentLog.warn("the service refuses to enrol " + host + ": " + response.body());
      return false;
    }
    String key = JSON.readValue(response.body(), Enrolment.Granted.class).key();
    Files.createFile(
        keyFile,
        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    Files.writeString(keyFile, key);
    return true;
  }

  /** Asks one after the other until one answers: an agent may be started before its service. */
  private HttpResponse<String> ask(String request) throws InterruptedException {
    HttpClient http = HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(10)).build();
    for (int tries = 0; ; tries++) {
      URI address = services.get(tries % services.size()).resolve(Enrolment.PATH);
      HttpRequest post =
          HttpRequest.newBuilder(address)
              .header("Content-Type", "application/json")
              .timeout(Duration.ofSeconds(20))
              .POST(HttpRequest.BodyPublishers.ofString(request))
              .build();
      try {
        HttpResponse<String> response = http.send(post, HttpResponse.BodyHandlers.ofString());
        if (response.statusCode() != STANDS_BY) {
          return response;
        }
      } catch (IOException e) {
        if (tries % 20 == 0) {
          AgentLog.warn("cannot reach " + address + ": " + e.getMessage() + "; trying again");
        }
      }
      Thread.sleep(500);
    }
  }

  /** Two agents in one home would start the same work twice. */
  private boolean keepOthersOut() throws IOException {
    lock =
        FileChannel.open(home.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    return lock.tryLock() != null;
  }

  private String instance() throws IOException {
    Path file = home.resolve("instance");
    if (!Files.exists(file)) {
      Files.writeString(file, UUID.randomUUID().toString());
    }
    return Files.readString(file).strip();
  }
}

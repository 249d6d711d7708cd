package dev.purser.bench.chaos;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import tools.jackson.databind.JsonNode;

/**
 * The chaos test. Arguments: the checkout, a directory to work in, how many kills, a seed, how many
 * starts a minute of the stream of 16 runs. Ends with code 1 where the records do not agree with
 * the marks; then all logs stay where they are.
 */
public final class Chaos {
  private static final List<String> HOSTS = List.of("quay-0", "quay-1", "quay-2", "ledger");
  private static final int MOST_OPEN = 600;

  /** Kills go on until there was this much to be lost: a killed service takes no starts. */
  private static final int FEWEST_STARTS = 10;

  private static final long LONGEST_END_MILLIS = 240_000;

  private final Harbour harbour;
  private final Client client;
  private final Random dice;
  private final Path marks;
  private final Path files;
  private final Ear ear;
  private final Calls calls;
  private final Map<String, Integer> kills = new TreeMap<>();
  private final Set<Long> promised = ConcurrentHashMap.newKeySet();
  private volatile boolean feeding = true;
  private final AtomicInteger starts = new AtomicInteger();

  private Chaos(Path root, Path work, long seed) throws IOException {
    Files.createDirectories(work);
    this.harbour = new Harbour(root.toAbsolutePath(), work.toAbsolutePath());
    this.client = new Client(harbour.addresses);
    this.dice = new Random(seed);
    this.marks = work.toAbsolutePath().resolve("marks");
    this.files = work.toAbsolutePath().resolve("files");
    this.ear = new Ear(new Random(dice.nextLong()));
    this.calls = new Calls(new Random(dice.nextLong()));
  }

  /** Runs it. */
  public static void main(String[] args) throws IOException, InterruptedException {
    int most = Integer.parseInt(args[2]);
    long seed = Long.parseLong(args[3]);
    int pace = Integer.parseInt(args[4]);
    System.out.println("chaos with seed " + seed + ": " + most + " kills and cuts");
    Chaos chaos = new Chaos(Path.of(args[0]), Path.of(args[1]), seed);
    List<String> wrong;
    try {
      wrong = chaos.run(most, pace);
    } finally {
      chaos.harbour.close();
    }
    if (!wrong.isEmpty()) {
      System.out.println(wrong.size() + " things are wrong (seed " + seed + "):");
      System.out.println("  " + Comparison.some(wrong));
      System.exit(1);
    }
    System.out.println(
        "every run has run exactly once, every file was used exactly once, and nobody was needed");
  }

  private List<String> run(int most, int pace) throws IOException, InterruptedException {
    Files.createFile(marks);
    harbour.database.tend();
    awaitThat(harbour.database::isAlive, 60, "the database");
    harbour.services.get(0).tend();
    awaitThat(() -> oneTime().isPresent(), 90, "the first service");
    harbour.tend();
    client.signIn(oneTime().orElseThrow(), "bench-password-1");
    allow("CHAOS_DESK", calls.address());
    allow("CHAOS_CLIENT", calls.address());
    allow("PURSER_CHAOS_RECORDS", "mariadb://127.0.0.1:" + harbour.databasePort());
    harbour.query(Bookings.TABLES);
    client.insist("POST", "/api/v1/definitions", world());
    for (String host : HOSTS) {
      String path = "/api/v1/hosts/" + host + "/enrolment-token";
      harbour.addAgent(host, client.insist("POST", path, Map.of()).get("token").asString());
    }
    awaitThat(this::allConnected, 90, "the agents");
    Thread feeder = new Thread(() -> feed(pace), "feeder");
    feeder.setDaemon(true);
    feeder.start();
    Sender sender = new Sender(files, marks, new Random(dice.nextLong()));
    Thread sending = sender.start();
    long begin = System.currentTimeMillis();
    kill(most);
    feeding = false;
    sender.stop();
    feeder.join(60_000);
    sending.join(60_000);
    System.out.printf(
        "%d starts; killed in %d s: %s%n",
        starts.get(), (System.currentTimeMillis() - begin) / 1000, kills);
    long calm = System.currentTimeMillis();
    awaitFiles(sender);
    awaitEnd();
    awaitTold();
    System.out.printf(
        "all was over %d s after the last kill%n", (System.currentTimeMillis() - calm) / 1000);
    Comparison comparison = new Comparison(records());
    List<String> wrong = comparison.compare(marks, promised, 400);
    List<String> all = new ArrayList<>(wrong);
    all.addAll(sender.compare(records()));
    all.addAll(ear.compare(records()));
    all.addAll(calls.compare(records()));
    all.addAll(Bookings.compare(records()));
    ear.close();
    calls.close();
    System.out.println(
        comparison.inWords()
            + ", "
            + sender.count()
            + " files, "
            + calls.count()
            + " calls of remote services, "
            + ear.count()
            + " messages of alerts and "
            + ear.repeats()
            + " of them again");
    return all;
  }

  private void allow(String variable, String address) {
    Map<String, String> permit =
        Map.of("source", "variable", "name", variable, "address", address, "reason", "chaos");
    client.insist("POST", "/api/v1/secrets", permit);
  }

  private Comparison.Records records() {
    return new Comparison.Records() {
      @Override
      public List<String> query(String text) throws IOException, InterruptedException {
        return harbour.query(text);
      }

      @Override
      public String output(long run) {
        return client.output(run);
      }
    };
  }

  // ---- the workload

  private Map<String, Object> world() throws IOException {
    String world = resource("world.yaml");
    Path script = marks.resolveSibling("mark.sh");
    Files.writeString(script, resource("mark.sh"));
    String text =
        world
            .replace("@MARKS@", marks.toString())
            .replace("@MARK@", script.toString())
            .replace("@FILES@", files.toString())
            .replace("@EAR@", ear.address())
            .replace("@DATABASE@", String.valueOf(harbour.databasePort()))
            .replace("@DESK@", calls.address());
    return Map.of("files", List.of(Map.of("name", "world.yaml", "text", text)), "reason", "chaos");
  }

  private static String resource(String name) throws IOException {
    try (InputStream in = Chaos.class.getResourceAsStream("/chaos/" + name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private void feed(int pace) {
    while (feeding) {
      try {
        for (int i = 0; i < 3 && open() < MOST_OPEN; i++) {
          Map<String, String> start = Map.of("stream", "chaos/day", "job", "", "reason", "chaos");
          Optional<JsonNode> answer = client.once("POST", "/api/v1/starts", start);
          answer.ifPresent(
              found -> {
                starts.incrementAndGet();
                found.get("runs").forEach(run -> promised.add(run.get("id").asLong()));
              });
        }
      } catch (RuntimeException e) { // refused, or an answer that was cut short
        System.out.println("a start has failed: " + e.getMessage());
      }
      Harbour.pause(60_000 / pace);
    }
  }

  private long open() {
    long open = 0;
    for (String state : List.of("waiting", "starting", "running")) {
      Optional<JsonNode> found = client.once("GET", "/api/v1/runs?limit=1&state=" + state, null);
      if (found.isEmpty()) {
        return Long.MAX_VALUE;
      }
      open += found.get().get("total").asLong();
    }
    return open;
  }

  // ---- the kills

  private void kill(int most) {
    int done = 0;
    while (done < most || (starts.get() < FEWEST_STARTS && done < 4 * most)) {
      Harbour.pause(100 + dice.nextInt(1_800));
      calls.mishap();
      int pick = dice.nextInt(100);
      String what;
      if (pick < 40) {
        what = killAgent();
      } else if (pick < 50) {
        what = harbour.database.kill(dice.nextInt(2_500)) ? "database" : "";
      } else if (pick < 70) {
        what = killService();
      } else {
        String host = HOSTS.get(dice.nextInt(HOSTS.size()));
        harbour.cut(host, dice.nextInt(10) == 0 ? 6_000 : dice.nextInt(800));
        what = "connection";
      }
      if (!what.isEmpty()) {
        kills.merge(what, 1, Integer::sum);
        done++;
        if (done % 100 == 0) {
          System.out.printf(
              "%d of %d: %s, %d starts, %d marks%n", done, most, kills, starts.get(), size());
        }
      }
    }
  }

  private String killAgent() {
    Watched agent = harbour.agents.get(HOSTS.get(dice.nextInt(HOSTS.size())));
    return agent.kill(dice.nextInt(10) == 0 ? 6_000 : dice.nextInt(1_500)) ? "agent" : "";
  }

  /** Mostly where both are there, so that work goes on between kills. */
  private String killService() {
    boolean both = harbour.services.stream().allMatch(this::answers);
    if (!both && dice.nextInt(8) > 0) {
      return "";
    }
    Watched service = harbour.services.get(dice.nextInt(2));
    return service.kill(dice.nextInt(1_500)) ? "service" : "";
  }

  private boolean answers(Watched service) {
    return client.isWell(harbour.addresses.get(harbour.services.indexOf(service)));
  }

  private long size() {
    try (var lines = Files.lines(marks)) {
      return lines.count();
    } catch (IOException e) {
      return -1;
    }
  }

  // ---- waiting

  private interface Truth {
    boolean holds() throws IOException;
  }

  private static void awaitThat(Truth truth, int seconds, String what) throws IOException {
    long end = System.currentTimeMillis() + seconds * 1000L;
    while (!truth.holds()) {
      if (System.currentTimeMillis() > end) {
        throw new IllegalStateException("waited " + seconds + " s for " + what);
      }
      Harbour.pause(100);
    }
  }

  private Optional<String> oneTime() throws IOException {
    Path log = harbour.work.resolve("service-0.log");
    if (!Files.exists(log)) {
      return Optional.empty();
    }
    return Files.readAllLines(log).stream()
        .filter(line -> line.contains("one-time password "))
        .map(line -> line.substring(line.lastIndexOf(' ') + 1))
        .findFirst();
  }

  private boolean allConnected() {
    List<String> there = new ArrayList<>();
    client
        .once("GET", "/api/v1/hosts", null)
        .ifPresent(
            hosts ->
                hosts.forEach(
                    host -> {
                      if (host.get("connected").asBoolean()) {
                        there.add(host.get("name").asString());
                      }
                    }));
    return there.containsAll(HOSTS);
  }

  /**
   * Until every file that was sent is used; where that takes too long, the comparison tells. A set
   * takes all that are there, so an odd number may have gone, and the last file rightly waits for
   * another: then one more is sent, once.
   */
  private void awaitFiles(Sender sender) throws IOException {
    long end = System.currentTimeMillis() + LONGEST_END_MILLIS;
    boolean mated = false;
    int alone = 0;
    while (arrivals("used") < sender.count() && System.currentTimeMillis() < end) {
      Harbour.pause(500);
      boolean oneWaits =
          arrivals("ready") == 1 && arrivals("used") == sender.count() - 1 && open() == 0;
      alone = oneWaits ? alone + 1 : 0;
      if (alone > 6 && !mated) {
        sender.sendMate();
        mated = true;
      }
    }
  }

  private long arrivals(String state) {
    return client
        .once("GET", "/api/v1/arrivals?limit=1&state=" + state, null)
        .map(page -> page.get("total").asLong())
        .orElse(0L);
  }

  /** Until all that is to be told has been; where that takes too long, the comparison tells. */
  private void awaitTold() throws IOException, InterruptedException {
    long end = System.currentTimeMillis() + LONGEST_END_MILLIS;
    String left =
        "select (select count(*) from delivery where state = 'pending') + (select count(*) from"
            + " notice where state = 'due')";
    while (!harbour.query(left).equals(List.of("0")) && System.currentTimeMillis() < end) {
      Harbour.pause(500);
    }
  }

  /** Until no run is open; where that takes too long, what the open ones wait for is wrong. */
  private void awaitEnd() {
    long end = System.currentTimeMillis() + LONGEST_END_MILLIS;
    long open = open();
    while (open > 0) {
      if (System.currentTimeMillis() > end) {
        Map<String, String> stuck = new HashMap<>();
        for (String state : List.of("running", "starting", "waiting")) {
          client
              .insist("GET", "/api/v1/runs?limit=5&state=" + state, null)
              .get("runs")
              .forEach(run -> stuck.put(run.get("reference").asString(), run.toString()));
        }
        System.out.println(open + " runs are stuck, among them:");
        stuck.forEach((run, text) -> System.out.println("  " + text));
        return;
      }
      Harbour.pause(500);
      open = open();
    }
    Harbour.pause(2_000); // the last output is on its way
  }
}

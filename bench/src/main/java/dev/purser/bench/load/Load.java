package dev.purser.bench.load;

import dev.purser.wire.agent.Enrolment;
import java.io.IOException;
import java.net.http.HttpClient;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import tools.jackson.databind.JsonNode;

/**
 * Many agents at once and a day's runs in minutes, while somebody looks at pages. Arguments: the
 * service's address, a token, how many agents, how many runs, the address of its database, and
 * {@code quiet} where nobody looks at pages.
 */
public final class Load {
  private static final int RUNS_A_START = 500;
  private static final int MOST_OPEN = 20_000;
  private static final int FEEDERS = 4;

  private final Service service;
  private final AtomicLong recorded = new AtomicLong();
  private final List<SimulatedAgent> agents = new CopyOnWriteArrayList<>();
  private final List<Double> looks = new ArrayList<>();
  private final boolean pages;
  private volatile boolean looking = true;

  private Load(Service service, boolean pages) {
    this.service = service;
    this.pages = pages;
  }

  /** Prints the figures. */
  public static void main(String[] args) throws InterruptedException {
    try {
      measure(args);
      System.exit(0);
    } catch (IOException e) {
      System.out.println("the load could not be played: " + e.getMessage());
      System.exit(1);
    }
  }

  private static void measure(String[] args) throws IOException, InterruptedException {
    Load load = new Load(new Service(args[0], args[1]), !args[5].equals("quiet"));
    load.connect(Integer.parseInt(args[2]));
    int runs = Integer.parseInt(args[3]);
    load.publish();
    load.play(Math.min(runs, 40_000)); // until the compilers have done their work
    double rowsBefore = load.service.metric("purser_records_rows_total");
    double turnsBefore = load.service.metric("purser_engine_write_seconds_count");
    double seconds = load.play(runs);
    double rows = load.service.metric("purser_records_rows_total") - rowsBefore;
    double turns = load.service.metric("purser_engine_write_seconds_count") - turnsBefore;
    load.report(runs, seconds, rows, turns);
    if (!load.pages) {
      double bare = BareWriter.rowsPerSecond(args[4], rows / runs, rows / turns);
      System.out.printf(
          "a bare JDBC writer of as many rows a batch: %.0f rows/s%nratio: %.2f (promise: 0.50)%n",
          bare, rows / seconds / bare);
    }
  }

  private void connect(int count) throws IOException, InterruptedException {
    long begin = System.nanoTime();
    HttpClient http = HttpClient.newHttpClient();
    ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor();
    clock.scheduleAtFixedRate(() -> agents.forEach(SimulatedAgent::alive), 3, 3, TimeUnit.SECONDS);
    for (int i = 0; i < count; i++) {
      String host = "sim-" + i;
      String token =
          service
              .post("/api/v1/hosts/" + host + "/enrolment-token", Map.of())
              .get("token")
              .asString();
      String key =
          service.post(Enrolment.PATH, new Enrolment.Request(host, token)).get("key").asString();
      SimulatedAgent agent = new SimulatedAgent(host, recorded);
      agent.connect(http, service.address, key);
      agents.add(agent);
    }
    System.out.printf(
        "%d agents enrolled and connected in %.1f s%n", count, (System.nanoTime() - begin) / 1e9);
  }

  private void publish() throws IOException, InterruptedException {
    StringBuilder stream = new StringBuilder("host-group: fleet\nlabels: [fleet]\n---\n");
    stream.append("stream: load/day\npaused: no\njobs:\n");
    for (int i = 0; i < RUNS_A_START; i++) {
      stream.append("  j").append(i).append(": { host: any of fleet, run: \"true\"");
      stream.append(i % 5 == 0 ? " }\n" : ", waits-for: j" + (i - 1) + " succeeded }\n");
    }
    service.post("/api/v1/definitions", Service.file(stream.toString()));
  }

  private double play(int runs) throws IOException, InterruptedException {
    looks.clear();
    looking = true;
    Thread looker = new Thread(this::look, "looks at pages");
    if (pages) {
      looker.start();
    }
    long before = recorded.get();
    long begin = System.nanoTime();
    AtomicLong started = new AtomicLong();
    for (int i = 0; i < FEEDERS; i++) {
      Thread feeder = new Thread(() -> feed(runs, started, before), "feeder");
      feeder.start();
    }
    long told = 0;
    while (recorded.get() - before < runs) {
      Thread.sleep(10);
      for (SimulatedAgent agent : agents) {
        if (!agent.closed().isEmpty()) {
          throw new IOException(agent.host + " is " + agent.closed());
        }
      }
      if (System.nanoTime() - begin > (told + 1) * 10_000_000_000L) {
        told++;
        System.out.printf(
            "after %d s: %d started, %d over%n", told * 10, started.get(), recorded.get() - before);
      }
    }
    double seconds = (System.nanoTime() - begin) / 1e9;
    looking = false;
    looker.join();
    return seconds;
  }

  private void feed(int runs, AtomicLong started, long before) {
    Map<String, String> start = Map.of("stream", "load/day", "job", "", "reason", "");
    try {
      while (started.get() < runs) {
        if (started.get() - (recorded.get() - before) > MOST_OPEN) {
          Thread.sleep(10);
        } else if (started.addAndGet(RUNS_A_START) <= runs) {
          service.post("/api/v1/starts", start);
        }
      }
    } catch (IOException e) {
      System.out.println("a start failed: " + e.getMessage());
      System.exit(1);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void look() {
    String[] pages = {"/api/v1/today", "/api/v1/runs?limit=200", "/api/v1/hosts", "/api/v1/alerts"};
    for (int i = 0; looking; i++) {
      try {
        long begin = System.nanoTime();
        service.text(pages[i % pages.length]);
        looks.add((System.nanoTime() - begin) / 1e6);
        Thread.sleep(250);
      } catch (IOException e) {
        System.out.println("a page failed: " + e.getMessage());
      } catch (InterruptedException e) {
        return;
      }
    }
  }

  private void report(int runs, double seconds, double rows, double turns)
      throws IOException, InterruptedException {
    System.out.printf("%d runs in %.1f s: %.0f runs/s, durable%n", runs, seconds, runs / seconds);
    System.out.printf(
        "%.1f rows a run, %.0f rows a transaction, %.0f rows/s%n",
        rows / runs, rows / turns, rows / seconds);
    if (pages) {
      pages();
    }
    System.out.printf("heap after: %.0f MB in use%n", service.heapBytes() / 1e6);
    JsonNode health = service.get("/api/v1/health");
    long bytes = 0;
    for (JsonNode table : health.get("tables")) {
      bytes += table.get("bytes").asLong();
    }
    System.out.printf("records: %.1f MB%n", bytes / 1e6);
  }

  private void pages() {
    double[] sorted = looks.stream().mapToDouble(Double::doubleValue).sorted().toArray();
    System.out.printf(
        "pages meanwhile: p50 %.0f ms, p90 %.0f ms, longest %.0f ms, of %d%n",
        sorted[sorted.length / 2],
        sorted[sorted.length * 9 / 10],
        sorted[sorted.length - 1],
        sorted.length);
  }
}

package dev.purser.bench.load;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/**
 * Real commands through one agent of a running service, beside the bare process-start rate of a JVM
 * on the same machine, one after the other in the same run. Arguments: service address, token, how
 * many commands.
 */
public final class RealCommands {
  private static final int AT_ONCE = 50;

  private final Service service;

  private RealCommands(Service service) {
    this.service = service;
  }

  /** Prints both rates and their ratio. */
  public static void main(String[] args) throws IOException, InterruptedException {
    int commands = Integer.parseInt(args[2]);
    double bare = bare(commands);
    double purser = new RealCommands(new Service(args[0], args[1])).through(commands);
    double again = bare(commands);
    double limit = (bare + again) / 2;
    System.out.printf("bare process starts: %.0f/s before, %.0f/s after%n", bare, again);
    System.out.printf("commands through one agent, on record: %.0f/s%n", purser);
    System.out.printf("ratio: %.2f (promise: 0.50)%n", purser / limit);
  }

  /** Processes started and waited for one after another by this JVM. */
  private static double bare(int commands) throws IOException, InterruptedException {
    for (int i = 0; i < 50; i++) {
      new ProcessBuilder("/bin/true").start().waitFor();
    }
    long start = System.nanoTime();
    for (int i = 0; i < commands; i++) {
      new ProcessBuilder("/bin/true").start().waitFor();
    }
    return commands * 1e9 / (System.nanoTime() - start);
  }

  private double through(int commands) throws IOException, InterruptedException {
    StringBuilder stream = new StringBuilder("stream: bench/commands\njobs:\n");
    for (int i = 0; i < AT_ONCE; i++) {
      stream.append("  j").append(i).append(": { host: bench, run: \"true\" }\n");
    }
    service.post("/api/v1/definitions", Service.file("host: bench\n---\n" + stream));
    play(commands); // until the compilers have done their work
    long start = System.nanoTime();
    play(commands);
    return commands * 1e9 / (System.nanoTime() - start);
  }

  private void play(int commands) throws IOException, InterruptedException {
    for (int i = 0; i < commands / AT_ONCE; i++) {
      start();
    }
    awaitAll();
  }

  private void start() throws IOException, InterruptedException {
    service.post("/api/v1/starts", Map.of("stream", "bench/commands", "job", "", "reason", ""));
  }

  private void awaitAll() throws IOException, InterruptedException {
    for (String state : List.of("waiting", "starting", "running")) {
      while (service
              .get("/api/v1/runs?stream=bench/commands&limit=1&state=" + state)
              .get("total")
              .asLong()
          > 0) {
        Thread.sleep(20);
      }
    }
    for (JsonNode run : service.get("/api/v1/runs?stream=bench/commands&limit=1000").get("runs")) {
      if (!run.get("state").asString().equals("succeeded")) {
        throw new IllegalStateException(run.toString());
      }
    }
  }
}

package dev.purser.bench;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Real commands through one agent of a running service, beside the bare process-start rate of a JVM
 * on the same machine, one after the other in the same run. Arguments: service address, token, how
 * many commands.
 */
public final class RealCommands {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int AT_ONCE = 50;

  private final HttpClient http = HttpClient.newHttpClient();
  private final String service;
  private final String token;

  private RealCommands(String service, String token) {
    this.service = service;
    this.token = token;
  }

  /** Prints both rates and their ratio. */
  public static void main(String[] args) throws IOException, InterruptedException {
    int commands = Integer.parseInt(args[2]);
    double bare = bare(commands);
    double purser = new RealCommands(args[0], args[1]).through(commands);
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
    post(
        "/api/v1/definitions",
        Map.of(
            "files",
            List.of(Map.of("name", "bench.yaml", "text", "host: bench\n---\n" + stream)),
            "reason",
            ""));
    start(); // warm
    awaitAll();
    long start = System.nanoTime();
    for (int i = 0; i < commands / AT_ONCE; i++) {
      start();
    }
    awaitAll();
    return commands * 1e9 / (System.nanoTime() - start);
  }

  private void start() throws IOException, InterruptedException {
    post("/api/v1/starts", Map.of("stream", "bench/commands", "job", "", "reason", ""));
  }

  private void awaitAll() throws IOException, InterruptedException {
    for (String state : List.of("waiting", "starting", "running")) {
      while (get("/api/v1/runs?stream=bench/commands&limit=1&state=" + state).get("total").asLong()
          > 0) {
        Thread.sleep(20);
      }
    }
    for (JsonNode run : get("/api/v1/runs?stream=bench/commands&limit=1000").get("runs")) {
      if (!run.get("state").asString().equals("succeeded")) {
        throw new IllegalStateException(run.toString());
      }
    }
  }

  private JsonNode get(String path) throws IOException, InterruptedException {
    return send(HttpRequest.newBuilder(URI.create(service + path)).GET());
  }

  private JsonNode post(String path, Object body) throws IOException, InterruptedException {
    return send(
        HttpRequest.newBuilder(URI.create(service + path))
            .header("Content-Type", "application/json")
            .POST(HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body))));
  }

  private JsonNode send(HttpRequest.Builder request) throws IOException, InterruptedException {
    HttpResponse<String> response =
        http.send(
            request.header("Authorization", "Bearer " + token).build(),
            HttpResponse.BodyHandlers.ofString());
    if (response.statusCode() / 100 != 2) {
      throw new IllegalStateException(response.statusCode() + " " + response.body());
    }
    return JSON.readTree(response.body());
  }
}

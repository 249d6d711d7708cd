package dev.purser.bench.load;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The API of a running service. */
final class Service {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  final URI address;
  private final String token;
  private final HttpClient http =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  Service(String address, String token) {
    this.address = URI.create(address);
    this.token = token;
  }

  JsonNode get(String path) throws IOException, InterruptedException {
    return JSON.readTree(text(path));
  }

  String text(String path) throws IOException, InterruptedException {
    return send(HttpRequest.newBuilder(address.resolve(path)).GET());
  }

  JsonNode post(String path, Object body) throws IOException, InterruptedException {
    return JSON.readTree(
        send(
            HttpRequest.newBuilder(address.resolve(path))
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))));
  }

  private String send(HttpRequest.Builder request) throws IOException, InterruptedException {
    HttpResponse<String> response =
        http.send(
            request.header("Authorization", "Bearer " + token).build(),
            HttpResponse.BodyHandlers.ofString());
    if (response.statusCode() / 100 != 2) {
      throw new IOException(response.statusCode() + " " + response.body());
    }
    return response.body();
  }

  /** Puts what a path answers into a file. */
  void save(String path, java.nio.file.Path to) throws IOException, InterruptedException {
    HttpRequest request =
        HttpRequest.newBuilder(address.resolve(path))
            .header("Authorization", "Bearer " + token)
            .GET()
            .build();
    http.send(request, HttpResponse.BodyHandlers.ofFile(to));
  }

  /** A figure of the service's own; the sum where it has several parts. */
  double metric(String name) throws IOException, InterruptedException {
    return text("/actuator/prometheus")
        .lines()
        .filter(
            line -> line.startsWith(name + " ") || line.startsWith(name + "{") || isOne(name, line))
        .mapToDouble(line -> Double.parseDouble(line.substring(line.lastIndexOf(' ') + 1)))
        .sum();
  }

  /** A name may have a part in braces; lines may say more of it. */
  private static boolean isOne(String name, String line) {
    return name.endsWith("}") && line.startsWith(name.substring(0, name.length() - 1));
  }

  double heapBytes() throws IOException, InterruptedException {
    return text("/actuator/prometheus")
        .lines()
        .filter(line -> line.startsWith("jvm_memory_used_bytes") && line.contains("area=\"heap\""))
        .mapToDouble(line -> Double.parseDouble(line.substring(line.lastIndexOf(' ') + 1)))
        .sum();
  }

  static Map<String, Object> file(String text) {
    return Map.of(
        "files", java.util.List.of(Map.of("name", "load.yaml", "text", text)), "reason", "load");
  }
}

package dev.purser.bench.chaos;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The API of whichever service is active. */
final class Client {
  static final JsonMapper JSON = JsonMapper.builder().build();

  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .connectTimeout(Duration.ofSeconds(2))
          .build();
  private final List<String> services;
  private String token = "";

  Client(List<String> services) {
    this.services = services;
  }

  /** Signs in the first administrator. */
  void signIn(String oneTime, String password) {
    Map<String, String> request =
        Map.of(
            "name", "admin", "password", oneTime, "tokenLabel", "bench", "newPassword", password);
    token = insist("POST", "/api/v1/session", request).get("token").asString();
  }

  /** Whether a service is active, or stands by and could be. */
  boolean isWell(String service) {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(service + "/actuator/health"))
            .timeout(Duration.ofSeconds(2))
            .build();
    try {
      HttpResponse<String> found = http.send(request, HttpResponse.BodyHandlers.ofString());
      return found.statusCode() == 200 || found.body().contains("OUT_OF_SERVICE");
    } catch (IOException e) {
      return false;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  /** Asks until it is answered. */
  JsonNode insist(String method, String path, Object body) {
    long end = System.nanoTime() + 120_000_000_000L;
    while (System.nanoTime() < end) {
      Optional<JsonNode> answer = once(method, path, body);
      if (answer.isPresent()) {
        return answer.get();
      }
      Harbour.pause(200);
    }
    throw new IllegalStateException("no answer for 120 s: " + method + " " + path);
  }

  /**
   * Asks each service once; empty where none has answered. It may have been done all the same.
   *
   * @throws IllegalStateException where the question was wrong
   */
  Optional<JsonNode> once(String method, String path, Object body) {
    for (String service : services) {
      HttpRequest.Builder request =
          HttpRequest.newBuilder(URI.create(service + path)).timeout(Duration.ofSeconds(15));
      if (!token.isEmpty()) {
        request.header("Authorization", "Bearer " + token);
      }
      request.header("Content-Type", "application/json");
      request.method(
          method,
          body == null
              ? HttpRequest.BodyPublishers.noBody()
              : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
      try {
        HttpResponse<String> response =
            http.send(request.build(), HttpResponse.BodyHandlers.ofString());
        if (response.statusCode() / 100 == 2) {
          return Optional.of(JSON.readTree(response.body()));
        }
        if (response.statusCode() / 100 == 4) {
          throw new IllegalStateException(response.statusCode() + " " + response.body());
        }
        boolean asked = !response.body().contains("Stands by");
        if (asked && method.equals("POST")) {
          return Optional.empty();
        }
      } catch (java.net.ConnectException | java.net.http.HttpConnectTimeoutException e) {
        // this one was never asked: the next
      } catch (IOException e) {
        if (method.equals("POST")) {
          return Optional.empty();
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new IllegalStateException(e);
      }
    }
    return Optional.empty();
  }

  /** All the output of a run that is kept. */
  String output(long run) {
    StringBuilder all = new StringBuilder();
    long offset = 0;
    while (true) {
      JsonNode piece = insist("GET", "/api/v1/runs/" + run + "/output?offset=" + offset, null);
      all.append(piece.get("text").asString());
      long next = piece.get("next").asLong();
      if (next <= offset) {
        return all.toString();
      }
      offset = next;
    }
  }
}

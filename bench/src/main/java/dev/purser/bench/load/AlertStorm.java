package dev.purser.bench.load;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import tools.jackson.databind.JsonNode;

/**
 * A thousand runs are late at one moment: how long until the first message arrives, how many there
 * are, and whether every alert is on record. Beside it streams are started at a steady pace, so
 * that the engine has turns whose p99 says what the storm costs everybody else. Arguments: the
 * service's address, a token, how many runs. The service must be allowed to call 127.0.0.1.
 */
public final class AlertStorm {
  private static final int LEAD_SECONDS = 45;
  private static final long PACE_MILLIS = 25;

  private static final String P99 = "purser_engine_turn_seconds{quantile=\"0.99\"}";

  private AlertStorm() {}

  /** Runs it. */
  public static void main(String[] args) throws IOException, InterruptedException {
    Service service = new Service(args[0], args[1]);
    int runs = Integer.parseInt(args[2]);
    List<Instant> heard = new CopyOnWriteArrayList<>();
    HttpServer ear =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
    ear.createContext(
        "/",
        call -> {
          call.getRequestBody().readAllBytes();
          heard.add(Instant.now());
          call.sendResponseHeaders(204, -1);
          call.close();
        });
    ear.start();
    Instant late = Instant.ofEpochSecond(Instant.now().getEpochSecond() + LEAD_SECONDS);
    service.post(
        "/api/v1/definitions",
        Service.file(world(runs, late, "http://127.0.0.1:" + ear.getAddress().getPort() + "/")));
    service.post("/api/v1/starts", Map.of("stream", "storm/night", "job", "", "reason", "storm"));
    Thread pace = new Thread(() -> start(service));
    pace.setDaemon(true);
    pace.start();
    Thread.sleep(Math.max(0, late.minusSeconds(2).toEpochMilli() - System.currentTimeMillis()));
    double before = service.metric("purser_engine_turn_seconds_max");
    double usual = service.metric(P99);
    Thread.sleep(Math.max(0, late.plusSeconds(20).toEpochMilli() - System.currentTimeMillis()));
    JsonNode heads = service.get("/api/v1/alerts?heads=true&kind=late&limit=500");
    int all = 0;
    for (JsonNode head : heads) {
      all += 1 + head.get("parts").asInt();
    }
    System.out.printf(
        "%d runs late at one moment: %d alerts on record in %d groups, %d messages, the first %d ms"
            + " after; longest turn of the engine %.0f ms (%.0f ms before), its p99 %.1f ms (%.1f ms"
            + " before)%n",
        runs,
        all,
        heads.size(),
        heard.size(),
        heard.isEmpty() ? -1 : heard.get(0).toEpochMilli() - late.toEpochMilli(),
        1_000 * service.metric("purser_engine_turn_seconds_max"),
        1_000 * before,
        1_000 * service.metric(P99),
        1_000 * usual);
    pace.interrupt();
    for (String path : List.of("/api/v1/alerts?limit=200", "/api/v1/alerts?heads=true&limit=200")) {
      long begin = System.nanoTime();
      service.get(path);
      System.out.printf("%s: %d ms%n", path, (System.nanoTime() - begin) / 1_000_000);
    }
    ear.stop(0);
  }

  /** What goes on beside it. */
  private static void start(Service service) {
    try {
      while (true) {
        service.post(
            "/api/v1/starts", Map.of("stream", "storm/quiet", "job", "", "reason", "pace"));
        Thread.sleep(PACE_MILLIS);
      }
    } catch (IOException e) {
      System.out.println("nothing goes on beside it: " + e.getMessage());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static String world(int runs, Instant late, String hook) {
    String by = DateTimeFormatter.ofPattern("HH:mm:ss").format(late.atZone(ZoneOffset.UTC));
    StringBuilder text = new StringBuilder();
    text.append("host: nowhere\n---\nrecipient: ear\nwebhook: \"").append(hook).append("\"\n---\n");
    text.append("stream: storm/quiet\njobs: { j: { host: nowhere, run: x } }\n---\n");
    text.append("stream: storm/night\nowner: ear\npaused: no\njobs:\n");
    for (int i = 0; i < runs; i++) {
      text.append("  j").append(i).append(": { host: nowhere, run: x, start-by: \"").append(by);
      text.append("\" }\n");
    }
    return text.toString();
  }
}

package dev.purser.service.alert;

import dev.purser.service.Settings;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** HTTP POST of a CloudEvents 1.0 event in structured JSON. */
@Component
class WebhookChannel implements Channel {
  private static final Duration LIMIT = Duration.ofSeconds(10);

  private final JsonMapper json;
  private final Settings settings;
  private final HttpClient http = HttpClient.newBuilder().connectTimeout(LIMIT).build();

  WebhookChannel(JsonMapper json, Settings settings) {
    this.json = json;
    this.settings = settings;
  }

  @Override
  public String name() {
    return "webhook";
  }

  @Override
  public void deliver(Told told, String address, String deliveryId) throws DeliveryFailed {
    try {
      HttpRequest post =
          HttpRequest.newBuilder(URI.create(address))
              .timeout(LIMIT)
              .header("Content-Type", "application/cloudevents+json; charset=UTF-8")
              .POST(HttpRequest.BodyPublishers.ofString(event(told, deliveryId)))
              .build();
      HttpResponse<Void> response = http.send(post, HttpResponse.BodyHandlers.discarding());
      if (response.statusCode() / 100 != 2) {
        throw new DeliveryFailed(
            address + " answered " + response.statusCode() + ", expected 2xx", null);
      }
    } catch (IOException | IllegalArgumentException e) {
      throw new DeliveryFailed("cannot reach " + address + ": " + e.getMessage(), e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new DeliveryFailed("interrupted", e);
    }
  }

  private String event(Told told, String deliveryId) {
    AlertRow alert = told.alert();
    Map<String, Object> data = new LinkedHashMap<>();
    data.put("alert", alert.id);
    data.put("kind", told.kind());
    data.put("urgency", alert.urgency);
    data.put("title", alert.title);
    data.put("text", told.text());
    data.put("reference", alert.reference);
    data.put("stream", alert.stream);
    data.put("console", settings.consoleAddress() + alert.page());
    Map<String, Object> event = new LinkedHashMap<>();
    event.put("specversion", "1.0");
    event.put("id", deliveryId);
    event.put("source", settings.consoleAddress());
    event.put("type", "dev.purser.alert." + told.kind());
    event.put("subject", alert.reference);
    event.put("time", told.at().toString());
    event.put("datacontenttype", "application/json");
    event.put("data", data);
    return json.writeValueAsString(event);
  }
}

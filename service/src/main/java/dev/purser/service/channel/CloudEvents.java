package dev.purser.service.channel;

import dev.purser.core.definition.Way;
import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * HTTP POST of CloudEvents 1.0 events, in structured or binary mode; signed where there is a
 * secret, and with the receiver's consent where that is wanted (docs/alerts.md).
 */
@Component
public class CloudEvents {
  private static final Duration CONSENT_HOLDS = Duration.ofHours(1);

  private final JsonMapper json;
  private final Settings settings;
  private final WebCalls calls;
  private final NamedSecrets secrets;
  private final Clock clock;
  private final Map<String, Instant> consents = new ConcurrentHashMap<>();

  CloudEvents(
      JsonMapper json, Settings settings, WebCalls calls, NamedSecrets secrets, Clock clock) {
    this.json = json;
    this.settings = settings;
    this.calls = calls;
    this.secrets = secrets;
    this.clock = clock;
  }

  /**
   * Sends one.
   *
   * @param way the address, and its options {@code mode}, {@code signed-by} and {@code asks-first}
   * @param about its attributes, among them {@code id}, {@code type} and {@code subject}
   * @param data what it carries
   * @return what the receiver answered
   */
  public String post(Way way, Map<String, Object> about, Map<String, Object> data)
      throws Channel.DeliveryFailed {
    URI to = WebCalls.address(way.address());
    if (way.option("asks-first").equals("yes")) {
      consent(to, way.address());
    }
    Map<String, Object> attributes = new LinkedHashMap<>();
    attributes.put("specversion", "1.0");
    attributes.put("source", settings.consoleAddress());
    attributes.putAll(about);
    attributes.put("datacontenttype", "application/json");
    String id = String.valueOf(about.get("id"));
    HttpRequest.Builder request = HttpRequest.newBuilder();
    String body;
    if (way.option("mode").equals("binary")) {
      body = json.writeValueAsString(data);
      attributes.remove("datacontenttype");
      attributes.forEach((name, value) -> request.header("ce-" + name, inHeader("" + value)));
      request.header("Content-Type", "application/json; charset=UTF-8");
    } else {
      attributes.put("data", data);
      body = json.writeValueAsString(attributes);
      request.header("Content-Type", "application/cloudevents+json; charset=UTF-8");
    }
    if (!way.option("signed-by").isEmpty()) {
      long second = clock.instant().getEpochSecond();
      request.header("webhook-id", id);
      request.header("webhook-timestamp", "" + second);
      request.header(
          "webhook-signature",
          "v1," + signature(secrets.of(way.option("signed-by")), id, second, body));
    }
    return calls.post(request.POST(HttpRequest.BodyPublishers.ofString(body)), to, way.address());
  }

  /** HMAC-SHA-256 of the id, the second and the body with dots between, in base 64. */
  static String signature(String secret, String id, long second, String body) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      String signed = id + "." + second + "." + body;
      return Base64.getEncoder()
          .encodeToString(mac.doFinal(signed.getBytes(StandardCharsets.UTF_8)));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has HmacSHA256", e);
    }
  }

  /** The standard's handshake: OPTIONS, and the receiver names who may send. */
  private void consent(URI to, String shown) throws Channel.DeliveryFailed {
    Instant now = clock.instant();
    Instant until = consents.get(shown);
    if (until != null && now.isBefore(until)) {
      return;
    }
    String origin = URI.create(settings.consoleAddress()).getHost();
    HttpRequest.Builder ask =
        HttpRequest.newBuilder()
            .method("OPTIONS", HttpRequest.BodyPublishers.noBody())
            .header("WebHook-Request-Origin", origin);
    HttpResponse<String> answer = calls.send(ask, to, shown);
    String allowed = answer.headers().firstValue("WebHook-Allowed-Origin").orElse("");
    if (!allowed.equals("*") && !allowed.equalsIgnoreCase(origin)) {
      throw new Channel.DeliveryFailed(
          shown
              + " does not consent: it must answer OPTIONS with WebHook-Allowed-Origin: "
              + origin,
          null);
    }
    consents.put(shown, now.plus(CONSENT_HOLDS));
  }

  /** As the standard writes a value in a header: what is not plain is escaped with %. */
  private static String inHeader(String value) {
    StringBuilder out = new StringBuilder();
    value
        .codePoints()
        .forEach(
            c -> {
              boolean plain = c > ' ' && c < 0x7f && c != '"' && c != '%';
              out.append(
                  plain
                      ? Character.toString(c)
                      : c == ' '
                          ? "%20"
                          : URLEncoder.encode(Character.toString(c), StandardCharsets.UTF_8));
            });
    return out.toString();
  }
}

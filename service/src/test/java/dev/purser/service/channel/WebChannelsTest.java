package dev.purser.service.channel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import dev.purser.core.definition.Way;
import dev.purser.service.alert.Channel;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Webhooks and chats against a real HTTP receiver that behaves, and that does not. */
class WebChannelsTest {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final List<HttpExchange> calls = new CopyOnWriteArrayList<>();
  private final List<String> bodies = new CopyOnWriteArrayList<>();
  private final ExecutorService threads = Executors.newCachedThreadPool();
  private HttpServer server;
  private String address;
  private String origin = "purser.brannoch.example";
  @TempDir private Path secrets;

  @BeforeEach
  void open() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    server.setExecutor(threads);
    server.createContext("/", this::answer);
    server.start();
    address = "http://127.0.0.1:" + server.getAddress().getPort();
    Files.writeString(secrets.resolve("night-hook"), "not so secret\n");
    Files.writeString(secrets.resolve("chat-room"), "room-4711\n");
  }

  @AfterEach
  void close() {
    server.stop(0);
    threads.shutdownNow();
  }

  private void answer(HttpExchange call) throws IOException {
    bodies.add(new String(call.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
    calls.add(call);
    String path = call.getRequestURI().getPath();
    try {
      if (call.getRequestMethod().equals("OPTIONS")) {
        call.getResponseHeaders().add("WebHook-Allowed-Origin", origin);
        call.sendResponseHeaders(204, -1);
      } else if (path.matches("/\\d+")) {
        call.getResponseHeaders().add("Location", address + "/200");
        byte[] text = "said something".getBytes(StandardCharsets.UTF_8);
        call.sendResponseHeaders(Integer.parseInt(path.substring(1)), text.length);
        call.getResponseBody().write(text);
      } else if (path.equals("/endless")) {
        call.sendResponseHeaders(200, 0);
        while (true) {
          call.getResponseBody().write(new byte[1_000]);
        }
      } else if (path.equals("/drip")) {
        call.sendResponseHeaders(200, 0);
        while (true) {
          call.getResponseBody().write('.');
          call.getResponseBody().flush();
          Thread.sleep(1_000);
        }
      } else if (path.equals("/never")) {
        Thread.sleep(60_000);
      } else {
        call.sendResponseHeaders(202, -1);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      call.close();
    }
  }

  private WebCalls web(String mayCall) {
    return new WebCalls(new Reachable(Receivers.settings("", mayCall)), Duration.ofSeconds(2));
  }

  private WebhookChannel webhook() {
    return new WebhookChannel(
        new CloudEvents(
            JSON,
            Receivers.settings("" + secrets, "127.0.0.1"),
            web("127.0.0.1"),
            new NamedSecrets(Receivers.settings("" + secrets, "")),
            Clock.systemUTC()));
  }

  private String deliver(String path, Map<String, String> options) throws Channel.DeliveryFailed {
    Way way = new Way("webhook", address + path, options);
    return webhook().deliver(Receivers.message("Sign for it", Optional.empty()), way);
  }

  @Test
  void anEventIsOneDocumentAndIsSigned() throws Channel.DeliveryFailed {
    assertThat(deliver("/in", Map.of("signed-by", "night-hook"))).isEqualTo("HTTP 202");
    JsonNode event = JSON.readTree(bodies.get(0));
    assertThat(event.get("specversion").asString()).isEqualTo("1.0");
    assertThat(event.get("id").asString()).isEqualTo("alert-12-34");
    assertThat(event.get("type").asString()).isEqualTo("dev.purser.alert.failed");
    assertThat(event.get("data").get("firstAid").asString()).isEqualTo("call the depot");
    var headers = calls.get(0).getRequestHeaders();
    long second = Long.parseLong(headers.getFirst("webhook-timestamp"));
    assertThat(headers.getFirst("webhook-signature"))
        .isEqualTo(
            "v1," + CloudEvents.signature("not so secret", "alert-12-34", second, bodies.get(0)));
  }

  /** A value that is on record elsewhere, so that a change of the way of signing is noticed. */
  @Test
  void theSignatureIsAsTheDocumentationSays() {
    assertThat(CloudEvents.signature("key", "id", 1, "{}"))
        .isEqualTo("5PVmP2AfJGwnp9flV+flrzfukNWA9zyUdqvI+IQalVs=");
  }

  @Test
  void inBinaryModeTheAttributesAreHeaders() throws Channel.DeliveryFailed {
    deliver("/in", Map.of("mode", "binary"));
    var headers = calls.get(0).getRequestHeaders();
    assertThat(headers.getFirst("ce-type")).isEqualTo("dev.purser.alert.failed");
    assertThat(headers.getFirst("ce-subject")).isEqualTo("fuel/bunkering/sign@2027-03-04#1");
    assertThat(JSON.readTree(bodies.get(0)).get("title").asString()).isEqualTo("Sign for it");
  }

  @Test
  void whoMustConsentIsAskedFirstAndOnlyNowAndThen() throws Channel.DeliveryFailed {
    WebhookChannel webhook = webhook();
    Way way = new Way("webhook", address + "/in", Map.of("asks-first", "yes"));
    webhook.deliver(Receivers.message("a", Optional.empty()), way);
    webhook.deliver(Receivers.message("a", Optional.empty()), way);
    assertThat(calls)
        .extracting(HttpExchange::getRequestMethod)
        .containsExactly("OPTIONS", "POST", "POST");
    origin = "somebody.else.example";
    assertThatThrownBy(() -> deliver("/in", Map.of("asks-first", "yes")))
        .hasMessageContaining("does not consent");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          /301     | false | answered 301 (redirects are not followed: name the new address)
          /500     | false | answered 500, expected 2xx: said something
          /404     | false | answered 404
          /410     | true  | it is gone
          /never   | false | did not answer within 2 s
          /drip    | false | did not answer within 2 s
          """)
  void aReceiverThatMisbehavesHoldsNobodyUp(String path, boolean forGood, String message) {
    assertThatThrownBy(() -> deliver(path, Map.of()))
        .isInstanceOf(forGood ? Channel.Refused.class : Channel.DeliveryFailed.class)
        .hasMessageContaining(message);
    assertThat(calls).as("nothing is followed").hasSize(1);
  }

  @Test
  void ofAnEndlessAnswerTheBeginningIsRead() throws Channel.DeliveryFailed {
    assertThat(deliver("/endless", Map.of())).startsWith("HTTP 200");
  }

  @ParameterizedTest
  @CsvSource({
    "http://127.0.0.1:9/",
    "http://localhost/",
    "http://10.1.2.3/",
    "http://192.168.0.1/",
    "http://172.16.0.1/",
    "http://169.254.169.254/latest",
    "http://100.64.0.1/",
    "http://0.0.0.0/",
    "http://[::1]/",
    "http://[fd00::1]/",
    "http://[fe80::1]/",
    "http://[::ffff:127.0.0.1]/",
    "http://[64:ff9b::7f00:1]/",
    "http://0x7f.1/",
    "http://2130706433/",
  })
  void whatIsWithinTheHouseIsNotCalledUnlessItIsNamed(String inside) {
    Way way = new Way("chat", inside, Map.of("body", "{}"));
    assertThatThrownBy(
            () ->
                new ChatChannel(web(""), new NamedSecrets(Receivers.settings("", "")))
                    .deliver(Receivers.message("a", Optional.empty()), way))
        .isInstanceOf(Channel.DeliveryFailed.class)
        .message()
        .matches(".*(not of the public net|has no host|there is no host).*");
    assertThat(calls).isEmpty();
  }

  @Test
  void aChatGetsTheJsonOfItsTemplateAtAnAddressThatNobodySees() throws Channel.DeliveryFailed {
    ChatChannel chat =
        new ChatChannel(
            web("127.0.0.1:" + server.getAddress().getPort()),
            new NamedSecrets(Receivers.settings("" + secrets, "")));
    Map<String, String> options =
        Map.of(
            "body",
            "{\"text\": \"${title}: ${text}\\n${parts}\", \"n\": ${count}, \"failed\": \"${failed-jobs}\"}",
            "address-secret",
            "chat-room");
    chat.deliver(
        Receivers.message("Sign \"it\"", Optional.empty()),
        new Way("chat", address + "/rooms/", options));
    JsonNode body = JSON.readTree(bodies.get(0));
    assertThat(body.get("text").asString())
        .startsWith("Sign \"it\": exit code 3 <b>&\nsecond line\nSign (late)");
    assertThat(body.get("n").asInt()).isEqualTo(2);
    assertThat(body.get("failed").asString())
        .isEqualTo("Sign: exit code 3 https://purser.brannoch.example/runs/77");
    assertThat(calls.get(0).getRequestURI().getPath()).isEqualTo("/rooms/room-4711");
    assertThatThrownBy(
            () ->
                chat.deliver(
                    Receivers.message("a", Optional.empty()),
                    new Way("chat", address + "/500?", options)))
        .message()
        .doesNotContain("4711");
  }

  @ParameterizedTest
  @CsvSource({"missing", "../night-hook", "/etc/passwd"})
  void aSecretThatIsNotThereIsSaid(String name) {
    assertThatThrownBy(() -> deliver("/in", Map.of("signed-by", name)))
        .hasMessageContaining("cannot be read");
    assertThat(calls).isEmpty();
  }
}

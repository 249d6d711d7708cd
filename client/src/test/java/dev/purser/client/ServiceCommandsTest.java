package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How the client speaks to a service, here one that says what the test wants to hear. */
class ServiceCommandsTest {
  private final List<String> asked = new CopyOnWriteArrayList<>();
  private HttpServer server;
  private volatile int status = 200;
  private volatile String answer = "{}";

  @BeforeEach
  void open() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    server.createContext(
        "/",
        exchange -> {
          String body =
              new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          asked.add(
              exchange.getRequestMethod()
                  + " "
                  + exchange.getRequestURI()
                  + " "
                  + exchange.getRequestHeaders().getFirst("Authorization")
                  + " "
                  + body);
          byte[] bytes = answer.getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
          exchange.getResponseBody().write(bytes);
          exchange.close();
        });
    server.start();
  }

  @AfterEach
  void close() {
    server.stop(0);
  }

  private Service service() {
    return new Service(
        new Login("http://127.0.0.1:" + server.getAddress().getPort() + "/", "secret"));
  }

  @Test
  void aQuestionCarriesTheTokenAndEncodesWhatItAsks() {
    answer = "[]";
    assertThat(service().list(String.class, "/runs", Map.of("text", "a b&c/ø#1"))).isEmpty();
    assertThat(asked)
        .containsExactly("GET /api/v1/runs?text=a%20b%26c%2F%C3%B8%231 Bearer secret ");
  }

  @Test
  void whatIsEmptyIsNotAskedFor() {
    answer = "[]";
    service().list(String.class, "/runs", Map.of("text", ""));
    assertThat(asked.get(0)).startsWith("GET /api/v1/runs Bearer");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          400 | {"detail":"which stream?"}      | 2 | which stream?
          404 | {"detail":"there is no run x"}  | 1 | there is no run x
          409 | {"detail":"cannot now"}         | 1 | cannot now
          401 |                                 | 1 | run: purser login
          403 |                                 | 1 | your role does not allow this
          412 | {"detail":"changed meanwhile"}  | 1 | changed meanwhile
          503 | {"detail":"database away"}      | 3 | database away
          500 | <html>oops</html>               | 3 | the service answered 500
          """)
  void aRefusalHasTheServicesWordsAndItsExitCode(
      int status, String body, int code, String message) {
    this.status = status;
    this.answer = body == null ? "" : body;
    assertThatThrownBy(() -> service().get(Map.class, "/runs/1", Map.of()))
        .isInstanceOfSatisfying(
            Service.Refusal.class, refusal -> assertThat(refusal.code()).isEqualTo(code))
        .hasMessageContaining(message);
  }

  @Test
  void unsoundDefinitionsAreAnAnswerNotAFailure() {
    status = 422;
    answer = "{\"sound\":false}";
    assertThat(service().post(Map.class, "/definitions", Map.of()).get("sound")).isEqualTo(false);
  }

  @Test
  void aServiceThatIsNotThereIsSaidSo() {
    int port = server.getAddress().getPort();
    server.stop(0);
    Service gone = new Service(new Login("http://127.0.0.1:" + port, "secret"));
    assertThatThrownBy(() -> gone.get(Map.class, "/runs/1", Map.of()))
        .isInstanceOfSatisfying(Service.Refusal.class, r -> assertThat(r.code()).isEqualTo(3))
        .hasMessageContaining("cannot be reached");
  }
}

package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Requests over a real connection. */
class HttpTest {
  private final List<String> asked = Collections.synchronizedList(new ArrayList<>());
  private HttpServer server;
  private int status = 200;

  @BeforeEach
  void serve() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          byte[] body = exchange.getRequestBody().readAllBytes();
          asked.add(
              exchange.getRequestMethod()
                  + " "
                  + exchange.getRequestURI()
                  + " "
                  + exchange.getRequestHeaders().getFirst("Purser-Test")
                  + " "
                  + new String(body, StandardCharsets.UTF_8));
          byte[] answer = "døren".getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().add("Location", "/elsewhere");
          exchange.sendResponseHeaders(status, answer.length);
          exchange.getResponseBody().write(answer);
          exchange.close();
        });
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private URI address() {
    return URI.create("http://127.0.0.1:" + server.getAddress().getPort() + "/a?b=c");
  }

  /** An answer is told as it came, whatever it says; nothing is followed or asked twice. */
  @ParameterizedTest
  @CsvSource({
    "GET, , 200",
    "POST, {}, 201",
    "PUT, {}, 422",
    "DELETE, , 404",
    "GET, , 401",
    "GET, , 302",
    "POST, {}, 503"
  })
  void anAnswerIsToldAsItCame(String method, String body, int said) throws IOException {
    status = said;
    Http.Answer answer =
        Http.send(
            method,
            address(),
            Map.of("Purser-Test", "yes"),
            body == null ? null : body.getBytes(StandardCharsets.UTF_8));
    assertThat(answer.status()).isEqualTo(said);
    assertThat(answer.body()).isEqualTo("døren");
    assertThat(answer.header("location")).contains("/elsewhere");
    assertThat(asked).containsExactly(method + " /a?b=c yes " + (body == null ? "" : body));
  }

  /** Why a sign-in was refused is told; that a token is no good any more needs no text. */
  @ParameterizedTest
  @CsvSource({"/api/v1/session, døren", "/api/v1/actions, ''"})
  void aRefusedSignInSaysWhy(String path, String text) throws IOException {
    status = 401;
    URI address = URI.create("http://127.0.0.1:" + server.getAddress().getPort() + path);
    Http.Answer answer =
        Http.send("POST", address, Map.of(), "{}".getBytes(StandardCharsets.UTF_8));
    assertThat(answer.status()).isEqualTo(401);
    assertThat(answer.body()).isEqualTo(text);
    assertThat(asked).hasSize(1);
  }

  @Test
  void whoIsNotThereWasNotAsked() {
    URI address = address();
    server.stop(0);
    assertThatThrownBy(() -> Http.send("GET", address, Map.of(), null))
        .isInstanceOf(Http.NotConnected.class);
  }

  /**
   * The other side takes the request and hangs up: it may have been done, so it is not repeated.
   */
  @RepeatedTest(20)
  void aRequestThatMayHaveBeenTakenIsNotSentAgain() throws Exception {
    try (ServerSocket door = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
      Thread host =
          new Thread(
              () -> {
                while (!door.isClosed()) {
                  try (var caller = door.accept()) {
                    byte[] request = new byte[4_096];
                    int length = caller.getInputStream().read(request);
                    if (new String(request, 0, Math.max(length, 0), StandardCharsets.UTF_8)
                        .contains("{}")) {
                      asked.add("all of it");
                    }
                  } catch (IOException e) {
                    return;
                  }
                }
              });
      host.start();
      URI address = URI.create("http://127.0.0.1:" + door.getLocalPort() + "/");
      byte[] body = "{}".getBytes(StandardCharsets.UTF_8);
      assertThatThrownBy(() -> Http.send("POST", address, Map.of(), body))
          .isInstanceOf(IOException.class)
          .isNotInstanceOf(Http.NotConnected.class);
      assertThat(asked).hasSizeLessThan(2);
    }
  }
}

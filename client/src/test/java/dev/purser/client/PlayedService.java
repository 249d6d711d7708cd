package dev.purser.client;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** A service that answers what the test wants, and a login to it. */
abstract class PlayedService {
  final Map<String, Object> answers = new ConcurrentHashMap<>();
  final List<String> asked = new CopyOnWriteArrayList<>();
  final String home = System.getProperty("user.home");
  HttpServer server;
  @TempDir Path folder;

  @BeforeEach
  void open() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    server.createContext(
        "/",
        exchange -> {
          String body =
              new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          asked.add(exchange.getRequestURI() + " " + body);
          Object answer = answers.get(exchange.getRequestURI().getPath());
          byte[] bytes = Service.JSON.writeValueAsBytes(answer);
          exchange.sendResponseHeaders(answer == null ? 404 : 200, bytes.length);
          exchange.getResponseBody().write(bytes);
          exchange.close();
        });
    server.start();
    System.setProperty("user.home", folder.toString()); // where the login is looked for
    new Login("http://127.0.0.1:" + server.getAddress().getPort(), "secret").keep();
  }

  @AfterEach
  void close() {
    System.setProperty("user.home", home);
    server.stop(0);
  }

  String run(Object command, String... arguments) {
    StringWriter out = new StringWriter();
    CommandLine line = FurtherWords.of(command, List.of(arguments));
    line.setOut(new PrintWriter(out, true));
    line.setErr(new PrintWriter(out, true));
    line.setExecutionExceptionHandler(
        (e, failed, parsed) -> {
          out.write(e.getMessage());
          return 1;
        });
    line.execute(arguments);
    return out.toString();
  }
}

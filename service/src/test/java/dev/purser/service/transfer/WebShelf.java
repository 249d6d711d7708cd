package dev.purser.service.transfer;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.Executors;

/** Files that are had by HTTP: {@code day one.csv}, one that comes in pieces, one that is not. */
final class WebShelf implements AutoCloseable {
  private final HttpServer http;

  WebShelf() throws IOException {
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
    http.setExecutor(Executors.newCachedThreadPool());
    http.createContext("/", this::answer);
    http.start();
  }

  String address() {
    return "http://127.0.0.1:" + http.getAddress().getPort();
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      boolean head = exchange.getRequestMethod().equals("HEAD");
      switch (exchange.getRequestURI().getRawPath()) {
        case "/reports/orders/day%20one.csv" -> {
          byte[] data = "day/one".getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().set("Last-Modified", "Thu, 04 Mar 2027 21:30:00 GMT");
          if (head) {
            exchange.getResponseHeaders().set("Content-Length", String.valueOf(data.length));
            exchange.sendResponseHeaders(200, -1);
          } else {
            exchange.sendResponseHeaders(200, data.length);
            exchange.getResponseBody().write(data);
          }
        }
        case "/reports/orders/pieces.csv" -> {
          exchange.sendResponseHeaders(head ? 405 : 200, head ? -1 : 0);
          if (!head) {
            exchange
                .getResponseBody()
                .write("in pieces ".repeat(10_000).getBytes(StandardCharsets.UTF_8));
          }
        }
        case "/reports/orders/forbidden" -> exchange.sendResponseHeaders(403, -1);
        default -> exchange.sendResponseHeaders(404, -1);
      }
    }
  }

  @Override
  public void close() {
    http.stop(0);
  }
}

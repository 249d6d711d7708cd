package dev.purser.outside;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicInteger;
import org.subethamail.smtp.helper.SimpleMessageListener;
import org.subethamail.smtp.server.SMTPServer;

/** A stand-in: takes mail by SMTP and events by webhook, and shows both on a page. */
public final class Sink implements AutoCloseable {
  private static final int MOST = 500;

  private final List<Letter> letters = new CopyOnWriteArrayList<>();
  private final List<Hook> hooks = new CopyOnWriteArrayList<>();
  private final AtomicInteger refusals = new AtomicInteger();
  private final SMTPServer smtp;
  private final HttpServer http;
  private TrapSink traps;

  /** A mail that came in. */
  public record Letter(Instant at, String to, String text) {}

  /** A webhook call that came in. */
  public record Hook(Instant at, String contentType, String body) {}

  /**
   * Opens it on loopback.
   *
   * @param smtpPort 0 for any
   * @param httpPort 0 for any
   */
  public Sink(int smtpPort, int httpPort) throws IOException {
    smtp =
        SMTPServer.port(smtpPort)
            .bindAddress(InetAddress.getLoopbackAddress())
            .simpleMessageListener(new Mailbox())
            .build();
    smtp.start();
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), httpPort), 50);
    http.createContext("/hook", this::hook);
    http.createContext("/calendars/harbour-authority.ics", Sink::calendar);
    http.createContext("/", this::page);
    http.start();
  }

  /** Runs it as a program: SMTP port, HTTP port, port for traps. */
  public static void main(String[] args) throws IOException {
    Sink sink = new Sink(Integer.parseInt(args[0]), Integer.parseInt(args[1]));
    sink.traps = new TrapSink(Integer.parseInt(args[2]));
    System.out.println(
        "mail on "
            + sink.smtpPort()
            + ", webhooks and page on "
            + sink.httpPort()
            + ", traps on "
            + sink.traps.port());
  }

  /** Takes every mail. */
  private final class Mailbox implements SimpleMessageListener {
    @Override
    public boolean accept(String from, String recipient) {
      return true;
    }

    @Override
    public void deliver(String from, String recipient, InputStream data) {
      take(recipient, data);
    }
  }

  private void take(String to, InputStream data) {
    try {
      String text = new String(data.readAllBytes(), StandardCharsets.UTF_8);
      letters.add(new Letter(Instant.now(), to, text));
      if (letters.size() > MOST) {
        letters.remove(0);
      }
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  private void hook(HttpExchange exchange) throws IOException {
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    exchange.getRequestBody().transferTo(body);
    if (refusals.getAndUpdate(n -> Math.max(0, n - 1)) > 0) {
      exchange.sendResponseHeaders(503, -1);
    } else {
      String type = exchange.getRequestHeaders().getFirst("Content-Type");
      hooks.add(new Hook(Instant.now(), type, body.toString(StandardCharsets.UTF_8)));
      if (hooks.size() > MOST) {
        hooks.remove(0);
      }
      exchange.sendResponseHeaders(204, -1);
    }
    exchange.close();
  }

  /** The closing days of the harbour authority, as it would publish them. */
  private static void calendar(HttpExchange exchange) throws IOException {
    try (InputStream file = Sink.class.getResourceAsStream("/harbour-authority.ics")) {
      byte[] bytes = file.readAllBytes();
      exchange.getResponseHeaders().set("Content-Type", "text/calendar; charset=utf-8");
      exchange.sendResponseHeaders(200, bytes.length);
      exchange.getResponseBody().write(bytes);
    }
    exchange.close();
  }

  private void page(HttpExchange exchange) throws IOException {
    StringBuilder page =
        new StringBuilder(
            "<!doctype html><meta charset=utf-8><meta http-equiv=refresh content=3>"
                + "<title>What came in</title><style>body{font:15px system-ui;margin:2rem}"
                + "pre{background:#f3efe5;padding:.8rem;white-space:pre-wrap}</style>"
                + "<h1>What came in</h1><p>A stand-in for the outside world: "
                + letters.size()
                + " mails, "
                + hooks.size()
                + " webhook calls"
                + (traps == null ? "" : ", " + traps.traps().size() + " traps")
                + ". Newest first.</p>");
    for (int i = letters.size() - 1; i >= 0; i--) {
      Letter letter = letters.get(i);
      page.append("<h3>mail to ").append(escape(letter.to())).append(", ").append(letter.at());
      page.append("</h3><pre>").append(escape(letter.text())).append("</pre>");
    }
    for (int i = hooks.size() - 1; i >= 0; i--) {
      Hook hook = hooks.get(i);
      page.append("<h3>webhook, ").append(hook.at()).append("</h3><pre>");
      page.append(escape(hook.body())).append("</pre>");
    }
    List<TrapSink.Trap> caught = traps == null ? List.of() : traps.traps();
    for (int i = caught.size() - 1; i >= 0; i--) {
      page.append("<h3>trap, ").append(caught.get(i).at()).append("</h3><pre>");
      page.append(escape(caught.get(i).text())).append("</pre>");
    }
    byte[] bytes = page.toString().getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "text/html; charset=utf-8");
    exchange.sendResponseHeaders(200, bytes.length);
    exchange.getResponseBody().write(bytes);
    exchange.close();
  }

  static String escape(String text) {
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
  }

  /** Mails so far, in the order in which they came. */
  public List<Letter> letters() {
    return List.copyOf(letters);
  }

  /** Webhook calls so far, in the order in which they came. */
  public List<Hook> hooks() {
    return List.copyOf(hooks);
  }

  /** Makes the next webhook calls fail, as a receiver in trouble does. */
  public void refuseNext(int calls) {
    refusals.set(calls);
  }

  /** Where mail is taken. */
  public int smtpPort() {
    return smtp.getPortAllocated();
  }

  /** Where webhooks are taken. */
  public int httpPort() {
    return http.getAddress().getPort();
  }

  @Override
  public void close() {
    smtp.stop();
    http.stop(0);
  }
}

package dev.purser.client;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.Writer;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/**
 * What Java watches to learn which classes commands need, for its archives: one for those that need
 * no service, one for those that ask it. Java takes in all of an archive at every start, so nothing
 * is in one that its commands do not need; the service that is none is a process of its own. All of
 * it is started by the command line itself, with an empty directory for its configuration.
 */
final class Training {
  private static final Map<String, Type> ANSWERS =
      Map.ofEntries(
          Map.entry("/runs", Views.RunPage.class),
          Map.entry("/runs/find", RunView.class),
          Map.entry("/runs/1", Views.RunDetail.class),
          Map.entry("/runs/1/why", Views.WhyView.class),
          Map.entry("/graph", ActionViews.GraphView.class),
          Map.entry("/plan", RunView.class),
          Map.entry("/needs", Views.NeedView.class),
          Map.entry("/outlook", Views.OutlookView.class),
          Map.entry("/hosts", Views.HostView.class),
          Map.entry("/alerts", AlertViews.AlertView.class),
          Map.entry("/audit", Views.AuditView.class),
          Map.entry("/streams", ScheduleViews.StreamView.class),
          Map.entry("/streams/next", ScheduleViews.StartView.class),
          Map.entry("/streams/month", ScheduleViews.MonthView.class),
          Map.entry("/capacities", ActionViews.CapacityView.class));

  private static final List<String> SINGLE =
      List.of("/runs", "/runs/find", "/runs/1", "/runs/1/why", "/graph", "/streams/month");

  private static final List<String> LOCAL =
      List.of("--version", "days business days --from 2027-01-01 --to 2027-01-31");

  private static final List<String> ASKING =
      List.of(
          "runs",
          "runs --help",
          "runs -o json",
          "plan",
          "plan -o csv",
          "needs",
          "outlook",
          "hosts",
          "alerts",
          "audit",
          "streams",
          "month",
          "schema",
          "next s",
          "capacity",
          "show 1",
          "why 1",
          "graph s");

  private Training() {}

  /**
   * Runs a round; what goes wrong only makes the archive smaller. The first argument is {@code
   * local}, {@code asking} or {@code serve}; the second the file where the address of the service
   * that is none stands, or is put.
   */
  public static void main(String[] args) throws IOException {
    switch (args[0]) {
      case "local" -> {
        run(LOCAL);
        check();
      }
      case "asking" -> {
        new Login(Files.readString(Path.of(args[1])).strip(), "token").keep();
        run(ASKING);
      }
      default -> serve(Path.of(args[1]));
    }
  }

  private static void run(List<String> commands) {
    PrintWriter nowhere = new PrintWriter(Writer.nullWriter());
    for (String command : commands) {
      Purser.run(nowhere, nowhere, command.split(" "));
    }
  }

  private static void check() throws IOException {
    Path file = Files.createTempFile("purser", ".yaml");
    Files.writeString(
        file,
        "host: h\n---\nstream: s\nschedule: { days: every day, at: \"06:00\", zone: UTC }\n"
            + "jobs:\n  j: { host: h, run: x }\n");
    PrintWriter nowhere = new PrintWriter(Writer.nullWriter());
    Purser.run(nowhere, nowhere, "check", file.toString());
    Files.delete(file);
  }

  /** Answers until it is stopped; for two minutes at most, where whoever began it was killed. */
  private static void serve(Path address) throws IOException {
    HttpServer server =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext("/", Training::answer);
    server.start();
    Path fresh = Path.of(address + ".new");
    Files.writeString(fresh, "http://127.0.0.1:" + server.getAddress().getPort());
    Files.move(fresh, address, StandardCopyOption.ATOMIC_MOVE);
    try {
      TimeUnit.MINUTES.sleep(2);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    server.stop(0);
  }

  private static void answer(HttpExchange asked) throws IOException {
    String path = asked.getRequestURI().getPath().replace("/api/v1", "");
    Object sample = sample(ANSWERS.getOrDefault(path, RunView.class));
    byte[] text = Service.JSON.writeValueAsBytes(SINGLE.contains(path) ? sample : List.of(sample));
    asked.sendResponseHeaders(200, 0); // in chunks, as the service does
    asked.getResponseBody().write(text);
    asked.close();
  }

  /** Something of a type, whatever it says. */
  private static Object sample(Type type) {
    if (type instanceof ParameterizedType many) {
      return many.getRawType() == List.class
          ? List.of(sample(many.getActualTypeArguments()[0]))
          : Map.of();
    }
    if (type == String.class) {
      return "1";
    }
    if (type == Instant.class) {
      return Instant.EPOCH;
    }
    if (type == LocalDate.class) {
      return LocalDate.EPOCH;
    }
    if (type == boolean.class || type == Boolean.class) {
      return true;
    }
    if (type == long.class || type == Long.class) {
      return 1L;
    }
    if (type == double.class || type == Double.class) {
      return 0.5;
    }
    return type instanceof Class<?> made && made.isRecord() ? record(made) : 1;
  }

  private static Object record(Class<?> type) {
    RecordComponent[] parts = type.getRecordComponents();
    Class<?>[] types = new Class<?>[parts.length];
    Object[] values = new Object[parts.length];
    for (int i = 0; i < parts.length; i++) {
      types[i] = parts[i].getType();
      boolean self = parts[i].getGenericType().getTypeName().contains(type.getName());
      boolean zone = parts[i].getName().equals("zone");
      values[i] = self ? List.of() : zone ? "Europe/Oslo" : sample(parts[i].getGenericType());
    }
    try {
      return type.getDeclaredConstructor(types).newInstance(values);
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException(e);
    }
  }
}

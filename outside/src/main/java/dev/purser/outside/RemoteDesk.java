package dev.purser.outside;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A stand-in for two remote services, with a page that shows what they do, and mishaps on demand.
 *
 * <ul>
 *   <li>{@code /harbour}: JSON; signs in by OAuth 2.0 client credentials at {@code /token} ({@code
 *       purser} and {@code made-up-client-secret}); knows a start again by {@code Idempotency-Key}.
 *   <li>{@code /bureau}: forms; signs in by the header {@code X-Api-Key} ({@code made-up-api-key});
 *       knows no start again, but its list shows the reference that came with it.
 * </ul>
 *
 * <p>What is begun lasts for the seconds that it is given ({@code seconds}), and ends as it is told
 * ({@code ends}: well or badly); the bureau meets the mishap that it is asked for, once. It keeps
 * everything in memory: for the demo and tests only.
 */
public final class RemoteDesk implements AutoCloseable {
  /** What goes wrong with the next request of a kind. */
  public enum Mishap {
    /** It is taken, and the connection breaks off before the answer. */
    TAKEN_BUT_CUT,
    /** The connection breaks off, and nothing is taken. */
    CUT,
    /** It is taken, and answered with 500. */
    TAKEN_BUT_500,
    /** Answered with a page of HTML. */
    HTML,
    /** Answered with 429 and Retry-After: 1. */
    TOO_MANY,
    /** Answered with 401, as with a token that has expired. */
    EXPIRED,
    /** Answered with a redirect to another host. */
    REDIRECT,
    /** Answered with a state that no description knows. */
    STRANGE_WORD,
    /** Answered with 404. */
    FORGOTTEN
  }

  /** What was begun. */
  public static final class Task {
    private final String id;
    private final String key;
    private final String what;
    private final Instant started;
    private final Duration lasts;
    private final boolean endsWell;
    private final List<Long> looks = new CopyOnWriteArrayList<>();
    private volatile Instant cancelled;

    private Task(String id, String key, String what, Duration lasts, boolean endsWell) {
      this.id = id;
      this.key = key;
      this.what = what;
      this.lasts = lasts;
      this.endsWell = endsWell;
      this.started = Instant.now();
    }

    /** Its id. */
    public String id() {
      return id;
    }

    /** With which key, or reference, it was begun. */
    public String key() {
      return key;
    }

    /** What it was asked for. */
    public String what() {
      return what;
    }

    /** When it was looked at, epoch milliseconds. */
    public List<Long> looks() {
      return List.copyOf(looks);
    }

    /** Whether it was cancelled. */
    public boolean isCancelled() {
      return cancelled != null;
    }

    private String state() {
      if (cancelled != null) {
        return "withdrawn";
      }
      long ran = Duration.between(started, Instant.now()).toMillis();
      if (ran < Math.min(1_000, lasts.toMillis() / 3)) {
        return "queued";
      }
      return ran < lasts.toMillis() ? "working" : endsWell ? "filed" : "refused";
    }

    private int percent() {
      long ran = Duration.between(started, Instant.now()).toMillis();
      return (int) Math.min(100, ran * 100 / Math.max(1, lasts.toMillis()));
    }
  }

  private static final Pattern FIELD = Pattern.compile("\"(\\w+)\"\\s*:\\s*(\"([^\"]*)\"|[\\d.]+)");
  private static final String CLIENT =
      "Basic "
          + Base64.getEncoder()
              .encodeToString("purser:made-up-client-secret".getBytes(StandardCharsets.UTF_8));
  private static final String API_KEY = "made-up-api-key";

  private final HttpServer http;
  private final Map<String, Task> tasks = new ConcurrentHashMap<>();
  private final List<Task> inOrder = new CopyOnWriteArrayList<>();
  private final AtomicInteger numbers = new AtomicInteger(4_710);
  private final AtomicInteger tokens = new AtomicInteger();
  private final Deque<Mishap> atStart = new ConcurrentLinkedDeque<>();
  private final Deque<Mishap> atLook = new ConcurrentLinkedDeque<>();
  private final Deque<Mishap> atList = new ConcurrentLinkedDeque<>();
  private final Set<String> met = ConcurrentHashMap.newKeySet();
  private volatile Instant awayUntil = Instant.MIN;
  private volatile Duration slow = Duration.ZERO;
  private volatile String token = "";

  /**
   * Starts one on loopback.
   *
   * @param port 0 for any
   */
  public RemoteDesk(int port) throws IOException {
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 200);
    http.setExecutor(Executors.newCachedThreadPool());
    http.createContext("/token", orAway(this::token));
    http.createContext("/harbour/filings", orAway(this::harbour));
    http.createContext("/bureau", orAway(this::bureau));
    http.createContext("/control", this::control);
    http.createContext("/", this::page);
    http.start();
  }

  /** Starts one. Arguments: the port. */
  public static void main(String[] args) throws IOException {
    RemoteDesk desk = new RemoteDesk(Integer.parseInt(args[0]));
    System.out.println("remote services on " + desk.port());
  }

  /** Where it listens. */
  public int port() {
    return http.getAddress().getPort();
  }

  /** What was begun, the oldest first. */
  public List<Task> begun() {
    return List.copyOf(inOrder);
  }

  /** How many tokens were given out. */
  public int tokensGiven() {
    return tokens.get();
  }

  /** The next start meets this. */
  public void atStart(Mishap mishap) {
    atStart.add(mishap);
  }

  /** The next look meets this. */
  public void atLook(Mishap mishap) {
    atLook.add(mishap);
  }

  /** The next list meets this. */
  public void atList(Mishap mishap) {
    atList.add(mishap);
  }

  /** For so long every request breaks off. */
  public void away(Duration length) {
    awayUntil = Instant.now().plus(length);
  }

  /** Every answer takes so long, once what was asked is done. */
  public void slow(Duration length) {
    slow = length;
  }

  /** Begins something by itself, as another user of the service would. */
  public Task begin(String what, Duration lasts) {
    return add("", what, lasts, true);
  }

  private Task add(String key, String what, Duration lasts, boolean endsWell) {
    Task task = new Task(String.valueOf(numbers.incrementAndGet()), key, what, lasts, endsWell);
    tasks.put(task.id, task);
    inOrder.add(task);
    return task;
  }

  private interface Answer {
    void to(HttpExchange exchange) throws IOException;
  }

  private com.sun.net.httpserver.HttpHandler orAway(Answer answer) {
    return exchange -> {
      try (exchange) {
        if (Instant.now().isBefore(awayUntil)) {
          return; // closes without an answer
        }
        answer.to(exchange);
      }
    };
  }

  // ---- tokens

  private void token(HttpExchange exchange) throws IOException {
    String who = exchange.getRequestHeaders().getFirst("Authorization");
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    if (!CLIENT.equals(who)) {
      json(
          exchange, 401, "{\"error\":\"invalid_client\",\"error_description\":\"no such client\"}");
    } else if (!body.contains("grant_type=client_credentials")) {
      json(exchange, 400, "{\"error\":\"unsupported_grant_type\"}");
    } else {
      token = "made-up-token-" + tokens.incrementAndGet();
      json(
          exchange,
          200,
          "{\"access_token\":\"" + token + "\",\"token_type\":\"Bearer\",\"expires_in\":300}");
    }
  }

  // ---- the harbour office

  private void harbour(HttpExchange exchange) throws IOException {
    String path = exchange.getRequestURI().getPath();
    String rest = path.substring("/harbour/filings".length()).replaceAll("^/", "");
    if (!("Bearer " + token).equals(exchange.getRequestHeaders().getFirst("Authorization"))) {
      json(exchange, 401, "{\"detail\":\"the token has expired\"}");
      return;
    }
    switch (exchange.getRequestMethod()) {
      case "POST" -> file(exchange);
      case "DELETE" -> withdraw(exchange, rest);
      default -> {
        if (rest.isEmpty()) {
          list(exchange);
        } else if (rest.endsWith("/log")) {
          log(exchange, rest.replace("/log", ""));
        } else {
          look(exchange, rest);
        }
      }
    }
  }

  private void file(HttpExchange exchange) throws IOException {
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    Mishap mishap = atStart.poll();
    if (mishap != null && !isTaken(mishap)) {
      meet(exchange, mishap);
      return;
    }
    Map<String, String> fields = new LinkedHashMap<>();
    Matcher matcher = FIELD.matcher(body);
    while (matcher.find()) {
      fields.put(matcher.group(1), matcher.group(3) == null ? matcher.group(2) : matcher.group(3));
    }
    if (fields.getOrDefault("vessel", "").isEmpty()) {
      json(exchange, 422, "{\"detail\":\"a filing needs a vessel\"}");
      return;
    }
    String sent = exchange.getRequestHeaders().getFirst("Idempotency-Key");
    String key = sent == null ? "" : sent;
    Task task;
    synchronized (this) {
      task =
          inOrder.stream()
              .filter(one -> !key.isEmpty() && one.key.equals(key))
              .findFirst()
              .orElseGet(() -> add(key, body, lasts(fields), endsWell(fields)));
    }
    if (mishap == null) {
      json(exchange, 201, "{\"filing\":{\"id\":" + task.id + ",\"link\":\"" + link(task) + "\"}}");
    } else {
      meet(exchange, mishap);
    }
  }

  /** What the next start meets; or what this one asks for itself, the first time it comes. */
  private Mishap mishap(Map<String, String> form) {
    String asked = form.getOrDefault("mishap", "");
    return asked.isEmpty() || !met.add(form.toString()) ? atStart.poll() : Mishap.valueOf(asked);
  }

  private static boolean isTaken(Mishap mishap) {
    return mishap == Mishap.TAKEN_BUT_CUT || mishap == Mishap.TAKEN_BUT_500;
  }

  private static Duration lasts(Map<String, String> fields) {
    return Duration.ofMillis(
        (long) (1_000 * Double.parseDouble(fields.getOrDefault("seconds", "5"))));
  }

  private static boolean endsWell(Map<String, String> fields) {
    return !fields.getOrDefault("ends", "well").equals("badly");
  }

  private String link(Task task) {
    return "http://127.0.0.1:" + port() + "/#" + task.id;
  }

  private void look(HttpExchange exchange, String id) throws IOException {
    Mishap mishap = atLook.poll();
    Task task = tasks.get(id);
    if (mishap == Mishap.STRANGE_WORD) {
      json(exchange, 200, "{\"state\":\"mislaid\"}");
    } else if (mishap != null) {
      meet(exchange, mishap);
    } else if (task == null) {
      json(exchange, 404, "{\"detail\":\"there is no filing " + id.replace('"', ' ') + "\"}");
    } else {
      task.looks.add(System.currentTimeMillis());
      String more =
          switch (task.state()) {
            case "filed" -> ",\"receipt\":{\"number\":\"BS-" + task.id + "\"}";
            case "refused" -> ",\"problem\":\"the deck count does not match the bookings\"";
            default -> "";
          };
      json(
          exchange,
          200,
          "{\"state\":\""
              + task.state()
              + "\",\"percent\":"
              + task.percent()
              + ",\"link\":\""
              + link(task)
              + "\""
              + more
              + "}");
    }
  }

  private void withdraw(HttpExchange exchange, String id) throws IOException {
    Task task = tasks.get(id);
    if (task == null) {
      json(exchange, 404, "{\"detail\":\"there is no such filing\"}");
    } else {
      cancel(task);
      exchange.sendResponseHeaders(204, -1);
    }
  }

  private static void cancel(Task task) {
    if (List.of("queued", "working").contains(task.state())) {
      task.cancelled = Instant.now();
    }
  }

  private void list(HttpExchange exchange) throws IOException {
    Mishap mishap = atList.poll();
    if (mishap != null) {
      meet(exchange, mishap);
      return;
    }
    List<String> items = new ArrayList<>();
    for (Task task : inOrder) {
      items.add(
          "{\"id\":"
              + task.id
              + ",\"state\":\""
              + task.state()
              + "\",\"begun\":\""
              + task.started
              + "\",\"key\":\""
              + task.key
              + "\"}");
    }
    json(exchange, 200, "{\"filings\":[" + String.join(",", items) + "]}");
  }

  private void log(HttpExchange exchange, String id) throws IOException {
    Task task = tasks.get(id);
    String text =
        task == null
            ? ""
            : "taken in at "
                + task.started
                + "\nchecked against the vessel's register\nended "
                + task.state()
                + "\n";
    send(exchange, 200, "text/plain; charset=utf-8", text);
  }

  // ---- the weather bureau

  private void bureau(HttpExchange exchange) throws IOException {
    if (!API_KEY.equals(exchange.getRequestHeaders().getFirst("X-Api-Key"))) {
      send(exchange, 403, "text/plain", "no entry");
      return;
    }
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    Map<String, String> form = form(body);
    String query = exchange.getRequestURI().getRawQuery();
    form.putAll(form(query == null ? "" : query));
    switch (exchange.getRequestURI().getPath()) {
      case "/bureau/start" -> order(exchange, form);
      case "/bureau/status" -> status(exchange, form.getOrDefault("ticket", ""));
      case "/bureau/cancel" -> {
        Task task = tasks.get(form.getOrDefault("ticket", ""));
        if (task != null) {
          cancel(task);
        }
        json(exchange, 200, "{\"ok\":true}");
      }
      case "/bureau/tickets" -> tickets(exchange);
      default -> send(exchange, 404, "text/plain", "nothing here");
    }
  }

  private void order(HttpExchange exchange, Map<String, String> form) throws IOException {
    Mishap mishap = mishap(form);
    if (mishap != null && !isTaken(mishap)) {
      meet(exchange, mishap);
      return;
    }
    Task task =
        add(form.getOrDefault("reference", ""), form.toString(), lasts(form), endsWell(form));
    if (mishap == null) {
      json(exchange, 200, "{\"ticket\":{\"no\":\"" + task.id + "\"}}");
    } else {
      meet(exchange, mishap);
    }
  }

  private void status(HttpExchange exchange, String id) throws IOException {
    Mishap mishap = atLook.poll();
    Task task = tasks.get(id);
    if (mishap == Mishap.STRANGE_WORD) {
      json(exchange, 200, "{\"ticket\":{\"code\":\"Q9\"}}");
    } else if (mishap != null) {
      meet(exchange, mishap);
    } else if (task == null) {
      send(exchange, 404, "text/plain", "no such ticket");
    } else {
      json(
          exchange,
          200,
          "{\"ticket\":{\"code\":\"" + code(task) + "\",\"reason\":\"" + reason(task) + "\"}}");
    }
  }

  /** It may say more than it should. */
  private static String reason(Task task) {
    return "the model did not settle" + (task.what.contains("chatty") ? " for " + API_KEY : "");
  }

  private static String code(Task task) {
    return switch (task.state()) {
      case "filed" -> "DONE";
      case "refused" -> "ERR";
      case "withdrawn" -> "CANC";
      default -> "RUN";
    };
  }

  private void tickets(HttpExchange exchange) throws IOException {
    Mishap mishap = atList.poll();
    if (mishap != null) {
      meet(exchange, mishap);
      return;
    }
    List<String> items = new ArrayList<>();
    for (Task task : inOrder) {
      items.add(
          "{\"no\":\""
              + task.id
              + "\",\"code\":\""
              + code(task)
              + "\",\"at\":\""
              + task.started
              + "\",\"reference\":\""
              + task.key
              + "\"}");
    }
    json(exchange, 200, "[" + String.join(",", items) + "]");
  }

  // ---- mishaps

  private void meet(HttpExchange exchange, Mishap mishap) throws IOException {
    switch (mishap) {
      case TAKEN_BUT_CUT, CUT -> exchange.close();
      case TAKEN_BUT_500 -> json(exchange, 500, "{\"detail\":\"something broke\"}");
      case HTML ->
          send(exchange, 200, "text/html", "<html><body>We are doing some works</body></html>");
      case TOO_MANY -> {
        exchange.getResponseHeaders().set("Retry-After", "1");
        json(exchange, 429, "{\"detail\":\"too many requests\"}");
      }
      case EXPIRED -> json(exchange, 401, "{\"detail\":\"the token has expired\"}");
      case REDIRECT -> {
        exchange.getResponseHeaders().set("Location", "http://elsewhere.example/filings");
        exchange.sendResponseHeaders(307, -1);
      }
      case STRANGE_WORD -> json(exchange, 200, "{\"state\":\"mislaid\"}");
      case FORGOTTEN -> json(exchange, 404, "{\"detail\":\"there is no such filing\"}");
    }
  }

  /** {@code POST /control?away=30s}, {@code ?start=TAKEN_BUT_CUT}, {@code ?look=HTML}. */
  private void control(HttpExchange exchange) throws IOException {
    try (exchange) {
      Map<String, String> asked = form(String.valueOf(exchange.getRequestURI().getRawQuery()));
      try {
        if (asked.containsKey("away")) {
          away(Duration.ofSeconds(Long.parseLong(asked.get("away").replace("s", ""))));
        }
        if (asked.containsKey("start")) {
          atStart(Mishap.valueOf(asked.get("start")));
        }
        if (asked.containsKey("look")) {
          atLook(Mishap.valueOf(asked.get("look")));
        }
        send(exchange, 200, "text/plain", "as you like\n");
      } catch (IllegalArgumentException e) {
        send(exchange, 400, "text/plain", "one of " + List.of(Mishap.values()) + "\n");
      }
    }
  }

  private void page(HttpExchange exchange) throws IOException {
    try (exchange) {
      StringBuilder page =
          new StringBuilder(
              "<!doctype html><meta charset=utf-8><meta http-equiv=refresh content=2>"
                  + "<title>Remote services</title><style>body{font:15px system-ui;margin:2rem}"
                  + "td,th{padding:.3rem .8rem;text-align:left}</style><h1>Remote services</h1>"
                  + "<p>A stand-in for a harbour office and a weather bureau. Newest first."
                  + "<table><tr><th>id<th>state<th>how far<th>begun<th>key<th>asked");
      for (int i = inOrder.size() - 1; i >= Math.max(0, inOrder.size() - 200); i--) {
        Task task = inOrder.get(i);
        page.append("<tr id=").append(task.id).append("><td>").append(task.id);
        page.append("<td>").append(task.state()).append("<td>").append(task.percent());
        page.append(" %<td>").append(task.started).append("<td>").append(Sink.escape(task.key));
        page.append("<td>").append(Sink.escape(task.what));
      }
      send(exchange, 200, "text/html; charset=utf-8", page.append("</table>").toString());
    }
  }

  // ---- HTTP

  private static Map<String, String> form(String text) {
    Map<String, String> form = new LinkedHashMap<>();
    for (String pair : text.split("&")) {
      String[] parts = pair.split("=", 2);
      if (parts.length == 2) {
        form.put(decoded(parts[0]), decoded(parts[1]));
      }
    }
    return form;
  }

  private static String decoded(String text) {
    return URLDecoder.decode(text, StandardCharsets.UTF_8);
  }

  private void json(HttpExchange exchange, int code, String body) throws IOException {
    send(exchange, code, "application/json", body);
  }

  private void send(HttpExchange exchange, int code, String type, String body) throws IOException {
    try {
      Thread.sleep(slow.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    byte[] bytes = body.getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", type);
    exchange.sendResponseHeaders(code, bytes.length == 0 ? -1 : bytes.length);
    if (bytes.length > 0) {
      exchange.getResponseBody().write(bytes);
    }
  }

  @Override
  public void close() {
    http.stop(0);
  }
}

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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A stand-in for a container cluster: so much of its open HTTP interface as work needs (job objects
 * of batch/v1, their pods, logs, secrets and events). A container is a process of this machine that
 * runs the command, or says the image's name where there is none: for the demo and tests only, on
 * loopback. Signs in with {@code made-up-cluster-token}.
 *
 * <p>What happens follows from the image's name: {@code .../missing} is never found, {@code
 * .../slow} takes three seconds to be had, {@code .../evicted} is thrown out while it runs.
 */
public final class ClusterDesk implements AutoCloseable {
  /** The token that lets one in. */
  public static final String TOKEN = "made-up-cluster-token";

  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Pattern PATH =
      Pattern.compile(
          "/(?:api|apis/batch)/v1/namespaces/([^/]+)/(jobs|pods|secrets|events)(?:/([^/]+))?(/log)?");

  private final HttpServer http;
  private final Map<String, StandInJob> jobs = new ConcurrentHashMap<>();
  private final Map<String, JsonNode> secrets = new ConcurrentHashMap<>();
  private volatile int made;
  private volatile int quota = Integer.MAX_VALUE;
  private volatile boolean cutsNext;
  private volatile Instant awayUntil = Instant.MIN;

  /**
   * Starts one on loopback.
   *
   * @param port 0 for any
   */
  public ClusterDesk(int port) throws IOException {
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 200);
    http.setExecutor(Executors.newCachedThreadPool());
    http.createContext("/", this::answer);
    http.start();
  }

  /** Starts one. Arguments: the port. */
  public static void main(String[] args) throws IOException {
    ClusterDesk desk = new ClusterDesk(Integer.parseInt(args[0]));
    System.out.println("a cluster on " + desk.port());
  }

  /** Where it listens. */
  public int port() {
    return http.getAddress().getPort();
  }

  /** The names of the job objects that are there. */
  public List<String> jobs() {
    return jobs.values().stream().map(job -> job.name).sorted().toList();
  }

  /** How many secrets are there. */
  public int secrets() {
    return secrets.size();
  }

  /** How many job objects were ever made. */
  public int made() {
    return made;
  }

  /** No more job objects than these at once. */
  public void quota(int most) {
    quota = most;
  }

  /** The next job object is made, and the connection breaks off before the answer. */
  public void cutNext() {
    cutsNext = true;
  }

  /** For so long every request breaks off. */
  public void away(Duration length) {
    awayUntil = Instant.now().plus(length);
  }

  /** Somebody takes all job objects away. */
  public void clear() {
    jobs.values().forEach(StandInJob::kill);
    jobs.clear();
  }

  /** Somebody else makes an object of this name. */
  public void occupy(String namespace, String name) {
    ObjectNode object = JSON.createObjectNode();
    object.putObject("metadata").put("name", name).put("namespace", namespace);
    object
        .putObject("spec")
        .putObject("template")
        .putObject("spec")
        .putArray("containers")
        .addObject()
        .put("image", "x");
    jobs.put(namespace + "/" + name, new StandInJob(namespace, object, Map.of()));
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      if (Instant.now().isBefore(awayUntil)) {
        return; // closes without an answer
      }
      String path = exchange.getRequestURI().getPath();
      if (path.equals("/")) {
        page(exchange);
      } else if (!("Bearer " + TOKEN)
          .equals(exchange.getRequestHeaders().getFirst("Authorization"))) {
        refuse(exchange, 401, "Unauthorized");
      } else if (path.equals("/version")) {
        send(
            exchange,
            200,
            JSON.createObjectNode()
                .put("major", "1")
                .put("minor", "31")
                .put("gitVersion", "v1.31.0-stand-in"));
      } else {
        Matcher matcher = PATH.matcher(path);
        if (matcher.matches()) {
          of(exchange, matcher);
        } else {
          refuse(exchange, 404, "the stand-in has no " + path);
        }
      }
    }
  }

  private void of(HttpExchange exchange, Matcher path) throws IOException {
    String namespace = path.group(1);
    String name = path.group(3);
    if (namespace.equals("nowhere")) {
      refuse(exchange, 404, "namespaces \"nowhere\" not found");
      return;
    }
    switch (path.group(2)) {
      case "jobs" -> jobs(exchange, namespace, name);
      case "pods" -> {
        if (path.group(4) != null) {
          log(exchange, name);
        } else if (name != null) {
          pod(exchange, name);
        } else {
          pods(exchange, namespace);
        }
      }
      case "secrets" -> secrets(exchange, namespace, name);
      default -> events(exchange);
    }
  }

  // ---- job objects

  private void jobs(HttpExchange exchange, String namespace, String name) throws IOException {
    switch (exchange.getRequestMethod()) {
      case "POST" -> make(exchange, namespace);
      case "DELETE" -> delete(exchange, namespace + "/" + name);
      default -> {
        StandInJob job = jobs.get(namespace + "/" + name);
        if (job == null) {
          refuse(exchange, 404, "jobs.batch \"" + name + "\" not found");
        } else {
          send(exchange, 200, job.object());
        }
      }
    }
  }

  private void make(HttpExchange exchange, String namespace) throws IOException {
    JsonNode object = JSON.readTree(exchange.getRequestBody().readAllBytes());
    String name = object.at("/metadata/name").asString();
    synchronized (this) {
      if (jobs.containsKey(namespace + "/" + name)) {
        refuse(exchange, 409, "jobs.batch \"" + name + "\" already exists");
        return;
      }
      if (jobs.size() >= quota) {
        refuse(
            exchange,
            403,
            "jobs.batch \""
                + name
                + "\" is forbidden: exceeded quota: work, requested: count/jobs.batch=1, used: count/jobs.batch="
                + quota
                + ", limited: count/jobs.batch="
                + quota);
        return;
      }
      made++;
      jobs.put(
          namespace + "/" + name,
          new StandInJob(namespace, (ObjectNode) object, environment(namespace, object)));
      if (cutsNext) {
        cutsNext = false;
        return; // closes without an answer
      }
    }
    send(exchange, 201, object);
  }

  /** The variables of its container, with the secrets that they name. */
  private Map<String, String> environment(String namespace, JsonNode object) {
    Map<String, String> all = new LinkedHashMap<>();
    for (JsonNode one : object.at("/spec/template/spec/containers/0/env")) {
      JsonNode from = one.at("/valueFrom/secretKeyRef");
      String value =
          from.isMissingNode()
              ? one.path("value").asString("").replace("$$", "$")
              : secret(namespace, from);
      all.put(one.path("name").asString(), value);
    }
    return all;
  }

  private String secret(String namespace, JsonNode from) {
    JsonNode secret = secrets.get(namespace + "/" + from.path("name").asString());
    return secret == null
        ? ""
        : secret.at("/stringData").path(from.path("key").asString()).asString("");
  }

  private void delete(HttpExchange exchange, String key) throws IOException {
    String asked = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    StandInJob job = jobs.get(key);
    if (job == null) {
      refuse(exchange, 404, "jobs.batch \"" + key + "\" not found");
      return;
    }
    if (asked.contains("Foreground") && job.isAlive()) {
      job.stop(() -> jobs.remove(key));
    } else {
      job.kill();
      jobs.remove(key);
    }
    send(exchange, 200, JSON.createObjectNode().put("kind", "Status").put("status", "Success"));
  }

  // ---- pods

  private void pods(HttpExchange exchange, String namespace) throws IOException {
    String asked = String.valueOf(exchange.getRequestURI().getQuery());
    ObjectNode list = JSON.createObjectNode().put("kind", "PodList").put("apiVersion", "v1");
    list.putObject("metadata");
    ArrayNode items = list.putArray("items");
    jobs.values().stream()
        .filter(job -> job.namespace.equals(namespace) && asked.contains("job-name=" + job.name))
        .forEach(job -> items.add(job.pod()));
    send(exchange, 200, list);
  }

  private StandInJob ofPod(String name) {
    return jobs.values().stream()
        .filter(job -> job.podName().equals(name))
        .findFirst()
        .orElse(null);
  }

  private void pod(HttpExchange exchange, String name) throws IOException {
    StandInJob job = ofPod(name);
    if (job == null) {
      refuse(exchange, 404, "pods \"" + name + "\" not found");
      return;
    }
    if (exchange.getRequestMethod().equals("DELETE")) {
      job.kill();
    }
    send(exchange, 200, job.pod());
  }

  private void log(HttpExchange exchange, String name) throws IOException {
    StandInJob job = ofPod(name);
    if (job == null) {
      refuse(exchange, 404, "pods \"" + name + "\" not found");
      return;
    }
    if (!job.hasBegun()) {
      refuse(exchange, 400, "container \"work\" in pod \"" + name + "\" is waiting to start");
      return;
    }
    Instant since = Instant.MIN;
    for (String part : String.valueOf(exchange.getRequestURI().getRawQuery()).split("&")) {
      if (part.startsWith("sinceTime=")) {
        since = Instant.parse(URLDecoder.decode(part.substring(10), StandardCharsets.UTF_8));
      }
    }
    byte[] text = job.log(since).getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "text/plain");
    exchange.sendResponseHeaders(200, text.length == 0 ? -1 : text.length);
    exchange.getResponseBody().write(text);
  }

  // ---- secrets and events

  private void secrets(HttpExchange exchange, String namespace, String name) throws IOException {
    if (exchange.getRequestMethod().equals("DELETE")) {
      if (secrets.remove(namespace + "/" + name) == null) {
        refuse(exchange, 404, "secrets \"" + name + "\" not found");
      } else {
        send(exchange, 200, JSON.createObjectNode().put("kind", "Status").put("status", "Success"));
      }
      return;
    }
    JsonNode object = JSON.readTree(exchange.getRequestBody().readAllBytes());
    String key = namespace + "/" + object.at("/metadata/name").asString();
    if (secrets.putIfAbsent(key, object) == null) {
      send(exchange, 201, object);
    } else {
      refuse(exchange, 409, "secrets \"" + key + "\" already exists");
    }
  }

  private static void events(HttpExchange exchange) throws IOException {
    ObjectNode list = JSON.createObjectNode().put("kind", "EventList").put("apiVersion", "v1");
    list.putObject("metadata");
    list.putArray("items");
    send(exchange, 200, list);
  }

  // ---- answers

  private static void refuse(HttpExchange exchange, int code, String message) throws IOException {
    ObjectNode status =
        JSON.createObjectNode()
            .put("kind", "Status")
            .put("apiVersion", "v1")
            .put("status", "Failure")
            .put("message", message)
            .put("code", code);
    send(exchange, code, status);
  }

  private static void send(HttpExchange exchange, int code, JsonNode body) throws IOException {
    byte[] bytes = JSON.writeValueAsBytes(body);
    exchange.getResponseHeaders().set("Content-Type", "application/json");
    exchange.sendResponseHeaders(code, bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  private void page(HttpExchange exchange) throws IOException {
    StringBuilder text = new StringBuilder("A stand-in for a container cluster\n\n");
    jobs.values()
        .forEach(
            job ->
                text.append(job.namespace)
                    .append('/')
                    .append(job.name)
                    .append("  ")
                    .append(job.podName())
                    .append('\n'));
    byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "text/plain; charset=utf-8");
    exchange.sendResponseHeaders(200, bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  @Override
  public void close() {
    http.stop(0);
    clear();
  }
}

package dev.purser.outside;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import java.util.NavigableMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.Executors;

/**
 * A stand-in for an object store that speaks so much of the S3 HTTP interface as Purser uses: list
 * a bucket by prefix and delimiter in pages, put, get, head, copy and delete an object. It keeps
 * everything in memory and believes every signature: for the demo and tests only.
 */
public final class ObjectStore implements AutoCloseable {
  private static final int PAGE = 1_000;

  private final HttpServer http;
  private final Map<String, NavigableMap<String, Stored>> buckets =
      new java.util.concurrent.ConcurrentHashMap<>();

  /** An object. */
  private record Stored(byte[] data, Instant at, String tag) {}

  /**
   * Starts one on loopback.
   *
   * @param port 0 for any
   */
  public ObjectStore(int port) throws IOException {
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
    http.setExecutor(Executors.newCachedThreadPool());
    http.createContext("/", this::answer);
    http.start();
  }

  /** Starts one. Arguments: the port. */
  public static void main(String[] args) throws IOException {
    ObjectStore store = new ObjectStore(Integer.parseInt(args[0]));
    System.out.println("objects on " + store.port());
  }

  /** Where it listens. */
  public int port() {
    return http.getAddress().getPort();
  }

  /** Puts an object; its bucket is made where there is none. */
  public void put(String bucket, String key, byte[] data) {
    Stored stored =
        new Stored(data.clone(), Instant.now().truncatedTo(ChronoUnit.SECONDS), tag(data));
    buckets.computeIfAbsent(bucket, any -> new ConcurrentSkipListMap<>()).put(key, stored);
  }

  /** The keys of a bucket. */
  public java.util.Set<String> keys(String bucket) {
    return java.util.Set.copyOf(
        buckets.getOrDefault(bucket, new ConcurrentSkipListMap<>()).keySet());
  }

  private static String tag(byte[] data) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("MD5").digest(data));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has MD5", e);
    }
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      String path = exchange.getRequestURI().getPath();
      int slash = path.indexOf('/', 1);
      String bucket = slash < 0 ? path.substring(1) : path.substring(1, slash);
      String key = slash < 0 ? "" : path.substring(slash + 1);
      if (exchange.getRequestMethod().equals("PUT")) {
        put(exchange, bucket, key);
      } else if (!buckets.containsKey(bucket)) {
        error(exchange, 404, "NoSuchBucket");
      } else if (key.isEmpty()) {
        list(exchange, bucket);
      } else {
        object(exchange, bucket, key);
      }
    }
  }

  private void put(HttpExchange exchange, String bucket, String key) throws IOException {
    byte[] data = exchange.getRequestBody().readAllBytes();
    String source = exchange.getRequestHeaders().getFirst("x-amz-copy-source");
    if (key.isEmpty()) {
      buckets.putIfAbsent(bucket, new ConcurrentSkipListMap<>());
      send(exchange, 200, "");
      return;
    }
    if (source != null) {
      String from = URLDecoder.decode(source, StandardCharsets.UTF_8).replaceFirst("^/", "");
      int slash = from.indexOf('/');
      Stored there =
          buckets
              .getOrDefault(from.substring(0, slash), new ConcurrentSkipListMap<>())
              .get(from.substring(slash + 1));
      if (there == null) {
        error(exchange, 404, "NoSuchKey");
        return;
      }
      put(bucket, key, there.data());
      send(
          exchange,
          200,
          "<CopyObjectResult><ETag>\""
              + there.tag()
              + "\"</ETag><LastModified>"
              + there.at()
              + "</LastModified></CopyObjectResult>");
      return;
    }
    put(bucket, key, data);
    exchange.getResponseHeaders().set("ETag", "\"" + tag(data) + "\"");
    send(exchange, 200, "");
  }

  private void object(HttpExchange exchange, String bucket, String key) throws IOException {
    Stored there = buckets.get(bucket).get(key);
    if (exchange.getRequestMethod().equals("DELETE")) {
      buckets.get(bucket).remove(key);
      exchange.sendResponseHeaders(204, -1);
      return;
    }
    if (there == null) {
      error(exchange, 404, "NoSuchKey");
      return;
    }
    exchange.getResponseHeaders().set("ETag", "\"" + there.tag() + "\"");
    exchange
        .getResponseHeaders()
        .set(
            "Last-Modified",
            DateTimeFormatter.RFC_1123_DATE_TIME.format(there.at().atOffset(ZoneOffset.UTC)));
    if (exchange.getRequestMethod().equals("HEAD")) {
      exchange.getResponseHeaders().set("Content-Length", String.valueOf(there.data().length));
      exchange.sendResponseHeaders(200, -1);
      return;
    }
    exchange.sendResponseHeaders(200, there.data().length == 0 ? -1 : there.data().length);
    exchange.getResponseBody().write(there.data());
  }

  private void list(HttpExchange exchange, String bucket) throws IOException {
    Map<String, String> query = query(exchange);
    String prefix = query.getOrDefault("prefix", "");
    String delimiter = query.getOrDefault("delimiter", "");
    String after = query.getOrDefault("continuation-token", "");
    StringBuilder out = new StringBuilder();
    int count = 0;
    String last = "";
    boolean more = false;
    for (Map.Entry<String, Stored> one : buckets.get(bucket).tailMap(after, false).entrySet()) {
      String key = one.getKey();
      boolean below =
          !delimiter.isEmpty()
              && key.startsWith(prefix)
              && key.indexOf(delimiter, prefix.length()) >= 0;
      if (!key.startsWith(prefix) || below) {
        continue;
      }
      if (count == PAGE) {
        more = true;
        break;
      }
      count++;
      last = key;
      out.append("<Contents><Key>").append(escape(key)).append("</Key><LastModified>");
      out.append(one.getValue().at()).append("</LastModified><ETag>\"");
      out.append(one.getValue().tag()).append("\"</ETag><Size>");
      out.append(one.getValue().data().length).append("</Size></Contents>");
    }
    send(
        exchange,
        200,
        "<ListBucketResult><Name>"
            + escape(bucket)
            + "</Name><Prefix>"
            + escape(prefix)
            + "</Prefix><KeyCount>"
            + count
            + "</KeyCount><MaxKeys>"
            + PAGE
            + "</MaxKeys><IsTruncated>"
            + more
            + "</IsTruncated>"
            + (more ? "<NextContinuationToken>" + escape(last) + "</NextContinuationToken>" : "")
            + out
            + "</ListBucketResult>");
  }

  private static Map<String, String> query(HttpExchange exchange) {
    Map<String, String> values = new HashMap<>();
    String raw = exchange.getRequestURI().getRawQuery();
    for (String pair : raw == null ? new String[0] : raw.split("&")) {
      String[] both = pair.split("=", 2);
      String value = both.length > 1 ? URLDecoder.decode(both[1], StandardCharsets.UTF_8) : "";
      values.put(both[0], value);
    }
    return values;
  }

  private static String escape(String text) {
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
  }

  private static void error(HttpExchange exchange, int status, String code) throws IOException {
    send(
        exchange,
        status,
        "<Error><Code>" + code + "</Code><Message>" + code + "</Message></Error>");
  }

  private static void send(HttpExchange exchange, int status, String xml) throws IOException {
    byte[] body = xml.getBytes(StandardCharsets.UTF_8);
    boolean none = body.length == 0 || exchange.getRequestMethod().equals("HEAD");
    exchange.getResponseHeaders().set("Content-Type", "application/xml");
    exchange.sendResponseHeaders(status, none ? -1 : body.length);
    if (!none) {
      exchange.getResponseBody().write(body);
    }
  }

  @Override
  public void close() {
    http.stop(0);
  }
}

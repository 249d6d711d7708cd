package dev.purser.bench.chaos;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Receives what the service tells of alerts, and notes which messages came how often. Now and then
 * it takes one, and its yes is lost: that one comes again, under the same id.
 */
final class Ear implements AutoCloseable {
  private static final Pattern ID = Pattern.compile("\"id\" ?: ?\"([^\"]+)\"");
  private static final Pattern TEXT = Pattern.compile("\"id\" ?: ?\"alert-(\\d+)-(\\d+)\"");

  private final HttpServer server;
  private final Map<String, Integer> heard = new ConcurrentHashMap<>();
  private final Random dice;

  Ear(Random dice) throws IOException {
    this.dice = dice;
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
    server.createContext("/", this::take);
    server.start();
  }

  String address() {
    return "http://127.0.0.1:" + server.getAddress().getPort() + "/alerts";
  }

  private void take(HttpExchange call) throws IOException {
    String body = new String(call.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    Matcher id = ID.matcher(body);
    if (id.find()) {
      heard.merge(id.group(1), 1, Integer::sum);
    }
    boolean lost = dice.nextInt(4) == 0;
    call.sendResponseHeaders(lost ? 500 : 204, -1);
    call.close();
  }

  int count() {
    return heard.size();
  }

  /**
   * What is wrong: alerts of which nobody was told, messages that were lost, and messages that came
   * though they are not on record. One may come again where a yes was lost, or where the service
   * was killed before it had noted it; then it has the same id.
   */
  List<String> compare(Comparison.Records records) throws IOException, InterruptedException {
    List<String> wrong = new ArrayList<>();
    for (String line :
        records.query(
            "select a.id, a.kind from alert a where a.kind = 'retried' and not exists (select 1"
                + " from notice n where n.alert = a.id and n.name = 'ear' and n.state in ('told',"
                + " 'folded'))")) {
      wrong.add("nobody was told of alert " + line.replace('\t', ' '));
    }
    for (String line :
        records.query(
            "select step, address, count(*) from delivery where digest = 0 group by step, address"
                + " having count(*) > 1")) {
      wrong.add("two messages of one step: " + line.replace('\t', ' '));
    }
    Map<String, String> onRecord = new HashMap<>();
    for (String line : records.query("select alert, id, state from delivery")) {
      String[] part = line.split("\t", -1);
      onRecord.put("alert-" + part[0] + "-" + part[1], part[2]);
    }
    onRecord.forEach(
        (id, state) -> {
          if (!state.equals("delivered")) {
            wrong.add("message " + id + " is " + state);
          } else if (!heard.containsKey(id)) {
            wrong.add("message " + id + " counts as delivered and never came");
          }
        });
    for (String id : heard.keySet()) {
      if (TEXT.matcher("\"id\": \"" + id + "\"").find() && !onRecord.containsKey(id)) {
        wrong.add("message " + id + " came and is not on record");
      }
    }
    return wrong;
  }

  /** How often messages came again. */
  int repeats() {
    return heard.values().stream().mapToInt(times -> times - 1).sum();
  }

  @Override
  public void close() {
    server.stop(0);
  }
}

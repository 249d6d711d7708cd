package dev.purser.bench.load;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * How quickly lists of alerts answer where there are many, and how long a rehearsal of many runs
 * takes. Records are made up in the database. Arguments: the service's address, a token, the
 * database's address, how many deliveries, how many runs of the last 30 days.
 */
public final class AlertLists {
  private static final int JOBS = 100;
  private static final int STEP = 1_000;
  private static final int TIMES = 9;

  private AlertLists() {}

  /** Runs it. */
  public static void main(String[] args) throws IOException, InterruptedException, SQLException {
    Service service = new Service(args[0], args[1]);
    int deliveries = Integer.parseInt(args[3]);
    int runs = Integer.parseInt(args[4]);
    service.post("/api/v1/definitions", Service.file(world("")));
    try (Connection rows = DriverManager.getConnection(args[2], "purser", "purser")) {
      rows.setAutoCommit(false);
      fill(rows, "alert", deliveries / 4, AlertLists::alert);
      fill(rows, "alert_telling", deliveries / 4, (i, row) -> row.put("alert", 1_000_000L + i));
      fill(rows, "delivery", deliveries, AlertLists::delivery);
      fill(rows, "run", runs, AlertLists::run);
      try (Statement sql = rows.createStatement()) {
        sql.execute("analyze table alert, alert_telling, delivery, run");
      }
    }
    System.out.printf(
        "%d deliveries of %d alerts, %d runs of 30 days%n", deliveries, deliveries / 4, runs);
    for (String path :
        List.of(
            "/api/v1/alerts?closed=true&limit=100",
            "/api/v1/alerts?closed=true&limit=100&text=tanks",
            "/api/v1/alerts?heads=true&limit=100",
            "/api/v1/alert-addresses",
            "/api/v1/alert-sums?days=30")) {
      time(path, () -> service.text(path));
    }
    Map<String, Object> asked = new LinkedHashMap<>(Service.file(world(RULES)));
    asked.remove("reason");
    asked.put("days", 30);
    time("rehearsal of 3 rules", () -> service.post("/api/v1/alert-rehearsals", asked).toString());
  }

  private static final String RULES =
      """
      alerts:
        - { kind: failed, urgency: urgent }
        - { kind: too-quick, below: 50 % }
        - { kind: value, when: value rows < 10 }
      """;

  private static String world(String rules) {
    StringBuilder text = new StringBuilder("host: nowhere\n---\nstream: lists/a\n" + rules);
    text.append("jobs:\n");
    for (int i = 0; i < JOBS; i++) {
      text.append("  j").append(i).append(": { host: nowhere, run: x }\n");
    }
    return text.toString();
  }

  private interface Asking {
    String ask() throws IOException, InterruptedException;
  }

  private static void time(String what, Asking asking) throws IOException, InterruptedException {
    long[] took = new long[TIMES];
    for (int i = 0; i < TIMES; i++) {
      long begin = System.nanoTime();
      asking.ask();
      took[i] = (System.nanoTime() - begin) / 1_000_000;
    }
    long first = took[0];
    Arrays.sort(took);
    System.out.printf(
        "%s: median %d ms of %d, the first %d ms%n", what, took[TIMES / 2], TIMES, first);
  }

  // ---- records

  private interface Making {
    void make(int i, Map<String, Object> row);
  }

  private static void alert(int i, Map<String, Object> row) {
    row.put("id", 1_000_000L + i);
    row.put("kind", i % 3 == 0 ? "late" : "failed");
    row.put("about", "run");
    row.put("run", 10_000_000L + i);
    row.put("stream", "lists/a");
    row.put("reference", "lists/a/j" + i % JOBS + "@2026-11-01#" + i);
    row.put("title", "Stock count: count the tanks " + i);
    row.put("text", "exit code 3");
    row.put("urgency", "warning");
    row.put("rule", i % 2 == 0 ? "built in" : "stream lists/a");
    row.put("own_key", "run " + i);
    row.put("opened", at(i));
    if (i % 10 != 0) {
      row.put("closed", at(i));
      row.put("closed_because", "it goes on");
    }
  }

  private static void delivery(int i, Map<String, Object> row) {
    row.put("alert", 1_000_000L + i / 4);
    row.put("recipient", "desk-" + i % 20);
    row.put("channel", i % 2 == 0 ? "mail" : "webhook");
    row.put("address", "desk-" + i % 20 + "@brannoch.example");
    row.put("state", i % 5_000 == 0 ? "refused" : "delivered");
    row.put("next_try", at(i / 4));
    row.put("written", at(i / 4));
    row.put("delivered", at(i / 4));
    row.put("what", "alert");
    row.put("urgency", "warning");
    row.put("tries", 1);
  }

  private static void run(int i, Map<String, Object> row) {
    LocalDate date = LocalDate.now(ZoneOffset.UTC).minusDays(1 + i % 29);
    String start = date + " 03:00:00";
    row.put("id", 20_000_000L + i);
    row.put("stream", "lists/a");
    row.put("job", "j" + i % JOBS);
    row.put("business_date", date.toString());
    row.put("number", 1 + i / 29);
    row.put("due", start);
    row.put("since", date + " 03:10:00");
    row.put("started", start);
    row.put("ended", date + " 03:" + (10 + i % 40) + ":00");
    row.put("state", i % 50 == 0 ? "failed" : "succeeded");
    row.put("attempts", 1);
    row.put("zone", "UTC");
    row.put("handed_back", "{\"rows\": \"" + i % 1_000 + "\"}");
  }

  /** Over the last 30 days. */
  private static String at(int i) {
    return LocalDate.now(ZoneOffset.UTC).minusDays(i % 29) + " 0" + i % 9 + ":00:00";
  }

  /** Puts rows into a table; what a row does not say is empty, or 0. */
  private static void fill(Connection rows, String table, int count, Making making)
      throws SQLException {
    Map<String, Object> usual = new LinkedHashMap<>();
    try (PreparedStatement columns =
        rows.prepareStatement(
            "select column_name, data_type from information_schema.columns where table_schema ="
                + " database() and table_name = ? and is_nullable = 'NO' and column_default is null"
                + " and extra not like '%auto_increment%'")) {
      columns.setString(1, table);
      ResultSet found = columns.executeQuery();
      while (found.next()) {
        String type = found.getString(2);
        boolean text = type.contains("char") || type.contains("text");
        boolean date = type.startsWith("date");
        usual.put(found.getString(1), text ? "" : date ? "2026-11-01 00:00:00" : (Object) 0);
      }
    }
    Map<String, Object> sample = new LinkedHashMap<>(usual);
    making.make(1, sample);
    List<String> names = new ArrayList<>(sample.keySet());
    String marks = "?,".repeat(names.size());
    try (PreparedStatement insert =
        rows.prepareStatement(
            "insert into `"
                + table
                + "` (`"
                + String.join("`,`", names)
                + "`) values ("
                + marks.substring(0, marks.length() - 1)
                + ")")) {
      for (int i = 0; i < count; i++) {
        Map<String, Object> row = new LinkedHashMap<>(usual);
        making.make(i, row);
        for (int at = 0; at < names.size(); at++) {
          insert.setObject(at + 1, row.get(names.get(at)));
        }
        insert.addBatch();
        if (i % STEP == STEP - 1) {
          insert.executeBatch();
        }
      }
      insert.executeBatch();
    }
    rows.commit();
  }
}

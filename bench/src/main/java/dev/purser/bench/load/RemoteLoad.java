package dev.purser.bench.load;

import dev.purser.outside.RemoteDesk;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Properties;

/**
 * Many runs at a remote service, followed at once: how steady the pace of looks is, and whether the
 * heap stays flat. Then a result of many rows: kept, and had as CSV, beside a bare reader of the
 * same rows that writes them to a file. Arguments: the service's address, a token, the database's
 * address, the service's process id, how many runs, how many rows.
 */
public final class RemoteLoad {
  private static final int LASTS_SECONDS = 75;
  private static final int EVERY_MILLIS = 5_000;

  private final Service service;
  private final String process;

  private RemoteLoad(Service service, String process) {
    this.service = service;
    this.process = process;
  }

  /** Runs it. */
  public static void main(String[] args) throws IOException, InterruptedException, SQLException {
    RemoteLoad load = new RemoteLoad(new Service(args[0], args[1]), args[3]);
    load.follow(Integer.parseInt(args[4]));
    load.rows(args[2], Integer.parseInt(args[5]));
  }

  // ---- many followed at once

  private void follow(int runs) throws IOException, InterruptedException {
    try (RemoteDesk desk = new RemoteDesk(0)) {
      String here = "http://127.0.0.1:" + desk.port();
      service.post(
          "/api/v1/secrets",
          Map.of("source", "variable", "name", "BENCH_DESK", "address", here, "reason", "bench"));
      service.post("/api/v1/definitions", Service.file(world(here, runs)));
      double before = heap();
      long began = System.currentTimeMillis();
      start("remote/many");
      while (desk.begun().size() < runs) {
        Thread.sleep(50);
      }
      double asked = (System.currentTimeMillis() - began) / 1000.0;
      Thread.sleep(15_000);
      double early = heap();
      Thread.sleep(35_000);
      double late = heap();
      while (open("remote/many") > 0) {
        Thread.sleep(500);
      }
      List<Long> gaps = new ArrayList<>();
      for (RemoteDesk.Task task : desk.begun()) {
        for (int i = 1; i < task.looks().size(); i++) {
          gaps.add(task.looks().get(i) - task.looks().get(i - 1));
        }
      }
      Collections.sort(gaps);
      System.out.printf(
          "%d remote runs: all asked after %.1f s; asked for looks every %d ms, between looks p50 %d,"
              + " p99 %d, at most %d ms; begun twice: %d%n",
          runs,
          asked,
          EVERY_MILLIS,
          at(gaps, 0.5),
          at(gaps, 0.99),
          at(gaps, 1),
          desk.begun().size() - runs);
      System.out.printf(
          "heap after a collection: %.1f MB before, %.1f after 15 s of looks, %.1f after 50 s%n",
          before, early, late);
    }
  }

  private static long at(List<Long> sorted, double part) {
    return sorted.isEmpty()
        ? -1
        : sorted.get((int) Math.min(sorted.size() - 1L, Math.round(part * sorted.size())));
  }

  private static String world(String here, int runs) {
    StringBuilder text =
        new StringBuilder(
            """
            connection: bench-desk
            address: @here@/harbour
            user: purser
            secret-environment: BENCH_DESK
            sign-in: oauth2
            token-address: @here@/token
            ---
            remote-service: bench-desk
            connection: bench-desk
            operations:
              file:
                start:
                  request: POST /filings
                  json: { vessel: x, seconds: @seconds@ }
                  id: /filing/id
                  key-header: Idempotency-Key
                look:
                  request: GET /filings/${remote.id}
                  state: /state
                  running: queued, working
                  succeeded: filed
                  failed: refused
            ---
            stream: remote/many
            jobs:
            """
                .replace("@here@", here)
                .replace("@seconds@", String.valueOf(LASTS_SECONDS)));
    for (int i = 0; i < runs; i++) {
      text.append("  j").append(i);
      text.append(": { call: file of bench-desk, every: 5s, growing-to: 5s }\n");
    }
    return text.toString();
  }

  private void start(String stream) throws IOException, InterruptedException {
    service.post(
        "/api/v1/starts",
        Map.of(
            "stream",
            stream,
            "date",
            LocalDate.now(ZoneOffset.UTC).toString(),
            "job",
            "",
            "reason",
            "bench"));
  }

  private long open(String stream) throws IOException, InterruptedException {
    String path = "/api/v1/runs?limit=1&state=waiting,starting,running&stream=" + stream;
    return service.get(path).get("total").asLong();
  }

  /** Megabytes that are in use after a full collection. */
  private double heap() throws IOException, InterruptedException {
    new ProcessBuilder("jcmd", process, "GC.run")
        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
        .start()
        .waitFor();
    return service.heapBytes() / 1e6;
  }

  // ---- a result of many rows

  private void rows(String database, int rows)
      throws IOException, InterruptedException, SQLException {
    String query =
        "select seq as number, concat('ticket ', seq) as title, seq * 1.25 as amount, date_add('2027-03-04',"
            + " interval seq % 365 day) as day from seq_1_to_"
            + rows;
    String address = database.replace("jdbc:", "");
    service.post(
        "/api/v1/secrets",
        Map.of("source", "variable", "name", "BENCH_DB", "address", address, "reason", "bench"));
    String world =
        "connection: bench-database\naddress: \""
            + database
            + "\"\nuser: purser\nsecret-environment: BENCH_DB\n---\nstream: remote/rows\njobs:\n"
            + "  ask: { database: bench-database, keep-rows: "
            + rows
            + ", sql: \""
            + query
            + "\" }\n";
    service.post("/api/v1/definitions", Service.file(world));
    double before = heap();
    long began = System.nanoTime();
    start("remote/rows");
    while (open("remote/rows") > 0) {
      Thread.sleep(20);
    }
    double kept = seconds(began);
    double after = heap();
    String id =
        service
            .get("/api/v1/runs?limit=1&order=newest&stream=remote/rows")
            .get("runs")
            .get(0)
            .get("id")
            .asString();
    Path csv = Files.createTempFile("rows", ".csv");
    began = System.nanoTime();
    service.save("/api/v1/runs/" + id + "/results/1/file?format=csv", csv);
    double had = seconds(began);
    began = System.nanoTime();
    Path bare = Files.createTempFile("bare", ".csv");
    bare(database, query, bare);
    double barely = seconds(began);
    System.out.printf(
        "%d rows: kept in %.1f s, had as CSV (%.0f MB, %s) in %.1f s; a bare reader writes them in %.1f s:"
            + " %.1f and %.1f times as long%n",
        rows,
        kept,
        Files.size(csv) / 1e6,
        Files.size(csv) >= Files.size(bare) ? "whole" : "NOT WHOLE",
        had,
        barely,
        kept / barely,
        had / barely);
    System.out.printf(
        "heap after a collection: %.1f MB before, %.1f after the rows were kept, %.1f after the CSV%n",
        before, after, heap());
    Files.delete(csv);
    Files.delete(bare);
  }

  private static double seconds(long began) {
    return (System.nanoTime() - began) / 1e9;
  }

  private static void bare(String database, String query, Path to)
      throws SQLException, IOException {
    Properties who = new Properties();
    who.setProperty("user", "purser");
    who.setProperty("password", "purser");
    try (Connection connection = DriverManager.getConnection(database, who);
        Statement statement = connection.createStatement();
        BufferedWriter out = Files.newBufferedWriter(to, StandardCharsets.UTF_8)) {
      statement.setFetchSize(1_000);
      try (ResultSet rows = statement.executeQuery(query)) {
        while (rows.next()) {
          for (int i = 1; i <= 4; i++) {
            out.write(rows.getString(i));
            out.write(i < 4 ? "," : "\n");
          }
        }
      }
    }
  }
}

package dev.purser.bench.load;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;

/**
 * From the end of a process to the start of the one that waits for it, both real, through one agent
 * at 100 runs/s, a chain of ten every tenth of a second: both times are the agent's, to the
 * millisecond. Arguments: the service's address, a token, the database's address, seconds.
 */
public final class Latency {
  private static final int CHAINS = 10;
  private static final int LENGTH = 10;
  private static final int RUNS_A_SECOND = 100;
  private static final int[] BOUNDS = {1, 2, 3, 5, 8, 12, 18, 25, 40, 60, 100, 200, 500, 100_000};

  private Latency() {}

  /** Prints a histogram, p50 and p99. */
  public static void main(String[] args) throws IOException, InterruptedException, SQLException {
    Service service = new Service(args[0], args[1]);
    int seconds = Integer.parseInt(args[3]);
    StringBuilder file = new StringBuilder("host: bench\n");
    for (int c = 0; c < CHAINS; c++) {
      file.append("---\nstream: bench/chain-" + c + "\npaused: no\njobs:\n");
      for (int i = 0; i < LENGTH; i++) {
        file.append("  j").append(i).append(": { host: bench, run: \"true\"");
        file.append(i == 0 ? " }\n" : ", waits-for: j" + (i - 1) + " succeeded }\n");
      }
    }
    service.post("/api/v1/definitions", Service.file(file.toString()));
    play(service, 20); // until the compilers have done their work
    int after =
        (int) service.get("/api/v1/runs?stream=bench/chain-0&limit=1").get("total").asLong()
            / LENGTH;
    play(service, seconds);
    part("end of the process to the decision", gaps(args[2], after, "a.ended", "b.sent"));
    part("decision, on record, to the start", gaps(args[2], after, "b.sent", "b.started"));
    List<Integer> all = gaps(args[2], after, "a.ended", "b.started");
    Collections.sort(all);
    histogram(all);
    part("the machine's own: two flushes of the disk and a process start", bare());
    System.out.printf(
        "prerequisite met to process started, %d of them: p50 %d ms (promise: 5), p99 %d ms (promise:"
            + " 25)%n",
        all.size(), all.get(all.size() / 2), all.get(all.size() * 99 / 100));
  }

  private static void part(String what, List<Integer> all) {
    Collections.sort(all);
    System.out.printf(
        "%s: p50 %d ms, p99 %d ms%n",
        what, all.get(all.size() / 2), all.get(all.size() * 99 / 100));
  }

  /**
   * What no design can do without: the record and the journal on the disk, and the start itself.
   */
  private static List<Integer> bare() throws IOException, InterruptedException {
    List<Integer> all = new ArrayList<>();
    Path file = Files.createTempFile("purser-bench", ".bare");
    try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
      channel.write(ByteBuffer.allocate(1 << 20));
      channel.force(true);
      for (int i = 0; i < 500; i++) {
        long begin = System.nanoTime();
        for (int flush = 0; flush < 2; flush++) {
          channel.write(ByteBuffer.allocate(512), (i * 2L + flush) * 512);
          channel.force(false);
        }
        Process process = new ProcessBuilder("/bin/true").start();
        all.add((int) ((System.nanoTime() - begin) / 1_000_000));
        process.waitFor();
        Thread.sleep(10);
      }
    } finally {
      Files.delete(file);
    }
    return all;
  }

  private static void play(Service service, int seconds) throws IOException, InterruptedException {
    long next = System.nanoTime();
    for (int i = 0; i < seconds * CHAINS; i++) {
      String stream = "bench/chain-" + i % CHAINS;
      service.post("/api/v1/starts", Map.of("stream", stream, "job", "", "reason", ""));
      next += 1_000_000_000L * LENGTH / RUNS_A_SECOND;
      Thread.sleep(Math.max(0, (next - System.nanoTime()) / 1_000_000));
    }
    for (String state : List.of("waiting", "starting", "running")) {
      while (service
              .get("/api/v1/runs?stream=bench/chain-*&limit=1&state=" + state)
              .get("total")
              .asLong()
          > 0) {
        Thread.sleep(100);
      }
    }
  }

  private static List<Integer> gaps(String url, int afterNumber, String from, String to)
      throws SQLException {
    List<Integer> all = new ArrayList<>();
    String query =
        "select timestampdiff(microsecond, "
            + from
            + ", "
            + to
            + ") from run r join run s on s.stream ="
            + " r.stream and s.business_date = r.business_date and s.number = r.number and"
            + " substring(s.job, 2) = substring(r.job, 2) + 1 join attempt a on a.run = r.id join"
            + " attempt b on b.run = s.id where r.stream like 'bench/chain-%' and r.number > "
            + afterNumber;
    try (Connection connection = DriverManager.getConnection(url, "purser", "purser");
        Statement statement = connection.createStatement();
        ResultSet found = statement.executeQuery(query)) {
      while (found.next()) {
        all.add((int) (found.getLong(1) / 1000));
      }
    }
    return all;
  }

  private static void histogram(List<Integer> sorted) {
    int from = 0;
    for (int bound : BOUNDS) {
      int low = from;
      long count = sorted.stream().filter(ms -> ms >= low && ms < bound).count();
      if (count > 0) {
        System.out.printf(
            "  %4d to %4s ms %7d %s%n",
            low,
            bound == 100_000 ? "" : bound,
            count,
            "#".repeat((int) Math.ceil(60.0 * count / sorted.size())));
      }
      from = bound;
    }
  }
}

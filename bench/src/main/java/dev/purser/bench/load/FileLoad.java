package dev.purser.bench.load;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.StandardWatchEventKinds;
import java.nio.file.WatchKey;
import java.nio.file.WatchService;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;

/**
 * Files under load, through real agents on this machine: from a whole file to the start of its run;
 * many in a minute over four agents; many that are there already. Arguments: the service's address,
 * a token, the database's address, a directory, files in a minute, files already there, the process
 * ids of the agents with commas between.
 */
public final class FileLoad {
  private static final List<String> HOSTS = List.of("quay-north", "quay-south", "ledger", "depot");
  private static final int STILL_FOR_MILLIS = 1_000;
  private static final int TIMED = 600;
  private static final int TIMED_A_SECOND = 20;
  private static final int LONGEST_SECONDS = 300;

  private final Service service;
  private final String database;
  private final Path in;

  private FileLoad(String[] args) {
    service = new Service(args[0], args[1]);
    database = args[2];
    in = Path.of(args[3]).toAbsolutePath();
  }

  /** Prints the figures. */
  public static void main(String[] args) throws IOException, InterruptedException, SQLException {
    FileLoad files = new FileLoad(args);
    for (String host : HOSTS) {
      files.service.post("/api/v1/definitions", Service.file("host: " + host + "\n"));
    }
    files.latency();
    files.manyInAMinute(Integer.parseInt(args[4]));
    files.manyAlreadyThere(Integer.parseInt(args[5]), args[6].split(",")[0]);
    files.sizeOnDisk();
  }

  // ---- from a whole file to the start of its run

  private void latency() throws IOException, InterruptedException, SQLException {
    Path directory = Files.createDirectories(in.resolve("timed"));
    watch("timed", "quay-north", directory, "still-for: 1s\n", "true");
    Thread.sleep(3_000);
    send(directory, "warm-", TIMED / 2, TIMED_A_SECOND); // until the compilers have done their work
    awaitCount("watch = 'timed' and state = 'used'", TIMED / 2);
    send(directory, "timed-", TIMED, TIMED_A_SECOND);
    awaitCount("watch = 'timed' and state = 'used'", TIMED / 2 + TIMED);
    List<Long> bare = bareNotice(Files.createDirectories(in.resolve("bare")));
    List<Long> whole = new ArrayList<>();
    for (String line :
        rows(
            "select a.path, unix_timestamp(t.started) * 1000 from arrival a join attempt t on t.run"
                + " = a.run where a.watch = 'timed' and a.path like '%/timed-%'")) {
      String[] parts = line.split("\t");
      String stem = parts[0].substring(parts[0].lastIndexOf('-') + 1).replace(".csv", "");
      whole.add((long) Double.parseDouble(parts[1]) - Long.parseLong(stem) - STILL_FOR_MILLIS);
    }
    System.out.printf(
        "whole file to the start of its run, %d of them: p50 %d ms (asked: 50), p99 %d ms (asked: 250)%n",
        whole.size(), part(whole, 50), part(whole, 99));
    System.out.printf(
        "a bare notice of the system and a process start: p50 %d ms, p99 %d ms%n",
        part(bare, 50), part(bare, 99));
  }

  /** Each is whole at once; its name says when. */
  private static void send(Path directory, String prefix, int count, int aSecond)
      throws IOException, InterruptedException {
    long next = System.nanoTime();
    for (int i = 0; i < count; i++) {
      Path part = directory.resolve(".part");
      Files.writeString(part, prefix + i + "\n");
      Path file = directory.resolve(prefix + i + "-" + System.currentTimeMillis() + ".csv");
      Files.move(part, file, StandardCopyOption.ATOMIC_MOVE);
      next += 1_000_000_000L / aSecond;
      Thread.sleep(Math.max(0, (next - System.nanoTime()) / 1_000_000));
    }
  }

  private static List<Long> bareNotice(Path directory) throws IOException, InterruptedException {
    List<Long> all = new ArrayList<>();
    try (WatchService notices = FileSystems.getDefault().newWatchService()) {
      directory.register(notices, StandardWatchEventKinds.ENTRY_CREATE);
      for (int i = 0; i < 200; i++) {
        long begin = System.nanoTime();
        Files.writeString(directory.resolve("bare-" + i), "x");
        WatchKey key = notices.take();
        key.pollEvents();
        key.reset();
        Process process = new ProcessBuilder("/bin/true").start();
        all.add((System.nanoTime() - begin) / 1_000_000);
        process.waitFor();
      }
    }
    return all;
  }

  private static long part(List<Long> all, int percent) {
    Collections.sort(all);
    return all.get(Math.min(all.size() - 1, all.size() * percent / 100));
  }

  // ---- many in a minute

  private void manyInAMinute(int count) throws IOException, InterruptedException, SQLException {
    Path marks = in.resolve("marks");
    Files.createFile(marks);
    List<Path> directories = new ArrayList<>();
    for (String host : HOSTS) {
      Path directory = Files.createDirectories(in.resolve("many-" + host));
      directories.add(directory);
      watch(
          "many-" + host,
          host,
          directory,
          "still-for: 1s\n",
          "echo \\\"${file.name}\\\" >>" + marks);
    }
    Thread.sleep(3_000);
    long begin = System.nanoTime();
    List<Double> least = new ArrayList<>();
    double low = Double.MAX_VALUE;
    for (int i = 0; i < count; i++) {
      Path directory = directories.get(i % directories.size());
      Path part = directory.resolve(".part");
      Files.writeString(part, "content of " + i + "\n");
      Files.move(part, directory.resolve("many-" + i + ".csv"), StandardCopyOption.ATOMIC_MOVE);
      long due = begin + 60_000_000_000L * (i + 1) / count;
      Thread.sleep(Math.max(0, (due - System.nanoTime()) / 1_000_000));
      if ((i + 1) % Math.max(1, count / 60) == 0) {
        low = Math.min(low, service.heapBytes());
      }
      if ((i + 1) % Math.max(1, count / 4) == 0) {
        least.add(low);
        low = Double.MAX_VALUE;
      }
    }
    double sent = (System.nanoTime() - begin) / 1e9;
    awaitCount("watch like 'many-%' and state = 'used'", count);
    double over = (System.nanoTime() - begin) / 1e9;
    List<String> lines = Files.readAllLines(marks, StandardCharsets.UTF_8);
    System.out.printf(
        "%d files over %d agents in %.0f s: all used after %.0f s; arrivals %d, runs %d, marks %d, of"
            + " them different %d%n",
        count,
        HOSTS.size(),
        sent,
        over,
        count("arrival", "watch like 'many-%'"),
        count("run", "stream like 'bench/many-%'"),
        lines.size(),
        new HashSet<>(lines).size());
    System.out.printf(
        "least heap in use in each quarter of the minute: %s MB%n",
        least.stream().map(bytes -> String.format("%.0f", bytes / 1e6)).toList());
  }

  private void watch(String name, String host, Path directory, String more, String command)
      throws IOException, InterruptedException {
    service.post(
        "/api/v1/definitions",
        Service.file(
            ("file-watch: %s\nhost: %s\npath: %s/*.csv\n%s---\nstream: bench/%s\npaused: no\n"
                    + "starts-on: { file: %s, at-a-time: 1000 }\n"
                    + "jobs:\n  use: { host: with the file, run: \"%s\" }\n")
                .formatted(name, host, directory, more, name, name, command)));
  }

  // ---- many that are there already

  private void manyAlreadyThere(int count, String agent)
      throws IOException, InterruptedException, SQLException {
    Path directory = Files.createDirectories(in.resolve("there"));
    for (int i = 0; i < count; i++) {
      Files.writeString(
          directory.resolve("there-" + i + ".csv"), "x", StandardOpenOption.CREATE_NEW);
    }
    Thread.sleep(1_000);
    long before = System.nanoTime();
    int listed = 0;
    try (var all = Files.newDirectoryStream(directory)) {
      for (Path one : all) {
        Files.readAttributes(one, "unix:size,ino,ctime", LinkOption.NOFOLLOW_LINKS);
        listed++;
      }
    }
    System.out.printf(
        "a bare listing of %d files with their attributes: %.1f s%n",
        listed, (System.nanoTime() - before) / 1e9);
    long memory = resident(agent);
    double heap = service.heapBytes();
    long begin = System.nanoTime();
    service.post(
        "/api/v1/definitions",
        Service.file(
            "file-watch: there\nhost: quay-north\npath: "
                + directory
                + "/*.csv\nexisting: ignore\n"));
    long most = memory;
    while (count("arrival", "watch = 'there' and state = 'ignored'") < count) {
      if (System.nanoTime() - begin > LONGEST_SECONDS * 1_000_000_000L) {
        throw new IOException("waited too long for the files that are there");
      }
      most = Math.max(most, resident(agent));
      Thread.sleep(500);
    }
    System.out.printf(
        "%d files that are there already, all on record after %.0f s; the agent (-Xmx128m) had %d MB"
            + " in memory before and %d MB at the most; the service's heap went from %.0f to %.0f MB%n",
        count,
        (System.nanoTime() - begin) / 1e9,
        memory >> 10,
        most >> 10,
        heap / 1e6,
        service.heapBytes() / 1e6);
  }

  /** Kilobytes. */
  private static long resident(String process) throws IOException {
    return Files.readAllLines(Path.of("/proc/" + process + "/status")).stream()
        .filter(line -> line.startsWith("VmRSS:"))
        .mapToLong(line -> Long.parseLong(line.replaceAll("\\D", "")))
        .findFirst()
        .orElse(0);
  }

  // ---- the records

  private void sizeOnDisk() throws SQLException {
    try (Connection connection = DriverManager.getConnection(database, "purser", "purser");
        Statement statement = connection.createStatement()) {
      statement.execute("analyze table arrival");
    }
    String size =
        rows("select data_length + index_length, table_rows from information_schema.tables where"
                + " table_schema = database() and table_name = 'arrival'")
            .get(0);
    long bytes = Long.parseLong(size.substring(0, size.indexOf('\t')));
    System.out.printf(
        "an arrival takes %d bytes on disk, its indexes included%n",
        bytes / count("arrival", "true"));
  }

  private void awaitCount(String where, int wanted)
      throws IOException, InterruptedException, SQLException {
    long end = System.nanoTime() + LONGEST_SECONDS * 1_000_000_000L;
    while (count("arrival", where) < wanted) {
      if (System.nanoTime() > end) {
        throw new IOException("waited too long for " + wanted + " arrivals where " + where);
      }
      Thread.sleep(200);
    }
  }

  private long count(String table, String where) throws SQLException {
    return Long.parseLong(
        rows("select count(*), 0 from " + table + " where " + where).get(0).split("\t")[0]);
  }

  /** The two columns of each row, with a tab between. */
  private List<String> rows(String query) throws SQLException {
    List<String> all = new ArrayList<>();
    try (Connection connection = DriverManager.getConnection(database, "purser", "purser");
        Statement statement = connection.createStatement();
        ResultSet found = statement.executeQuery(query)) {
      while (found.next()) {
        all.add(found.getString(1) + "\t" + found.getString(2));
      }
    }
    return all;
  }
}

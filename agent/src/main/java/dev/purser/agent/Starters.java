package dev.purser.agent;

import dev.purser.wire.agent.ToAgent;
import java.io.BufferedOutputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Predicate;

/**
 * The processes that start attempts: {@code starter.pl}, which forks one far more cheaply than this
 * program could, outlives it, and keeps a {@link StarterLog}. One is at work at a time; where it
 * dies, or its log is used up, another takes its place for what is still to be started, and the
 * ends of what the earlier ones started are read from their logs.
 */
final class Starters implements AutoCloseable {
  /** Before a variable whose value is put into a file. */
  private static final String FILE = "\1";

  private static final String SCRIPT = "starter.pl";
  private static final long UNDECIDED_AT_MOST_MILLIS = 2_000;
  private static final int DEATHS_AT_MOST = 3;

  private final Path home;
  private final Path directory;
  private final Heard heard;
  private final int startsALog;
  private final Set<String> passOn;
  private final List<StarterLog> logs = new CopyOnWriteArrayList<>();
  private final Map<String, StarterLog> claimed = new ConcurrentHashMap<>();
  private final Map<String, Request> waiting = new LinkedHashMap<>();
  private final Object looking = new Object();
  private StarterLog current;
  private Process process;
  private OutputStream requests;
  private int room;
  private boolean closed;
  private volatile boolean isTakenUp;

  /** What is read in the logs, in order for each attempt. */
  interface Heard {
    /** Its process is at work. */
    void began(String name, long group, long at);

    /** Its check has ended it. */
    void checked(String name, int code);

    /**
     * Its first process is over.
     *
     * @param bySignal whether a signal ended it
     * @param leavesSome whether others of its group may be left
     */
    void ended(String name, int code, long at, boolean bySignal, boolean leavesSome);

    /** It could not be started. */
    void failed(String name, String reason);
  }

  /** What was asked of a starter and is not claimed yet; so many asked before it have died. */
  private record Request(byte[] fields, int deaths, Process asked) {}

  /**
   * Puts the script into the agent's home, and forbids the starters of earlier agents to start
   * anything more: what they have not claimed until now they never will.
   *
   * @param passOn variables of this program's environment that work is given too
   * @throws UncheckedIOException where the home cannot be written
   */
  Starters(Path home, Set<String> passOn, Heard heard) {
    this(home, passOn, heard, StarterLog.MOST_STARTS);
  }

  Starters(Path home, Set<String> passOn, Heard heard, int startsALog) {
    this.passOn = Set.copyOf(passOn);
    this.startsALog = startsALog;
    this.home = home.toAbsolutePath();
    this.directory = this.home.resolve("starters");
    this.heard = heard;
    try (InputStream script = Starters.class.getResourceAsStream("/" + SCRIPT)) {
      Path fresh = this.home.resolve(SCRIPT + ".new");
      Files.copy(script, fresh, StandardCopyOption.REPLACE_EXISTING);
      Files.move(fresh, this.home.resolve(SCRIPT), StandardCopyOption.ATOMIC_MOVE);
      Files.createDirectories(directory);
      for (StarterLog log : StarterLog.find(directory)) {
        log.close();
        logs.add(log);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * Reads what the starters of earlier agents have done. One that has claimed an attempt just now
   * is given the time to say what came of it.
   */
  void takeUp() {
    long end = System.nanoTime() + UNDECIDED_AT_MOST_MILLIS * 1_000_000;
    Map<String, StarterLog> undecided = new LinkedHashMap<>();
    do {
      for (StarterLog log : logs) {
        for (StarterLog.Line line : log.read()) {
          hear(log, line);
          if (line.kind() == 'c') {
            undecided.put(line.name(), log);
          } else {
            undecided.remove(line.name());
          }
        }
      }
      undecided.values().removeIf(log -> !log.isSupervised());
    } while (!undecided.isEmpty() && System.nanoTime() < end);
    isTakenUp = true;
  }

  /** Whether a starter may have started it. */
  boolean isClaimed(String name) {
    return claimed.containsKey(name);
  }

  /** Whether it is still to be claimed, or the process that waits for its end is alive. */
  boolean isSupervised(String name) {
    StarterLog log = claimed.get(name);
    if (log == null) {
      synchronized (this) {
        return waiting.containsKey(name);
      }
    }
    return log.isSupervised();
  }

  /** Forgets what nobody wants to know any more, and removes the logs in which nothing else is. */
  synchronized void tidy(Predicate<String> isKnown) {
    claimed.keySet().removeIf(name -> !isKnown.test(name));
    Set<StarterLog> needed = new HashSet<>(claimed.values());
    needed.add(current);
    logs.removeIf(log -> !needed.contains(log) && !log.isSupervised() && log.delete());
  }

  /**
   * Asks for an attempt to be started, which has been journalled.
   *
   * @throws IOException where no process can be started at all
   */
  synchronized void start(String name, String directory, ToAgent.Start start, Path values)
      throws IOException {
    if (closed) {
      return;
    }
    ask(name, request(name, directory, start, values), 0);
  }

  private void ask(String name, byte[] fields, int deaths) throws IOException {
    if (process == null || !process.isAlive() || room == 0) {
      launch();
    }
    room--;
    waiting.put(name, new Request(fields, deaths, process));
    try {
      send(fields);
    } catch (IOException e) {
      AgentLog.info("the starter has just died; what it did not claim another starts");
    }
  }

  private void send(byte[] request) throws IOException {
    DataOutputStream out = new DataOutputStream(requests);
    out.writeInt(request.length);
    out.write(request);
    out.flush();
  }

  private static byte[] request(String name, String directory, ToAgent.Start start, Path values) {
    ByteArrayOutputStream fields = new ByteArrayOutputStream();
    for (String field : List.of(name, directory, start.command(), start.check(), start.user())) {
      field(fields, field);
    }
    for (Map.Entry<String, String> one : start.environment().entrySet()) {
      field(fields, one.getKey() + "=" + one.getValue());
    }
    start
        .secretFiles()
        .forEach((variable, secret) -> field(fields, FILE + variable + "=" + secret));
    field(fields, "PURSER_VALUES=" + values);
    return fields.toByteArray();
  }

  private static void field(ByteArrayOutputStream fields, String text) {
    fields.writeBytes(text.replace("\0", "").getBytes(StandardCharsets.UTF_8));
    fields.write(0);
  }

  /** The one before ends by itself when the last of its attempts is over. */
  private void launch() throws IOException {
    StarterLog log = StarterLog.create(directory);
    Process fresh;
    try {
      List<String> command = new ArrayList<>();
      command.addAll(
          List.of("perl", home.resolve(SCRIPT).toString(), home.toString(), log.file().toString()));
      command.addAll(passOn);
      fresh =
          new ProcessBuilder(command)
              .redirectError(ProcessBuilder.Redirect.appendTo(home.resolve("starter.log").toFile()))
              .start();
    } catch (IOException e) {
      log.delete();
      throw e;
    }
    hangUp();
    logs.add(log);
    current = log;
    process = fresh;
    room = startsALog;
    requests = new BufferedOutputStream(fresh.getOutputStream(), 64 * 1024);
    Thread listener = new Thread(() -> listen(fresh, log), "starter");
    listener.setDaemon(true);
    listener.start();
  }

  private void hangUp() {
    if (process != null) {
      try {
        requests.close();
      } catch (IOException e) {
        AgentLog.info("the starter was gone already");
      }
    }
  }

  private void listen(Process from, StarterLog log) {
    try (InputStream bell = from.getInputStream()) {
      byte[] rung = new byte[4096];
      while (bell.read(rung) >= 0) {
        look(log);
      }
    } catch (IOException e) {
      AgentLog.warn("the starter cannot be heard any more: " + e.getMessage());
    }
    look(log);
    askAgain(from);
  }

  /** What a starter that died was asked for and did not claim. */
  private void askAgain(Process dead) {
    Map<String, Request> left = new LinkedHashMap<>();
    synchronized (this) {
      if (closed) {
        return;
      }
      waiting.forEach(
          (name, request) -> {
            if (request.asked() == dead) {
              left.put(name, request);
            }
          });
    }
    for (Map.Entry<String, Request> one : left.entrySet()) {
      int deaths = one.getValue().deaths() + 1;
      try {
        dead.waitFor();
        if (deaths >= DEATHS_AT_MOST) {
          throw new IOException("the process that was to start it has died " + deaths + " times");
        }
        synchronized (this) {
          ask(one.getKey(), one.getValue().fields(), deaths);
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      } catch (IOException e) {
        heard.failed(one.getKey(), "cannot start processes: " + e.getMessage());
      }
    }
  }

  /** Reads what is new in all logs. */
  void look() {
    logs.forEach(this::look);
  }

  private void look(StarterLog log) {
    synchronized (looking) {
      for (StarterLog.Line line : log.read()) {
        hear(log, line);
      }
    }
  }

  private void hear(StarterLog log, StarterLog.Line line) {
    String name = line.name();
    switch (line.kind()) {
      case 'c' -> {
        if (log.isClosed() && isTakenUp) {
          return; // it comes too late and starts nothing: another may have the attempt by now
        }
        claimed.put(name, log);
        synchronized (this) {
          waiting.remove(name);
        }
      }
      case 'u' -> claimed.remove(name, log);
      case 'g' -> heard.began(name, line.number(0), line.number(1));
      case 'k' -> heard.checked(name, (int) line.number(0));
      case 'e' ->
          heard.ended(
              name,
              (int) line.number(0),
              line.number(1),
              line.number(2, 0) != 0,
              line.number(3, 0) != 0);
      case 'f' -> heard.failed(name, line.rest());
      default -> AgentLog.warn("the starter wrote something unknown: " + line);
    }
  }

  /** Says nothing more to it: it ends by itself when the last of its attempts is over. */
  @Override
  public synchronized void close() {
    closed = true;
    hangUp();
  }
}

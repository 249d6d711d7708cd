package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * Hands alerts to commands of this host, on their standard input, and tells what came of it. The
 * same alert is handed over once for as long as this program remembers it: where the answer was
 * lost, it is told again.
 */
final class Notices implements AutoCloseable {
  private static final int AT_ONCE = 4;
  private static final int REMEMBERED = 1_000;
  private static final int MOST_TOLD = 300;
  private static final Set<String> USUAL = Set.of("PATH", "LANG", "TZ", "TMPDIR", "HOME", "USER");

  private final RunAs runAs;
  private final Set<String> passOn;
  private final Consumer<FromAgent> out;
  private final Map<String, FromAgent.Notified> done = new LinkedHashMap<>();
  private final ExecutorService workers =
      Executors.newFixedThreadPool(
          AT_ONCE,
          work -> {
            Thread thread = new Thread(work, "notices");
            thread.setDaemon(true);
            return thread;
          });

  /**
   * @param passOn variables of this program's environment that a command is given too
   */
  Notices(RunAs runAs, Set<String> passOn, Consumer<FromAgent> out) {
    this.runAs = runAs;
    this.passOn = Set.copyOf(passOn);
    this.out = out;
  }

  /** Hands one over, if that has not been done. */
  void hand(ToAgent.Notify asked) {
    workers.execute(() -> out.accept(answer(asked)));
  }

  private FromAgent.Notified answer(ToAgent.Notify asked) {
    synchronized (done) {
      if (done.containsKey(asked.id())) {
        return done.get(asked.id());
      }
    }
    FromAgent.Notified answer = run(asked);
    if (answer.code() == 0) {
      synchronized (done) {
        done.put(asked.id(), answer);
        if (done.size() > REMEMBERED) {
          done.remove(done.keySet().iterator().next());
        }
      }
    }
    return answer;
  }

  private FromAgent.Notified run(ToAgent.Notify asked) {
    String refusal = runAs.refusal(asked.user()).orElse("");
    if (!refusal.isEmpty()) {
      return new FromAgent.Notified(asked.id(), -1, refusal);
    }
    List<String> command = new ArrayList<>();
    String other = runAs.turnInto(asked.user());
    if (!other.isEmpty()) {
      command.addAll(List.of("runuser", "-u", other, "--"));
    }
    command.addAll(List.of("/bin/sh", "-c", asked.command()));
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().keySet().removeIf(name -> !isGiven(name));
    try {
      return followed(asked, builder.start());
    } catch (IOException e) {
      return new FromAgent.Notified(asked.id(), -1, "cannot be started: " + e.getMessage());
    }
  }

  private boolean isGiven(String name) {
    return USUAL.contains(name) || name.startsWith("LC_") || passOn.contains(name);
  }

  private FromAgent.Notified followed(ToAgent.Notify asked, Process process) throws IOException {
    Reading output = new Reading(process.getInputStream());
    output.start();
    Thread feeding = new Thread(() -> feed(process, asked.input()), "notice's input");
    feeding.setDaemon(true);
    feeding.start();
    try {
      if (!process.waitFor(asked.limitMillis(), TimeUnit.MILLISECONDS)) {
        end(process);
        return new FromAgent.Notified(
            asked.id(), -1, "was not done within " + asked.limitMillis() / 1_000 + " s, and ended");
      }
      output.join(1_000); // a child of its own may keep it open for longer
      return new FromAgent.Notified(asked.id(), process.exitValue(), output.text());
    } catch (InterruptedException e) {
      end(process);
      Thread.currentThread().interrupt();
      return new FromAgent.Notified(asked.id(), -1, "the agent is being stopped");
    }
  }

  private static void end(Process process) {
    try (Stream<ProcessHandle> below = process.descendants()) {
      below.forEach(ProcessHandle::destroyForcibly);
    }
    process.destroyForcibly();
  }

  /** A command that does not read it has had it all the same. */
  private static void feed(Process process, String input) {
    try (OutputStream to = process.getOutputStream()) {
      to.write(input.getBytes(StandardCharsets.UTF_8));
    } catch (IOException e) {
      AgentLog.info("a command did not read all of an alert");
    }
  }

  @Override
  public void close() {
    workers.shutdownNow();
  }

  /** Reads all that is written, and keeps the beginning. */
  private static final class Reading extends Thread {
    private final InputStream from;
    private final StringBuilder kept = new StringBuilder();

    Reading(InputStream from) {
      super("notice's output");
      setDaemon(true);
      this.from = from;
    }

    @Override
    public void run() {
      byte[] some = new byte[4_096];
      try {
        for (int n = from.read(some); n >= 0; n = from.read(some)) {
          synchronized (kept) {
            int room = Math.min(n, MOST_TOLD - kept.length());
            if (room > 0) {
              kept.append(new String(some, 0, room, StandardCharsets.UTF_8));
            }
          }
        }
      } catch (IOException e) {
        AgentLog.info("a command's output cannot be read any more: " + e.getMessage());
      }
    }

    String text() {
      synchronized (kept) {
        return kept.toString().strip();
      }
    }
  }
}

package dev.purser.agent;

import dev.purser.wire.agent.ToAgent;
import java.io.BufferedOutputStream;
import java.io.BufferedReader;
import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Map;

/**
 * The process that starts attempts: {@code starter.pl}, which forks one far more cheaply than this
 * program could, outlives it, and writes down their exit codes. Where it dies another takes its
 * place for what is still to be started.
 */
final class Starter implements AutoCloseable {
  private static final String SCRIPT = "starter.pl";

  private final Path home;
  private final Heard heard;
  private Process process;
  private OutputStream requests;
  private boolean closed;

  /** What a starter tells, on a thread of its own. */
  interface Heard {
    /** A process is at work. */
    void began(String folder);

    /** It is over; its exit code is in the folder. */
    void ended(String folder);

    /** It was never started. */
    void failed(String folder, String reason);
  }

  /**
   * Puts the script into the agent's home.
   *
   * @throws UncheckedIOException where the home cannot be written
   */
  Starter(Path home, Heard heard) {
    this.home = home.toAbsolutePath();
    this.heard = heard;
    try (InputStream script = Starter.class.getResourceAsStream("/" + SCRIPT)) {
      Path fresh = this.home.resolve(SCRIPT + ".new");
      Files.copy(script, fresh, StandardCopyOption.REPLACE_EXISTING);
      Files.move(fresh, this.home.resolve(SCRIPT), StandardCopyOption.ATOMIC_MOVE);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * Asks for an attempt to be started, whose folder has been journalled.
   *
   * @throws IOException where no process can be started at all
   */
  synchronized void start(AttemptFolder folder, String directory, ToAgent.Start start)
      throws IOException {
    if (closed) {
      return;
    }
    if (process == null || !process.isAlive()) {
      launch();
    }
    byte[] request = request(folder, directory, start);
    try {
      send(request);
    } catch (IOException e) {
      launch(); // it has just died: what it did not claim another may
      send(request);
    }
  }

  private void send(byte[] request) throws IOException {
    DataOutputStream out = new DataOutputStream(requests);
    out.writeInt(request.length);
    out.write(request);
    out.flush();
  }

  private static byte[] request(AttemptFolder folder, String directory, ToAgent.Start start) {
    ByteArrayOutputStream fields = new ByteArrayOutputStream();
    for (String field :
        List.of(
            folder.path().toString(), directory, start.command(), start.check(), start.user())) {
      field(fields, field);
    }
    for (Map.Entry<String, String> one : start.environment().entrySet()) {
      field(fields, one.getKey() + "=" + one.getValue());
    }
    field(fields, "PURSER_VALUES=" + folder.values());
    return fields.toByteArray();
  }

  private static void field(ByteArrayOutputStream fields, String text) {
    fields.writeBytes(text.replace("\0", "").getBytes(StandardCharsets.UTF_8));
    fields.write(0);
  }

  private void launch() throws IOException {
    process =
        new ProcessBuilder("perl", home.resolve(SCRIPT).toString(), home.toString())
            .redirectError(ProcessBuilder.Redirect.appendTo(home.resolve("starter.log").toFile()))
            .start();
    requests = new BufferedOutputStream(process.getOutputStream(), 64 * 1024);
    BufferedReader lines =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    Thread listener = new Thread(() -> listen(lines), "starter");
    listener.setDaemon(true);
    listener.start();
  }

  private void listen(BufferedReader lines) {
    try {
      for (String line = lines.readLine(); line != null; line = lines.readLine()) {
        hear(line);
      }
    } catch (IOException e) {
      AgentLog.warn("the starter cannot be heard any more: " + e.getMessage());
    }
  }

  private void hear(String line) {
    String[] words = line.split(" ", 3);
    String folder = Path.of(words[1]).getFileName().toString();
    switch (words[0]) {
      case "began" -> heard.began(folder);
      case "ended" -> heard.ended(folder);
      case "failed" -> heard.failed(folder, words[2]);
      default -> AgentLog.warn("the starter said something unknown: " + line);
    }
  }

  /** Says nothing more to it: it ends by itself when the last of its attempts is over. */
  @Override
  public synchronized void close() {
    closed = true;
    if (process != null) {
      try {
        requests.close();
      } catch (IOException e) {
        AgentLog.warn("cannot close the starter: " + e.getMessage());
      }
    }
  }
}

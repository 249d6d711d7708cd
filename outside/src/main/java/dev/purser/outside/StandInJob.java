package dev.purser.outside;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A job object of the {@link ClusterDesk} and its pod, whose container is a process. */
final class StandInJob {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final long SLOW_MILLIS = 3_000;

  /** Between the end of its process and that of its pod, where it is taken away. */
  private static final long GOES_MILLIS = 500;

  private static final int LONGEST_MESSAGE = 4_096;

  final String namespace;
  final String name;
  private final ObjectNode object;
  private final String image;
  private final Map<String, String> environment;
  private final Instant created = Instant.now();
  private final List<String> log = new CopyOnWriteArrayList<>();
  private Process process;
  private Path message;
  private Integer code;
  private boolean evicted;
  private boolean killed;

  StandInJob(String namespace, ObjectNode object, Map<String, String> environment) {
    this.namespace = namespace;
    this.object = object;
    this.name = object.at("/metadata/name").asString();
    this.image = object.at("/spec/template/spec/containers/0/image").asString();
    this.environment = environment;
    Thread thread = new Thread(this::run, "container of " + name);
    thread.setDaemon(true);
    thread.start();
  }

  String podName() {
    return name + "-x7k2p";
  }

  private boolean isNeverHad() {
    return image.contains("/missing") || image.contains(" ");
  }

  private void run() {
    try {
      if (isNeverHad()) {
        return;
      }
      TimeUnit.MILLISECONDS.sleep(image.contains("/slow") ? SLOW_MILLIS : 50);
      begin();
      if (image.contains("/evicted")) {
        TimeUnit.MILLISECONDS.sleep(1_500);
        evict();
      }
    } catch (IOException e) {
      end(128);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void begin() throws IOException {
    List<String> command = new ArrayList<>();
    object
        .at("/spec/template/spec/containers/0/command")
        .forEach(word -> command.add(word.asString().replace("$$", "$")));
    if (command.isEmpty()) {
      command.addAll(List.of("echo", image));
    }
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().keySet().removeIf(key -> !key.equals("PATH"));
    builder.environment().putAll(environment);
    synchronized (this) {
      if (killed) {
        return;
      }
      message = Files.createTempFile("last-words", "");
      builder.environment().replace("PURSER_VALUES", message.toString());
      process = builder.start();
    }
    Thread reader = new Thread(this::read, "log of " + name);
    reader.setDaemon(true);
    reader.start();
  }

  private void read() {
    try {
      copy();
      end(process.waitFor());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void copy() {
    try (BufferedReader out =
        new BufferedReader(
            new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
      for (String line = out.readLine(); line != null; line = out.readLine()) {
        log.add(Instant.now() + " " + line);
      }
    } catch (IOException e) {
      log.add(Instant.now() + " (its output was cut off)");
    }
  }

  private synchronized void end(int exit) {
    if (code == null) {
      code = exit;
    }
  }

  private synchronized void evict() {
    evicted = true;
    kill();
  }

  synchronized boolean hasBegun() {
    return process != null;
  }

  synchronized boolean isAlive() {
    return process != null && process.isAlive();
  }

  /** Ends it at once. */
  synchronized void kill() {
    killed = true;
    if (process != null) {
      process.descendants().forEach(ProcessHandle::destroyForcibly);
      process.toHandle().destroyForcibly();
    }
  }

  /** Asks it to end; once it has, something is done. */
  void stop(Runnable then) {
    synchronized (this) {
      ((ObjectNode) object.get("metadata")).put("deletionTimestamp", Instant.now().toString());
      process.toHandle().destroy(); // Process.destroy would close its output, too
    }
    process
        .onExit()
        .thenRunAsync(then, CompletableFuture.delayedExecutor(GOES_MILLIS, TimeUnit.MILLISECONDS));
  }

  /** All lines from a second on, each with its time. */
  String log(Instant since) {
    StringBuilder text = new StringBuilder();
    for (String line : log) {
      if (!Instant.parse(line.substring(0, line.indexOf(' '))).isBefore(since)) {
        text.append(line).append('\n');
      }
    }
    return text.toString();
  }

  synchronized ObjectNode object() {
    return object.deepCopy();
  }

  synchronized ObjectNode pod() {
    ObjectNode pod = JSON.createObjectNode().put("kind", "Pod").put("apiVersion", "v1");
    ObjectNode meta = pod.putObject("metadata");
    meta.put("name", podName()).put("namespace", namespace);
    meta.put("creationTimestamp", created.toString());
    meta.putObject("labels").put("job-name", name);
    pod.putObject("spec").put("nodeName", "node-1").putArray("containers");
    ObjectNode status = pod.putObject("status");
    if (evicted) {
      status.put("phase", "Failed").put("reason", "Evicted");
      status.put("message", "The node was low on resource: memory.");
      return pod;
    }
    boolean failed = code != null && code != 0;
    status.put(
        "phase",
        code != null ? failed ? "Failed" : "Succeeded" : process == null ? "Pending" : "Running");
    ObjectNode container = status.putArray("containerStatuses").addObject();
    container
        .put("name", "work")
        .put("image", image)
        .put("ready", isAlive())
        .put("restartCount", 0);
    state(container.putObject("state"));
    return pod;
  }

  private void state(ObjectNode state) {
    if (code != null) {
      ObjectNode end = state.putObject("terminated").put("exitCode", code);
      end.put("reason", code == 0 ? "Completed" : code == 137 && !killed ? "OOMKilled" : "Error");
      end.put("message", lastWords());
    } else if (process != null) {
      state.putObject("running").put("startedAt", created.toString());
    } else {
      ObjectNode waiting = state.putObject("waiting");
      if (image.contains(" ")) {
        waiting.put("reason", "InvalidImageName");
        waiting.put("message", "couldn't parse image name \"" + image + "\"");
      } else if (isNeverHad()) {
        waiting.put("reason", "ErrImagePull");
        waiting.put("message", "image " + image + " not found");
      } else {
        waiting.put("reason", "ContainerCreating");
      }
    }
  }

  private String lastWords() {
    try {
      String text = Files.readString(message);
      return text.length() > LONGEST_MESSAGE
          ? text.substring(text.length() - LONGEST_MESSAGE)
          : text;
    } catch (IOException e) {
      return "";
    }
  }
}

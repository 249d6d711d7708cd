package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/** All attempts that this agent knows: starts, follows, stops and forgets them. */
final class Attempts implements AutoCloseable {
  private static final int PIECE = 64 * 1024;
  private static final int STARTERS = 4;
  private static final long FOLLOW_EVERY_MILLIS = 200;

  private final Path home;
  private final Path launcher;
  private final Consumer<FromAgent> out;
  private final Map<String, Followed> followed = new ConcurrentHashMap<>();
  private final ScheduledExecutorService clock = Executors.newScheduledThreadPool(2);
  private final ExecutorService starters = Executors.newFixedThreadPool(STARTERS);
  private final ExecutorService stoppers = Executors.newCachedThreadPool();

  /** An attempt and how much of it has been told. */
  private static final class Followed {
    final AttemptFolder folder;
    long taken;
    boolean pieceOut;
    boolean endTold;
    boolean endRecorded;
    boolean outputComplete;

    Followed(AttemptFolder folder) {
      this.folder = folder;
    }
  }

  /**
   * Takes up the journal of an earlier agent in the same home.
   *
   * @param out takes what is to be told to the service; what is lost is told again
   */
  Attempts(Path home, Consumer<FromAgent> out) {
    this.home = home.resolve("attempts").toAbsolutePath();
    this.launcher = home.resolve("launch.sh").toAbsolutePath();
    this.out = out;
    try {
      Files.createDirectories(this.home);
      try (InputStream script = Attempts.class.getResourceAsStream("/launch.sh")) {
        Path fresh = home.resolve("launch.sh.new");
        Files.copy(script, fresh, StandardCopyOption.REPLACE_EXISTING);
        Files.move(fresh, launcher, StandardCopyOption.ATOMIC_MOVE);
      }
      try (var folders = Files.list(this.home)) {
        folders.flatMap(path -> AttemptFolder.of(path).stream()).forEach(this::takeUp);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    clock.scheduleWithFixedDelay(
        this::followAll, FOLLOW_EVERY_MILLIS, FOLLOW_EVERY_MILLIS, TimeUnit.MILLISECONDS);
  }

  private void takeUp(AttemptFolder folder) {
    if (!folder.exists() || (folder.ended().isEmpty() && folder.claim())) {
      folder.delete(); // it was journalled but never started, and now never will be
      return;
    }
    followed.put(key(folder.run(), folder.attempt()), new Followed(folder));
    if (folder.ended().isEmpty()) {
      AgentLog.info("found attempt " + folder.path().getFileName() + " again");
    }
  }

  private static String key(long run, int attempt) {
    return run + "." + attempt;
  }

  /** What the journal knows, for the hello. */
  List<FromAgent.Known> known() {
    List<FromAgent.Known> known = new ArrayList<>();
    for (Followed one : followed.values()) {
      AttemptFolder folder = one.folder;
      known.add(new FromAgent.Known(folder.run(), folder.attempt(), folder.ended().orElse(null)));
    }
    return known;
  }

  /** A new connection knows nothing of what was told over the old one. */
  void connectionIsNew() {
    for (Followed one : followed.values()) {
      synchronized (one) {
        one.pieceOut = false;
        one.endTold = one.endRecorded;
      }
    }
  }

  /** How many attempts are running. */
  long running() {
    return followed.values().stream().filter(one -> one.folder.ended().isEmpty()).count();
  }

  /** Starts an attempt, unless its id has been seen before. */
  void start(ToAgent.Start start) {
    AttemptFolder folder = new AttemptFolder(home, start.run(), start.attempt());
    Followed one = new Followed(folder);
    if (followed.putIfAbsent(key(start.run(), start.attempt()), one) != null) {
      return;
    }
    starters.execute(() -> start(one, start));
  }

  private void start(Followed one, ToAgent.Start start) {
    AttemptFolder folder = one.folder;
    try {
      Process supervisor;
      synchronized (one) { // so that its end cannot be told before its beginning
        folder.write(start);
        supervisor = launch(folder, start);
        out.accept(new FromAgent.Began(start.run(), start.attempt(), System.currentTimeMillis()));
      }
      supervisor.onExit().thenRun(() -> follow(one));
    } catch (IOException | UncheckedIOException e) {
      if (folder.claim()) {
        folder.end("not-started", String.valueOf(e.getMessage()), System.currentTimeMillis());
        follow(one);
      }
    }
  }

  private Process launch(AttemptFolder folder, ToAgent.Start start) throws IOException {
    String directory =
        start.directory().isEmpty() ? home.getParent().toString() : start.directory();
    Files.createFile(folder.output());
    ProcessBuilder builder =
        new ProcessBuilder(
                "setsid",
                "/bin/sh",
                launcher.toString(),
                folder.path().toString(),
                directory,
                start.command(),
                start.check())
            .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()))
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .redirectError(ProcessBuilder.Redirect.DISCARD);
    builder.environment().putAll(start.environment());
    builder.environment().put("PURSER_VALUES", folder.values().toString());
    return builder.start();
  }

  /** Asks an attempt to stop, and forces it after the grace time; nothing of its group is left. */
  void stop(ToAgent.Stop stop) {
    Followed one = followed.get(key(stop.run(), stop.attempt()));
    if (one != null) {
      stoppers.execute(() -> stop(one, stop.graceMillis()));
    }
  }

  private void stop(Followed one, long graceMillis) {
    try {
      Optional<Long> group = one.folder.group();
      for (int tries = 0; group.isEmpty() && tries < 100; tries++) {
        Thread.sleep(50); // it is just being launched
        group = one.folder.group();
      }
      if (group.isEmpty()) {
        return;
      }
      ProcessGroup processes = new ProcessGroup(group.get());
      processes.ask();
      long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(graceMillis);
      while (processes.isAlive() && System.nanoTime() < end) {
        Thread.sleep(100);
      }
      while (processes.isAlive()) {
        processes.force();
        Thread.sleep(100);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Stops all work on this host, and waits until it has stopped. */
  void stopAll(long graceMillis) {
    List<Thread> threads = new ArrayList<>();
    for (Followed one : followed.values()) {
      if (one.folder.ended().isEmpty()) {
        Thread thread = new Thread(() -> stop(one, graceMillis));
        thread.start();
        threads.add(thread);
      }
    }
    try {
      for (Thread thread : threads) {
        thread.join(graceMillis + 2_000);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** The service has the end of an attempt on record. */
  void recorded(long run, int attempt) {
    Followed one = followed.get(key(run, attempt));
    if (one != null) {
      synchronized (one) {
        one.endTold = true;
        one.endRecorded = true;
      }
      forgetIfDone(one);
    }
  }

  /** The service has output on record; the next piece goes out. */
  void outputTaken(ToAgent.OutputTaken taken) {
    Followed one = followed.get(key(taken.run(), taken.attempt()));
    if (one == null) {
      return;
    }
    synchronized (one) {
      one.taken = taken.offset();
      one.pieceOut = false;
      one.outputComplete |= taken.complete();
    }
    forgetIfDone(one);
    follow(one);
  }

  private void forgetIfDone(Followed one) {
    boolean done;
    synchronized (one) {
      done = one.endRecorded && one.outputComplete;
    }
    if (done && followed.remove(key(one.folder.run(), one.folder.attempt())) != null) {
      one.folder.delete();
    }
  }

  private void followAll() {
    try {
      followed.values().forEach(this::follow);
    } catch (RuntimeException e) {
      AgentLog.warn("cannot follow attempts: " + e);
    }
  }

  /** Tells what is new of an attempt: an end, or a piece of output, one piece at a time. */
  private void follow(Followed one) {
    synchronized (one) {
      AttemptFolder folder = one.folder;
      if (!folder.exists()) {
        return; // it is just being journalled
      }
      Optional<FromAgent.Ended> ended = folder.ended();
      if (ended.isEmpty() && folder.supervisor().isPresent() && !folder.isSupervised()) {
        ended = folder.ended(); // it may have ended between the two looks
        if (ended.isEmpty()) {
          ended = Optional.of(lost(folder));
        }
      }
      if (ended.isPresent() && !one.endTold) {
        one.endTold = true;
        out.accept(ended.get());
      }
      if (!one.pieceOut && !one.outputComplete) {
        tellOutput(one, ended.isPresent());
      }
    }
  }

  private static FromAgent.Ended lost(AttemptFolder folder) {
    return folder.end(
        "lost",
        "its supervising process is gone, as after a restart of the host; the output ends where it"
            + " was",
        System.currentTimeMillis());
  }

  private void tellOutput(Followed one, boolean ended) {
    AttemptFolder folder = one.folder;
    long total = folder.outputLength();
    long keep = Math.min(total, folder.start().keepOutput());
    byte[] data = folder.read(one.taken, (int) Math.min(PIECE, keep - one.taken));
    boolean complete = ended && one.taken + data.length >= keep;
    if (data.length > 0 || complete) {
      one.pieceOut = true;
      out.accept(
          new FromAgent.Output(folder.run(), folder.attempt(), one.taken, data, complete, total));
    }
  }

  @Override
  public void close() {
    clock.shutdownNow();
    starters.shutdownNow();
    stoppers.shutdownNow();
  }
}

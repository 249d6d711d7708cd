package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/** All attempts that this agent knows: starts, follows, stops and forgets them. */
final class Attempts implements AutoCloseable, Starter.Heard {
  private static final int PIECE = 64 * 1024;
  private static final int BATCH = 200;
  private static final long FOLLOW_EVERY_MILLIS = 200;
  private static final int LOOKS_UNTIL_SUPERVISED = 5;

  /** What is over sooner is told at once, with its end. */
  private static final long TELL_BEGAN_AFTER_MILLIS = 40;

  /** So many ends are told before the service has recorded the first of them. */
  private static final int WINDOW = 256;

  /** So much more output than is kept may lie on the disk. */
  private static final long SPARE_OUTPUT = 16 << 20;

  private final Path home;
  private final Consumer<FromAgent> out;
  private final RunAs runAs;
  private final Journal journal;
  private final Starter starter;
  private final Map<String, Followed> followed = new ConcurrentHashMap<>();
  private final BlockingQueue<Asked> toStart = new LinkedBlockingQueue<>();
  private final Deque<Followed> toTell = new ArrayDeque<>();
  private int told;
  private final Thread startThread = new Thread(this::startAll, "starts");
  private final ScheduledExecutorService clock = Executors.newScheduledThreadPool(2);
  private final ExecutorService cleaner = Executors.newSingleThreadExecutor();
  private final ExecutorService stoppers = Executors.newCachedThreadPool();

  /** A start, and what was made of it. */
  private record Asked(Followed one, ToAgent.Start start) {}

  /** An attempt and how much of it has been told. */
  private static final class Followed {
    final AttemptFolder folder;
    long keepOutput;
    long began;
    FromAgent.Ended ended;
    boolean beganTold;
    boolean endTold;
    boolean endRecorded;
    long taken;
    long dropped;
    boolean pieceOut;

    /** Some of its output may have been told already, by this agent or an earlier one. */
    boolean pieceTold;

    boolean outputComplete;
    int looks;

    Followed(AttemptFolder folder) {
      this.folder = folder;
    }

    String name() {
      return folder.run() + "." + folder.attempt();
    }
  }

  Attempts(Path home, Consumer<FromAgent> out) {
    this(home, RunAs.ownOnly(), out);
  }

  /**
   * Takes up the journal of an earlier agent in the same home.
   *
   * @param out takes what is to be told to the service; what is lost is told again
   */
  Attempts(Path home, RunAs runAs, Consumer<FromAgent> out) {
    this.home = home.resolve("attempts").toAbsolutePath();
    this.out = out;
    this.runAs = runAs;
    try {
      Files.createDirectories(this.home);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    this.journal = new Journal(home);
    this.starter = new Starter(home, this);
    takeUp();
    startThread.setDaemon(true);
    startThread.start();
    clock.scheduleWithFixedDelay(
        this::followAll, FOLLOW_EVERY_MILLIS, FOLLOW_EVERY_MILLIS, TimeUnit.MILLISECONDS);
  }

  // ---- after a restart

  private void takeUp() {
    Set<String> known = journal.names();
    Set<String> names = new TreeSet<>(known);
    try (var folders = Files.list(home)) {
      folders.map(path -> path.getFileName().toString()).forEach(names::add);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    for (String name : names) {
      AttemptFolder.of(home.resolve(name)).ifPresent(folder -> takeUp(folder, known));
    }
  }

  private void takeUp(AttemptFolder folder, Set<String> known) {
    Followed one = new Followed(folder);
    boolean neverStarted = !known.contains(one.name()) || (folder.exists() && folder.claim());
    if (neverStarted && folder.ended().isEmpty()) {
      folder.delete();
      journal.forget(one.name());
      return;
    }
    one.keepOutput = folder.exists() ? folder.start().keepOutput() : 0;
    one.began = folder.beganAt();
    one.looks = LOOKS_UNTIL_SUPERVISED;
    one.pieceTold = true;
    followed.put(one.name(), one);
    if (folder.ended().isEmpty()) {
      AgentLog.info("found attempt " + one.name() + " again");
    }
  }

  /** What is known, for the hello. */
  List<FromAgent.Known> known() {
    List<FromAgent.Known> known = new ArrayList<>();
    for (Followed one : followed.values()) {
      boolean ended = one.ended != null || one.folder.ended().isPresent();
      known.add(new FromAgent.Known(one.folder.run(), one.folder.attempt(), one.began, ended));
    }
    return known;
  }

  /** A new connection knows nothing of what was told over the old one. */
  void connectionIsNew() {
    synchronized (toTell) {
      toTell.clear();
      told = 0;
    }
    for (Followed one : followed.values()) {
      synchronized (one) {
        one.pieceOut = false;
        one.beganTold = false;
        one.endTold = one.endRecorded;
      }
      follow(one);
    }
  }

  /** How many attempts are running. */
  int running() {
    return (int) followed.values().stream().filter(one -> one.ended == null).count();
  }

  // ---- starting

  /** Starts an attempt, unless its id has been seen before. */
  void start(ToAgent.Start start) {
    Followed one = new Followed(new AttemptFolder(home, start.run(), start.attempt()));
    one.keepOutput = start.keepOutput();
    if (followed.putIfAbsent(one.name(), one) == null) {
      toStart.add(new Asked(one, start));
    }
  }

  private void startAll() {
    try {
      while (true) {
        List<Asked> batch = new ArrayList<>(List.of(toStart.take()));
        toStart.drainTo(batch, BATCH - 1);
        start(batch);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Nothing is started that is not in the journal, on the disk. */
  private void start(List<Asked> batch) {
    List<Asked> written = new ArrayList<>();
    for (Asked asked : batch) {
      Optional<String> refusal = runAs.refusal(asked.start().user());
      if (refusal.isPresent()) {
        notStarted(asked.one(), refusal.get());
        continue;
      }
      try {
        asked.one().folder.write(asked.start());
        written.add(asked);
      } catch (IOException | UncheckedIOException e) {
        notStarted(asked.one(), "cannot write it down: " + e.getMessage());
      }
    }
    try {
      journal.add(written.stream().map(asked -> asked.one().name()).toList());
    } catch (IOException e) {
      written.forEach(asked -> notStarted(asked.one(), "cannot write it down: " + e.getMessage()));
      return;
    }
    for (Asked asked : written) {
      try {
        starter.start(asked.one().folder, directory(asked.start()), asStarted(asked.start()));
      } catch (IOException e) {
        failed(asked.one().name(), "cannot start processes: " + e.getMessage());
      }
    }
  }

  private ToAgent.Start asStarted(ToAgent.Start start) {
    return new ToAgent.Start(
        start.epoch(),
        start.run(),
        start.attempt(),
        start.command(),
        start.check(),
        start.directory(),
        runAs.turnInto(start.user()),
        start.environment(),
        start.keepOutput());
  }

  private String directory(ToAgent.Start start) {
    return start.directory().isEmpty() ? home.getParent().toString() : start.directory();
  }

  /** It is known to nobody but this program: after its end the service asks for it once more. */
  private void notStarted(Followed one, String because) {
    synchronized (one) {
      one.ended =
          new FromAgent.Ended(
              one.folder.run(),
              one.folder.attempt(),
              "not-started",
              -1,
              because,
              0,
              System.currentTimeMillis(),
              Map.of(),
              new byte[0]);
    }
    follow(one);
  }

  @Override
  public void began(String name) {
    Followed one = followed.get(name);
    if (one != null) {
      synchronized (one) {
        one.began = System.currentTimeMillis();
      }
      try {
        clock.schedule(() -> follow(one), TELL_BEGAN_AFTER_MILLIS, TimeUnit.MILLISECONDS);
      } catch (RejectedExecutionException e) {
        AgentLog.info("attempt " + name + " began while the agent is being stopped");
      }
    }
  }

  @Override
  public void ended(String name) {
    Followed one = followed.get(name);
    if (one != null) {
      follow(one);
    }
  }

  @Override
  public void failed(String name, String reason) {
    Followed one = followed.get(name);
    if (one != null) {
      one.folder.end("not-started", reason, System.currentTimeMillis());
      follow(one);
    }
  }

  // ---- stopping

  /** Asks an attempt to stop, and forces it after the grace time; nothing of it is left. */
  void stop(ToAgent.Stop stop) {
    Followed one = followed.get(stop.run() + "." + stop.attempt());
    if (one != null) {
      stoppers.execute(() -> stop(one, stop.graceMillis()));
    }
  }

  private void stop(Followed one, long graceMillis) {
    try {
      Optional<ProcessGroup> group = group(one);
      for (int tries = 0; group.isEmpty() && tries < 100; tries++) {
        Thread.sleep(50); // it is just being started
        group = group(one);
      }
      if (group.isEmpty()) {
        return;
      }
      ProcessGroup processes = group.get();
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

  private static Optional<ProcessGroup> group(Followed one) {
    return one.folder
        .group()
        .map(id -> new ProcessGroup(id, "PURSER_VALUES=" + one.folder.values()));
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

  // ---- what the service says

  /** The service has the end of an attempt on record. */
  void recorded(ToAgent.Recorded recorded) {
    Followed one = followed.get(recorded.run() + "." + recorded.attempt());
    if (one == null) {
      return;
    }
    boolean wasTold;
    synchronized (one) {
      wasTold = one.endTold && !one.endRecorded;
      one.endTold = true;
      one.endRecorded = true;
      one.outputComplete |= recorded.withOutput();
    }
    if (wasTold) {
      synchronized (toTell) {
        told = Math.max(0, told - 1);
      }
      tellEnds();
    }
    forgetIfDone(one);
    follow(one);
  }

  /** The service has output on record; the next piece goes out. */
  void outputTaken(ToAgent.OutputTaken taken) {
    Followed one = followed.get(taken.run() + "." + taken.attempt());
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
    if (done && followed.remove(one.name()) != null) {
      try {
        cleaner.execute(
            () -> {
              one.folder.delete();
              journal.forget(one.name());
            });
      } catch (RejectedExecutionException e) {
        AgentLog.info("attempt " + one.name() + " is forgotten when the agent is back");
      }
    }
  }

  // ---- following

  private void followAll() {
    for (Followed one : followed.values()) {
      try {
        follow(one);
      } catch (RuntimeException e) {
        AgentLog.warn("cannot follow attempt " + one.name() + ": " + e);
      }
    }
  }

  /** Tells what is new of an attempt: that it began, its end, or a piece of output. */
  private void follow(Followed one) {
    synchronized (one) {
      if (one.ended == null) {
        lookForEnd(one);
      }
      if (one.ended == null && !one.beganTold && isWorthTelling(one)) {
        one.beganTold = true;
        out.accept(new FromAgent.Began(one.folder.run(), one.folder.attempt(), one.began));
      }
      if (one.ended != null && !one.endTold) {
        one.endTold = true;
        synchronized (toTell) {
          toTell.add(one);
        }
      }
      boolean withEnd = one.ended != null && !one.endRecorded && isToldWithEnd(one);
      if (!one.pieceOut && !one.outputComplete && !withEnd) {
        tellOutput(one);
      }
    }
    tellEnds();
  }

  private static boolean isWorthTelling(Followed one) {
    return one.began > 0 && System.currentTimeMillis() - one.began >= TELL_BEGAN_AFTER_MILLIS / 2;
  }

  private void lookForEnd(Followed one) {
    Optional<FromAgent.Ended> found = one.folder.ended();
    if (found.isEmpty() && ++one.looks > LOOKS_UNTIL_SUPERVISED) {
      one.looks = 0;
      found = lostIfGone(one);
    }
    one.ended = found.orElse(null);
  }

  /** While its process group is alive, an attempt whose supervisor has gone is still at work. */
  private Optional<FromAgent.Ended> lostIfGone(Followed one) {
    AttemptFolder folder = one.folder;
    boolean waits = folder.exists() && !folder.isClaimed();
    if (waits || folder.isSupervised()) {
      return Optional.empty();
    }
    if (group(one).filter(ProcessGroup::isGroupAlive).isPresent()) {
      return Optional.empty();
    }
    Optional<FromAgent.Ended> ended = folder.ended(); // it may have ended between the looks
    return ended.isPresent()
        ? ended
        : Optional.of(
            folder.end(
                "lost",
                "the process that waited for its end is gone, as after a restart of the host; how"
                    + " far it came is not known, and its output ends where it was",
                System.currentTimeMillis()));
  }

  /** Ends go out in order, no more at a time than the service can be expected to hold. */
  private void tellEnds() {
    while (true) {
      Followed next;
      synchronized (toTell) {
        if (told >= WINDOW || toTell.isEmpty()) {
          return;
        }
        next = toTell.poll();
        told++;
      }
      synchronized (next) {
        byte[] all = isToldWithEnd(next) ? next.folder.read(0, PIECE) : null;
        FromAgent.Ended ended = next.ended;
        out.accept(
            new FromAgent.Ended(
                ended.run(),
                ended.attempt(),
                ended.how(),
                ended.code(),
                ended.note(),
                next.began > 0 ? next.began : ended.began(),
                ended.at(),
                ended.values(),
                all));
      }
    }
  }

  private static boolean isToldWithEnd(Followed one) {
    long length = one.folder.outputLength();
    return !one.pieceTold && length <= PIECE && length <= one.keepOutput;
  }

  private void tellOutput(Followed one) {
    AttemptFolder folder = one.folder;
    long length = folder.outputLength();
    long keep = Math.min(length, one.keepOutput);
    if (one.taken >= one.keepOutput && length > one.keepOutput + SPARE_OUTPUT) {
      one.dropped += folder.cutOutput(one.keepOutput);
    }
    byte[] data = folder.read(one.taken, (int) Math.min(PIECE, keep - one.taken));
    boolean complete = one.ended != null && one.taken + data.length >= keep;
    if (data.length > 0 || complete) {
      one.pieceOut = true;
      one.pieceTold = true;
      out.accept(
          new FromAgent.Output(
              folder.run(), folder.attempt(), one.taken, data, complete, length + one.dropped));
    }
  }

  @Override
  public void close() {
    startThread.interrupt();
    clock.shutdownNow();
    cleaner.shutdownNow();
    stoppers.shutdownNow();
    starter.close();
    journal.close();
  }
}

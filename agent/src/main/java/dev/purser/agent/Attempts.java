package dev.purser.agent;

import dev.purser.core.values.HandedBack;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Supplier;

/** All attempts that this agent knows: starts, follows, stops and forgets them. */
final class Attempts implements AutoCloseable, Starters.Heard {
  private static final int MOST_NAMED = 5;
  private static final int BATCH = 200;
  private static final long FOLLOW_EVERY_MILLIS = 200;
  private static final int LOOKS_UNTIL_SUPERVISED = 5;
  private static final int TIDY_EVERY_ROUNDS = 50;

  /** What is over sooner is told at once, with its end. */
  private static final long TELL_BEGAN_AFTER_MILLIS = 40;

  private final Path home;
  private final Telling telling;
  private final RunAs runAs;
  private final Journal journal;
  private final String boot = Boot.id();
  private final Starters starters;
  private final Map<String, Followed> followed = new ConcurrentHashMap<>();
  private final BlockingQueue<Asked> toStart = new LinkedBlockingQueue<>();
  private int rounds;
  private final Thread startThread = new Thread(this::startAll, "starts");
  private final ScheduledExecutorService clock = Executors.newScheduledThreadPool(2);
  private final ExecutorService cleaner = Executors.newSingleThreadExecutor();
  private final Stopping stopping = new Stopping();

  /** A start, and what was made of it. */
  private record Asked(Followed one, ToAgent.Start start) {}

  Attempts(Path home, Consumer<FromAgent> out) {
    this(home, RunAs.ownOnly(), out);
  }

  /** For a host that gives work no variables of its agent's environment but the usual ones. */
  Attempts(Path home, RunAs runAs, Consumer<FromAgent> out) {
    this(home, runAs, Set.of(), out);
  }

  /**
   * Takes up the journal of an earlier agent in the same home, which is made where it is missing.
   *
   * @param passOn variables of this program's environment that work is given too
   * @param out takes what is to be told to the service; what is lost is told again
   */
  Attempts(Path home, RunAs runAs, Set<String> passOn, Consumer<FromAgent> out) {
    this.home = home.resolve("attempts").toAbsolutePath();
    this.telling = new Telling(out);
    this.runAs = runAs;
    try {
      Files.createDirectories(this.home);
      Homes.close(home, this.home, runAs);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    this.journal = new Journal(home);
    this.starters = new Starters(home, passOn, this);
    takeUp();
    startThread.setDaemon(true);
    startThread.start();
    clock.scheduleWithFixedDelay(
        this::followAll, FOLLOW_EVERY_MILLIS, FOLLOW_EVERY_MILLIS, TimeUnit.MILLISECONDS);
  }

  // ---- after a restart

  private void takeUp() {
    for (Journal.Entry entry : journal.entries()) {
      String[] parts = entry.name().split("\\.");
      Followed one =
          new Followed(
              home, Long.parseLong(parts[0]), Integer.parseInt(parts[1]), entry.keepOutput());
      one.takenUp = true;
      one.pieceTold = true;
      followed.put(entry.name(), one);
    }
    starters.takeUp();
    for (Journal.Entry entry : journal.entries()) {
      Followed one = followed.get(entry.name());
      // what an earlier start of the host claimed may be lost with its power: the journal is not
      boolean neverStarted = !starters.isClaimed(entry.name()) && entry.boot().equals(boot);
      if (neverStarted) {
        followed.remove(entry.name());
        one.files.delete();
        journal.forget(entry.name());
      } else if (one.ended == null) {
        AgentLog.info("found attempt " + entry.name() + " again");
      }
    }
    removeStrays();
    starters.tidy(followed::containsKey);
  }

  /** Files of attempts that are forgotten. */
  private void removeStrays() {
    try (var files = Files.list(home)) {
      files
          .map(AttemptFiles::nameOf)
          .filter(name -> !name.isEmpty() && !followed.containsKey(name))
          .forEach(name -> new AttemptFiles(home, name).delete());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** What is known, for the hello. */
  List<FromAgent.Known> known() {
    List<FromAgent.Known> known = new ArrayList<>();
    for (Followed one : followed.values()) {
      known.add(new FromAgent.Known(one.run, one.attempt, one.began, one.ended != null));
    }
    return known;
  }

  /** A new connection knows nothing of what was told over the old one. */
  void connectionIsNew() {
    telling.startOver();
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
    Followed one = new Followed(home, start.run(), start.attempt(), start.keepOutput());
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
    List<Asked> allowed = new ArrayList<>();
    for (Asked asked : batch) {
      Optional<String> refusal = runAs.refusal(asked.start().user());
      if (refusal.isPresent()) {
        notStarted(asked.one(), refusal.get());
      } else {
        allowed.add(asked);
      }
    }
    try {
      journal.add(allowed.stream().map(asked -> entry(asked.one())).toList());
    } catch (IOException e) {
      allowed.forEach(asked -> notStarted(asked.one(), "cannot write it down: " + e.getMessage()));
      return;
    }
    for (Asked asked : allowed) {
      Followed one = asked.one();
      ToAgent.Start start = asked.start();
      try {
        starters.start(one.name(), directory(start), asStarted(start), one.files.values());
      } catch (IOException e) {
        failed(one.name(), "cannot start processes: " + e.getMessage());
      }
    }
  }

  private Journal.Entry entry(Followed one) {
    return new Journal.Entry(one.name(), one.keepOutput, boot);
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
        start.secretFiles(),
        start.keepOutput());
  }

  private String directory(ToAgent.Start start) {
    return start.directory().isEmpty() ? home.getParent().toString() : start.directory();
  }

  /** It is known to nobody but this program: after its end the service asks for it once more. */
  private void notStarted(Followed one, String because) {
    synchronized (one) {
      one.ended = one.end("not-started", -1, because, System.currentTimeMillis(), Map.of());
    }
    follow(one);
  }

  @Override
  public void began(String name, long group, long at) {
    Followed one = followed.get(name);
    if (one != null) {
      synchronized (one) {
        one.group = group;
        one.began = at;
      }
      try {
        clock.schedule(() -> follow(one), TELL_BEGAN_AFTER_MILLIS, TimeUnit.MILLISECONDS);
      } catch (RejectedExecutionException e) {
        AgentLog.info("attempt " + name + " began while the agent is being stopped");
      }
    }
  }

  @Override
  public void checked(String name, int code) {
    Followed one = followed.get(name);
    if (one != null) {
      synchronized (one) {
        one.checked = code;
      }
    }
  }

  @Override
  public void ended(String name, int code, long at, boolean bySignal, boolean leavesSome) {
    Followed one = followed.get(name);
    if (one == null) {
      return;
    }
    if (leavesSome && (bySignal || one.stopping)) {
      synchronized (one) {
        one.ending = true;
      }
      stopping.rest(one, () -> end(one, () -> ended(one, code, at, "")));
      return;
    }
    String left = leavesSome ? left(one) : "";
    end(one, () -> ended(one, code, at, left));
  }

  /** What goes on after a shell that has ended by itself: it was its author's wish. */
  private static String left(Followed one) {
    List<String> names = one.processes().map(ProcessGroup::names).orElse(List.of());
    if (names.isEmpty()) {
      return "";
    }
    int more = Math.max(0, names.size() - MOST_NAMED);
    return String.join(", ", names.subList(0, names.size() - more))
        + (more == 0 ? "" : " and " + more + " more")
        + (names.size() == 1 ? " goes on" : " go on")
        + ", started by it in the background";
  }

  private static FromAgent.Ended ended(Followed one, int code, long at, String left) {
    if (one.checked >= 0) {
      String how = one.checked == 1 ? "nothing-to-do" : "check-failed";
      return one.end(how, one.checked, "", at, Map.of());
    }
    HandedBack read = ValueFile.read(one.files.values());
    String both = read.problem().isEmpty() || left.isEmpty() ? "" : "; ";
    return one.end("exited", code, read.problem() + both + left, at, read.values());
  }

  @Override
  public void failed(String name, String reason) {
    Followed one = followed.get(name);
    if (one != null) {
      end(one, () -> one.end("not-started", -1, reason, System.currentTimeMillis(), Map.of()));
    }
  }

  /** The first end that is heard of counts. */
  private void end(Followed one, Supplier<FromAgent.Ended> how) {
    synchronized (one) {
      if (one.ended == null) {
        one.ended = how.get();
        one.files.deleteSecrets();
      }
    }
    follow(one);
  }

  // ---- stopping

  /** Asks an attempt to stop, and forces it after the grace time; nothing of it is left. */
  void stop(ToAgent.Stop stop) {
    Followed one = followed.get(stop.run() + "." + stop.attempt());
    if (one != null) {
      stopping.ask(one, stop.graceMillis());
    }
  }

  /** Stops all work on this host, and waits until it has stopped. */
  void stopAll(long graceMillis) {
    stopping.all(followed.values().stream().filter(one -> one.ended == null).toList(), graceMillis);
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
      telling.recorded();
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
              one.files.delete();
              journal.forget(one.name());
            });
      } catch (RejectedExecutionException e) {
        AgentLog.info("attempt " + one.name() + " is forgotten when the agent is back");
      }
    }
  }

  // ---- following

  private void followAll() {
    try {
      starters.look();
      if (++rounds % TIDY_EVERY_ROUNDS == 0) {
        starters.tidy(followed::containsKey);
      }
    } catch (RuntimeException e) {
      AgentLog.warn("cannot follow the starters: " + e);
    }
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
        telling.began(one);
      }
      if (one.ended != null && !one.endTold) {
        telling.end(one);
      }
      boolean withEnd = one.ended != null && !one.endRecorded && Telling.isWithEnd(one);
      if (!one.pieceOut && !one.outputComplete && !withEnd) {
        telling.output(one);
      }
    }
    telling.ends();
  }

  private static boolean isWorthTelling(Followed one) {
    return one.began > 0 && System.currentTimeMillis() - one.began >= TELL_BEGAN_AFTER_MILLIS / 2;
  }

  private void lookForEnd(Followed one) {
    if (!one.ending && ++one.looks > LOOKS_UNTIL_SUPERVISED) {
      one.looks = 0;
      one.ended = lostIfGone(one).orElse(null);
    }
  }

  /** While its process group is alive, an attempt whose supervisor has gone is still at work. */
  private Optional<FromAgent.Ended> lostIfGone(Followed one) {
    boolean waits = !one.takenUp && !starters.isClaimed(one.name());
    if (waits || starters.isSupervised(one.name())) {
      one.gone = 0;
      return Optional.empty();
    }
    boolean atWork = one.processes().filter(ProcessGroup::isGroupAlive).isPresent();
    // what it wrote in its log just before it went is read until the next look
    if (atWork || ++one.gone < 2) {
      return Optional.empty();
    }
    String note =
        "the process that waited for its end is gone, as after a restart of the host; how far it"
            + " came is not known, and its output ends where it was";
    return Optional.of(one.end("lost", -1, note, System.currentTimeMillis(), Map.of()));
  }

  @Override
  public void close() {
    startThread.interrupt();
    clock.shutdownNow();
    cleaner.shutdownNow();
    stopping.close();
    starters.close();
    journal.close();
  }
}

package dev.purser.agent;

import dev.purser.core.arrival.FileFacts;
import dev.purser.core.arrival.Finding;
import dev.purser.core.arrival.LookFor;
import dev.purser.core.arrival.LookOut;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.ClosedWatchServiceException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.nio.file.StandardWatchEventKinds;
import java.nio.file.WatchEvent;
import java.nio.file.WatchKey;
import java.nio.file.WatchService;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/**
 * Looks for files. Where the system gives notice of what happens in a directory, it waits for that
 * and lists the directory only now and then; elsewhere it lists it again and again. All judging is
 * done by one thread, so that nothing is seen twice; contents are read by others.
 */
final class FileWatches implements AutoCloseable {
  private static final long LIST_NOTIFIED_EVERY_MILLIS = 60_000;
  private static final long LIST_OTHERS_EVERY_MILLIS = 5_000;
  private static final long LIST_AGAIN_AFTER_TROUBLE_MILLIS = 2_000;
  private static final int MOST_IN_A_MESSAGE = 500;
  private static final int MOST_UNANSWERED = 4;
  private static final int MOST_TOLD_OF_A_TRIAL = 200;

  private final Consumer<FromAgent> out;
  private final LinkedBlockingQueue<Runnable> inbox = new LinkedBlockingQueue<>();
  private final ExecutorService readers = Executors.newFixedThreadPool(2, FileWatches::daemon);
  private final Map<ToAgent.Task, Look> looks = new LinkedHashMap<>();
  private final Map<WatchKey, List<Look>> notified = new HashMap<>();
  private final Deque<Finding> toTell = new ArrayDeque<>();
  private final Thread loop;
  private WatchService notices;
  private volatile boolean closed;
  private volatile long ahead;
  private boolean connected;
  private long number;
  private int unanswered;

  /** One directory, looked at for one watch. */
  private static final class Look {
    final LookOut lookOut;
    final Path directory;
    WatchKey notice;
    boolean local;
    long nextListing;
    String trouble = "";

    Look(LookOut lookOut) {
      this.lookOut = lookOut;
      this.directory = Path.of(lookOut.what().directory());
    }

    LookFor what() {
      return lookOut.what();
    }
  }

  FileWatches(Consumer<FromAgent> out) {
    this.out = out;
    try {
      notices = FileSystems.getDefault().newWatchService();
      daemon(this::hearNotices).start();
    } catch (IOException e) {
      AgentLog.warn(
          "the system gives no notice of files (" + e.getMessage() + "); looking instead");
    }
    loop = daemon(this::loop);
    loop.start();
  }

  private static Thread daemon(Runnable work) {
    Thread thread = new Thread(work, "files");
    thread.setDaemon(true);
    return thread;
  }

  private static LookOut.Now now() {
    return new LookOut.Now(System.currentTimeMillis(), ticks());
  }

  private static long ticks() {
    return TimeUnit.NANOSECONDS.toMillis(System.nanoTime());
  }

  // ---- what the service says

  /** The connection is new: all is told again once the service says what to look for. */
  void connected(long serviceClock) {
    ahead = System.currentTimeMillis() - serviceClock;
    inbox.add(
        () -> {
          connected = true;
          unanswered = 0;
          toTell.clear();
          looks.values().forEach(look -> look.lookOut.tellAgain(now()));
          looks.values().forEach(look -> tellTrouble(look));
        });
  }

  /** The connection is gone. */
  void disconnected() {
    inbox.add(() -> connected = false);
  }

  void look(ToAgent.Look asked) {
    inbox.add(() -> change(asked.tasks()));
  }

  void taken(ToAgent.FoundTaken answer) {
    inbox.add(
        () -> {
          if (answer.number() > 0) {
            unanswered = Math.max(0, unanswered - 1);
          }
          for (ToAgent.Done done : answer.done()) {
            for (Look look : looks.values()) {
              LookFor what = look.what();
              boolean meant =
                  what.watch().equals(done.watch()) && what.directory().equals(done.directory());
              if (meant) {
                look.lookOut.finished(done.name(), done.size(), done.modified(), done.key());
              }
            }
          }
        });
  }

  void tidy(ToAgent.Tidy asked) {
    readers.execute(() -> out.accept(Tidying.tidy(asked)));
  }

  void tryOut(ToAgent.Try asked) {
    readers.execute(() -> out.accept(tried(asked)));
  }

  private void change(List<ToAgent.Task> tasks) {
    Map<ToAgent.Task, Look> kept = new HashMap<>(looks);
    looks.clear();
    for (ToAgent.Task task : tasks) {
      Look look = kept.remove(task);
      try {
        looks.put(task, look == null ? new Look(new LookOut(lookFor(task))) : look);
      } catch (RuntimeException e) {
        AgentLog.warn("cannot look for " + task.directory() + "/" + task.pattern() + ": " + e);
        out.accept(
            new FromAgent.Trouble(task.watch(), task.directory(), String.valueOf(e.getMessage())));
      }
    }
    kept.values().forEach(this::forget);
  }

  private LookFor lookFor(ToAgent.Task task) {
    return new LookFor(
        task.watch(),
        task.directory(),
        task.pattern(),
        task.caseSensitive(),
        task.minimumSize(),
        task.stillForMillis(),
        task.companion(),
        task.checksumFile(),
        task.lastLine(),
        task.oldestMillis(),
        task.takeExisting(),
        task.since() + ahead,
        task.everyMillis());
  }

  private void forget(Look look) {
    if (look.notice != null) {
      List<Look> others = notified.get(look.notice);
      if (others != null) {
        others.remove(look);
        if (others.isEmpty()) {
          notified.remove(look.notice);
          look.notice.cancel();
        }
      }
    }
  }

  // ---- looking

  private void loop() {
    while (!closed) {
      try {
        Runnable first = inbox.poll(pause(), TimeUnit.MILLISECONDS);
        for (Runnable next = first; next != null; next = inbox.poll()) {
          next.run();
        }
        for (Look look : looks.values()) {
          look(look);
        }
        tell();
      } catch (InterruptedException e) {
        return;
      } catch (RuntimeException e) {
        AgentLog.warn("looking for files has failed: " + e);
      }
    }
  }

  private long pause() {
    long now = ticks();
    long next = now + 1_000;
    for (Look look : looks.values()) {
      next = Math.min(next, look.nextListing);
      next = Math.min(next, look.lookOut.nextDue().orElse(next));
    }
    return Math.max(0, next - now);
  }

  private void look(Look look) {
    long now = ticks();
    if (look.nextListing <= now || look.lookOut.wantsListing()) {
      list(look);
    }
    for (String name : look.lookOut.due(now)) {
      lookAt(look, name);
    }
    for (String name : look.lookOut.toRead()) {
      readers.execute(() -> read(look, name));
    }
    toTell.addAll(look.lookOut.news());
  }

  private void list(Look look) {
    String trouble;
    try {
      askForNotice(look);
      look.lookOut.beginListing();
      try (DirectoryStream<Path> files = Files.newDirectoryStream(look.directory)) {
        for (Path file : files) {
          if (look.lookOut.concerned(file.getFileName().toString()).isPresent()) {
            FileLook.at(file, look.what(), look.local).ifPresent(f -> look.lookOut.see(f, now()));
          }
        }
      }
      look.lookOut.endListing();
      trouble = "";
    } catch (NoSuchFileException e) {
      trouble = "the directory " + look.directory + " does not exist";
    } catch (NotDirectoryException e) {
      trouble = look.directory + " is not a directory";
    } catch (AccessDeniedException e) {
      trouble = "this agent's user may not read " + e.getFile();
    } catch (IOException | DirectoryIteratorException e) {
      trouble = "cannot read " + look.directory + ": " + e.getMessage();
    }
    if (!trouble.equals(look.trouble)) {
      look.trouble = trouble;
      tellTrouble(look);
    }
    look.nextListing = ticks() + pauseOf(look);
  }

  private static long pauseOf(Look look) {
    if (look.what().everyMillis() > 0) {
      return look.what().everyMillis();
    }
    if (!look.trouble.isEmpty()) {
      return LIST_AGAIN_AFTER_TROUBLE_MILLIS;
    }
    return look.notice == null ? LIST_OTHERS_EVERY_MILLIS : LIST_NOTIFIED_EVERY_MILLIS;
  }

  /** Before the listing: what comes in between is seen twice, not never. */
  private void askForNotice(Look look) throws IOException {
    look.local = FileLook.isLocal(look.directory);
    boolean works = look.notice != null && look.notice.isValid();
    if (works || !look.local || look.what().everyMillis() > 0 || notices == null) {
      return;
    }
    try {
      look.notice =
          look.directory.register(
              notices,
              StandardWatchEventKinds.ENTRY_CREATE,
              StandardWatchEventKinds.ENTRY_MODIFY,
              StandardWatchEventKinds.ENTRY_DELETE);
      notified.computeIfAbsent(look.notice, key -> new ArrayList<>()).add(look);
    } catch (NoSuchFileException | NotDirectoryException | AccessDeniedException e) {
      throw e;
    } catch (IOException e) {
      look.notice = null; // no more notices to be had: it is looked at again and again
    }
  }

  private void lookAt(Look look, String name) {
    try {
      Path file = look.directory.resolve(name);
      Optional<FileFacts> facts = FileLook.at(file, look.what(), look.local);
      facts.ifPresentOrElse(f -> look.lookOut.see(f, now()), () -> look.lookOut.gone(name));
    } catch (IOException | InvalidPathException e) {
      look.nextListing = Math.min(look.nextListing, ticks() + LIST_AGAIN_AFTER_TROUBLE_MILLIS);
    }
  }

  private void read(Look look, String name) {
    try {
      Path file = look.directory.resolve(name);
      Optional<FileFacts> before = FileLook.at(file, look.what(), look.local);
      if (before.isPresent()) {
        var content = FileContents.read(file, look.what());
        inbox.add(() -> look.lookOut.read(before.get(), content, now()));
      }
      inbox.add(() -> lookAt(look, name));
    } catch (IOException | InvalidPathException e) {
      String text = "cannot read " + name + ": " + e.getMessage();
      inbox.add(
          () -> {
            look.trouble = text;
            tellTrouble(look);
            look.lookOut.readAgain(name);
            look.nextListing = ticks() + LIST_AGAIN_AFTER_TROUBLE_MILLIS;
          });
    }
  }

  // ---- notices

  private void hearNotices() {
    try {
      while (!closed) {
        WatchKey key = notices.take();
        List<WatchEvent<?>> events = key.pollEvents();
        key.reset();
        inbox.add(() -> noticed(key, events));
      }
    } catch (InterruptedException | ClosedWatchServiceException e) {
      return;
    }
  }

  private void noticed(WatchKey key, List<WatchEvent<?>> events) {
    List<Look> concerned = List.copyOf(notified.getOrDefault(key, List.of()));
    for (Look look : concerned) {
      for (WatchEvent<?> event : events) {
        if (event.context() instanceof Path name) {
          noticed(look, name);
        } else {
          look.nextListing = 0; // more has happened than the system can tell
        }
      }
    }
    if (!key.isValid()) {
      notified.remove(key);
      concerned.forEach(
          look -> {
            look.notice = null;
            look.nextListing = 0;
          });
    }
  }

  private void noticed(Look look, Path name) {
    Optional<String> meant = look.lookOut.concerned(name.toString());
    if (meant.isPresent() && meant.get().indexOf('\uFFFD') >= 0) {
      look.nextListing = 0; // only a listing has the bytes of such a name
    } else {
      meant.ifPresent(one -> lookAt(look, one));
    }
  }

  // ---- telling

  private void tellTrouble(Look look) {
    if (connected) {
      out.accept(new FromAgent.Trouble(look.what().watch(), look.what().directory(), look.trouble));
    }
  }

  private void tell() {
    while (connected && unanswered < MOST_UNANSWERED && !toTell.isEmpty()) {
      List<FromAgent.File> files = new ArrayList<>();
      while (!toTell.isEmpty() && files.size() < MOST_IN_A_MESSAGE) {
        files.add(file(toTell.poll()));
      }
      unanswered++;
      out.accept(new FromAgent.Found(++number, files));
    }
    if (!connected) {
      toTell.clear(); // all is told again
    }
  }

  private static FromAgent.File file(Finding finding) {
    return new FromAgent.File(
        finding.watch(),
        finding.directory(),
        finding.pattern(),
        finding.name(),
        finding.size(),
        finding.modified(),
        finding.key(),
        finding.state().word(),
        finding.note(),
        finding.checksum());
  }

  // ---- trials

  private FromAgent.Tried tried(ToAgent.Try asked) {
    List<FromAgent.File> files = new ArrayList<>();
    List<String> troubles = new ArrayList<>();
    long more = 0;
    boolean all = true;
    for (ToAgent.Task task : asked.tasks()) {
      Path directory = Path.of(task.directory());
      LookOut trial = new LookOut(lookFor(task));
      try (DirectoryStream<Path> there = Files.newDirectoryStream(directory)) {
        boolean local = FileLook.isLocal(directory);
        all &= local && task.everyMillis() == 0;
        LookOut.Now later = new LookOut.Now(now().wall(), ticks());
        for (Path file : there) {
          if (trial.concerned(file.getFileName().toString()).isPresent()) {
            Optional<FileFacts> facts = FileLook.at(file, trial.what(), local);
            if (facts.isPresent() && files.size() >= MOST_TOLD_OF_A_TRIAL) {
              more++;
            } else if (facts.isPresent()) {
              files.add(file(trial.judged(facts.get(), content(file, trial.what()), later)));
            }
          }
        }
      } catch (NoSuchFileException e) {
        troubles.add("the directory " + directory + " does not exist");
      } catch (IOException | DirectoryIteratorException e) {
        troubles.add("cannot read " + directory + ": " + e);
      }
    }
    return new FromAgent.Tried(asked.id(), files, more, troubles, all);
  }

  private static Optional<dev.purser.core.arrival.Content> content(Path file, LookFor what) {
    try {
      return Files.size(file) > FileContents.MOST_READ
          ? Optional.empty()
          : Optional.of(FileContents.read(file, what));
    } catch (IOException e) {
      return Optional.empty();
    }
  }

  @Override
  public void close() {
    closed = true;
    loop.interrupt();
    readers.shutdownNow();
    try {
      if (notices != null) {
        notices.close();
      }
    } catch (IOException e) {
      AgentLog.warn("cannot close the system's notices: " + e.getMessage());
    }
  }
}

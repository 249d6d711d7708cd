package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/**
 * Looks for the files that runs wait for. A file is ready when it is large enough and neither its
 * size nor its time has changed for the watch's rest.
 */
final class FileWatches implements AutoCloseable {
  private static final long LOOK_EVERY_MILLIS = 500;

  private final Consumer<FromAgent> out;
  private final Map<String, Look> looks = new HashMap<>();
  private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor();

  /** One file as it was when its size and time were first seen so. */
  private record Seen(long size, long modified, long sinceNanos) {}

  /** A file that counts for a watch, and whether it has rested long enough. */
  private record Candidate(String path, Seen seen, boolean large, boolean rested) {}

  private static final class Look {
    final ToAgent.Watch watch;
    final Set<String> ignored = new HashSet<>();
    Map<String, Seen> seen = new HashMap<>();
    FromAgent.Sight told;

    Look(ToAgent.Watch watch) {
      this.watch = watch;
    }
  }

  FileWatches(Consumer<FromAgent> out) {
    this.out = out;
    clock.scheduleWithFixedDelay(
        this::lookAll, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
  }

  synchronized void watch(ToAgent.Watch watch) {
    Look old = looks.get(key(watch.run(), watch.watch()));
    if (old == null || !old.watch.equals(watch)) {
      looks.put(key(watch.run(), watch.watch()), new Look(watch));
    } else {
      old.told = null;
    }
  }

  synchronized void unwatch(ToAgent.Unwatch unwatch) {
    looks.remove(key(unwatch.run(), unwatch.watch()));
  }

  synchronized void ignore(ToAgent.Ignore ignore) {
    Look look = looks.get(key(ignore.run(), ignore.watch()));
    if (look != null) {
      look.ignored.add(identity(ignore.path(), ignore.size(), ignore.modified()));
      look.told = null;
    }
  }

  /** A new connection: the service says anew what to look for. */
  synchronized void clear() {
    looks.clear();
  }

  private static String key(long run, String watch) {
    return run + " " + watch;
  }

  private static String identity(String path, long size, long modified) {
    return size + " " + modified + " " + path;
  }

  private synchronized void lookAll() {
    for (Look look : looks.values()) {
      FromAgent.Sight sight = look(look);
      if (!sight.equals(look.told)) {
        look.told = sight;
        out.accept(sight);
      }
    }
  }

  private FromAgent.Sight look(Look look) {
    Path pattern = Path.of(look.watch.path());
    List<Candidate> candidates = new ArrayList<>();
    Map<String, Seen> now = new HashMap<>();
    String glob = escape(pattern.getFileName().toString());
    try (DirectoryStream<Path> files = Files.newDirectoryStream(pattern.getParent(), glob)) {
      for (Path file : files) {
        consider(look, file, now, candidates);
      }
    } catch (NoSuchFileException e) {
      return sight(look, "unreadable", "the directory " + pattern.getParent() + " does not exist");
    } catch (IOException e) {
      return sight(
          look, "unreadable", "cannot read " + pattern.getParent() + ": " + e.getMessage());
    }
    look.seen = now;
    return candidates.stream()
        .min(
            Comparator.comparing((Candidate c) -> !(c.large() && c.rested()))
                .thenComparing(c -> !c.large())
                .thenComparing(c -> c.seen().modified())
                .thenComparing(Candidate::path))
        .map(best -> sight(look, best))
        .orElseGet(() -> sight(look, "absent", ""));
  }

  /** Braces and brackets stand for themselves: only star and question mark are wild. */
  private static String escape(String name) {
    return name.replace("\\", "\\\\").replace("[", "\\[").replace("{", "\\{");
  }

  private static void consider(
      Look look, Path file, Map<String, Seen> now, List<Candidate> candidates) throws IOException {
    BasicFileAttributes attributes;
    try {
      attributes = Files.readAttributes(file, BasicFileAttributes.class);
    } catch (NoSuchFileException e) {
      return; // gone between the two looks
    }
    if (!attributes.isRegularFile()) {
      return;
    }
    String path = file.toString();
    long modified = attributes.lastModifiedTime().toMillis();
    Seen before = look.seen.get(path);
    boolean same =
        before != null && before.size() == attributes.size() && before.modified() == modified;
    Seen seen = same ? before : new Seen(attributes.size(), modified, System.nanoTime());
    now.put(path, seen);
    if (!look.ignored.contains(identity(path, seen.size(), modified))) {
      boolean large = seen.size() >= look.watch.minimumSize();
      candidates.add(new Candidate(path, seen, large, same && rested(look.watch, seen)));
    }
  }

  /** At rest since it was first seen so, or by its own time where that is long enough ago. */
  private static boolean rested(ToAgent.Watch watch, Seen seen) {
    long watched = TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - seen.sinceNanos());
    long age = System.currentTimeMillis() - seen.modified();
    return Math.max(watched, age) >= watch.stillForMillis();
  }

  private static FromAgent.Sight sight(Look look, Candidate best) {
    String what = !best.large() ? "empty" : best.rested() ? "ready" : "growing";
    boolean ready = what.equals("ready");
    return new FromAgent.Sight(
        look.watch.run(),
        look.watch.watch(),
        what,
        best.path(),
        ready ? best.seen().size() : 0, // a growing file is told once, not at every byte
        ready ? best.seen().modified() : 0);
  }

  private static FromAgent.Sight sight(Look look, String what, String path) {
    return new FromAgent.Sight(look.watch.run(), look.watch.watch(), what, path, 0, 0);
  }

  @Override
  public void close() {
    clock.shutdownNow();
  }
}

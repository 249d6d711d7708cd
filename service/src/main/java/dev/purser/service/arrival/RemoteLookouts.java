package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.Content;
import dev.purser.core.arrival.FileFacts;
import dev.purser.core.arrival.Finding;
import dev.purser.core.arrival.LookFor;
import dev.purser.core.arrival.LookOut;
import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Kind;
import dev.purser.remote.place.RemotePlace;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.secret.SecretPermits;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Looks for files through connections: object stores, and directories over SFTP. They are judged as
 * agents judge theirs, by listing again and again, for nobody gives notice there.
 */
@Component
public class RemoteLookouts {
  private static final Logger LOG = LoggerFactory.getLogger(RemoteLookouts.class);
  private static final long USUAL_PAUSE_MILLIS = 10_000;
  private static final int MOST_IN_A_TURN = 500;
  private static final int MOST_TOLD_OF_A_TRIAL = 200;
  private static final int THREADS = 8;

  private final Engine engine;
  private final Lookouts lookouts;
  private final ArrivalRecords records;
  private final SecretPermits permits;
  private final Sites sites;
  private final Clock clock;
  private final Map<String, Place> places = new ConcurrentHashMap<>();
  private final ScheduledExecutorService threads =
      Executors.newScheduledThreadPool(
          THREADS,
          work -> {
            Thread thread = new Thread(work, "files through connections");
            thread.setDaemon(true);
            return thread;
          });

  /** What is looked at through one connection; one thread at a time is in it. */
  private static final class Place {
    final Map<ToAgent.Task, LookOut> looks = new LinkedHashMap<>();
    final ConcurrentLinkedQueue<Outbox> news = new ConcurrentLinkedQueue<>();
    final Map<String, String> troubles = new HashMap<>();
    Map<String, List<ToAgent.Task>> tasks = Map.of();
    Connection connection;
    RemotePlace open;
    volatile long next;
    boolean busy;
    boolean tidied;
  }

  RemoteLookouts(
      Engine engine,
      Lookouts lookouts,
      ArrivalRecords records,
      SecretPermits permits,
      Sites sites,
      Clock clock) {
    this.permits = permits;
    this.sites = sites;
    this.engine = engine;
    this.lookouts = lookouts;
    this.records = records;
    this.clock = clock;
  }

  @PreDestroy
  void stop() {
    threads.shutdownNow();
  }

  /** Everything is told again: what was told before may not be on record. */
  @EventListener
  void takenUp(Engine.TakenUp event) {
    places.clear();
  }

  @EventListener
  void steppedDown(Engine.SteppedDown event) {
    places.clear();
  }

  @EventListener
  void told(Lookouts.ToPlace told) {
    Place place = places.get(told.connection());
    if (place != null) {
      place.news.addAll(told.news());
    }
  }

  @Scheduled(fixedDelay = 200)
  void look() {
    if (!engine.isActive()) {
      return;
    }
    Definitions definitions = engine.definitions();
    for (String name : definitions.names(Kind.CONNECTION)) {
      Map<String, List<ToAgent.Task>> tasks = lookouts.lookThrough(name);
      if (tasks.values().stream().allMatch(List::isEmpty)) {
        continue;
      }
      Place place = places.computeIfAbsent(name, any -> new Place());
      synchronized (place) {
        if (!tasks.equals(place.tasks)) {
          place.tasks = tasks;
          place.next = 0;
        }
        boolean due = clock.millis() >= place.next || !place.news.isEmpty();
        if (!place.busy && due) {
          place.busy = true;
          Connection connection = definitions.connection(name).orElseThrow();
          threads.execute(() -> visit(name, connection, place, tasks));
        }
      }
    }
  }

  private void visit(
      String name, Connection connection, Place place, Map<String, List<ToAgent.Task>> tasks) {
    try {
      tidyUp(name, connection, place);
      if (clock.millis() >= place.next) {
        list(name, connection, place, tasks);
      }
    } catch (RuntimeException | LinkageError e) {
      LOG.warn("looking for files through {} has failed", name, e);
      close(place);
      place.next = clock.millis() + USUAL_PAUSE_MILLIS;
    } finally {
      synchronized (place) {
        place.busy = false;
      }
    }
  }

  private void list(
      String name, Connection connection, Place place, Map<String, List<ToAgent.Task>> tasks) {
    Map<ToAgent.Task, LookOut> kept = new HashMap<>(place.looks);
    place.looks.clear();
    long pause = USUAL_PAUSE_MILLIS;
    for (List<ToAgent.Task> all : tasks.values()) {
      for (ToAgent.Task task : all) {
        LookOut there = kept.get(task);
        place.looks.put(task, there == null ? new LookOut(lookFor(task)) : there);
        pause = task.everyMillis() > 0 ? Math.min(pause, task.everyMillis()) : pause;
      }
    }
    Map<String, String> troubles = new HashMap<>();
    for (LookOut look : place.looks.values()) {
      try {
        list(opened(connection, place), look);
      } catch (IOException e) {
        troubles.put(look.what().watch(), e.getMessage());
        close(place);
      }
      tell(name, look);
    }
    tellTroubles(name, place, tasks.keySet(), troubles);
    if (tasks.equals(place.tasks)) {
      place.next = clock.millis() + pause;
    }
  }

  private RemotePlace opened(Connection connection, Place place) throws IOException {
    Optional<String> refusal = permits.refusal(connection); // which may have come since
    if (refusal.isPresent()) {
      throw new IOException(refusal.get());
    }
    if (place.open == null || !connection.equals(place.connection)) {
      close(place);
      place.open = open(connection);
      place.connection = connection;
    }
    return place.open;
  }

  private static void close(Place place) {
    if (place.open != null) {
      place.open.close();
      place.open = null;
    }
  }

  private RemotePlace open(Connection connection) throws IOException {
    return RemotePlace.open(sites.of(connection), sites.web());
  }

  private static LookFor lookFor(ToAgent.Task task) {
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
        task.since(),
        task.everyMillis());
  }

  private LookOut.Now now() {
    return new LookOut.Now(clock.millis(), TimeUnit.NANOSECONDS.toMillis(System.nanoTime()));
  }

  private void list(RemotePlace from, LookOut look) throws IOException {
    LookFor what = look.what();
    boolean besides = !what.companion().isEmpty() || !what.checksumFile().isEmpty();
    Set<String> names = new HashSet<>();
    if (besides) {
      from.list(what.directory(), file -> names.add(file.name()));
    }
    look.beginListing();
    from.list(what.directory(), file -> look.see(facts(file, what, names), now()));
    look.endListing();
    for (String name : look.toRead()) {
      String path = what.directory() + "/" + name;
      Optional<RemotePlace.RemoteFile> file = from.look(path);
      if (file.isPresent()) {
        Content content = RemoteContent.read(from, path, file.get(), what);
        look.read(facts(file.get(), what, names), content, now());
      }
    }
  }

  private static FileFacts facts(RemotePlace.RemoteFile file, LookFor what, Set<String> names) {
    boolean companion =
        (what.companion().isEmpty() || names.contains(what.companionOf(file.name())))
            && (what.checksumFile().isEmpty() || names.contains(what.checksumFileOf(file.name())));
    return new FileFacts(
        file.name(),
        file.size(),
        file.modified(),
        file.modified(),
        file.key(),
        file.leadsOut() ? FileFacts.Oddity.LINK_OUT : FileFacts.Oddity.NONE,
        companion,
        false);
  }

  private void tell(String place, LookOut look) {
    List<Finding> news = look.news();
    for (int from = 0; from < news.size(); from += MOST_IN_A_TURN) {
      int to = Math.min(news.size(), from + MOST_IN_A_TURN);
      for (Finding done : lookouts.found(place, List.copyOf(news.subList(from, to))).join()) {
        look.finished(done.name(), done.size(), done.modified(), done.key());
      }
    }
  }

  private void tellTroubles(
      String name, Place place, Set<String> watches, Map<String, String> troubles) {
    for (String watch : watches) {
      String text = troubles.getOrDefault(watch, "");
      if (!text.equals(place.troubles.getOrDefault(watch, ""))) {
        place.troubles.put(watch, text);
        lookouts.trouble(name, watch, text).join();
      }
    }
  }

  // ---- after use

  private void tidyUp(String name, Connection connection, Place place) {
    if (!place.tidied) { // what was left over from before
      place.tidied = true;
      records.toTidy(name).forEach(row -> place.news.add(new Outbox.Tidy(row.arrival())));
    }
    for (Outbox one = place.news.poll(); one != null; one = place.news.poll()) {
      if (one instanceof Outbox.Done done) {
        Arrival over = done.arrival();
        for (LookOut look : place.looks.values()) {
          if (look.what().watch().equals(over.watch())) {
            look.finished(over.name(), over.size(), over.modified(), over.key());
          }
        }
      } else if (one instanceof Outbox.Tidy tidy) {
        tidyUp(connection, place, tidy.arrival());
      }
    }
  }

  private void tidyUp(Connection connection, Place place, Arrival one) {
    Optional<ToAgent> asked = lookouts.tidy(one);
    if (asked.isEmpty() || !(asked.get() instanceof ToAgent.Tidy tidy)) {
      return;
    }
    boolean done = true;
    String note;
    try {
      note = tidied(opened(connection, place), tidy);
    } catch (IOException e) {
      done = false;
      note = e.getMessage();
      close(place);
    }
    lookouts.tidied(one.id(), done, note).join();
  }

  private static String tidied(RemotePlace at, ToAgent.Tidy tidy) throws IOException {
    Optional<RemotePlace.RemoteFile> there = at.look(tidy.path());
    if (there.isEmpty()) {
      return "was gone already";
    }
    RemotePlace.RemoteFile file = there.get();
    boolean same =
        file.size() == tidy.size()
            && file.modified() == tidy.modified()
            && file.key().equals(tidy.key());
    if (!same) {
      return "another file of this name is there by now; left as it is";
    }
    String directory = tidy.path().substring(0, tidy.path().lastIndexOf('/'));
    String note = tidied(at, tidy.path(), tidy.moveTo());
    for (String name : tidy.besides()) {
      if (at.look(directory + "/" + name).isPresent()) {
        tidied(at, directory + "/" + name, tidy.moveTo());
      }
    }
    return note;
  }

  private static String tidied(RemotePlace at, String path, String moveTo) throws IOException {
    if (moveTo.isEmpty()) {
      at.remove(path);
      return "removed";
    }
    String target = moveTo + path.substring(path.lastIndexOf('/'));
    String free = target;
    for (int n = 2; at.look(free).isPresent(); n++) {
      free = target + "." + n;
    }
    at.move(path, free);
    return "moved to " + free;
  }

  // ---- trials

  /**
   * What a watch would find now; nothing is taken. Waits for the other side.
   *
   * @param name of the connection
   */
  public Lookouts.Trial tryOut(FileWatch watch, String name) {
    Optional<Connection> connection = engine.definitions().connection(name);
    if (connection.isEmpty()) {
      return new Lookouts.Trial(name, Optional.empty(), "there is no connection " + name);
    }
    List<FromAgent.File> files = new ArrayList<>();
    List<String> troubles = new ArrayList<>();
    long[] more = {0};
    try (RemotePlace at = open(connection.get())) {
      for (ToAgent.Task task : lookouts.tasksOf(watch)) {
        LookFor what = lookFor(task);
        LookOut trial = new LookOut(what);
        Set<String> names = new HashSet<>();
        try {
          at.list(what.directory(), file -> names.add(file.name()));
          at.list(
              what.directory(),
              file -> {
                if (trial.concerned(file.name()).isEmpty()) {
                  return;
                }
                if (files.size() >= MOST_TOLD_OF_A_TRIAL) {
                  more[0]++;
                } else {
                  files.add(file(trial.judged(facts(file, what, names), Optional.empty(), now())));
                }
              });
        } catch (IOException e) {
          troubles.add(e.getMessage());
        }
      }
    } catch (IOException e) {
      return new Lookouts.Trial(name, Optional.empty(), e.getMessage());
    }
    return new Lookouts.Trial(
        name, Optional.of(new FromAgent.Tried("", files, more[0], troubles, false)), "");
  }

  private static FromAgent.File file(Finding one) {
    return new FromAgent.File(
        one.watch(),
        one.directory(),
        one.pattern(),
        one.name(),
        one.size(),
        one.modified(),
        one.key(),
        one.state().word(),
        one.note(),
        one.checksum());
  }
}

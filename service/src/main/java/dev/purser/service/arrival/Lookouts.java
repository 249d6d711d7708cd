package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.Finding;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Kind;
import dev.purser.core.pattern.FilePattern;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Says to whoever looks what to look for, and takes in what they say. */
@Component
public class Lookouts {
  private static final Logger LOG = LoggerFactory.getLogger(Lookouts.class);

  /** Files of business dates so far back, and so far ahead, are looked for. */
  private static final int DAYS_BACK = 7;

  private static final int DAYS_AHEAD = 1;
  private static final long LONGEST_TRIAL_MILLIS = 15_000;
  private static final int MOST_IN_A_MESSAGE = 1_000;

  private final Engine engine;
  private final ArrivalDesk desk;
  private final ArrivalRecords records;
  private final ApplicationEventPublisher publisher;
  private final Settings settings;
  private final Clock clock;
  private final Map<String, Instant> begun = new ConcurrentHashMap<>();
  private final Map<String, CompletableFuture<FromAgent.Tried>> trials = new ConcurrentHashMap<>();
  private volatile Asked asked = new Asked(Map.of(), Map.of());
  private String lastKey = "";

  /**
   * What is asked for, by watch.
   *
   * @param dates the business date of each watch, directory and pattern
   */
  private record Asked(
      Map<String, List<ToAgent.Task>> tasks, Map<String, Optional<LocalDate>> dates) {}

  /** Something to be told to a host's agent, if it is there. */
  public record ToHost(String host, ToAgent message) {}

  /** What is looked for has changed. */
  public record Changed() {}

  /** Something to be done at a place that is no host. */
  record ToPlace(String connection, List<Outbox> news) {}

  Lookouts(
      Engine engine,
      ArrivalDesk desk,
      ArrivalRecords records,
      ApplicationEventPublisher publisher,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.desk = desk;
    this.records = records;
    this.publisher = publisher;
    this.settings = settings;
    this.clock = clock;
  }

  // ---- what to look for

  /** Works out anew what to look for, where something that matters has changed. */
  @Scheduled(fixedDelay = 500)
  void refresh() {
    if (!engine.isActive()) {
      return;
    }
    try {
      Definitions definitions = engine.definitions();
      String key = key(definitions);
      if (!key.equals(lastKey)) {
        begin(definitions);
        asked = work(definitions);
        lastKey = key;
        publisher.publishEvent(new Changed());
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot tell what files to look for just now: {}", e.toString());
    }
  }

  private String key(Definitions definitions) {
    StringBuilder key = new StringBuilder().append(engine.epoch()).append(' ');
    key.append(engine.revision());
    for (FileWatch watch : definitions.fileWatches()) {
      if (watch.isDated()) {
        key.append(' ').append(today(watch)).append(oldDates(watch));
      }
    }
    return key.toString();
  }

  private LocalDate today(FileWatch watch) {
    ZoneId zone = watch.expected().map(FileWatch.Expected::zone).orElse(settings.zone());
    return LocalDate.ofInstant(clock.instant(), zone);
  }

  /** Dates of runs that still wait, further back than what is looked for anyway. */
  private Set<LocalDate> oldDates(FileWatch watch) {
    LocalDate from = today(watch).minusDays(DAYS_BACK);
    LocalDate to = today(watch).plusDays(DAYS_AHEAD);
    Set<LocalDate> dates = new TreeSet<>(desk.datesWanted(watch.name()));
    dates.removeIf(date -> !date.isBefore(from) && !date.isAfter(to));
    return dates;
  }

  /** New watches begin now. */
  private void begin(Definitions definitions) {
    begun.putAll(records.begun());
    List<String> fresh =
        definitions.fileWatches().stream()
            .map(FileWatch::name)
            .filter(name -> !begun.containsKey(name))
            .toList();
    if (!fresh.isEmpty()) {
      Instant now = clock.instant();
      engine
          .hear(
              turn -> {
                fresh.forEach(
                    name ->
                        turn.write(
                            "insert ignore into file_watch_begun (watch, since) values (?,?)",
                            name,
                            now));
                return true;
              })
          .join();
      fresh.forEach(name -> begun.put(name, now));
    }
  }

  private Asked work(Definitions definitions) {
    Map<String, List<ToAgent.Task>> tasks = new HashMap<>();
    Map<String, Optional<LocalDate>> dates = new HashMap<>();
    for (FileWatch watch : definitions.fileWatches()) {
      Map<String, LocalDate> paths = new LinkedHashMap<>();
      for (LocalDate date : datesOf(watch)) {
        paths.putIfAbsent(watch.pathOf(date), watch.keyDate(date));
      }
      List<ToAgent.Task> all = new ArrayList<>();
      paths.forEach(
          (path, date) -> {
            ToAgent.Task task = task(watch, path);
            all.add(task);
            dates.put(
                key(task.watch(), task.directory(), task.pattern()),
                watch.isDated() ? Optional.of(date) : Optional.empty());
          });
      tasks.put(watch.name(), all);
    }
    return new Asked(tasks, dates);
  }

  private Set<LocalDate> datesOf(FileWatch watch) {
    Set<LocalDate> dates = new TreeSet<>(oldDates(watch));
    for (int i = -DAYS_BACK; i <= DAYS_AHEAD; i++) {
      dates.add(today(watch).plusDays(i));
    }
    return dates;
  }

  private ToAgent.Task task(FileWatch watch, String path) {
    int slash = path.lastIndexOf('/');
    FileWatch.Whole whole = watch.whole();
    return new ToAgent.Task(
        watch.name(),
        slash == 0 ? "/" : path.substring(0, slash),
        path.substring(slash + 1),
        watch.handling().caseSensitive(),
        whole.stillFor().toMillis(),
        whole.minimumSize(),
        whole.companion(),
        whole.checksumFile(),
        whole.lastLine(),
        watch.handling().oldest().map(Duration::toMillis).orElse(0L),
        watch.handling().takeExisting(),
        begun.getOrDefault(watch.name(), clock.instant()).toEpochMilli(),
        watch.handling().every().map(Duration::toMillis).orElse(0L));
  }

  private static String key(String watch, String directory, String pattern) {
    return watch + "\n" + directory + "\n" + pattern;
  }

  /** What a host's agent is to look for. */
  public ToAgent.Look lookFor(String host) {
    Definitions definitions = engine.definitions();
    List<ToAgent.Task> all = new ArrayList<>();
    Map<String, List<ToAgent.Task>> tasks = asked.tasks();
    for (FileWatch watch : definitions.fileWatches()) {
      if (isOn(watch, host, definitions)) {
        all.addAll(tasks.getOrDefault(watch.name(), List.of()));
      }
    }
    return new ToAgent.Look(all);
  }

  /** Labels come from definitions alone: an agent cannot give itself any. */
  private static boolean isOn(FileWatch watch, String host, Definitions definitions) {
    if (watch.place() instanceof FileWatch.Place.OnHost on) {
      return on.host().equals(host);
    }
    if (!(watch.place() instanceof FileWatch.Place.OnEachOf each)) {
      return false;
    }
    Set<String> all = new HashSet<>();
    definitions.hosts().stream()
        .filter(one -> one.name().equals(host))
        .map(HostDefinition::labels)
        .forEach(all::addAll);
    return definitions.hostGroups().stream()
        .filter(group -> group.name().equals(each.group()))
        .anyMatch((HostGroup group) -> group.contains(host, all));
  }

  /** What is looked for through a connection, by watch. */
  Map<String, List<ToAgent.Task>> lookThrough(String connection) {
    Map<String, List<ToAgent.Task>> found = new TreeMap<>();
    for (FileWatch watch : engine.definitions().fileWatches()) {
      if (watch.place() instanceof FileWatch.Place.Through through
          && through.connection().equals(connection)) {
        found.put(watch.name(), asked.tasks().getOrDefault(watch.name(), List.of()));
      }
    }
    return found;
  }

  // ---- what is said

  /**
   * Takes in what an agent says of files. What cannot be put on record, or is not looked for there,
   * is left out.
   *
   * @return what need not be told again, once it is on record
   */
  public CompletableFuture<ToAgent.FoundTaken> found(String host, FromAgent.Found found) {
    Definitions definitions = engine.definitions();
    List<Finding> findings =
        found.files().stream()
            .flatMap(one -> Findings.of(one).stream())
            .filter(one -> isLookedForOn(host, one, definitions))
            .toList();
    return found(host, findings)
        .thenApply(
            done ->
                new ToAgent.FoundTaken(found.number(), done.stream().map(Findings::done).toList()));
  }

  /** Whether a host was asked to look for such a file: anything else is nobody's. */
  private static boolean isLookedForOn(String host, Finding one, Definitions definitions) {
    boolean asked =
        definitions.fileWatches().stream()
            .filter(watch -> watch.name().equals(one.watch()))
            .anyMatch(
                watch ->
                    isOn(watch, host, definitions)
                        && FilePattern.of(one.pattern(), watch.handling().caseSensitive())
                            .matches(one.name()));
    if (!asked) {
      LOG.warn(
          "host {} speaks of a file of watch {} that it is not asked for; left out",
          host,
          one.watch());
    }
    return asked;
  }

  /** Takes in what was found at a place; answers those of which nothing more need be told. */
  CompletableFuture<List<Finding>> found(String place, List<Finding> findings) {
    Map<String, Optional<LocalDate>> dates = asked.dates();
    return engine.hear(
        turn ->
            desk.found(
                turn,
                place,
                findings.stream()
                    .filter(
                        one -> dates.containsKey(key(one.watch(), one.directory(), one.pattern())))
                    .toList(),
                one -> dates.get(key(one.watch(), one.directory(), one.pattern()))));
  }

  /**
   * Takes in that a directory cannot be looked at, or can again.
   *
   * @param place the host or connection
   * @param text what is wrong, for people; empty where nothing is any more
   */
  public CompletableFuture<Boolean> trouble(String place, String watch, String text) {
    return engine.hear(
        turn -> {
          desk.trouble(watch, place, text);
          return true;
        });
  }

  /**
   * Takes in what has become of a file after use.
   *
   * @param done false where it could not be moved or removed, and is not tried again
   * @param note why not, or where it is now
   */
  public CompletableFuture<Boolean> tidied(long arrival, boolean done, String note) {
    return engine.hear(
        turn -> {
          turn.write(
              "update arrival set tidy=?, tidy_note=? where id=?",
              done ? "done" : "failed",
              ArrivalRecords.cut(note),
              arrival);
          return true;
        });
  }

  /** Used files of a host that wait to be moved or removed. */
  public List<ToAgent> toTidy(String host) {
    return records.toTidy(host).stream().flatMap(row -> tidy(row.arrival()).stream()).toList();
  }

  Optional<ToAgent> tidy(Arrival one) {
    return engine
        .definitions()
        .fileWatch(one.watch())
        .filter(watch -> watch.handling().afterUse() != FileWatch.AfterUse.LEAVE)
        .map(
            watch ->
                new ToAgent.Tidy(
                    engine.epoch(),
                    one.id(),
                    one.path(),
                    one.size(),
                    one.modified(),
                    one.key(),
                    besides(watch, one.name()),
                    watch.handling().moveTo()));
  }

  private static List<String> besides(FileWatch watch, String name) {
    int dot = name.lastIndexOf('.');
    String stem = dot > 0 ? name.substring(0, dot) : name;
    List<String> names = new ArrayList<>();
    for (String one : List.of(watch.whole().companion(), watch.whole().checksumFile())) {
      if (!one.isEmpty()) {
        names.add(one.replace("${file.name}", name).replace("${file.stem}", stem));
      }
    }
    return names;
  }

  // ---- telling what is on record

  @EventListener
  void committed(Engine.Committed committed) {
    List<Outbox> toTell = desk.toTell();
    if (toTell.isEmpty()) {
      return;
    }
    Map<String, List<ToAgent.Done>> done = new TreeMap<>();
    Map<String, List<Outbox>> others = new TreeMap<>();
    Set<String> connections = Set.copyOf(engine.definitions().names(Kind.CONNECTION));
    for (Outbox news : toTell) {
      Arrival one =
          news instanceof Outbox.Done over ? over.arrival() : ((Outbox.Tidy) news).arrival();
      if (connections.contains(one.place())) {
        others.computeIfAbsent(one.place(), any -> new ArrayList<>()).add(news);
      } else if (news instanceof Outbox.Done) {
        done.computeIfAbsent(one.place(), any -> new ArrayList<>()).add(Findings.done(one));
      } else {
        tidy(one).ifPresent(message -> publisher.publishEvent(new ToHost(one.place(), message)));
      }
    }
    done.forEach(
        (host, all) -> {
          for (int from = 0; from < all.size(); from += MOST_IN_A_MESSAGE) {
            int to = Math.min(all.size(), from + MOST_IN_A_MESSAGE);
            publisher.publishEvent(
                new ToHost(host, new ToAgent.FoundTaken(0, List.copyOf(all.subList(from, to)))));
          }
        });
    others.forEach((place, news) -> publisher.publishEvent(new ToPlace(place, news)));
  }

  // ---- trials

  /** What the trial of a watch at a place has found, or why it could not be tried. */
  public record Trial(String place, Optional<FromAgent.Tried> found, String problem) {}

  /**
   * Asks an agent what a watch would find now.
   *
   * @param connected whether the agent is there
   */
  public Trial tryOut(FileWatch watch, String host, boolean connected) {
    if (!connected) {
      return new Trial(host, Optional.empty(), "host " + host + " is not connected");
    }
    String id = UUID.randomUUID().toString();
    CompletableFuture<FromAgent.Tried> answer = new CompletableFuture<>();
    trials.put(id, answer);
    try {
      publisher.publishEvent(new ToHost(host, new ToAgent.Try(id, tasksOf(watch))));
      FromAgent.Tried tried =
          answer
              .orTimeout(LONGEST_TRIAL_MILLIS, TimeUnit.MILLISECONDS)
              .exceptionally(e -> null)
              .join();
      return tried == null
          ? new Trial(host, Optional.empty(), "host " + host + " has not answered within 15s")
          : new Trial(host, Optional.of(tried), "");
    } finally {
      trials.remove(id);
    }
  }

  /** What a watch asks for now, whether it is published or not. */
  List<ToAgent.Task> tasksOf(FileWatch watch) {
    Set<String> paths = new java.util.LinkedHashSet<>();
    datesOf(watch).forEach(date -> paths.add(watch.pathOf(date)));
    return paths.stream().map(path -> task(watch, path)).toList();
  }

  /** An agent's answer to a trial. */
  public void tried(FromAgent.Tried tried) {
    CompletableFuture<FromAgent.Tried> answer = trials.get(tried.id());
    if (answer != null) {
      answer.complete(tried);
    }
  }
}

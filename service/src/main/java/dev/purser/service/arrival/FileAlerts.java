package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.arrival.Checklist;
import dev.purser.core.board.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Stream;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Opens alerts about files, and closes them when there is no reason any more: one that has not come
 * though it usually has, or by its time; one that is empty or incomplete, or never rests; some that
 * were not processed; a directory that cannot be looked at.
 */
@Component
class FileAlerts {
  private static final Logger LOG = LoggerFactory.getLogger(FileAlerts.class);
  private static final Duration TROUBLE_FOR = Duration.ofMinutes(1);
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  private final Engine engine;
  private final ArrivalDesk desk;
  private final FileDay day;
  private final Alerts alerts;
  private final AlertWriter writer;
  private final Live live;
  private final Settings settings;
  private final Clock clock;
  private final Map<String, Instant> troubledSince = new HashMap<>();
  private volatile Instant began;

  /** What is wrong, and of which watch. */
  private record Wrong(FileWatch watch, String text) {}

  FileAlerts(
      Engine engine,
      ArrivalDesk desk,
      FileDay day,
      Alerts alerts,
      AlertWriter writer,
      Live live,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.desk = desk;
    this.day = day;
    this.alerts = alerts;
    this.writer = writer;
    this.live = live;
    this.settings = settings;
    this.clock = clock;
    this.began = clock.instant();
  }

  /** Agents need a moment to say what they see. */
  @EventListener
  void takenUp(Engine.TakenUp event) {
    began = clock.instant();
  }

  @Scheduled(fixedDelay = 5_000, initialDelay = 5_000)
  void look() {
    if (!engine.isActive() || clock.instant().isBefore(began.plusSeconds(20))) {
      return;
    }
    try {
      Map<String, Wrong> wrong = wrong(engine.definitions());
      boolean changed = false;
      Set<String> open = new HashSet<>();
      for (AlertRow alert : alerts.openAbout(AlertKind.FILE)) {
        if (wrong.containsKey(alert.reference)) {
          open.add(alert.reference);
        } else {
          changed |= alerts.close(alert.id, "that is not so any more", clock.instant());
        }
      }
      for (Map.Entry<String, Wrong> one : wrong.entrySet()) {
        if (!open.contains(one.getKey())) {
          open(one.getKey(), one.getValue());
          changed = true;
        }
      }
      if (changed) {
        live.alertsChanged();
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot look after the files: {}", e.toString());
    }
  }

  private void open(String reference, Wrong wrong) {
    Definitions definitions = engine.definitions();
    writer.open(
        AlertKind.FILE,
        reference,
        wrong.watch().title(),
        wrong.text(),
        usersOf(wrong.watch().name(), definitions),
        definitions,
        clock.instant());
    LOG.info("{}: {}", reference, wrong.text());
  }

  /** The streams that a watch matters to. */
  static List<Stream> usersOf(String watch, Definitions definitions) {
    return definitions.streams().stream()
        .filter(
            stream ->
                stream.startsOn().filter(on -> on.watch().equals(watch)).isPresent()
                    || stream.jobs().stream()
                        .flatMap(job -> job.waitsFor().stream())
                        .flatMap(asks -> asks.files().stream())
                        .anyMatch(file -> file.watch().equals(watch)))
        .toList();
  }

  private Map<String, Wrong> wrong(Definitions definitions) {
    Map<String, Wrong> wrong = new LinkedHashMap<>();
    LocalDate today = LocalDate.ofInstant(clock.instant(), settings.zone());
    for (LocalDate date : List.of(today.minusDays(1), today)) {
      day.of(definitions, date).forEach(entry -> notThere(entry, wrong));
    }
    Map<String, Integer> unprocessed = new TreeMap<>();
    for (Arrival one : desk.open()) {
      definitions
          .fileWatch(one.watch())
          .ifPresent(watch -> notWell(watch, one, unprocessed, wrong));
    }
    unprocessed.forEach(
        (name, count) -> {
          FileWatch watch = definitions.fileWatch(name).orElseThrow();
          String text =
              (count == 1 ? "a file was" : count + " files were")
                  + " not processed, and somebody must decide: try again, put aside, or mark as"
                  + " done";
          wrong.put("file " + name + " unprocessed", new Wrong(watch, text));
        });
    troubles(definitions, wrong);
    return wrong;
  }

  private void notThere(Checklist.Entry entry, Map<String, Wrong> wrong) {
    String about = "file " + entry.watch().name() + "@" + entry.date();
    String usual =
        entry.usually().map(at -> "; usually it comes at " + clock(entry.watch(), at)).orElse("");
    String by = entry.by().map(at -> clock(entry.watch(), at)).orElse("");
    if (entry.standing() == Checklist.Standing.MISSING) {
      String some =
          entry.count() == 0
              ? "has not come by " + by
              : "only "
                  + entry.count()
                  + " of "
                  + entry.watch().whole().setOf()
                  + " files have come by "
                  + by;
      wrong.put(about + " missing", new Wrong(entry.watch(), some + usual));
    } else if (entry.standing() == Checklist.Standing.OVERDUE) {
      String text =
          "has not come yet, and nearly always has by "
              + clock(entry.watch(), entry.usuallyBy().orElseThrow())
              + "; it is due by "
              + by;
      wrong.put(about + " overdue", new Wrong(entry.watch(), text));
    }
  }

  private String clock(FileWatch watch, Instant at) {
    ZoneId zone = watch.expected().map(FileWatch.Expected::zone).orElse(settings.zone());
    return HH_MM.format(at.atZone(zone));
  }

  private void notWell(
      FileWatch watch, Arrival one, Map<String, Integer> unprocessed, Map<String, Wrong> wrong) {
    Duration found = Duration.between(Instant.ofEpochMilli(one.found()), clock.instant());
    Duration since = Duration.between(Instant.ofEpochMilli(one.since()), clock.instant());
    Duration rest = watch.whole().stillFor().plus(TROUBLE_FOR);
    String about = "arrival " + one.id();
    if (one.state() == ArrivalState.UNPROCESSED) {
      boolean asks = one.run() == 0;
      if (asks || since.compareTo(watch.handling().unprocessedFor()) > 0) {
        unprocessed.merge(watch.name(), 1, Integer::sum);
      }
    } else if (one.state() == ArrivalState.SEEN && since.compareTo(rest) > 0) {
      wrong.put(about, new Wrong(watch, one.path() + " on " + one.place() + ": " + one.note()));
    } else if (one.state() == ArrivalState.SETTLING
        && found.compareTo(watch.handling().growsFor()) > 0) {
      String text =
          one.path()
              + " on "
              + one.place()
              + " has not rested since it was found at "
              + clock(watch, Instant.ofEpochMilli(one.found()));
      wrong.put(about, new Wrong(watch, text));
    }
  }

  private void troubles(Definitions definitions, Map<String, Wrong> wrong) {
    Map<String, Map<String, String>> all = desk.troubles();
    Set<String> there = new HashSet<>();
    all.forEach(
        (name, places) ->
            places.forEach(
                (place, text) -> {
                  String about = "file " + name + " on " + place;
                  there.add(about);
                  Instant since = troubledSince.computeIfAbsent(about, any -> clock.instant());
                  Optional<FileWatch> watch = definitions.fileWatch(name);
                  if (watch.isPresent() && since.plus(TROUBLE_FOR).isBefore(clock.instant())) {
                    wrong.put(about, new Wrong(watch.get(), "nobody can look: " + text));
                  }
                }));
    troubledSince.keySet().retainAll(there);
  }
}

package dev.purser.service.arrival;

import dev.purser.core.arrival.Checklist;
import dev.purser.core.arrival.FileTrouble;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Stream;
import dev.purser.core.run.AlertKind;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
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
      Map<String, FileTrouble> wrong = wrong(engine.definitions());
      boolean changed =
          alerts.bringInLine(
              AlertKind.FILE,
              wrong.keySet(),
              any -> "that is not so any more",
              reference -> open(reference, wrong.get(reference)),
              clock.instant());
      if (changed) {
        live.alertsChanged();
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot look after the files: {}", e.toString());
    }
  }

  private void open(String reference, FileTrouble wrong) {
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

  private Map<String, FileTrouble> wrong(Definitions definitions) {
    Map<String, FileWatch> watches =
        definitions.fileWatches().stream()
            .collect(Collectors.toMap(FileWatch::name, Function.identity()));
    LocalDate today = LocalDate.ofInstant(clock.instant(), settings.zone());
    List<Checklist.Entry> days = new ArrayList<>(day.of(definitions, today.minusDays(1)));
    days.addAll(day.of(definitions, today));
    Map<String, FileTrouble> wrong = new LinkedHashMap<>();
    FileTrouble.of(days, desk.open(), watches, blind(watches), clock.instant(), settings.zone())
        .forEach(one -> wrong.put(one.about(), one));
    return wrong;
  }

  private List<FileTrouble.Blind> blind(Map<String, FileWatch> watches) {
    List<FileTrouble.Blind> blind = new ArrayList<>();
    Set<String> there = new HashSet<>();
    desk.troubles()
        .forEach(
            (name, places) ->
                places.forEach(
                    (place, text) -> {
                      String key = name + "\n" + place;
                      there.add(key);
                      Instant since = troubledSince.computeIfAbsent(key, any -> clock.instant());
                      if (watches.containsKey(name)) {
                        blind.add(new FileTrouble.Blind(watches.get(name), place, text, since));
                      }
                    }));
    troubledSince.keySet().retainAll(there);
    return blind;
  }
}

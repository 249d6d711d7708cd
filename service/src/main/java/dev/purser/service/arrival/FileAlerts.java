package dev.purser.service.arrival;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.arrival.Checklist;
import dev.purser.core.arrival.FileTrouble;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Stream;
import dev.purser.service.Settings;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.board.Began;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/**
 * Opens alerts about files, and closes them when there is no reason any more: one that has not come
 * though it usually has, or by its time; one that is empty or incomplete, or never rests; some that
 * were not processed; a directory that cannot be looked at.
 */
@Component
class FileAlerts implements SiteWatch {
  /** Agents need a moment to say what they see. */
  private static final Duration SEEN_WITHIN = Duration.ofSeconds(20);

  private final Engine engine;
  private final ArrivalDesk desk;
  private final FileDay day;
  private final Settings settings;
  private final Began began;
  private final Clock clock;
  private final Map<String, Instant> troubledSince = new HashMap<>();

  FileAlerts(
      Engine engine, ArrivalDesk desk, FileDay day, Settings settings, Began began, Clock clock) {
    this.engine = engine;
    this.desk = desk;
    this.day = day;
    this.settings = settings;
    this.began = began;
    this.clock = clock;
  }

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.FILE);
  }

  @Override
  public boolean looksAfter(String reference) {
    return reference.startsWith("file ") || reference.startsWith("arrival ");
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    if (began.isWithin(SEEN_WITHIN)) {
      return Optional.empty();
    }
    Definitions definitions = engine.definitions();
    return Optional.of(
        wrong(definitions).values().stream().map(one -> trouble(one, definitions)).toList());
  }

  private static SiteTrouble trouble(FileTrouble wrong, Definitions definitions) {
    SiteTrouble trouble =
        new SiteTrouble(
                AlertKind.FILE,
                wrong.about(),
                wrong.subject(),
                wrong.watch().title(),
                wrong.text(),
                usersOf(wrong.watch().name(), definitions))
            .by(SiteTrouble.Of.watch(wrong.watch().name()));
    boolean several = wrong.watch().place() instanceof FileWatch.Place.OnEachOf;
    return several && wrong.about().contains(" on ") ? trouble.oneOfSeveral() : trouble;
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

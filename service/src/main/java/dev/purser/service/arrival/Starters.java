package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.Ledger;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.board.Turn;
import dev.purser.service.plan.Pauses;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;

/** Starts streams on files: each file, or each complete set, once. */
@Component
class Starters {
  private static final Logger LOG = LoggerFactory.getLogger(Starters.class);

  private final Settings settings;
  private final ObjectProvider<Pauses> pauses;
  private Definitions known = Definitions.none();
  private List<Stream> streams = List.of();

  /**
   * @param pauses asked for late: they know the engine, whose turn this is a part of
   */
  Starters(Settings settings, ObjectProvider<Pauses> pauses) {
    this.settings = settings;
    this.pauses = pauses;
  }

  void startAll(Turn turn, Ledger ledger, ArrivalDesk desk) {
    if (known != turn.definitions()) {
      known = turn.definitions();
      streams = known.streams().stream().filter(one -> one.startsOn().isPresent()).toList();
    }
    for (Stream stream : streams) {
      StartsOn on = stream.startsOn().orElseThrow();
      Optional<FileWatch> watch = known.fileWatch(on.watch());
      boolean goes = watch.isPresent() && !pauses.getObject().isPaused(stream.path());
      while (goes && mayStart(ledger, on)) {
        List<Arrival> next = ledger.next(watch.get(), on.byName());
        if (next.isEmpty()) {
          break;
        }
        start(turn, ledger, desk, stream, watch.get(), next);
      }
    }
  }

  private static boolean mayStart(Ledger ledger, StartsOn on) {
    boolean waits = on.waitsAfterFailure() && ledger.hasUnprocessed(on.watch());
    return !waits && ledger.taken(on.watch()) < on.atATime();
  }

  private void start(
      Turn turn,
      Ledger ledger,
      ArrivalDesk desk,
      Stream stream,
      FileWatch watch,
      List<Arrival> files) {
    ZoneId zone = watch.expected().map(FileWatch.Expected::zone).orElse(settings.zone());
    LocalDate date =
        files.get(0).date().orElse(LocalDate.ofInstant(Instant.ofEpochMilli(turn.now()), zone));
    try {
      List<PlannedRun> planned =
          new Planner(known)
              .byHand(
                  stream,
                  new Planner.ByHand(
                      Optional.empty(),
                      false,
                      parameters(files),
                      date,
                      turn.nextNumber(stream.path(), date),
                      Instant.ofEpochMilli(turn.now()),
                      zone,
                      Set.of()));
      List<Long> ids = turn.plan(planned);
      List<Arrival> given = new ArrayList<>();
      for (Arrival file : files) {
        given.add(ledger.give(file, ids.get(0), date, turn.now()));
      }
      desk.started(turn, new Ledger.Outcome(given, true), ids);
    } catch (NotUnderstood e) {
      LOG.warn(
          "{} cannot be started on {}: {}", stream.path(), files.get(0).path(), e.getMessage());
      desk.refused(turn, files, "cannot be started: " + e.getMessage());
    }
  }

  /** What a run may know of its files; texts in them are no placeholders. */
  static Map<String, String> parameters(List<Arrival> files) {
    Arrival first = files.get(0);
    Map<String, String> values = new TreeMap<>();
    values.put(StartsOn.PATH, first.path());
    values.put("file.name", first.name());
    values.put("file.size", String.valueOf(first.size()));
    values.put("file.checksum", first.checksum());
    values.put("file.count", String.valueOf(files.size()));
    values.put("file.paths", files.stream().map(Arrival::path).collect(Collectors.joining("\n")));
    values.put("file.watch", first.watch());
    values.put(StartsOn.HOST, first.place());
    values.put(StartsOn.ARRIVAL, String.valueOf(first.id()));
    values.replaceAll((name, value) -> value.replace("${", "$${"));
    return values;
  }
}

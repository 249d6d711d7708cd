package dev.purser.service.arrival;

import dev.purser.core.arrival.Checklist;
import dev.purser.core.arrival.FileTimes;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.service.Settings;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** The files of a business date: which have come, which are still to come, which are late. */
@Component
public class FileDay {
  private final ArrivalRecords records;
  private final ArrivalHistory history;
  private final Settings settings;
  private final Clock clock;

  FileDay(ArrivalRecords records, ArrivalHistory history, Settings settings, Clock clock) {
    this.records = records;
    this.history = history;
    this.settings = settings;
    this.clock = clock;
  }

  /**
   * How every watch stands on a business date, by name.
   *
   * @param definitions whose watches are meant, which may be others than those in force
   */
  public List<Checklist.Entry> of(Definitions definitions, LocalDate date) {
    Map<String, FileTimes> times = history.times(definitions);
    Map<String, List<Instant>> came = came(definitions, date);
    List<Checklist.Entry> entries = new ArrayList<>();
    for (FileWatch watch : definitions.fileWatches()) {
      entries.add(
          Checklist.of(
              watch,
              date,
              definitions.calendars(),
              times.get(watch.name()),
              came.getOrDefault(watch.name(), List.of()),
              clock.instant()));
    }
    return entries;
  }

  /** When the files of a date were whole, by watch. */
  private Map<String, List<Instant>> came(Definitions definitions, LocalDate date) {
    Map<String, List<Instant>> came = new HashMap<>();
    for (FileWatch watch : definitions.fileWatches()) {
      ZoneId zone = watch.expected().map(FileWatch.Expected::zone).orElse(settings.zone());
      Instant from =
          watch
              .expected()
              .map(one -> one.begins(date))
              .orElseGet(() -> date.atStartOfDay(zone).toInstant());
      Instant to =
          watch
              .expected()
              .map(one -> one.begins(date.plusDays(1)))
              .orElseGet(() -> date.plusDays(1).atStartOfDay(zone).toInstant());
      LocalDate key = watch.keyDate(date);
      List<Instant> ready = records.readyOn(watch.name(), key, watch.isDated(), from, to);
      if (!ready.isEmpty()) {
        came.put(watch.name(), ready);
      }
    }
    return came;
  }
}

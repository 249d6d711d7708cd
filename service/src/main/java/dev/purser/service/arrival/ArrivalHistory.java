package dev.purser.service.arrival;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.service.Settings;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** When files usually come, from their arrivals. */
@Component
public class ArrivalHistory {
  private static final int KEPT = 60;
  private static final Duration LOOK_BACK = Duration.ofDays(120);
  private static final Duration FRESH_FOR = Duration.ofMinutes(1);

  private final ArrivalRecords records;
  private final Settings settings;
  private final Clock clock;
  private Map<String, List<ArrivalRecords.First>> known = Map.of();
  private Instant asked = Instant.EPOCH;

  ArrivalHistory(ArrivalRecords records, Settings settings, Clock clock) {
    this.records = records;
    this.settings = settings;
    this.clock = clock;
  }

  /** When the files of watches have come, by watch; at most a minute old. */
  public Map<String, FileTimes> times(Definitions definitions) {
    Map<String, FileTimes> times = new HashMap<>();
    firsts()
        .forEach(
            (watch, all) -> {
              ZoneId zone =
                  definitions
                      .fileWatch(watch)
                      .flatMap(FileWatch::expected)
                      .map(FileWatch.Expected::zone)
                      .orElse(settings.zone());
              times.put(
                  watch,
                  new FileTimes(zone, all.stream().mapToLong(one -> after(one, zone)).toArray()));
            });
    return times;
  }

  private static long after(ArrivalRecords.First one, ZoneId zone) {
    return FileTimes.afterMidnight(one.date(), one.ready(), zone);
  }

  private synchronized Map<String, List<ArrivalRecords.First>> firsts() {
    Instant now = clock.instant();
    if (now.isAfter(asked.plus(FRESH_FOR))) {
      Map<String, List<ArrivalRecords.First>> fresh = new HashMap<>();
      for (ArrivalRecords.First one : records.firsts(now.minus(LOOK_BACK))) {
        List<ArrivalRecords.First> all =
            fresh.computeIfAbsent(one.watch(), any -> new ArrayList<>());
        if (all.size() < KEPT) {
          all.add(one);
        }
      }
      known = fresh;
      asked = now;
    }
    return known;
  }
}

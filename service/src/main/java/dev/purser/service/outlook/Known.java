package dev.purser.service.outlook;

import dev.purser.core.arrival.Checklist;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.History.DatedFile;
import dev.purser.service.arrival.ArrivalHistory;
import dev.purser.service.arrival.FileDay;
import dev.purser.service.board.Engine;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.plan.PlanKeeper;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** All that is known for forecasts, the same for every one: outlooks and what an act would do. */
@Component
public class Known {
  private static final Duration FRESH_FOR = Duration.ofSeconds(10);

  private final Engine engine;
  private final PlanKeeper plan;
  private final DurationHistory history;
  private final ArrivalHistory arrivals;
  private final FileDay files;
  private final List<PlannedEvents> plans;
  private final Clock clock;
  private Today today = new Today(Instant.EPOCH, null, Set.of(), Set.of());

  /** How the files of the dates around today stand. */
  private record Today(
      Instant at, Definitions definitions, Set<DatedFile> come, Set<DatedFile> overdue) {}

  Known(
      Engine engine,
      PlanKeeper plan,
      DurationHistory history,
      ArrivalHistory arrivals,
      FileDay files,
      List<PlannedEvents> plans,
      Clock clock) {
    this.plans = plans;
    this.engine = engine;
    this.plan = plan;
    this.history = history;
    this.arrivals = arrivals;
    this.files = files;
    this.clock = clock;
  }

  /** What is known now; of files as of a few seconds ago at the most. */
  public History now() {
    Definitions definitions = engine.definitions();
    Today now = today(definitions);
    List<BoardEvent> coming = plans.stream().flatMap(one -> one.coming().stream()).toList();
    return history.with(arrivals.times(definitions), now.come(), now.overdue()).planning(coming);
  }

  private synchronized Today today(Definitions definitions) {
    Instant now = clock.instant();
    if (today.definitions() != definitions || now.isAfter(today.at().plus(FRESH_FOR))) {
      Set<DatedFile> come = new HashSet<>();
      Set<DatedFile> overdue = new HashSet<>();
      LocalDate date = plan.today();
      for (int days = -1; days <= 1; days++) {
        for (Checklist.Entry entry : files.of(definitions, date.plusDays(days))) {
          DatedFile file = new DatedFile(entry.watch().name(), entry.date());
          if (entry.came().isPresent()) {
            come.add(file);
          } else if (entry.standing() == Checklist.Standing.MISSING) {
            overdue.add(file);
          }
        }
      }
      today = new Today(now, definitions, come, overdue);
    }
    return today;
  }
}

package dev.purser.service.maintenance;

import dev.purser.core.event.BoardEvent;
import dev.purser.service.outlook.PlannedEvents;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** The drains that are planned, and the ends of those that go on. */
@Component
class PlannedDrains implements PlannedEvents {
  private static final Duration AHEAD = Duration.ofDays(10);

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Clock clock;

  PlannedDrains(EntityManager rows, TransactionTemplate transactions, Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.clock = clock;
  }

  @Override
  public List<BoardEvent> coming() {
    Instant until = clock.instant().plus(AHEAD);
    List<MaintenanceRow> plans =
        transactions.execute(
            any ->
                rows.createQuery(
                        "from MaintenanceRow m where m.what = 'drain' and m.state <> 'over' and"
                            + " m.begins < :until order by m.id",
                        MaintenanceRow.class)
                    .setParameter("until", until)
                    .getResultList());
    List<BoardEvent> events = new ArrayList<>();
    for (MaintenanceRow plan : plans) {
      if (plan.state.equals("planned")) {
        events.add(
            new BoardEvent.HostDrained(
                plan.begins.toEpochMilli(),
                plan.name,
                "drained as " + plan.who + " has planned: " + plan.reason));
      }
      events.add(new BoardEvent.HostReturned(plan.ends.toEpochMilli(), plan.name));
    }
    return events;
  }
}

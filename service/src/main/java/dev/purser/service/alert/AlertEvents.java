package dev.purser.service.alert;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * What has become of alerts, step by step, in one order that never changes: whoever goes on from
 * the last number that they have read misses nothing and reads nothing twice. Steps get their
 * numbers before they are on record for all to see, so a step is told once no earlier one can
 * appear any more: two seconds later.
 */
@Component
@Transactional(readOnly = true)
public class AlertEvents {
  private static final Duration SETTLES = Duration.ofSeconds(2);

  private final EntityManager rows;
  private final Clock clock;
  private final Deque<Seen> seen = new ArrayDeque<>();
  private long settled;

  private record Seen(Instant at, long number) {}

  /** A step with its alert. */
  public record Event(AlertStepRow step, AlertRow alert) {}

  AlertEvents(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Notes how far the numbers have come. */
  @Scheduled(fixedDelay = 500)
  void look() {
    Long last =
        rows.createQuery("select max(s.id) from AlertStepRow s", Long.class).getSingleResult();
    synchronized (this) {
      Instant now = clock.instant();
      seen.addLast(new Seen(now, last == null ? 0 : last));
      while (!seen.isEmpty() && !seen.peekFirst().at().isAfter(now.minus(SETTLES))) {
        settled = Math.max(settled, seen.removeFirst().number());
      }
    }
  }

  /** The number up to which all steps are known. */
  public synchronized long settled() {
    return settled;
  }

  /** Steps after a number, in order, as far as they are settled. */
  public List<Event> after(long number, int most) {
    List<Event> all = new ArrayList<>();
    for (Object[] row :
        rows.createQuery(
                "select s, a from AlertStepRow s join AlertRow a on a.id = s.alert where s.id >"
                    + " :after and s.id <= :settled order by s.id",
                Object[].class)
            .setParameter("after", number)
            .setParameter("settled", settled())
            .setMaxResults(most)
            .getResultList()) {
      all.add(new Event((AlertStepRow) row[0], (AlertRow) row[1]));
    }
    return all;
  }
}

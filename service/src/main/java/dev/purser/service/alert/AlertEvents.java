package dev.purser.service.alert;

import dev.purser.service.event.Settled;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * What has become of alerts, step by step, in one order that never changes: whoever goes on from
 * the last number that they have read misses nothing and reads nothing twice.
 */
@Component
@Transactional(readOnly = true)
public class AlertEvents {
  private final EntityManager rows;
  private final Clock clock;
  private final Settled settled = new Settled();

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
    settled.seen(clock.instant(), last == null ? 0 : last);
  }

  /** The number up to which all steps are known. */
  public long settled() {
    return settled.number();
  }

  /** Steps after a number, in order, as far as they are settled. */
  public List<Event> after(long number, int most) {
    return between(number, settled(), most);
  }

  /** Steps of a range of numbers, in order; the first number is not included. */
  List<Event> between(long number, long to, int most) {
    List<Event> all = new ArrayList<>();
    for (Object[] row :
        rows.createQuery(
                "select s, a from AlertStepRow s join AlertRow a on a.id = s.alert where s.id >"
                    + " :after and s.id <= :settled order by s.id",
                Object[].class)
            .setParameter("after", number)
            .setParameter("settled", to)
            .setMaxResults(most)
            .getResultList()) {
      all.add(new Event((AlertStepRow) row[0], (AlertRow) row[1]));
    }
    return all;
  }
}

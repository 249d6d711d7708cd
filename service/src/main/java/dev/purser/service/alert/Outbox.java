package dev.purser.service.alert;

import dev.purser.core.problem.Shorten;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of deliveries. */
@Component
@Transactional
class Outbox {
  private final EntityManager rows;

  Outbox(EntityManager rows) {
    this.rows = rows;
  }

  /** Where something goes: an address by a channel. */
  record Receiver(String channel, String address) {}

  /** Whoever something is due for. */
  @Transactional(readOnly = true)
  List<Receiver> receivers(Instant now, int most) {
    return rows
        .createQuery(
            "select d.channel, d.address from DeliveryRow d where d.state = 'pending' and d.nextTry"
                + " <= :now group by d.channel, d.address order by min(d.id)",
            Object[].class)
        .setParameter("now", now)
        .setMaxResults(most)
        .getResultList()
        .stream()
        .map(row -> new Receiver((String) row[0], (String) row[1]))
        .toList();
  }

  /** What is due for one, the oldest first. */
  @Transactional(readOnly = true)
  List<DeliveryRow> due(Receiver receiver, Instant now, int most) {
    return rows.createQuery(
            "from DeliveryRow d where d.state = 'pending' and d.nextTry <= :now and d.channel ="
                + " :channel and d.address = :address order by d.id",
            DeliveryRow.class)
        .setParameter("now", now)
        .setParameter("channel", receiver.channel())
        .setParameter("address", receiver.address())
        .setMaxResults(most)
        .getResultList();
  }

  void delivered(long id, Instant at, String answer) {
    DeliveryRow row = rows.find(DeliveryRow.class, id);
    row.state = "delivered";
    row.delivered = at;
    row.tries++;
    row.lastError = "";
    row.answer = Shorten.text(answer, 500);
  }

  /** Notes that it will never be delivered. */
  void refused(long id, String error) {
    DeliveryRow row = rows.find(DeliveryRow.class, id);
    row.state = "refused";
    row.tries++;
    row.lastError = Shorten.text(error, 1_000);
  }

  /**
   * Notes a failure; whatever else goes to the same address waits as long, and is not tried one by
   * one against a receiver that does not answer.
   */
  void failed(DeliveryRow delivery, Instant nextTry, String error) {
    DeliveryRow row = rows.find(DeliveryRow.class, delivery.id);
    row.tries++;
    row.nextTry = nextTry;
    row.lastError = Shorten.text(error, 1_000);
    rows.createQuery(
            "update DeliveryRow d set d.nextTry = :next where d.state = 'pending' and d.channel ="
                + " :channel and d.address = :address and d.nextTry < :next and d.id <> :id")
        .setParameter("next", nextTry)
        .setParameter("channel", delivery.channel)
        .setParameter("address", delivery.address)
        .setParameter("id", delivery.id)
        .executeUpdate();
  }
}

package dev.purser.service.alert;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How the addresses fare to which alerts go, from the records of the last seven days. */
@Component
@Transactional(readOnly = true)
public class AddressHealth {
  private static final Duration LOOK_BACK = Duration.ofDays(7);
  private static final int MOST = 500;
  private static final int MOST_NAMED = 20;

  private final EntityManager rows;
  private final Clock clock;

  AddressHealth(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /**
   * An address.
   *
   * @param state {@code well}, {@code failing}, {@code refusing} or {@code new}
   * @param oldest since when the oldest that is on its way is; null where none is
   */
  public record Health(
      String channel,
      String address,
      List<String> recipients,
      String state,
      long pending,
      long refused,
      Instant oldest,
      Instant nextTry,
      Instant delivered,
      String answer,
      String lastError) {}

  /** All addresses that anything went to, those in trouble first. */
  public List<Health> all() {
    List<Health> all = new ArrayList<>();
    Instant since = clock.instant().minus(LOOK_BACK);
    Map<String, List<String>> recipients = recipients(since);
    for (Object[] row :
        rows.createQuery(
                "select d.channel, d.address, sum(case when d.state = 'pending' then 1 else 0 end),"
                    + " sum(case when d.state = 'refused' then 1 else 0 end), min(case when d.state"
                    + " = 'pending' then d.written else null end), min(case when d.state ="
                    + " 'pending' then d.nextTry else null end), max(d.delivered), max(case when"
                    + " d.state = 'pending' then d.tries else 0 end), max(case when d.state <>"
                    + " 'delivered' then d.id else 0 end), max(case when d.state = 'delivered' then"
                    + " d.id else 0 end) from DeliveryRow d where d.written >= :since group by"
                    + " d.channel, d.address order by d.channel, d.address",
                Object[].class)
            .setParameter("since", since)
            .setMaxResults(MOST)
            .getResultList()) {
      all.add(health(row, recipients.getOrDefault(row[0] + " " + row[1], List.of())));
    }
    all.sort(java.util.Comparator.comparing(one -> one.state().equals("well") ? 1 : 0));
    return all;
  }

  private Health health(Object[] row, List<String> recipients) {
    long pending = ((Number) row[2]).longValue();
    long refused = ((Number) row[3]).longValue();
    long bad = ((Number) row[8]).longValue();
    long good = ((Number) row[9]).longValue();
    DeliveryRow last = bad == 0 ? null : rows.find(DeliveryRow.class, bad);
    DeliveryRow well = good == 0 ? null : rows.find(DeliveryRow.class, good);
    boolean failing = ((Number) row[7]).longValue() > 0;
    String state = good > 0 ? "well" : "new";
    state = last != null && last.state.equals("refused") && bad > good ? "refusing" : state;
    state = failing ? "failing" : state;
    String error =
        state.equals("well") || last == null ? "" : failed((String) row[0], (String) row[1], last);
    return new Health(
        (String) row[0],
        (String) row[1],
        recipients,
        state,
        pending,
        refused,
        (Instant) row[4],
        (Instant) row[5],
        (Instant) row[6],
        well == null ? "" : well.answer,
        error);
  }

  /** What the one said that is tried: those behind it wait, and have not been tried themselves. */
  private String failed(String channel, String address, DeliveryRow last) {
    return rows
        .createQuery(
            "select d.lastError from DeliveryRow d where d.channel = :channel and d.address ="
                + " :address and d.state = 'pending' and d.tries > 0 order by d.id",
            String.class)
        .setParameter("channel", channel)
        .setParameter("address", address)
        .setMaxResults(1)
        .getResultList()
        .stream()
        .findFirst()
        .orElse(last.lastError);
  }

  /** Who is reached by each address, by channel and address. */
  private Map<String, List<String>> recipients(Instant since) {
    Map<String, List<String>> all = new HashMap<>();
    for (Object[] row :
        rows.createQuery(
                "select d.channel, d.address, d.recipient from DeliveryRow d where d.written >="
                    + " :since group by d.channel, d.address, d.recipient order by d.recipient",
                Object[].class)
            .setParameter("since", since)
            .getResultList()) {
      List<String> names = all.computeIfAbsent(row[0] + " " + row[1], any -> new ArrayList<>());
      if (names.size() < MOST_NAMED) {
        names.add((String) row[2]);
      }
    }
    return all;
  }
}

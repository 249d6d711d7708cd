package dev.purser.service.event;

import jakarta.persistence.EntityManager;
import java.util.List;
import java.util.Map;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** What has happened to files, and to commitments. */
final class HappeningLog implements EventLog {
  private final String topic;
  private final String what;
  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final JsonMapper json;

  private HappeningLog(
      String topic,
      String what,
      EntityManager rows,
      TransactionTemplate transactions,
      JsonMapper json) {
    this.topic = topic;
    this.what = what;
    this.rows = rows;
    this.transactions = transactions;
    this.json = json;
  }

  /** One for each topic. */
  @Configuration
  static class Both {
    @Bean
    EventLog fileLog(EntityManager rows, TransactionTemplate transactions, JsonMapper json) {
      return new HappeningLog("files", "file", rows, transactions, json);
    }

    @Bean
    EventLog commitmentLog(EntityManager rows, TransactionTemplate transactions, JsonMapper json) {
      return new HappeningLog("commitments", "commitment", rows, transactions, json);
    }
  }

  @Override
  public String topic() {
    return topic;
  }

  @Override
  public long newest() {
    Long last =
        transactions.execute(
            any ->
                rows.createQuery("select max(h.id) from HappeningRow h", Long.class)
                    .getSingleResult());
    return last == null ? 0 : last;
  }

  @Override
  public List<Event> between(long after, long to, int most) {
    return transactions.execute(
        any ->
            rows
                .createQuery(
                    "from HappeningRow h where h.topic = :topic and h.id > :after and h.id <= :to"
                        + " order by h.id",
                    HappeningRow.class)
                .setParameter("topic", topic)
                .setParameter("after", after)
                .setParameter("to", to)
                .setMaxResults(most)
                .getResultList()
                .stream()
                .map(this::event)
                .toList());
  }

  private Event event(HappeningRow row) {
    return new Event(
        topic,
        row.id,
        row.at,
        what + "." + row.kind.replace(' ', '-'),
        row.subject,
        row.stream,
        row.department,
        row.kind,
        json.readValue(row.data, new TypeReference<Map<String, Object>>() {}));
  }
}

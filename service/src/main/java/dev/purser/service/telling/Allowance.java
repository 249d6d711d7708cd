package dev.purser.service.telling;

import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.MessageLimits;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Level;
import dev.purser.core.definition.Recipient;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How much of what may be told has been told: by the site, by each way, to each recipient. */
@Component
@Transactional(readOnly = true)
public class Allowance {
  private final EntityManager rows;
  private final Clock clock;

  Allowance(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /**
   * One limit.
   *
   * @param of {@code the site}, {@code way NAME} or {@code recipient NAME}
   * @param within the time that it holds for
   * @param most messages; to a recipient, by each way
   * @param used messages within that time until now
   * @param waiting how many wait for room there
   */
  public record Limit(
      String of, Duration within, boolean urgent, int most, long used, long waiting) {}

  /** All limits there are, the site's first. */
  public List<Limit> all(Definitions definitions) {
    List<Limit> all = new ArrayList<>();
    definitions
        .document(Kind.ALERTS, Level.SITE)
        .map(document -> (AlertLevel) document.value())
        .ifPresent(
            site -> {
              add(all, "the site", site.atMost(), "", Map.of(), "more than the site tells at once");
              new TreeMap<>(site.byWay())
                  .forEach(
                      (way, limits) ->
                          add(
                              all,
                              "way " + way,
                              limits,
                              " and d.channel = :channel",
                              Map.of("channel", way),
                              "more than goes by " + way + " at once"));
            });
    for (String name : definitions.names(Kind.RECIPIENT)) {
      definitions.recipient(name).ifPresent(one -> add(all, one));
    }
    return all;
  }

  private void add(List<Limit> all, Recipient one) {
    add(
        all,
        "recipient " + one.name(),
        one.atMost(),
        " and d.recipient = :recipient",
        Map.of("recipient", one.name()),
        "");
  }

  private void add(
      List<Limit> all,
      String of,
      MessageLimits limits,
      String more,
      Map<String, String> values,
      String why) {
    for (boolean urgent : List.of(false, true)) {
      limits
          .windows(urgent)
          .forEach(
              (within, most) ->
                  all.add(
                      new Limit(
                          of,
                          within,
                          urgent,
                          most,
                          used(within, urgent, more, values),
                          waiting(why, urgent, values))));
    }
  }

  private long used(Duration within, boolean urgent, String more, Map<String, String> values) {
    boolean ofOne = values.containsKey("recipient");
    var query =
        rows.createQuery(
                "select count(d)"
                    + (ofOne ? ", d.channel, d.address" : ", '', ''")
                    + " from DeliveryRow d where d.written > :since and d.what <> 'test' and"
                    + " d.urgency "
                    + (urgent ? "=" : "<>")
                    + " 'urgent'"
                    + more
                    + (ofOne ? " group by d.channel, d.address" : ""),
                Object[].class)
            .setParameter("since", clock.instant().minus(within));
    values.forEach(query::setParameter);
    return query.getResultList().stream().mapToLong(row -> (Long) row[0]).max().orElse(0);
  }

  private long waiting(String why, boolean urgent, Map<String, String> values) {
    String name = values.getOrDefault("recipient", "");
    var query =
        rows.createQuery(
                "select count(n) from NoticeRow n where n.state = 'waits' and n.urgency "
                    + (urgent ? "=" : "<>")
                    + " 'urgent' and n.note = :why"
                    + (name.isEmpty() ? "" : " and n.name = :name"),
                Long.class)
            .setParameter("why", name.isEmpty() ? why : "more than it wants at once");
    if (!name.isEmpty()) {
      query.setParameter("name", name);
    }
    return query.getSingleResult();
  }
}

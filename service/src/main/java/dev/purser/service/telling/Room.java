package dev.purser.service.telling;

import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.MessageLimits;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Level;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Way;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.Map;
import java.util.Optional;
import org.hibernate.StatelessSession;

/** How much may be told: to a recipient, by a way, and of the whole site. */
final class Room {
  private final StatelessSession session;
  private final Instant now;
  private final AlertLevel site;

  Room(StatelessSession session, Definitions definitions, Instant now) {
    this.session = session;
    this.now = now;
    this.site =
        definitions
            .document(Kind.ALERTS, Level.SITE)
            .map(document -> (AlertLevel) document.value())
            .orElse(null);
  }

  /** When there is room, and why there is none until then. */
  record Later(Instant at, String why) {}

  /** When another message may go to somebody; empty where it may now. */
  Optional<Later> until(Addressees.Reached who, boolean urgent) {
    Optional<Later> later =
        who.recipient().flatMap(one -> until(one, urgent, "more than it wants at once"));
    if (site != null) {
      later =
          later(later, until(site.atMost(), urgent, "", "", "more than the site tells at once"));
      for (Map.Entry<String, MessageLimits> one : site.byWay().entrySet()) {
        if (who.ways().stream().anyMatch(way -> way.channel().equals(one.getKey()))) {
          String why = "more than goes by " + one.getKey() + " at once";
          later = later(later, until(one.getValue(), urgent, "channel", one.getKey(), why));
        }
      }
    }
    return later;
  }

  private static Optional<Later> later(Optional<Later> one, Optional<Later> other) {
    return one.isEmpty() || (other.isPresent() && other.get().at().isAfter(one.get().at()))
        ? other
        : one;
  }

  /** One message goes by each way: the way with the most counts. */
  private Optional<Later> until(Recipient who, boolean urgent, String why) {
    return who.ways().stream()
        .map(Way::channel)
        .distinct()
        .flatMap(channel -> until(who, channel, urgent, why).stream())
        .max(Comparator.comparing(Later::at));
  }

  private Optional<Later> until(Recipient who, String channel, boolean urgent, String why) {
    Optional<Later> later = Optional.empty();
    int addresses = who.addresses(channel).size();
    for (Map.Entry<Duration, Integer> window : who.atMost().windows(urgent).entrySet()) {
      String more = " and d.recipient = :recipient and d.channel = :channel";
      Map<String, Object> values = Map.of("recipient", who.name(), "channel", channel);
      later = later(later, nth(window, addresses, urgent, more, values, why));
    }
    return later;
  }

  private Optional<Later> until(
      MessageLimits limits, boolean urgent, String field, String value, String why) {
    Optional<Later> later = Optional.empty();
    String more = field.isEmpty() ? "" : " and d." + field + " = :" + field;
    Map<String, Object> values = field.isEmpty() ? Map.of() : Map.of(field, value);
    for (Map.Entry<Duration, Integer> window : limits.windows(urgent).entrySet()) {
      later = later(later, nth(window, 1, urgent, more, values, why));
    }
    return later;
  }

  /** There is room once the message has left the window that fills it now. */
  private Optional<Later> nth(
      Map.Entry<Duration, Integer> window,
      int each,
      boolean urgent,
      String more,
      Map<String, Object> values,
      String why) {
    var query =
        session
            .createSelectionQuery(
                "select d.written from DeliveryRow d where d.written > :since and d.what <> 'test'"
                    + " and d.urgency "
                    + (urgent ? "=" : "<>")
                    + " 'urgent'"
                    + more
                    + " order by d.written desc",
                Instant.class)
            .setParameter("since", now.minus(window.getKey()))
            .setFirstResult(window.getValue() * each - 1)
            .setMaxResults(1);
    values.forEach(query::setParameter);
    return query.getResultList().stream()
        .findFirst()
        .map(written -> new Later(written.plus(window.getKey()).plusMillis(1), why));
  }
}

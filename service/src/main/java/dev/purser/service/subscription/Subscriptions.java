package dev.purser.service.subscription;

import dev.purser.core.definition.Way;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.Fields;
import dev.purser.service.people.PersonRow;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Keeps subscriptions, and how far each has come. */
@Component
@Transactional
public class Subscriptions {
  private static final int MOST_OF_A_PERSON = 20;
  private static final int LONGEST_ADDRESS = 500;
  private static final String WEB = "https?://[^\\s/@]+(/\\S*)?";
  static final String ON = "on";
  static final String OVER = "over";

  private final EntityManager rows;
  private final Events events;
  private final JsonMapper json;
  private final Clock clock;

  Subscriptions(EntityManager rows, Events events, JsonMapper json, Clock clock) {
    this.rows = rows;
    this.events = events;
    this.json = json;
    this.clock = clock;
  }

  /** One, with how far it has come. */
  public record Whole(SubscriptionRow row, List<SubscriptionPlaceRow> places) {}

  /** All that are on, and the last of those that are over. */
  @Transactional(readOnly = true)
  public List<Whole> all() {
    return rows
        .createQuery(
            "from SubscriptionRow s order by case when s.state = 'on' then 0 else 1 end, s.id desc",
            SubscriptionRow.class)
        .setMaxResults(500)
        .getResultList()
        .stream()
        .map(row -> new Whole(row, places(row.id)))
        .toList();
  }

  private List<SubscriptionPlaceRow> places(long id) {
    return rows.createQuery(
            "from SubscriptionPlaceRow p where p.subscription = :id order by p.topic",
            SubscriptionPlaceRow.class)
        .setParameter("id", id)
        .getResultList();
  }

  /**
   * Begins one: it is told of all that happens from now on.
   *
   * @param to where it is told, with the options of a webhook
   * @throws NotUnderstood where a topic, the address or an option is not valid, or there are enough
   */
  public Whole add(String owner, List<String> topics, Events.Wanted wanted, Way to) {
    Set<String> all = new LinkedHashSet<>(topics);
    if (all.isEmpty()) {
      throw new NotUnderstood("name at least one topic: " + String.join(", ", events.topics()));
    }
    all.forEach(events::check);
    check(to);
    if (of(owner).size() >= MOST_OF_A_PERSON) {
      throw new NotUnderstood(
          owner + " has " + MOST_OF_A_PERSON + " subscriptions; end one of them first");
    }
    SubscriptionRow row = new SubscriptionRow();
    row.owner = owner;
    row.topics = String.join(",", all);
    row.department = wanted.department();
    row.stream = wanted.stream();
    row.kind = wanted.kind();
    row.address = to.address();
    row.options = json.writeValueAsString(to.options());
    row.made = clock.instant();
    row.state = ON;
    row.note = "";
    rows.persist(row);
    for (String topic : all) {
      SubscriptionPlaceRow place = new SubscriptionPlaceRow();
      place.subscription = row.id;
      place.topic = topic;
      place.number = events.settled(topic);
      place.nextTry = row.made;
      place.lastError = "";
      rows.persist(place);
    }
    rows.flush();
    return new Whole(row, places(row.id));
  }

  private static void check(Way to) {
    if (to.address().length() > LONGEST_ADDRESS || !to.address().matches(WEB)) {
      throw new NotUnderstood(
          "expected an http:// or https:// address with a host, without a user or password in it");
    }
    if (!List.of("", "structured", "binary").contains(to.option("mode"))) {
      throw new NotUnderstood(
          "unknown mode \"" + to.option("mode") + "\"; expected structured or binary");
    }
    if (!to.option("signed-by").isEmpty() && !Fields.isName(to.option("signed-by"))) {
      throw new NotUnderstood(
          "signed-by is the name of a secret's file, such as night-hook, not the secret itself");
    }
  }

  private List<SubscriptionRow> of(String owner) {
    return rows.createQuery(
            "from SubscriptionRow s where s.state = 'on' and s.owner = :owner",
            SubscriptionRow.class)
        .setParameter("owner", owner)
        .getResultList();
  }

  /** One by its id. */
  @Transactional(readOnly = true)
  public Optional<SubscriptionRow> byId(long id) {
    return Optional.ofNullable(rows.find(SubscriptionRow.class, id));
  }

  /** Ends one; false where there is none that is on. */
  public boolean end(long id, String why) {
    return rows.createQuery(
                "update SubscriptionRow s set s.state = 'over', s.note = :why where s.id = :id and"
                    + " s.state = 'on'")
            .setParameter("why", Shorten.text(why, 500))
            .setParameter("id", id)
            .executeUpdate()
        > 0;
  }

  // ---- for whoever carries

  /** Something that may be due: a topic of a subscription. */
  record Due(SubscriptionRow row, SubscriptionPlaceRow place) {}

  @Transactional(readOnly = true)
  List<Due> due(Instant now) {
    return rows
        .createQuery(
            "select s, p from SubscriptionRow s join SubscriptionPlaceRow p on p.subscription ="
                + " s.id where s.state = 'on' and p.nextTry <= :now order by p.nextTry, s.id",
            Object[].class)
        .setParameter("now", now)
        .setMaxResults(1_000)
        .getResultList()
        .stream()
        .map(row -> new Due((SubscriptionRow) row[0], (SubscriptionPlaceRow) row[1]))
        .toList();
  }

  Way way(SubscriptionRow row) {
    return new Way(
        "webhook",
        row.address,
        json.readValue(row.options, new TypeReference<Map<String, String>>() {}));
  }

  /** Goes on to a number; false where another service has gone on already. */
  boolean goOn(SubscriptionPlaceRow place, long to, boolean delivered) {
    Instant now = clock.instant();
    String also = delivered ? ", p.delivered = :now" : "";
    var change =
        rows.createQuery(
                "update SubscriptionPlaceRow p set p.number = :to, p.tries = 0, p.lastError = ''"
                    + also
                    + " where p.subscription = :id and p.topic = :topic and p.number = :number")
            .setParameter("to", to)
            .setParameter("id", place.subscription)
            .setParameter("topic", place.topic)
            .setParameter("number", place.number);
    if (delivered) {
      change.setParameter("now", now);
    }
    boolean mine = change.executeUpdate() == 1;
    place.number = to;
    place.tries = 0;
    return mine;
  }

  void failed(SubscriptionPlaceRow place, Instant next, String why) {
    rows.createQuery(
            "update SubscriptionPlaceRow p set p.tries = p.tries + 1, p.nextTry = :next,"
                + " p.lastError = :why where p.subscription = :id and p.topic = :topic")
        .setParameter("next", next)
        .setParameter("why", Shorten.text(why, 1_000))
        .setParameter("id", place.subscription)
        .setParameter("topic", place.topic)
        .executeUpdate();
  }

  /** Ends those whose owner has gone, or may not sign in any more. */
  int endOrphans() {
    int ended = 0;
    for (SubscriptionRow row :
        rows.createQuery("from SubscriptionRow s where s.state = 'on'", SubscriptionRow.class)
            .getResultList()) {
      PersonRow owner = rows.find(PersonRow.class, row.owner);
      if (owner == null || owner.locked) {
        ended +=
            end(
                    row.id,
                    "its owner " + row.owner + (owner == null ? " was removed" : " is locked out"))
                ? 1
                : 0;
      }
    }
    return ended;
  }
}

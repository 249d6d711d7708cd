package dev.purser.service.maintenance;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Drain;
import dev.purser.service.action.Refused;
import dev.purser.service.action.TakeBack;
import dev.purser.service.action.Wish;
import dev.purser.service.active.Active;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CompletionException;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Keeps what is planned, begins it when its time comes, and ends it. */
@Component
public class Maintenance {
  private static final Logger LOG = LoggerFactory.getLogger(Maintenance.class);
  private static final Duration LONGEST = Duration.ofDays(60);
  private static final Duration FURTHEST = Duration.ofDays(400);
  private static final Duration SHOWN_AFTER = Duration.ofDays(7);
  private static final int MOST = 1_000;
  private static final String WITH_PLAN = "drained already, with plan ";

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Engine engine;
  private final Active service;
  private final Actions actions;
  private final Live live;
  private final Clock clock;

  Maintenance(
      EntityManager rows,
      TransactionTemplate transactions,
      Engine engine,
      Active service,
      Actions actions,
      Live live,
      Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.engine = engine;
    this.service = service;
    this.actions = actions;
    this.live = live;
    this.clock = clock;
  }

  /** All that is planned or on, and what was over in the last seven days; the next one first. */
  public List<MaintenanceRow> all() {
    return transactions.execute(
        any ->
            rows.createQuery(
                    "from MaintenanceRow m where m.state <> 'over' or m.ends >= :since order by"
                        + " case when m.state = 'over' then 1 else 0 end, m.begins, m.id",
                    MaintenanceRow.class)
                .setParameter("since", clock.instant().minus(SHOWN_AFTER))
                .setMaxResults(MOST)
                .getResultList());
  }

  /**
   * Plans something; a group of hosts is one entry for each host that it has now.
   *
   * @param what {@code mute} or {@code drain}
   * @param scope {@code site}, {@code department}, {@code stream}, {@code host} or {@code group}
   * @param from null for now
   * @throws NotUnderstood where it names what is not there, or makes no sense
   */
  public List<MaintenanceRow> add(
      String what,
      String scope,
      String name,
      Instant from,
      Instant until,
      String reason,
      String who) {
    Instant now = clock.instant();
    Instant begins = from == null ? now : from;
    check(what, scope, name, begins, until, reason, now);
    List<MaintenanceRow> all = new ArrayList<>();
    for (String one : names(scope, name)) {
      MaintenanceRow row = new MaintenanceRow();
      row.what = what;
      row.scope = scope.equals("group") ? "host" : scope;
      row.name = one;
      row.begins = begins;
      row.ends = until;
      row.reason = reason;
      row.who = who;
      row.made = now;
      row.state = "planned";
      row.note = "";
      all.add(row);
    }
    transactions.executeWithoutResult(any -> all.forEach(rows::persist));
    look();
    return transactions.execute(
        any -> all.stream().map(row -> rows.find(MaintenanceRow.class, row.id)).toList());
  }

  /** The next drain that is planned for a host. */
  public Optional<MaintenanceRow> drainOf(String host) {
    return transactions.execute(
        any ->
            rows
                .createQuery(
                    "from MaintenanceRow m where m.state = 'planned' and m.what = 'drain' and"
                        + " m.name = :host order by m.begins",
                    MaintenanceRow.class)
                .setParameter("host", host)
                .setMaxResults(1)
                .getResultList()
                .stream()
                .findFirst());
  }

  private void check(
      String what,
      String scope,
      String name,
      Instant begins,
      Instant until,
      String reason,
      Instant now) {
    if (!List.of(MaintenanceRow.MUTE, MaintenanceRow.DRAIN).contains(what)) {
      throw new NotUnderstood("unknown \"" + what + "\"; there is mute and drain");
    }
    if (reason.isBlank()) {
      throw new NotUnderstood("a reason is missing: whoever misses something reads it");
    }
    if (until == null || !until.isAfter(begins) || !until.isAfter(now)) {
      throw new NotUnderstood("it must end after it begins, and in the future");
    }
    if (until.isAfter(begins.plus(LONGEST)) || begins.isAfter(now.plus(FURTHEST))) {
      throw new NotUnderstood(
          "it lasts "
              + LONGEST.toDays()
              + " days at the most, and begins within "
              + FURTHEST.toDays()
              + " days");
    }
    if (what.equals(MaintenanceRow.DRAIN) && !List.of("host", "group").contains(scope)) {
      throw new NotUnderstood("only a host or a group can be drained");
    }
    Set<String> known = known(scope);
    if (!scope.equals("site") && !known.contains(name)) {
      throw new NotUnderstood(
          "there is no " + scope + " \"" + name + "\"" + Nearest.hint(name, known));
    }
  }

  private Set<String> known(String scope) {
    Definitions definitions = engine.definitions();
    Set<String> names = new TreeSet<>();
    switch (scope) {
      case "site" -> {}
      case "department" -> {
        definitions.streams().forEach(stream -> names.add(stream.department()));
        definitions.commitments().forEach(one -> names.add(one.department()));
        names.remove("");
      }
      case "stream" -> definitions.streams().forEach(stream -> names.add(stream.path()));
      case "host" -> definitions.hosts().forEach(host -> names.add(host.name()));
      case "group" -> definitions.hostGroups().forEach(group -> names.add(group.name()));
      default ->
          throw new NotUnderstood(
              "unknown scope \"" + scope + "\"; there is site, department, stream, host, group");
    }
    return names;
  }

  private List<String> names(String scope, String name) {
    if (!scope.equals("group")) {
      return List.of(scope.equals("site") ? "" : name);
    }
    Definitions definitions = engine.definitions();
    HostGroup group =
        definitions.hostGroups().stream()
            .filter(one -> one.name().equals(name))
            .findFirst()
            .orElseThrow();
    List<String> hosts =
        definitions.hosts().stream()
            .filter(host -> group.contains(host.name(), host.labels()))
            .map(host -> host.name())
            .toList();
    if (hosts.isEmpty()) {
      throw new NotUnderstood("group \"" + name + "\" has no host now");
    }
    return hosts;
  }

  /** Ends one before its time, or takes it off the plan; empty where there is none that goes on. */
  public Optional<MaintenanceRow> end(long id, String who) {
    Optional<MaintenanceRow> found =
        transactions.execute(
            any ->
                Optional.ofNullable(rows.find(MaintenanceRow.class, id))
                    .filter(row -> !row.state.equals("over")));
    found.ifPresent(row -> finish(row, "ended by " + who));
    return found;
  }

  /** Begins what is due, and ends what is over. */
  @Scheduled(fixedDelay = 5_000, initialDelay = 5_000)
  public void look() {
    if (!service.isActive()) {
      return;
    }
    Instant now = clock.instant();
    List<MaintenanceRow> due =
        transactions.execute(
            any ->
                rows.createQuery(
                        "from MaintenanceRow m where (m.state = 'planned' and m.begins <= :now) or"
                            + " (m.state = 'on' and m.ends <= :now) order by m.id",
                        MaintenanceRow.class)
                    .setParameter("now", now)
                    .setMaxResults(MOST)
                    .getResultList());
    for (MaintenanceRow row : due) {
      try {
        if (!now.isBefore(row.ends)) {
          finish(row, "its time is over");
        } else {
          begin(row);
        }
      } catch (RuntimeException e) {
        LOG.warn("cannot look after the maintenance of {}: {}", row.about(), e.toString());
      }
    }
  }

  private static AuditTrail.Actor actor(MaintenanceRow row) {
    return new AuditTrail.Actor(row.who, "planned");
  }

  private void begin(MaintenanceRow row) {
    String note = "";
    if (row.what.equals(MaintenanceRow.DRAIN)) {
      note =
          refusal(new Drain(row.name), row, row.reason)
              .map(
                  why ->
                      others(row)
                          .filter(Maintenance::isItsDrain)
                          .findFirst()
                          .map(other -> WITH_PLAN + other.id)
                          .orElse("not drained by this: " + why))
              .orElse("");
    }
    set(row, "on", note);
  }

  private void finish(MaintenanceRow row, String why) {
    boolean drained =
        row.what.equals(MaintenanceRow.DRAIN) && row.state.equals("on") && isItsDrain(row);
    if (drained && others(row).findAny().isEmpty()) {
      refusal(new TakeBack(row.name), row, "planned: " + why)
          .ifPresent(
              no -> LOG.info("{} was returned before its maintenance was over", row.about()));
    }
    set(row, "over", why);
  }

  /** Whether the host is drained for its sake, or for another plan's. */
  private static boolean isItsDrain(MaintenanceRow row) {
    return row.note.isEmpty() || row.note.startsWith(WITH_PLAN);
  }

  /** The other plans that drain the same host now. */
  private Stream<MaintenanceRow> others(MaintenanceRow row) {
    return all().stream()
        .filter(
            one ->
                one.what.equals(MaintenanceRow.DRAIN)
                    && one.name.equals(row.name)
                    && !one.id.equals(row.id)
                    && one.state.equals("on")
                    && one.ends.isAfter(clock.instant()));
  }

  /** Does something in the name of whoever has planned it; why it was refused, where it was. */
  private Optional<String> refusal(Wish wish, MaintenanceRow row, String reason) {
    try {
      actions.act(wish, actor(row), reason);
      live.hostsChanged();
      return Optional.empty();
    } catch (Refused e) {
      return Optional.of(e.getMessage());
    } catch (CompletionException e) {
      if (e.getCause() instanceof Refused refused) {
        return Optional.of(refused.getMessage());
      }
      throw e;
    }
  }

  /** What is muted until then is told when it is over: it is due at once where that is early. */
  private void set(MaintenanceRow row, String state, String note) {
    transactions.executeWithoutResult(
        any -> {
          MaintenanceRow own = rows.find(MaintenanceRow.class, row.id);
          own.state = state;
          own.note = Shorten.text(note, 500);
          if (state.equals("over") && own.what.equals(MaintenanceRow.MUTE)) {
            rows.createQuery(
                    "update NoticeRow n set n.due = :now where n.state = 'waits' and n.note like"
                        + " :mark and n.due > :now")
                .setParameter("now", clock.instant())
                .setParameter("mark", "muted (" + own.id + ")%")
                .executeUpdate();
          }
        });
    row.state = state;
    live.alertsChanged();
  }
}

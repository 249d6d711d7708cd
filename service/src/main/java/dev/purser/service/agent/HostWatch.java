package dev.purser.service.agent;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Placement;
import dev.purser.service.SiteClock;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.board.Began;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/**
 * Opens an alert when a host's agent has been away for a minute, and closes it when it is back. A
 * drained host raises none: it may be down for repair. One that is there and short of disk or
 * memory, or whose clock is off, is told of once that has lasted for five minutes.
 */
@Component
class HostWatch implements SiteWatch {
  private static final Duration AWAY_FOR = Duration.ofMinutes(1);
  private static final Duration LASTS = Duration.ofMinutes(5);
  private static final String ABOUT = "host ";

  private final Engine engine;
  private final AgentLink link;
  private final HostRecords records;
  private final Began began;
  private final SiteClock siteClock;
  private final Clock clock;
  private final Map<String, Instant> since = new HashMap<>();

  HostWatch(
      Engine engine,
      AgentLink link,
      HostRecords records,
      Began began,
      SiteClock siteClock,
      Clock clock) {
    this.engine = engine;
    this.link = link;
    this.records = records;
    this.began = began;
    this.siteClock = siteClock;
    this.clock = clock;
  }

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.HOST);
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    return began.isWithin(AWAY_FOR) ? Optional.empty() : Optional.of(all()); // what is open stays
  }

  private List<SiteTrouble> all() {
    List<SiteTrouble> all = new ArrayList<>();
    away().forEach((host, row) -> all.add(trouble(host, row)));
    all.addAll(signs());
    return all;
  }

  /** What is wrong with hosts that are there, once it has lasted for a while. */
  private List<SiteTrouble> signs() {
    Instant now = clock.instant();
    Map<String, SiteTrouble> all = new TreeMap<>();
    for (HostRow row : records.all()) {
      link.presence(row.name)
          .ifPresent(
              one ->
                  HostSigns.wrong(one.machine(), one.ahead())
                      .forEach(
                          (what, text) ->
                              all.put(
                                  ABOUT + row.name + " " + what,
                                  trouble(row.name, " " + what, text))));
    }
    since.keySet().retainAll(all.keySet());
    all.keySet().forEach(key -> since.putIfAbsent(key, now));
    return all.entrySet().stream()
        .filter(e -> !since.get(e.getKey()).plus(LASTS).isAfter(now))
        .map(Map.Entry::getValue)
        .toList();
  }

  @Override
  public boolean looksAfter(String reference) {
    return reference.startsWith(ABOUT);
  }

  @Override
  public String because(String reference) {
    String host = reference.substring(ABOUT.length());
    if (host.indexOf(' ') > 0) {
      return "it is as it should be again, or the host is away";
    }
    return link.presence(host).isPresent()
        ? "the host is back"
        : engine.look(board -> board.drainedHosts().getOrDefault(host, "it is not enrolled now"));
  }

  /** Hosts that were there once, should be, and have not been for a while, by name. */
  private Map<String, HostRow> away() {
    Instant now = clock.instant();
    Map<String, HostRow> away = new TreeMap<>();
    Set<String> drained = engine.look(board -> Set.copyOf(board.drainedHosts().keySet()));
    for (HostRow row : records.all()) {
      boolean there = link.presence(row.name).isPresent() || drained.contains(row.name);
      boolean known = row.lastSeen != null;
      if (!there && known && since(row).plus(AWAY_FOR).isBefore(now)) {
        away.put(row.name, row);
      }
    }
    return away;
  }

  /** Nobody can be missed before this service was there to see it. */
  private Instant since(HostRow row) {
    return row.lastSeen.isAfter(began.at()) ? row.lastSeen : began.at();
  }

  private SiteTrouble trouble(String host, HostRow row) {
    long running =
        engine.look(
            board ->
                board.runs().stream()
                    .flatMap(run -> board.status(run.id()).stream())
                    .filter(one -> one.state().isActive() && one.where().isOn(host))
                    .count());
    return trouble(
        host,
        "",
        "its agent was last heard at "
            + siteClock.at(row.lastSeen)
            + (running == 0
                ? "; nothing was running on it"
                : "; " + running + (running == 1 ? " run was" : " runs were") + " on it")
            + ". Is the host up, the agent started, and the network open from there to here?");
  }

  private SiteTrouble trouble(String host, String what, String text) {
    Definitions definitions = engine.definitions();
    String title =
        definitions.hosts().stream()
            .filter(one -> one.name().equals(host))
            .findFirst()
            .map(HostDefinition::title)
            .orElse(host);
    return new SiteTrouble(
            AlertKind.HOST,
            ABOUT + host + what,
            AlertSubject.HOST,
            title,
            text,
            placedOn(host, definitions))
        .by(SiteTrouble.Of.host(host));
  }

  /** Streams with work for a host: their people want to know. */
  private static List<Stream> placedOn(String host, Definitions definitions) {
    Set<String> groups =
        definitions.hostGroups().stream()
            .filter(group -> group.contains(host, labels(host, definitions)))
            .map(group -> group.name())
            .collect(Collectors.toSet());
    return definitions.streams().stream()
        .filter(stream -> stream.jobs().stream().anyMatch(job -> isPlaced(job, host, groups)))
        .toList();
  }

  private static Set<String> labels(String host, Definitions definitions) {
    Set<String> all = new TreeSet<>();
    definitions.hosts().stream()
        .filter(one -> one.name().equals(host))
        .forEach(one -> all.addAll(one.labels()));
    return all;
  }

  private static boolean isPlaced(Job job, String host, Set<String> groups) {
    boolean named = job.placement() instanceof Placement.OnHost on && on.host().equals(host);
    return named || job.placement().ofGroup().filter(groups::contains).isPresent();
  }
}

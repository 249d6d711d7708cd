package dev.purser.core.board;

import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Placement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * The hosts: which are there, how much is on them, who waits for room on one. Runs that find no
 * host stand in a line of their placement, first to last, and nobody of the same placement
 * overtakes them.
 */
final class Hosts {
  private final TreeMap<String, Set<String>> labels = new TreeMap<>();
  private final Map<String, HostDefinition> defined = new HashMap<>();
  private final Map<String, HostGroup> groups = new HashMap<>();
  private final Set<String> up = new HashSet<>();
  private final Map<String, Integer> load = new HashMap<>();
  private final TreeMap<String, String> drained = new TreeMap<>();
  private final TreeMap<String, Long> lostAt = new TreeMap<>();
  private final Map<Placement, TreeSet<Site.Place>> lines = new HashMap<>();

  /** By group, as long as no label and no group changes. */
  private final Map<String, List<String>> members = new HashMap<>();

  Hosts() {}

  Hosts(Hosts other) {
    labels.putAll(other.labels);
    defined.putAll(other.defined);
    groups.putAll(other.groups);
    up.addAll(other.up);
    load.putAll(other.load);
    drained.putAll(other.drained);
    lostAt.putAll(other.lostAt);
    other.lines.forEach((placement, line) -> lines.put(placement, new TreeSet<>(line)));
  }

  void define(List<HostDefinition> hosts, List<HostGroup> all) {
    defined.clear();
    hosts.forEach(host -> defined.put(host.name(), host));
    hosts.forEach(host -> labels.merge(host.name(), host.labels(), Hosts::union));
    groups.clear();
    all.forEach(group -> groups.put(group.name(), group));
    members.clear();
  }

  private static Set<String> union(Set<String> a, Set<String> b) {
    Set<String> both = new HashSet<>(a);
    both.addAll(b);
    return both;
  }

  // ---- coming and going

  void seen(String host, Set<String> more) {
    up.add(host);
    lostAt.remove(host);
    HostDefinition known = defined.get(host);
    Set<String> now = union(known == null ? Set.of() : known.labels(), more);
    if (!now.equals(labels.put(host, now))) {
      members.clear();
    }
  }

  /** Returns when the host will have been away for so long that its work may go elsewhere. */
  long lost(String host, long now) {
    up.remove(host);
    lostAt.putIfAbsent(host, now);
    return givenUpAt(host);
  }

  private long givenUpAt(String host) {
    HostDefinition known = defined.get(host);
    return lostAt.get(host)
        + (known == null ? HostDefinition.USUAL_LOST_AFTER : known.lostAfter()).toMillis();
  }

  /** Hosts that have been away for so long that their work may go elsewhere. */
  List<String> givenUp(long now) {
    return lostAt.keySet().stream().filter(host -> givenUpAt(host) <= now).toList();
  }

  /** Since when a host is away; 0 where it is not, or that is not known. */
  long lostAt(String host) {
    return lostAt.getOrDefault(host, 0L);
  }

  boolean isUp(String host) {
    return up.contains(host);
  }

  void drain(String host, String note) {
    drained.put(host, note);
  }

  void takeBack(String host) {
    drained.remove(host);
  }

  /** By whom and why each drained host is. */
  Map<String, String> drained() {
    return drained;
  }

  // ---- room

  /** The hosts on which work may be placed, connected or not, by name. */
  List<String> candidates(Placement placement) {
    if (placement instanceof Placement.OnHost on) {
      return List.of(on.host());
    }
    String name = placement.ofGroup().orElse("");
    return members.computeIfAbsent(name, this::membersOf);
  }

  private List<String> membersOf(String name) {
    HostGroup group = groups.get(name);
    List<String> members = new ArrayList<>();
    if (group != null) {
      labels.forEach(
          (host, has) -> {
            if (group.contains(host, has)) {
              members.add(host);
            }
          });
    }
    return members;
  }

  /**
   * The connected host with the least attempts on it that has room; the first by name among equals.
   * What runs on no host is placed on the host without a name.
   *
   * @param not hosts that do not count
   */
  Optional<String> choose(Placement placement, Collection<String> not) {
    if (placement instanceof Placement.Nowhere) {
      return Optional.of("");
    }
    String best = null;
    for (String host : candidates(placement)) {
      boolean better = best == null || load(host) < load(best);
      if (better && isOpen(host) && !not.contains(host)) {
        best = host;
        if (load(host) == 0) {
          break; // none has less
        }
      }
    }
    return Optional.ofNullable(best);
  }

  private boolean isOpen(String host) {
    return up.contains(host) && !drained.containsKey(host) && !isFull(host);
  }

  int load(String host) {
    return load.getOrDefault(host, 0);
  }

  /** How many attempts may be on a host at once; 0 for no limit. */
  int atMost(String host) {
    HostDefinition known = defined.get(host);
    return known == null ? 0 : known.atMost();
  }

  boolean isFull(String host) {
    return atMost(host) > 0 && load(host) >= atMost(host);
  }

  void take(String host) {
    load.merge(host, 1, Integer::sum);
  }

  /** Returns whether there is room now where there was none before. */
  boolean giveBack(String host) {
    boolean wasFull = isFull(host);
    load.merge(host, -1, Integer::sum);
    return wasFull && !isFull(host);
  }

  // ---- lines

  void queue(Placement placement, Site.Place place) {
    lines.computeIfAbsent(placement, any -> new TreeSet<>()).add(place);
  }

  /** Whether somebody else of the same placement comes first. */
  boolean comesAfter(Placement placement, Site.Place place) {
    TreeSet<Site.Place> line = lines.get(placement);
    boolean other = line != null && !line.isEmpty() && line.first().compareTo(place) < 0;
    return other && !(placement instanceof Placement.Another); // those wait for each other, too
  }

  /** Returns whether it stood there. */
  boolean leave(Placement placement, Site.Place place) {
    TreeSet<Site.Place> line = lines.get(placement);
    return line != null && line.remove(place);
  }

  boolean anyoneWaits() {
    return lines.values().stream().anyMatch(line -> !line.isEmpty());
  }

  /**
   * Who comes first of all for whose placement there is room; -1 for nobody.
   *
   * @param not runs that do not count
   */
  int firstWithRoom(Set<Integer> not) {
    Site.Place first = null;
    for (Map.Entry<Placement, TreeSet<Site.Place>> one : lines.entrySet()) {
      Site.Place candidate = null;
      for (Site.Place place : one.getValue()) {
        if (!not.contains(place.run())) {
          candidate = place;
          break;
        }
      }
      boolean sooner = candidate != null && (first == null || candidate.compareTo(first) < 0);
      if (sooner && choose(one.getKey(), Set.of()).isPresent()) {
        first = candidate;
      }
    }
    return first == null ? -1 : first.run();
  }

  /** When the work of each host that is away may go elsewhere. */
  List<Long> alarms() {
    return lostAt.keySet().stream().map(this::givenUpAt).toList();
  }

  /** All who stand in the line of a placement, first to last. */
  Set<Site.Place> line(Placement placement) {
    return lines.getOrDefault(placement, new TreeSet<>());
  }

  /** Forgets all runs: their indexes are about to change. */
  void forgetRuns() {
    load.clear();
    lines.clear();
  }
}

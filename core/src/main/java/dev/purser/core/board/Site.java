package dev.purser.core.board;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Placement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** The hosts and capacities that runs share, and how much of each is in use. */
final class Site {
  private final TreeMap<String, Set<String>> labels = new TreeMap<>();
  private final Map<String, Set<String>> defined = new HashMap<>();
  private final Set<String> up = new HashSet<>();
  private final Map<String, Integer> load = new HashMap<>();
  private final Map<String, HostGroup> groups = new HashMap<>();
  private final Map<String, Integer> units = new HashMap<>();
  private final Map<String, Integer> taken = new HashMap<>();

  Site() {}

  Site(Site other) {
    labels.putAll(other.labels);
    defined.putAll(other.defined);
    up.addAll(other.up);
    load.putAll(other.load);
    groups.putAll(other.groups);
    units.putAll(other.units);
    taken.putAll(other.taken);
  }

  void define(List<HostDefinition> hosts, List<HostGroup> all, List<Capacity> capacities) {
    defined.clear();
    hosts.forEach(host -> defined.put(host.name(), host.labels()));
    hosts.forEach(host -> labels.merge(host.name(), host.labels(), Site::union));
    groups.clear();
    all.forEach(group -> groups.put(group.name(), group));
    units.clear();
    capacities.forEach(capacity -> units.put(capacity.name(), capacity.units()));
  }

  private static Set<String> union(Set<String> a, Set<String> b) {
    Set<String> both = new HashSet<>(a);
    both.addAll(b);
    return both;
  }

  void seen(String host, Set<String> more) {
    up.add(host);
    labels.put(host, union(defined.getOrDefault(host, Set.of()), more));
  }

  void lost(String host) {
    up.remove(host);
  }

  boolean isUp(String host) {
    return up.contains(host);
  }

  /** The hosts on which work may be placed, connected or not, by name. */
  List<String> candidates(Placement placement) {
    if (placement instanceof Placement.OnHost on) {
      return List.of(on.host());
    }
    List<String> members = new ArrayList<>();
    if (placement instanceof Placement.AnyOf any && groups.containsKey(any.group())) {
      HostGroup group = groups.get(any.group());
      labels.forEach(
          (host, has) -> {
            if (group.contains(host, has)) {
              members.add(host);
            }
          });
    }
    return members;
  }

  /** The connected host with the least attempts on it; the first by name among equals. */
  Optional<String> choose(Placement placement) {
    String best = null;
    for (String host : candidates(placement)) {
      boolean better = best == null || load.getOrDefault(host, 0) < load.getOrDefault(best, 0);
      if (up.contains(host) && better) {
        best = host;
      }
    }
    return Optional.ofNullable(best);
  }

  /** The first capacity of which too few units are free; empty where there are enough. */
  Optional<String> lacking(Map<String, Integer> takes) {
    return takes.entrySet().stream()
        .filter(take -> free(take.getKey()) < take.getValue())
        .map(Map.Entry::getKey)
        .sorted()
        .findFirst();
  }

  int free(String capacity) {
    return units.getOrDefault(capacity, 0) - taken.getOrDefault(capacity, 0);
  }

  int units(String capacity) {
    return units.getOrDefault(capacity, 0);
  }

  void take(String host, Map<String, Integer> takes) {
    load.merge(host, 1, Integer::sum);
    takes.forEach((name, n) -> taken.merge(name, n, Integer::sum));
  }

  void giveBack(String host, Map<String, Integer> takes) {
    load.merge(host, -1, Integer::sum);
    takes.forEach((name, n) -> taken.merge(name, -n, Integer::sum));
  }
}

package dev.purser.core.definition;

import java.util.Collection;
import java.util.List;
import java.util.Set;

/**
 * Hosts picked by label, or by name.
 *
 * @param labels all of which a host must have; empty where hosts are listed
 * @param hosts listed by name
 */
public record HostGroup(String name, String title, Set<String> labels, Set<String> hosts) {
  /** Copies the sets. */
  public HostGroup {
    labels = Set.copyOf(labels);
    hosts = Set.copyOf(hosts);
  }

  /** Whether a host belongs to the group: by its name, or since it has all labels of the group. */
  public boolean contains(String host, Collection<String> hostLabels) {
    return hosts.contains(host) || (!labels.isEmpty() && hostLabels.containsAll(labels));
  }

  /** Names of the hosts that belong to the group, in order. */
  public List<String> members(Collection<HostDefinition> all) {
    return all.stream()
        .filter(host -> contains(host.name(), host.labels()))
        .map(HostDefinition::name)
        .sorted()
        .toList();
  }
}

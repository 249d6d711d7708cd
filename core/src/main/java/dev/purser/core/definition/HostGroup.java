package dev.purser.core.definition;

import dev.purser.core.alert.AlertRule;
import java.util.Collection;
import java.util.List;
import java.util.Set;

/**
 * Hosts picked by label, or by name.
 *
 * @param labels all of which a host must have; empty where hosts are listed
 * @param hosts listed by name
 * @param alerts rules of alerts about its hosts, nearer than the site's
 */
public record HostGroup(
    String name, String title, Set<String> labels, Set<String> hosts, List<AlertRule> alerts) {
  /** Copies sets and list. */
  public HostGroup {
    labels = Set.copyOf(labels);
    hosts = Set.copyOf(hosts);
    alerts = List.copyOf(alerts);
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

package dev.purser.core.definition;

import java.util.Map;
import java.util.TreeMap;

/**
 * One way to reach a recipient.
 *
 * @param channel which room carries it, such as {@code mail}
 * @param address where it goes, as that channel writes addresses; at most 500 characters
 * @param options what else the channel needs, by name; never a secret, at most the name of one
 */
public record Way(String channel, String address, Map<String, String> options) {
  /** Copies the map, in order of its names: two that say the same are the same. */
  public Way {
    options = java.util.Collections.unmodifiableMap(new TreeMap<>(options));
  }

  /** An option; empty where nothing is said. */
  public String option(String name) {
    return options.getOrDefault(name, "");
  }
}

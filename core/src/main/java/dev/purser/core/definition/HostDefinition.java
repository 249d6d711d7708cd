package dev.purser.core.definition;

import java.util.Set;

/** A machine on which an agent runs. */
public record HostDefinition(String name, String title, Set<String> labels) {
  /** Copies the labels. */
  public HostDefinition {
    labels = Set.copyOf(labels);
  }
}

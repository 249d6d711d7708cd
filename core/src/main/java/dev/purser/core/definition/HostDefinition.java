package dev.purser.core.definition;

import java.time.Duration;
import java.util.Set;

/**
 * A machine on which an agent runs.
 *
 * @param atMost attempts on it at once; 0 for no limit
 * @param lostAfter how long it is away before work that may be repeated goes elsewhere
 */
public record HostDefinition(
    String name, String title, Set<String> labels, int atMost, Duration lostAfter) {
  /** How long a host is away before it counts as lost, where its definition says nothing. */
  public static final Duration USUAL_LOST_AFTER = Duration.ofMinutes(5);

  /** Copies the labels. */
  public HostDefinition {
    labels = Set.copyOf(labels);
  }

  /** A host of which nothing special is said. */
  public HostDefinition(String name, String title, Set<String> labels) {
    this(name, title, labels, 0, USUAL_LOST_AFTER);
  }
}

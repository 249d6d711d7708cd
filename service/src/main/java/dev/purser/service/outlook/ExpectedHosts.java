package dev.purser.service.outlook;

import java.util.Set;

/**
 * Knows of hosts that are not connected and likely to be so at once: their agents are looking for a
 * service that has just begun, or were there a moment ago. What is foretold counts on them, for
 * nobody must act.
 */
public interface ExpectedHosts {

  /** Their names just now; any number, and some may be there already. */
  Set<String> expected();
}

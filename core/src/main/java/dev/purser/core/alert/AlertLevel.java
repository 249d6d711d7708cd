package dev.purser.core.alert;

import java.util.List;

/**
 * Rules of alerts that hold for more than one stream.
 *
 * @param of for what: {@code site} or {@code department NAME}
 */
public record AlertLevel(String of, String title, List<AlertRule> rules) {
  /** Copies the list. */
  public AlertLevel {
    rules = List.copyOf(rules);
  }
}

package dev.purser.core.alert;

import java.util.List;
import java.util.Map;

/**
 * Rules of alerts that hold for more than one stream.
 *
 * @param of for what: {@code site} or {@code department NAME}
 * @param atMost how many messages the whole site sends; only of the site
 * @param byWay how many go by each way at most, by its name; only of the site
 */
public record AlertLevel(
    String of,
    String title,
    List<AlertRule> rules,
    MessageLimits atMost,
    Map<String, MessageLimits> byWay) {
  /** Copies list and map. */
  public AlertLevel {
    rules = List.copyOf(rules);
    byWay = Map.copyOf(byWay);
  }
}

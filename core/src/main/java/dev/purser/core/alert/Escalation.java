package dev.purser.core.alert;

import java.time.Duration;
import java.util.List;

/**
 * Who is told besides where nobody has taken an alert on.
 *
 * @param after how long after it was opened
 * @param tell names of recipients and duties
 */
public record Escalation(Duration after, List<String> tell) {
  /** How many steps there may be. */
  public static final int MOST = 5;

  /** Copies the list. */
  public Escalation {
    tell = List.copyOf(tell);
  }
}

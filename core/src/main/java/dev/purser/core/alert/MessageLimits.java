package dev.purser.core.alert;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * How many messages at most; 0 for any number. What is urgent counts by itself.
 *
 * @param hour in an hour, of those that are not urgent
 * @param day in 24 hours
 * @param week in seven days
 * @param urgentHour urgent ones in an hour
 */
public record MessageLimits(int hour, int day, int week, int urgentHour) {
  /** As many as there are. */
  public static final MessageLimits NONE = new MessageLimits(0, 0, 0, 0);

  /** How many there may be within which time; only what is limited, the shortest time first. */
  public Map<Duration, Integer> windows(boolean urgent) {
    Map<Duration, Integer> all = new LinkedHashMap<>();
    all.put(Duration.ofHours(1), urgent ? urgentHour : hour);
    if (!urgent) {
      all.put(Duration.ofDays(1), day);
      all.put(Duration.ofDays(7), week);
    }
    all.values().removeIf(most -> most == 0);
    return all;
  }

  /** In words, such as {@code 10 an hour, 3 urgent an hour}; empty for none. */
  public String inWords() {
    Map<String, Integer> parts = new LinkedHashMap<>();
    parts.put("an hour", hour);
    parts.put("a day", day);
    parts.put("a week", week);
    parts.put("urgent an hour", urgentHour);
    parts.values().removeIf(most -> most == 0);
    return String.join(
        ", ", parts.entrySet().stream().map(e -> e.getValue() + " " + e.getKey()).toList());
  }
}

package dev.purser.core.definition;

import java.util.Map;

/**
 * Values for placeholders that hold for more than one stream.
 *
 * @param of for what: {@code site}, {@code environment NAME} or {@code department NAME}
 */
public record Level(String of, String title, Map<String, String> values) {
  /** The one for everything. */
  public static final String SITE = "site";

  /** Copies the map. */
  public Level {
    values = Map.copyOf(values);
  }

  /** That of an environment. */
  public static String environment(String name) {
    return "environment " + name;
  }

  /** That of a department. */
  public static String department(String name) {
    return "department " + name;
  }
}

package dev.purser.core.definition;

import dev.purser.core.parameter.Given;

/**
 * Values for placeholders that hold for more than one stream.
 *
 * @param of for what: {@code site}, {@code environment NAME} or {@code department NAME}
 */
public record Level(String of, String title, Given values) {
  /** The one for everything. */
  public static final String SITE = "site";

  /** That of an environment. */
  public static String environment(String name) {
    return "environment " + name;
  }

  /** That of a department. */
  public static String department(String name) {
    return "department " + name;
  }
}

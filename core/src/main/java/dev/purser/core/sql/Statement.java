package dev.purser.core.sql;

import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * One statement.
 *
 * @param text with a question mark for each value
 * @param values what stands in the braces of each, in order
 * @param line of the text at which it begins, from 1
 */
public record Statement(String text, List<String> values, int line) {
  private static final Set<String> READS = Set.of("select", "show", "explain", "values", "table");

  /** Copies the list. */
  public Statement {
    values = List.copyOf(values);
  }

  /** Whether by its first word it only reads; the database is told so, and holds it to that. */
  public boolean isRead() {
    String first = text.strip().split("[\\s(;]", 2)[0].toLowerCase(Locale.ROOT);
    return READS.contains(first);
  }
}

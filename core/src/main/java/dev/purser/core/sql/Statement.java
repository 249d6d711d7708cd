package dev.purser.core.sql;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

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

  /** In the braces, before the name of a value that a procedure gives out. */
  private static final String OUT = "out ";

  private static final Pattern OUTS = Pattern.compile("\\$\\{out [^}\\n]{0,200}}");

  /** A text without what procedures give out, which is no placeholder. */
  public static String withoutOuts(String text) {
    return OUTS.matcher(text).replaceAll("");
  }

  /** The name of a value that is given out; empty for one that is put in. */
  public static Optional<String> out(String value) {
    return value.startsWith(OUT)
        ? Optional.of(value.substring(OUT.length()).strip())
        : Optional.empty();
  }

  /** What is put in, without what is given out. */
  public List<String> putIn() {
    return values.stream().filter(value -> out(value).isEmpty()).toList();
  }

  /** Whether it gives values out. */
  public boolean givesOut() {
    return putIn().size() < values.size();
  }

  /** Whether by its first word it only reads; the database is told so, and holds it to that. */
  public boolean isRead() {
    String first = text.strip().split("[\\s(;]", 2)[0].toLowerCase(Locale.ROOT);
    return READS.contains(first);
  }
}

package dev.purser.core.parameter;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Values for placeholders as an author wrote them at one level.
 *
 * @param texts by name; they may hold placeholders themselves
 * @param shell the names whose values are a piece of the command line, which the shell splits and
 *     reads; every other value is one word, whatever it holds
 */
public record Given(Map<String, String> texts, Set<String> shell) {
  /** No values. */
  public static final Given NONE = new Given(Map.of(), Set.of());

  /** Copies both. */
  public Given {
    texts = Map.copyOf(texts);
    shell = Set.copyOf(shell);
  }

  /** Values of which each is one word. */
  public static Given words(Map<String, String> texts) {
    return new Given(texts, Set.of());
  }

  /** The names that have a value. */
  public Set<String> names() {
    return texts.keySet();
  }

  /** Whether it gives a value to a name. */
  public boolean has(String name) {
    return texts.containsKey(name);
  }

  /** The value of a name. */
  public Optional<String> of(String name) {
    return Optional.ofNullable(texts.get(name));
  }

  /** These with another, for collecting them. */
  public Given and(String name, String text, boolean isShell) {
    Map<String, String> more = new LinkedHashMap<>(texts);
    more.put(name, text);
    Set<String> both = new HashSet<>(shell);
    both.remove(name);
    if (isShell) {
      both.add(name);
    }
    return new Given(more, both);
  }
}

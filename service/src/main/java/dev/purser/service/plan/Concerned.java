package dev.purser.service.plan;

import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;

/** Whose plan may be another because of a change: on a large site that is little of it. */
public final class Concerned {
  private Concerned() {}

  /**
   * The streams that have changed and those that name them, near or far. Where anything but streams
   * has changed, such as a calendar, that may be all.
   *
   * @param changed documents that are new, other or gone
   * @param after the definitions with the change
   */
  public static Predicate<String> by(Collection<Document> changed, Definitions after) {
    if (changed.stream().anyMatch(one -> one.kind() != Kind.STREAM)) {
      return any -> true;
    }
    Uses uses = Uses.in(after);
    Set<String> all = new TreeSet<>();
    Deque<String> open = new ArrayDeque<>();
    changed.forEach(one -> open.add(one.name()));
    while (!open.isEmpty()) {
      String name = open.remove();
      if (all.add(name)) {
        uses.of(new Named(Kind.STREAM, name)).stream()
            .map(Uses.Use::by)
            .filter(by -> by.kind() == Kind.STREAM)
            .forEach(by -> open.add(by.name()));
      }
    }
    return all::contains;
  }
}

package dev.purser.core.check;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Looks for circles in what leans on what, however long the chains are; each thing is asked once.
 */
final class Circles {
  private Circles() {}

  /**
   * A circle that can be come to from somewhere.
   *
   * @param next on what a thing leans
   * @param done things of which all is known: added to, and not looked at again
   * @return its members in order, the first once more at the end
   */
  static Optional<List<String>> from(
      String start, Function<String, Collection<String>> next, Set<String> done) {
    Set<String> trail = new LinkedHashSet<>();
    Deque<Iterator<String>> open = new ArrayDeque<>();
    Deque<String> names = new ArrayDeque<>();
    open.push(List.of(start).iterator());
    while (!open.isEmpty()) {
      if (!open.peek().hasNext()) {
        open.pop();
        if (!names.isEmpty()) {
          trail.remove(names.peek());
          done.add(names.pop());
        }
        continue;
      }
      String one = open.peek().next();
      if (trail.contains(one)) {
        done.addAll(trail);
        List<String> circle = new ArrayList<>(trail);
        circle = new ArrayList<>(circle.subList(circle.indexOf(one), circle.size()));
        circle.add(one);
        return Optional.of(circle);
      }
      if (!done.contains(one)) {
        trail.add(one);
        names.push(one);
        open.push(next.apply(one).iterator());
      }
    }
    return Optional.empty();
  }
}

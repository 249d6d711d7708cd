package dev.purser.core.prerequisite;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Two parts of a prerequisite that can never be met together, as in {@code a succeeded and a
 * failed}.
 *
 * @param one the one that stands first
 * @param other the other
 * @param whole whether nothing of the prerequisite can be met without them
 */
public record Contradiction(Prerequisite one, Prerequisite other, boolean whole) {

  /**
   * The contradictions in a prerequisite: of all that must hold together the first pair, and the
   * same in each of several alternatives. What is compared is one run's end, its exit code, its
   * values, and a part with its own opposite; that none is found proves nothing.
   */
  public static List<Contradiction> in(Prerequisite asks) {
    List<Contradiction> found = new ArrayList<>();
    look(asks, true, found);
    return found;
  }

  private static void look(Prerequisite asks, boolean whole, List<Contradiction> found) {
    List<Prerequisite> together = new ArrayList<>();
    flatten(asks, together);
    pair(together, whole).ifPresent(found::add);
    for (Prerequisite part : together) {
      if (part instanceof Prerequisite.Any some) {
        some.parts().forEach(one -> look(one, false, found));
      }
    }
  }

  private static void flatten(Prerequisite asks, List<Prerequisite> parts) {
    if (asks instanceof Prerequisite.All every) {
      every.parts().forEach(part -> flatten(part, parts));
    } else if (asks instanceof Prerequisite.Not not
        && not.part() instanceof Prerequisite.Not same) {
      flatten(same.part(), parts);
    } else {
      parts.add(asks);
    }
  }

  /** Only parts about one and the same run are held against each other. */
  private static Optional<Contradiction> pair(List<Prerequisite> parts, boolean whole) {
    Map<Object, List<Prerequisite>> about = new HashMap<>();
    for (Prerequisite part : parts) {
      List<Prerequisite> others = about.computeIfAbsent(subject(part), any -> new ArrayList<>());
      for (Prerequisite other : others) {
        if (clash(other, part)) {
          return Optional.of(new Contradiction(other, part, whole));
        }
      }
      others.add(part);
    }
    return Optional.empty();
  }

  private static Object subject(Prerequisite part) {
    if (part instanceof Prerequisite.Not not) {
      return subject(not.part());
    }
    if (part instanceof Prerequisite.OfRun run) {
      return run.target();
    }
    return part instanceof Prerequisite.ValueIs value
        ? List.of(value.target(), value.name())
        : part;
  }

  private static boolean clash(Prerequisite one, Prerequisite other) {
    if (other.equals(opposite(one))) {
      return true;
    }
    if (one instanceof Prerequisite.OfRun a && other instanceof Prerequisite.OfRun b) {
      return ends(a, b);
    }
    return one instanceof Prerequisite.ValueIs a
        && other instanceof Prerequisite.ValueIs b
        && values(a, b);
  }

  private static Prerequisite opposite(Prerequisite one) {
    return one instanceof Prerequisite.Not not ? not.part() : new Prerequisite.Not(one);
  }

  /** One run ends in one way, with one code; while it runs it has not ended. */
  private static boolean ends(Prerequisite.OfRun a, Prerequisite.OfRun b) {
    Prerequisite.Outcome one = a.outcome();
    Prerequisite.Outcome two = b.outcome();
    boolean bothEnded =
        one == Prerequisite.Outcome.ENDED || two == Prerequisite.Outcome.ENDED || one == two;
    if (bothEnded) {
      return (one == Prerequisite.Outcome.RUNNING) != (two == Prerequisite.Outcome.RUNNING)
          || a.codes().flatMap(codes -> b.codes().map(more -> !codes.overlaps(more))).orElse(false);
    }
    boolean skippedGoesOn =
        (one == Prerequisite.Outcome.SKIPPED && two == Prerequisite.Outcome.SUCCEEDED)
            || (one == Prerequisite.Outcome.SUCCEEDED && two == Prerequisite.Outcome.SKIPPED);
    return !skippedGoesOn;
  }

  /** Two comparisons of one value with numbers that no number meets. */
  private static boolean values(Prerequisite.ValueIs a, Prerequisite.ValueIs b) {
    Optional<BigDecimal> left = Comparison.number(a.operand());
    Optional<BigDecimal> right = Comparison.number(b.operand());
    if (left.isEmpty() || right.isEmpty()) {
      return a.comparison() == Comparison.IS
          && b.comparison() == Comparison.IS
          && !a.operand().equals(b.operand());
    }
    BigDecimal step = new BigDecimal("0.5");
    BigDecimal middle = left.get().add(right.get()).multiply(step);
    return List.of(
            left.get(),
            right.get(),
            middle,
            left.get().min(right.get()).subtract(step),
            left.get().max(right.get()).add(step))
        .stream()
        .map(BigDecimal::toPlainString)
        .noneMatch(
            value ->
                a.comparison().holds(value, a.operand())
                    && b.comparison().holds(value, b.operand()));
  }
}

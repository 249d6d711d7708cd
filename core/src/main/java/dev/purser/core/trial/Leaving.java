package dev.purser.core.trial;

import dev.purser.core.prerequisite.Prerequisite;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/** Takes parts out of a prerequisite, as if each of them were met. */
final class Leaving implements Prerequisite.Visitor<Optional<Prerequisite>> {
  private final Predicate<Prerequisite> keeps;

  private Leaving(Predicate<Prerequisite> keeps) {
    this.keeps = keeps;
  }

  /**
   * What is left to be asked; empty for nothing.
   *
   * @param keeps which of the smallest parts stay
   */
  static Optional<Prerequisite> only(Prerequisite whole, Predicate<Prerequisite> keeps) {
    return whole.accept(new Leaving(keeps));
  }

  private Optional<Prerequisite> leaf(Prerequisite one) {
    return keeps.test(one) ? Optional.of(one) : Optional.empty();
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.OfRun run) {
    return leaf(run);
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.ValueIs value) {
    return leaf(value);
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.FileArrived file) {
    return leaf(file);
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.All all) {
    List<Prerequisite> left =
        all.parts().stream().flatMap(part -> part.accept(this).stream()).toList();
    return left.size() > 1 ? Optional.of(new Prerequisite.All(left)) : left.stream().findFirst();
  }

  /** One of several that counts as met is enough. */
  @Override
  public Optional<Prerequisite> visit(Prerequisite.Any any) {
    List<Optional<Prerequisite>> parts =
        any.parts().stream().map(part -> part.accept(this)).toList();
    return parts.stream().anyMatch(Optional::isEmpty)
        ? Optional.empty()
        : Optional.of(new Prerequisite.Any(parts.stream().map(Optional::get).toList()));
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.Not not) {
    return not.part().accept(this).map(Prerequisite.Not::new);
  }
}

package dev.purser.core.trial;

import dev.purser.core.prerequisite.Prerequisite;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** Puts others in the place of parts of a prerequisite, or leaves them out as if they were met. */
final class Leaving implements Prerequisite.Visitor<Optional<Prerequisite>> {
  private final Function<Prerequisite, Optional<Prerequisite>> leaf;

  private Leaving(Function<Prerequisite, Optional<Prerequisite>> leaf) {
    this.leaf = leaf;
  }

  /**
   * What is asked instead; empty for nothing.
   *
   * @param leaf what stands for each of the smallest parts; empty where it counts as met
   */
  static Optional<Prerequisite> replaced(
      Prerequisite whole, Function<Prerequisite, Optional<Prerequisite>> leaf) {
    return whole.accept(new Leaving(leaf));
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.OfRun run) {
    return leaf.apply(run);
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.ValueIs value) {
    return leaf.apply(value);
  }

  @Override
  public Optional<Prerequisite> visit(Prerequisite.FileArrived file) {
    return leaf.apply(file);
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

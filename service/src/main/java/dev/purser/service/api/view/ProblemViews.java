package dev.purser.service.api.view;

import dev.purser.core.problem.Problem;
import dev.purser.wire.api.Views;

/** Shows what is wrong with files. */
public final class ProblemViews {
  private ProblemViews() {}

  /** A problem with its place. */
  public static Views.ProblemView view(Problem problem) {
    return new Views.ProblemView(
        problem.isError() ? "error" : "warning",
        problem.file(),
        problem.line(),
        problem.column(),
        problem.message());
  }
}

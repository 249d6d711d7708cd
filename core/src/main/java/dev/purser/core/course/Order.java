package dev.purser.core.course;

/**
 * The one order in which runs are asked: by due time less a minute for each point of priority; of
 * equals the one that is due earlier; then as they stand in the plan.
 */
public final class Order {
  /** What a point of priority is worth: so much waiting, in milliseconds. */
  public static final long POINT_MILLIS = 60_000;

  private final Runs runs;

  Order(Runs runs) {
    this.runs = runs;
  }

  private long rank(int run) {
    return runs.due.get(run) - runs.priorities.get(run) * POINT_MILLIS;
  }

  /**
   * Whether a run comes before another: due less a minute for each point of priority, then due,
   * then the order of the plan. Neither comes before itself.
   */
  public boolean isBefore(int a, int b) {
    long difference = rank(a) - rank(b);
    if (difference == 0) {
      difference = runs.due.get(a) - runs.due.get(b);
    }
    return difference == 0 ? a < b : difference < 0;
  }
}

package dev.purser.core.rule;

import dev.purser.core.plan.PlannedRun;
import dev.purser.core.schedule.IfMissed;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Says of missed starts which are made up, by what their schedules want. */
final class MissedStarts {
  private static final String MISSED =
      "it was missed while the service was away or the stream paused";

  private final List<PlannedRun> missed;
  private final Map<String, Instant> lastDue = new HashMap<>();

  MissedStarts(List<PlannedRun> missed) {
    this.missed = missed;
    for (PlannedRun run : missed) {
      lastDue.merge(run.reference().path(), run.due(), (a, b) -> a.isAfter(b) ? a : b);
    }
  }

  /** Why a missed run is skipped; empty where it runs. */
  Optional<String> skips(int index, long now) {
    PlannedRun run = missed.get(index);
    if (run.start().window().isPresent()) {
      return Optional.empty(); // every window is run, however late
    }
    Optional<Instant> limit = run.start().limit();
    if (limit.filter(at -> at.toEpochMilli() < now).isPresent()) {
      return Optional.of(MISSED + ", and it is too late to make it up: its start-by has passed");
    }
    IfMissed policy = run.start().ifMissed();
    if (policy == IfMissed.SKIP) {
      return Optional.of(MISSED + "; its schedule says to skip it then");
    }
    boolean later = run.due().isBefore(lastDue.get(run.reference().path()));
    return policy == IfMissed.RUN_ONCE && later
        ? Optional.of(MISSED + "; a later one was too, and its schedule says to run once")
        : Optional.empty();
  }

  /** What is said of a missed run that runs. */
  String runs(int index) {
    PlannedRun run = missed.get(index);
    return MISSED
        + (run.start().ifMissed() == IfMissed.RUN_ONCE
            ? "; its schedule says to run once, and this is the last one"
            : "; it is made up now");
  }
}

package dev.purser.core.learning;

import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.history.PastRun;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import java.time.Duration;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** How long after their beginning commitments were done on earlier dates. */
public final class UsualEnds {
  /** So many earlier ends are needed before it can be said what is usual. */
  public static final int ENOUGH = 10;

  private static final double SHARE = 0.9;
  private static final int DATES_LOOKED_AT = 120;

  private UsualEnds() {}

  /**
   * An earlier end of a commitment.
   *
   * @param done when all end runs were, epoch milliseconds; 0 where they never were
   */
  public record Kept(Promised promised, long done) {
    /** Whether the promise was kept, as it is now; false where it promises no time. */
    public boolean isKept() {
      return done > 0 && promised.by().filter(by -> done <= by.toEpochMilli()).isPresent();
    }
  }

  /**
   * Of all commitments that promise what is usual, by name: how long after its beginning nine of
   * ten earlier ends were; those with fewer than ten are missing.
   *
   * @param byJob runs of the past by full path
   */
  public static Map<String, Duration> of(
      Definitions definitions, Map<String, List<PastRun>> byJob) {
    Map<String, Duration> usual = new HashMap<>();
    Promises promises = new Promises(definitions, Map.of());
    for (Commitment commitment : definitions.commitments()) {
      if (commitment.promise() instanceof Commitment.AsUsual) {
        of(definitions, commitment, promises, byJob)
            .ifPresent(found -> usual.put(commitment.name(), found.after()));
      }
    }
    return usual;
  }

  /**
   * What is usual.
   *
   * @param after how long after its beginning nine of ten earlier ends were
   * @param ends on how many it rests
   */
  public record Usual(Duration after, int ends) {}

  /** What nine of ten earlier ends have kept; empty where there are fewer than ten. */
  public static Optional<Usual> of(
      Definitions definitions,
      Commitment commitment,
      Promises promises,
      Map<String, List<PastRun>> byJob) {
    long[] took =
        earlier(definitions, commitment, promises, byJob).stream()
            .filter(kept -> kept.done() > 0)
            .mapToLong(kept -> kept.done() - kept.promised().begin().toEpochMilli())
            .filter(millis -> millis > 0)
            .sorted()
            .toArray();
    if (took.length < ENOUGH) {
      return Optional.empty();
    }
    long kept = took[(int) Math.ceil(took.length * SHARE) - 1];
    return Optional.of(
        new Usual(Duration.ofMillis(kept + 999).truncatedTo(ChronoUnit.SECONDS), took.length));
  }

  /**
   * What became of a commitment on the last dates that rows tell of, oldest first; promises of
   * dates of which no row tells are left out.
   *
   * @param promises those of the definitions
   * @param byJob runs of the past by full path
   */
  public static List<Kept> earlier(
      Definitions definitions,
      Commitment commitment,
      Promises promises,
      Map<String, List<PastRun>> byJob) {
    Lineage lineage = promises.lineage(commitment);
    Planner planner = new Planner(definitions);
    LocalDate from = commitment.historyFrom().orElse(LocalDate.MIN);
    Map<LocalDate, Map<RunReference, PastRun>> rows = new TreeMap<>(Comparator.reverseOrder());
    for (String end : lineage.ends()) {
      for (PastRun run : byJob.getOrDefault(end, List.of())) {
        int number = Math.max(1, run.number());
        RunReference reference = new RunReference(run.stream(), run.job(), run.date(), number);
        if (!run.date().isBefore(from)) {
          rows.computeIfAbsent(run.date(), any -> new HashMap<>()).put(reference, run);
        }
      }
    }
    List<Kept> found = new ArrayList<>();
    rows.entrySet().stream()
        .limit(DATES_LOOKED_AT)
        .forEach(
            day -> {
              List<PlannedRun> planned = promises.planned(commitment, day.getKey(), planner);
              for (Promised promised : promises.of(commitment, day.getKey(), planned)) {
                found.add(0, new Kept(promised, done(promised, day.getValue())));
              }
            });
    return found;
  }

  private static long done(Promised promised, Map<RunReference, PastRun> rows) {
    long last = 0;
    for (RunReference end : promised.ends()) {
      PastRun row = rows.get(end);
      if (row == null || row.end() == 0 || row.outcome() != PastRun.Outcome.SUCCEEDED) {
        return 0;
      }
      last = Math.max(last, row.end());
    }
    return last;
  }
}

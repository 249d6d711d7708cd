package dev.purser.core.commitment;

import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.schedule.StartTimes;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;

/** Works out what all commitments promise of business dates. */
public final class Promises {
  private final Definitions definitions;
  private final Map<String, Lineage> lineages = new ConcurrentHashMap<>();
  private final Map<String, Duration> usual;

  /**
   * Looks at the commitments of definitions.
   *
   * @param usual of commitments that promise what is usual, by name: how long after its beginning
   *     each is usually done; those that are missing promise no time
   */
  public Promises(Definitions definitions, Map<String, Duration> usual) {
    this.definitions = definitions;
    this.usual = Map.copyOf(usual);
  }

  /** The lineage of a commitment of these definitions; found when it is first asked for. */
  public Lineage lineage(Commitment commitment) {
    return lineages.computeIfAbsent(commitment.name(), any -> Lineage.of(definitions, commitment));
  }

  /** What is promised of one business date, by name of commitment and start. */
  public List<Promised> of(LocalDate date, Collection<PlannedRun> runs) {
    return of(definitions.commitments(), date, runs);
  }

  /** What one commitment promises of one business date, by start. */
  public List<Promised> of(Commitment commitment, LocalDate date, Collection<PlannedRun> runs) {
    return of(List.of(commitment), date, runs);
  }

  private List<Promised> of(
      Collection<Commitment> commitments, LocalDate date, Collection<PlannedRun> runs) {
    Map<String, List<PlannedRun>> byJob = new HashMap<>();
    for (PlannedRun run : runs) {
      if (run.reference().date().equals(date) && run.leftOut().isEmpty()) {
        byJob.computeIfAbsent(run.reference().path(), any -> new ArrayList<>()).add(run);
      }
    }
    List<Promised> found = new ArrayList<>();
    for (Commitment commitment : commitments) {
      if (holdsOn(commitment, date)) {
        found.addAll(of(commitment, date, byJob));
      }
    }
    return found;
  }

  /** The runs of a business date of all streams that a commitment rests on. */
  public List<PlannedRun> planned(Commitment commitment, LocalDate date, Planner planner) {
    Set<String> tops = new TreeSet<>();
    for (String path : lineage(commitment).jobs()) {
      tops.add(top(Definitions.streamOf(path)));
    }
    List<PlannedRun> runs = new ArrayList<>();
    for (String path : tops) {
      definitions.stream(path).ifPresent(stream -> runs.addAll(planner.plan(stream, date)));
    }
    return runs;
  }

  private boolean holdsOn(Commitment commitment, LocalDate date) {
    return commitment
        .days()
        .map(rule -> rule.pick(date, date, definitions.calendarsOf(commitment)).contains(date))
        .orElse(true);
  }

  private List<Promised> of(
      Commitment commitment, LocalDate date, Map<String, List<PlannedRun>> byJob) {
    Lineage lineage = lineage(commitment);
    Map<Integer, List<PlannedRun>> starts = new TreeMap<>();
    for (String end : lineage.ends()) {
      for (PlannedRun run : byJob.getOrDefault(end, List.of())) {
        starts.computeIfAbsent(run.reference().number(), any -> new ArrayList<>()).add(run);
      }
    }
    if (starts.isEmpty()) {
      return List.of();
    }
    if (commitment.promise() instanceof Commitment.DoneBy doneBy) {
      List<PlannedRun> last =
          starts.values().stream()
              .max((one, other) -> firstDue(one).compareTo(firstDue(other)))
              .orElseThrow();
      Instant start = firstDue(last);
      return List.of(promised(commitment, date, 1, last, start, Optional.of(by(doneBy, start))));
    }
    List<Promised> found = new ArrayList<>();
    for (Map.Entry<Integer, List<PlannedRun>> start : starts.entrySet()) {
      Instant begin = begin(lineage, start.getKey(), starts.size() > 1, start.getValue(), byJob);
      Optional<Duration> within =
          commitment.promise() instanceof Commitment.Within said
              ? Optional.of(said.duration())
              : Optional.ofNullable(usual.get(commitment.name()));
      found.add(
          promised(
              commitment, date, start.getKey(), start.getValue(), begin, within.map(begin::plus)));
    }
    return found;
  }

  private static Promised promised(
      Commitment commitment,
      LocalDate date,
      int number,
      List<PlannedRun> ends,
      Instant begin,
      Optional<Instant> by) {
    List<RunReference> references = ends.stream().map(PlannedRun::reference).toList();
    ZoneId zone =
        commitment.promise() instanceof Commitment.DoneBy doneBy
            ? doneBy.zone()
            : ends.get(0).zone();
    return new Promised(commitment, date, number, references, begin, by, zone);
  }

  private static Instant by(Commitment.DoneBy promise, Instant start) {
    return promise.daysLater() == 0
        ? StartTimes.firstAfter(start, promise.time(), promise.zone())
        : StartTimes.of(
                start.atZone(promise.zone()).toLocalDate().plusDays(promise.daysLater()),
                promise.time(),
                promise.zone())
            .at();
  }

  /**
   * The planned start of the first of the lineage on the date. Where the end job starts several
   * times a date, that of the same start in its own stream: what others do belongs to no one of
   * them.
   */
  private Instant begin(
      Lineage lineage,
      int number,
      boolean several,
      List<PlannedRun> ends,
      Map<String, List<PlannedRun>> byJob) {
    Set<String> own = new HashSet<>();
    ends.forEach(run -> own.add(top(run.reference().stream())));
    Instant first = firstDue(ends);
    for (String path : lineage.jobs()) {
      boolean counts =
          !lineage.earlier().contains(path)
              && (!several || own.contains(top(Definitions.streamOf(path))));
      for (PlannedRun run : counts ? byJob.getOrDefault(path, List.of()) : List.<PlannedRun>of()) {
        boolean sameStart = !several || run.reference().number() == number;
        first = sameStart && run.due().isBefore(first) ? run.due() : first;
      }
    }
    return first;
  }

  private String top(String stream) {
    return definitions.topOf(stream).map(found -> found.path()).orElse(stream);
  }

  private static Instant firstDue(List<PlannedRun> runs) {
    return runs.stream().map(PlannedRun::due).min(Instant::compareTo).orElseThrow();
  }
}

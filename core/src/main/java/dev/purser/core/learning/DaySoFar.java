package dev.purser.core.learning;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.board.Board;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.job.Placement;
import dev.purser.core.job.Where;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * A business date as rows of history show it at a moment: what had ended, what ran, and what was
 * still to come. Whatever happened later is not looked at.
 */
public final class DaySoFar {
  /** Runs of so many dates before may still matter: their ends may be asked for, or they run on. */
  private static final int DATES_BEFORE = 7;

  private static final Duration AHEAD = Duration.ofDays(3);

  private final Definitions definitions;
  private final LocalDate date;
  private final long at;
  private final List<PastRun> seen;
  private final boolean attemptsAreKnown;
  private final Planner planner;
  private final Map<RunReference, PastRun> rows = new HashMap<>();
  private final List<PlannedRun> planned = new ArrayList<>();

  /**
   * Looks at a day.
   *
   * @param past all rows, in any order
   * @param at the moment
   */
  public DaySoFar(Definitions definitions, Collection<PastRun> past, LocalDate date, Instant at) {
    this.definitions = definitions;
    this.date = date;
    this.at = at.toEpochMilli();
    this.planner = new Planner(definitions);
    this.seen = past.stream().filter(this::hasBegun).map(this::asSeen).toList();
    this.attemptsAreKnown = seen.stream().anyMatch(run -> run.attempts() > 0);
    plan();
  }

  /** Just before the first run of a date is due; midnight in UTC where none is. */
  public static Instant beginning(Definitions definitions, LocalDate date) {
    return new Planner(definitions)
        .plan(date).stream()
            .map(run -> run.due().minusMillis(1))
            .min(Instant::compareTo)
            .orElse(date.atStartOfDay(ZoneOffset.UTC).toInstant());
  }

  private boolean hasBegun(PastRun run) {
    long began = run.start() > 0 ? run.start() : run.end();
    return began < at && !run.date().isAfter(date);
  }

  /** A run that had not ended by then runs on. */
  private PastRun asSeen(PastRun run) {
    return run.end() > 0 && run.end() <= at
        ? run
        : new PastRun(
            run.stream(),
            run.job(),
            run.date(),
            run.number(),
            run.due(),
            run.start(),
            0,
            run.outcome(),
            -1,
            run.host(),
            run.attempts());
  }

  /** The runs of the date, of the next one, and of those before as far as rows speak of them. */
  private void plan() {
    Map<LocalDate, Map<String, List<PastRun>>> byDate = new TreeMap<>();
    for (PastRun run : seen) {
      if (!run.date().isBefore(date.minusDays(DATES_BEFORE))) {
        byDate
            .computeIfAbsent(run.date(), any -> new HashMap<>())
            .computeIfAbsent(run.path(), any -> new ArrayList<>())
            .add(run);
      }
    }
    for (int days = -DATES_BEFORE; days <= 1; days++) {
      LocalDate day = date.plusDays(days);
      List<PlannedRun> runs = planner.plan(day);
      match(runs, byDate.getOrDefault(day, Map.of()));
      Set<String> open = openStreams(day);
      for (PlannedRun run : runs) {
        boolean told = rows.containsKey(run.reference());
        boolean stillToCome =
            run.due().toEpochMilli() >= at || open.contains(run.reference().stream());
        if (days >= 0 || told || stillToCome) {
          planned.add(run);
        }
      }
    }
  }

  private Set<String> openStreams(LocalDate day) {
    Set<String> open = new HashSet<>();
    rows.forEach(
        (reference, run) -> {
          if (reference.date().equals(day) && run.end() == 0) {
            open.add(reference.stream());
          }
        });
    return open;
  }

  /** Which row tells of which run: by its number, or else the rows in order of their starts. */
  private void match(List<PlannedRun> runs, Map<String, List<PastRun>> byJob) {
    Map<String, List<PlannedRun>> plannedByJob = new HashMap<>();
    for (PlannedRun run : runs) {
      plannedByJob.computeIfAbsent(run.reference().path(), any -> new ArrayList<>()).add(run);
    }
    plannedByJob.forEach(
        (path, all) -> {
          List<PastRun> told = new ArrayList<>(byJob.getOrDefault(path, List.of()));
          told.sort(Comparator.comparingLong(PastRun::start));
          for (PastRun row : List.copyOf(told)) {
            for (PlannedRun run : all) {
              if (row.number() == run.reference().number()) {
                rows.put(run.reference(), row); // a later row of one number is how it stands now
                told.remove(row);
              }
            }
          }
          for (PlannedRun run : all) {
            told.removeIf(row -> row.number() != 0);
            if (!rows.containsKey(run.reference()) && !told.isEmpty()) {
              rows.put(run.reference(), told.remove(0));
            }
          }
        });
  }

  /** The board as it stood. Runs have ids in the order of the plan, from 1. */
  public Board board() {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : planned) {
      specs.add(new RunSpec(specs.size() + 1L, run, 0));
    }
    Map<String, List<RunSpec>> below = below(specs);
    List<BoardEvent.Restored> restored = new ArrayList<>();
    for (RunSpec spec : specs) {
      restored.add(new BoardEvent.Restored(spec, status(spec, below)));
    }
    Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(at));
    board.turn(new BoardEvent.RunsRestored(at, restored));
    return board;
  }

  /** The runs directly below each step, by the step's path, date and number. */
  private static Map<String, List<RunSpec>> below(List<RunSpec> specs) {
    Map<String, List<RunSpec>> below = new HashMap<>();
    for (RunSpec spec : specs) {
      RunReference reference = spec.run().reference();
      below.computeIfAbsent(key(reference.stream(), reference), any -> new ArrayList<>()).add(spec);
    }
    return below;
  }

  private static String key(String path, RunReference of) {
    return path + "@" + of.date() + "#" + of.number();
  }

  private RunStatus status(RunSpec spec, Map<String, List<RunSpec>> below) {
    PastRun row = rows.get(spec.run().reference());
    if (row == null && spec.run().job().isStep()) {
      return stepStatus(spec, below);
    }
    if (row == null) {
      return RunStatus.fresh(spec);
    }
    return row.end() == 0
        ? status(spec, RunState.RUNNING, row.start(), 0, row.host())
        : status(spec, stateOf(row.outcome()), row.start(), row.end(), row.host());
  }

  private static RunState stateOf(PastRun.Outcome outcome) {
    return switch (outcome) {
      case SUCCEEDED -> RunState.SUCCEEDED;
      case FAILED -> RunState.FAILED;
      case SKIPPED -> RunState.SKIPPED;
      case CANCELLED -> RunState.CANCELLED;
    };
  }

  /** A step of which no row tells stands as what is below it. */
  private RunStatus stepStatus(RunSpec spec, Map<String, List<RunSpec>> below) {
    RunReference own = spec.run().reference();
    List<RunSpec> inner = below.getOrDefault(key(own.path(), own), List.of());
    List<RunStatus> stand = inner.stream().map(run -> status(run, below)).toList();
    boolean begun = stand.stream().anyMatch(one -> one.state().isEnded() || one.state().isActive());
    if (!begun) {
      return RunStatus.fresh(spec);
    }
    long start =
        stand.stream().mapToLong(RunStatus::started).filter(one -> one > 0).min().orElse(at);
    boolean over = stand.stream().allMatch(one -> one.state().isEnded());
    boolean well = stand.stream().noneMatch(one -> one.state() == RunState.FAILED);
    long end = stand.stream().mapToLong(RunStatus::ended).max().orElse(at);
    return over
        ? status(spec, well ? RunState.SUCCEEDED : RunState.FAILED, start, end, "")
        : status(spec, RunState.RUNNING, start, 0, "");
  }

  private RunStatus status(RunSpec spec, RunState state, long start, long end, String host) {
    RunStatus fresh = RunStatus.fresh(spec);
    int budget = fresh.budget();
    List<RunStatus.FileState> files =
        spec.run().watches().stream()
            .map(watch -> new RunStatus.FileState(FileSight.ARRIVED, "(it came) " + watch.name()))
            .toList();
    return new RunStatus(
        state,
        "",
        end > 0 ? end : start,
        spec.run().job().isStep() ? 0 : attempt(state, budget),
        budget,
        spec.run().job().isStep() ? Where.nowhere() : where(spec.run().job(), host),
        start,
        end,
        0,
        state == RunState.SUCCEEDED ? spec.run().job().succeedsWith().least() : -1,
        "",
        RunStatus.Stopping.NO,
        false,
        List.of(),
        files,
        0,
        -1,
        false,
        0,
        Map.of(),
        0);
  }

  /** Where it is known how many attempts runs take, one that runs may have retries left. */
  private int attempt(RunState state, int budget) {
    return state == RunState.RUNNING && attemptsAreKnown ? 1 : budget;
  }

  private Where where(Job job, String host) {
    boolean known = definitions.hosts().stream().anyMatch(one -> one.name().equals(host));
    if (known) {
      return Where.onHost(host);
    }
    if (job.placement() instanceof Placement.OnHost on) {
      return Where.onHost(on.host());
    }
    return job.placement()
        .ofGroup()
        .flatMap(group -> definitions.membersOf(group).stream().findFirst())
        .map(Where::onHost)
        .orElse(Where.nowhere());
  }

  /** What the definitions promise, with what the rows of earlier dates say is usual. */
  public Promises promises() {
    return new Promises(definitions, UsualEnds.of(definitions, byJob(this::isEarlier)));
  }

  private boolean isEarlier(PastRun run) {
    return run.isEnded() && run.date().isBefore(date);
  }

  private Map<String, List<PastRun>> byJob(Predicate<PastRun> which) {
    return seen.stream().filter(which).collect(Collectors.groupingBy(PastRun::path));
  }

  /** What is promised of the date. */
  public List<Promised> promised(Promises promises) {
    return promises.of(date, planned);
  }

  /** What is learned from the rows of earlier dates that had ended by then. */
  public Learned learned() {
    return Learned.of(definitions, seen, date);
  }

  /** What is assumed of the rest of the day. */
  public LearnedOutcomes outcomes(Learned learned) {
    List<PastRun> today = seen.stream().filter(run -> run.date().equals(date)).toList();
    return LearnedOutcomes.of(learned, history(), date, today, at, false);
  }

  /**
   * What came out when it was played on; for runs of other dates as well.
   *
   * @param seed the same seed gives the same answer
   */
  public Outlook.Result play(Learned learned, List<Promised> promised, int samples, long seed) {
    long last = planned.stream().mapToLong(run -> run.due().toEpochMilli()).max().orElse(at);
    return new Outlook(board(), outcomes(learned), seed)
        .play(List.of(), promised, samples, Math.max(at, last) + AHEAD.toMillis());
  }

  // ---- people and files

  private History history() {
    Map<String, List<PastRun>> byJob = byJob(any -> true);
    Map<String, long[]> answers = new HashMap<>();
    Map<String, long[]> recoveries = new HashMap<>();
    byJob.forEach(
        (path, runs) -> {
          boolean question =
              definitions.job(path).filter(job -> job.work() instanceof Approval).isPresent();
          if (question) {
            answers.put(
                path, runs.stream().filter(PastRun::isEnded).mapToLong(PastRun::millis).toArray());
          }
          recoveries.put(path, recoveries(runs));
        });
    return new History(answers, recoveries, Map.of(), fileTimes(byJob), Set.of(), Set.of());
  }

  /** How long failures stood before the job was run again on the same date. */
  private static long[] recoveries(List<PastRun> runs) {
    List<PastRun> sorted = new ArrayList<>(runs);
    sorted.sort(Comparator.comparing(PastRun::date).thenComparingLong(PastRun::start));
    List<Long> stood = new ArrayList<>();
    for (int i = 1; i < sorted.size(); i++) {
      PastRun before = sorted.get(i - 1);
      PastRun after = sorted.get(i);
      boolean again =
          before.outcome() == PastRun.Outcome.FAILED
              && before.end() > 0
              && before.date().equals(after.date())
              && before.number() == after.number()
              && after.start() >= before.end();
      if (again) {
        stood.add(after.start() - before.end());
      }
    }
    return stood.stream().mapToLong(Long::longValue).toArray();
  }

  /** When files came, as the first starts of the jobs tell that wait for them. */
  private Map<String, FileTimes> fileTimes(Map<String, List<PastRun>> byJob) {
    Map<String, Map<LocalDate, PastRun>> first = new HashMap<>();
    Map<String, PlannedRun> example = new HashMap<>();
    for (PlannedRun run : planned) {
      for (FileWatch watch : run.watches()) {
        example.putIfAbsent(watch.name(), run);
        for (PastRun row : byJob.getOrDefault(run.reference().path(), List.of())) {
          if (row.start() > 0 && row.date().isBefore(date)) {
            first
                .computeIfAbsent(watch.name(), any -> new HashMap<>())
                .merge(row.date(), row, (one, two) -> one.start() <= two.start() ? one : two);
          }
        }
      }
    }
    Map<String, FileTimes> times = new HashMap<>();
    first.forEach(
        (watch, rowsOf) -> {
          ZoneId zone = example.get(watch).zone();
          long[] came =
              rowsOf.values().stream()
                  .mapToLong(
                      row ->
                          FileTimes.afterMidnight(
                              row.date(), Instant.ofEpochMilli(row.start()), zone))
                  .toArray();
          times.put(watch, new FileTimes(zone, came));
        });
    return times;
  }
}

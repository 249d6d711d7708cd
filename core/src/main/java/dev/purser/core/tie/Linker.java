package dev.purser.core.tie;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import dev.purser.core.schedule.Window;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/** Ties the names of prerequisites to the runs of a board, and steps to what is below them. */
final class Linker {
  private static final int[] NONE = {};

  private final RunSpec[] specs;
  private final RunsByName names;
  private final int count;
  private Map<String, int[]> byWindow;
  private Map<String, int[]> byPath;

  /**
   * Looks at the first runs of a list.
   *
   * @param names has taken in just those
   */
  Linker(RunSpec[] specs, int count, RunsByName names) {
    this.specs = specs;
    this.count = count;
    this.names = names;
  }

  private static String windowOf(RunReference reference) {
    return reference.stream() + "@" + reference.date() + "#" + reference.number();
  }

  /** What is new on a board, to be compared with what others ask for. */
  static final class News {
    private final Set<Named> jobs = new HashSet<>();
    private final Set<String> paths = new HashSet<>();
    private final Set<String> streams = new HashSet<>();

    /** A job on a date. */
    private record Named(String path, LocalDate date) {}

    /** The runs of a list from an index on. */
    News(RunSpec[] specs, int from, int count) {
      for (int i = from; i < count; i++) {
        RunReference reference = specs[i].run().reference();
        jobs.add(new Named(reference.path(), reference.date()));
        paths.add(reference.path());
        streams.add(reference.stream());
      }
    }
  }

  /**
   * Whether what a run is tied to may be another because of the news.
   *
   * @param parent the step that it is below; -1 for none
   */
  boolean concerns(int index, int parent, News news) {
    PlannedRun run = run(index);
    RunReference own = run.reference();
    boolean inOrder = run.start().window().isPresent() && news.streams.contains(own.stream());
    boolean orphan = parent < 0 && news.paths.contains(own.stream());
    if (inOrder || orphan) {
      return true;
    }
    for (Prerequisite asks : run.job().asks()) {
      for (Prerequisite.Target target : asks.targets()) {
        PlannedRun.Whole whole = run.ties().wholeStreams().get(target.name());
        if (whole == null) {
          if (concerns(run, Definitions.resolve(target.name(), own.stream()), target, news)) {
            return true;
          }
        } else if (whole.jobs().stream().anyMatch(path -> concerns(run, path, target, news))) {
          return true;
        }
      }
    }
    return false;
  }

  private static boolean concerns(
      PlannedRun run, String path, Prerequisite.Target target, News news) {
    return target.within().isPresent()
        ? news.paths.contains(path)
        : news.jobs.contains(new News.Named(path, dateOf(run, target)));
  }

  private static LocalDate dateOf(PlannedRun run, Prerequisite.Target target) {
    return target.previous() ? run.previous().orElseThrow() : run.reference().date();
  }

  private PlannedRun run(int index) {
    return specs[index].run();
  }

  /** The step that a run is below; -1 for none. */
  int parent(int run) {
    RunReference reference = run(run).reference();
    int slash = reference.stream().lastIndexOf('/');
    if (slash < 0) {
      return -1;
    }
    String stream = reference.stream().substring(0, slash);
    String job = reference.stream().substring(slash + 1);
    int candidate = names.first(specs, stream, job, reference.date());
    for (; candidate >= 0; candidate = names.next(candidate)) {
      PlannedRun step = run(candidate);
      if (step.job().isStep() && step.reference().number() == reference.number()) {
        return candidate;
      }
    }
    return -1;
  }

  /** What must be true before a run may start. */
  Condition link(int run) {
    PlannedRun planned = run(run);
    if (planned.waived()) {
      return Condition.Met.ALWAYS;
    }
    Optional<Prerequisite> waitsFor = planned.job().waitsFor();
    Condition own = waitsFor.isEmpty() ? Condition.Met.ALWAYS : link(planned, waitsFor.get(), true);
    Optional<Window> window = planned.start().window();
    return window.isEmpty() ? own : inOrder(planned.reference().stream(), window.get(), own);
  }

  /** What must hold of values for there to be anything to do; null for nothing. */
  Condition check(int run) {
    PlannedRun planned = run(run);
    return planned
        .job()
        .onlyIf()
        .filter(OnlyIf.Compare.class::isInstance)
        .map(check -> link(planned, ((OnlyIf.Compare) check).values(), true))
        .orElse(null);
  }

  /** Windows that are not on the board any more are done. */
  private Condition inOrder(String stream, Window window, Condition own) {
    List<Condition> all = new ArrayList<>();
    window.after().ifPresent(place -> onWindow(stream, place, false).ifPresent(all::add));
    window.previous().ifPresent(place -> onWindow(stream, place, true).ifPresent(all::add));
    all.add(own);
    return all.size() == 1 ? own : new Condition.All(all.toArray(Condition[]::new));
  }

  private Optional<Condition> onWindow(String stream, Window.Place place, boolean begunIsEnough) {
    if (byWindow == null) {
      byWindow =
          group(i -> run(i).start().window().isPresent() ? windowOf(run(i).reference()) : null);
    }
    return Optional.ofNullable(byWindow.get(stream + "@" + place))
        .map(targets -> new Condition.OnWindow(targets, place, begunIsEnough));
  }

  private Map<String, int[]> byPath() {
    if (byPath == null) {
      byPath = group(i -> run(i).reference().path());
    }
    return byPath;
  }

  /** All runs by a name that each has, or null. */
  private Map<String, int[]> group(IntFunction<String> name) {
    Map<String, List<Integer>> lists = new HashMap<>();
    for (int i = 0; i < count; i++) {
      String one = name.apply(i);
      if (one != null) {
        lists.computeIfAbsent(one, any -> new ArrayList<>()).add(i);
      }
    }
    Map<String, int[]> groups = new HashMap<>();
    lists.forEach((one, all) -> groups.put(one, all.stream().mapToInt(i -> i).toArray()));
    return groups;
  }

  /**
   * Ties a prerequisite, or its opposite.
   *
   * @param wanted false for the opposite: it is handed down to the parts, so that two opposites
   *     cancel out
   */
  private Condition link(PlannedRun run, Prerequisite prerequisite, boolean wanted) {
    return prerequisite.accept(new Tying(run, wanted));
  }

  private final class Tying implements Prerequisite.Visitor<Condition> {
    private final PlannedRun run;
    private final boolean wanted;

    Tying(PlannedRun run, boolean wanted) {
      this.run = run;
      this.wanted = wanted;
    }

    @Override
    public Condition visit(Prerequisite.OfRun asked) {
      return onRuns(run, asked, wanted);
    }

    @Override
    public Condition visit(Prerequisite.ValueIs value) {
      return onValue(run, value, wanted);
    }

    @Override
    public Condition visit(Prerequisite.FileArrived file) {
      List<String> watches = run.watches().stream().map(FileWatch::name).toList();
      return opposite(new Condition.OnFile(watches.indexOf(file.watch()), file.watch()), !wanted);
    }

    @Override
    public Condition visit(Prerequisite.All all) {
      Condition[] parts = parts(run, all.parts(), wanted);
      return wanted ? new Condition.All(parts) : new Condition.Any(parts);
    }

    @Override
    public Condition visit(Prerequisite.Any any) {
      Condition[] parts = parts(run, any.parts(), wanted);
      return wanted ? new Condition.Any(parts) : new Condition.All(parts);
    }

    @Override
    public Condition visit(Prerequisite.Not not) {
      return link(run, not.part(), !wanted);
    }
  }

  private static Condition opposite(Condition condition, boolean opposite) {
    return opposite ? new Condition.Not(condition) : condition;
  }

  private Condition[] parts(PlannedRun run, List<Prerequisite> parts, boolean wanted) {
    Condition[] all = new Condition[parts.size()];
    for (int i = 0; i < all.length; i++) {
      all[i] = link(run, parts.get(i), wanted);
    }
    return all;
  }

  private Condition onRuns(PlannedRun run, Prerequisite.OfRun asked, boolean wanted) {
    PlannedRun.Whole whole = run.ties().wholeStreams().get(asked.job());
    if (isAssumed(run, asked, whole)) {
      return Condition.Met.ALWAYS;
    }
    if (asked.outcome() == Prerequisite.Outcome.RUNNING) {
      return onRunning(run, asked, whole, wanted);
    }
    Condition condition =
        whole == null ? onRun(run, asked.job(), asked) : onStream(run, whole, asked);
    return condition instanceof Condition.Met ? condition : opposite(condition, !wanted);
  }

  private static boolean isAssumed(
      PlannedRun run, Prerequisite.OfRun asked, PlannedRun.Whole whole) {
    if (run.assumed().isEmpty()) {
      return false;
    }
    return whole == null
        ? run.assumed().contains(Definitions.resolve(asked.job(), run.reference().stream()))
        : whole.jobs().stream().anyMatch(run.assumed()::contains);
  }

  private Condition onRunning(
      PlannedRun run, Prerequisite.OfRun asked, PlannedRun.Whole whole, boolean wanted) {
    if (whole == null) {
      int target = meant(run, asked.job(), asked.target());
      return new Condition.OnRunning(target, pathUnless(target, run, asked.job()), wanted);
    }
    int[] targets = runsOf(run, whole, asked.target());
    if (targets.length == 0) {
      return new Condition.OnRunning(-1, whole.path(), wanted);
    }
    Condition[] each =
        Arrays.stream(targets)
            .mapToObj(target -> new Condition.OnRunning(target, null, wanted))
            .toArray(Condition[]::new);
    return wanted ? new Condition.Any(each) : new Condition.All(each);
  }

  /** A path for messages, where no run can say it. */
  private static String pathUnless(int target, PlannedRun run, String job) {
    return target >= 0 ? null : Definitions.resolve(job, run.reference().stream());
  }

  /**
   * A stream is asked for by one of its starts: it has succeeded or failed as that start has, and
   * otherwise did what is asked when all runs of that start did.
   */
  private Condition onStream(PlannedRun run, PlannedRun.Whole whole, Prerequisite.OfRun asked) {
    boolean judged =
        asked.outcome() == Prerequisite.Outcome.SUCCEEDED
            || asked.outcome() == Prerequisite.Outcome.FAILED;
    if (asked.target().within().isPresent()) {
      return anyStartWithin(run, whole, asked);
    }
    int[] targets = runsOf(run, whole, asked.target());
    SuccessRule rule = whole.succeedsIf();
    int[] counted =
        judged
            ? Arrays.stream(targets)
                .filter(target -> rule.counts(run(target).reference().job()))
                .toArray()
            : targets;
    if (counted.length == 0) {
      return asked.target().ifPlanned()
          ? Condition.Met.ALWAYS
          : new Condition.OnRun(
              -1, whole.path(), asked.outcome(), asked.codes(), asked.target().previous());
    }
    if (judged) {
      return new Condition.OnStream(counted, rule, asked.outcome());
    }
    Condition[] each =
        Arrays.stream(counted)
            .mapToObj(
                target ->
                    new Condition.OnRun(
                        target, null, asked.outcome(), asked.codes(), asked.target().previous()))
            .toArray(Condition[]::new);
    return new Condition.All(each);
  }

  /** Each job of the stream that has ever been planned must have done it not long before. */
  private Condition anyStartWithin(
      PlannedRun run, PlannedRun.Whole whole, Prerequisite.OfRun asked) {
    List<Condition> each = new ArrayList<>();
    for (String job : whole.jobs()) {
      boolean counts = whole.succeedsIf().counts(job.substring(job.lastIndexOf('/') + 1));
      if (counts && byPath().containsKey(job)) {
        each.add(within(run, job, asked));
      }
    }
    if (each.isEmpty()) {
      return within(run, whole.path(), asked);
    }
    return new Condition.All(each.toArray(Condition[]::new));
  }

  /** The runs of the start of a stream that is meant; none where it is not planned. */
  private int[] runsOf(PlannedRun run, PlannedRun.Whole whole, Prerequisite.Target target) {
    LocalDate date = dateOf(run, target);
    TreeMap<Integer, List<Integer>> starts = new TreeMap<>();
    for (String path : whole.jobs()) {
      int slash = path.lastIndexOf('/');
      int one = names.first(specs, path.substring(0, slash), path.substring(slash + 1), date);
      for (; one >= 0; one = names.next(one)) {
        starts.computeIfAbsent(run(one).reference().number(), any -> new ArrayList<>()).add(one);
      }
    }
    if (starts.isEmpty()) {
      return NONE;
    }
    boolean own =
        !target.previous()
            && isWithin(whole.path(), run.reference().stream())
            && starts.containsKey(run.reference().number());
    List<Integer> meant = starts.get(own ? run.reference().number() : startMeant(run, starts));
    return meant.stream().mapToInt(i -> i).sorted().toArray();
  }

  /** The last start due no later than a run; else the first. A start is due with its first run. */
  private int startMeant(PlannedRun run, Map<Integer, List<Integer>> starts) {
    int[] firsts = starts.values().stream().mapToInt(all -> earliest(all)).toArray();
    return run(choose(run, firsts)).reference().number();
  }

  private int earliest(List<Integer> all) {
    int earliest = all.get(0);
    for (int one : all) {
      earliest = run(one).due().isBefore(run(earliest).due()) ? one : earliest;
    }
    return earliest;
  }

  private Condition onRun(PlannedRun run, String job, Prerequisite.OfRun asked) {
    if (asked.target().within().isPresent()) {
      return within(run, Definitions.resolve(job, run.reference().stream()), asked);
    }
    int found = meant(run, job, asked.target());
    return found < 0 && asked.target().ifPlanned()
        ? Condition.Met.ALWAYS
        : new Condition.OnRun(
            found,
            pathUnless(found, run, job),
            asked.outcome(),
            asked.codes(),
            asked.target().previous());
  }

  private Condition within(PlannedRun run, String path, Prerequisite.OfRun asked) {
    Duration span = asked.target().within().orElseThrow();
    int[] all = byPath().getOrDefault(path, NONE);
    boolean none = Arrays.stream(all).noneMatch(i -> !run(i).reference().equals(run.reference()));
    return none && asked.target().ifPlanned()
        ? Condition.Met.ALWAYS
        : new Condition.OnLatest(
            all,
            path,
            asked.outcome(),
            asked.codes(),
            run.due().toEpochMilli() - span.toMillis(),
            Durations.print(span));
  }

  private Condition onValue(PlannedRun run, Prerequisite.ValueIs asked, boolean wanted) {
    int found = meant(run, asked.target().name(), asked.target());
    return found < 0 && asked.target().ifPlanned()
        ? Condition.Met.ALWAYS
        : new Condition.OnValue(
            found,
            Definitions.resolve(asked.target().name(), run.reference().stream()),
            asked.name(),
            asked.comparison(),
            asked.operand(),
            wanted,
            asked.target().previous());
  }

  /**
   * The run of a job that is meant; -1 where there is none: that of the same start; else the last
   * one due no later than this run; else the first.
   *
   * @param job as it is written: of the same stream, or a full path
   */
  private int meant(PlannedRun run, String job, Prerequisite.Target target) {
    String own = run.reference().stream();
    int slash = job.lastIndexOf('/');
    String stream = slash < 0 ? own : job.substring(0, slash);
    int first =
        names.first(specs, stream, slash < 0 ? job : job.substring(slash + 1), dateOf(run, target));
    if (first < 0) {
      return -1;
    }
    if (!target.previous() && isWithin(stream, own)) {
      int number = run.reference().number();
      for (int one = first; one >= 0; one = names.next(one)) {
        if (run(one).reference().number() == number) {
          return one;
        }
      }
    }
    if (names.next(first) < 0) {
      return first;
    }
    int[] candidates = IntStream.iterate(first, i -> i >= 0, names::next).toArray();
    return choose(run, candidates);
  }

  private int choose(PlannedRun run, int[] candidates) {
    int first = candidates[0];
    int latest = -1;
    for (int candidate : candidates) {
      PlannedRun other = run(candidate);
      if (other.due().isBefore(run(first).due())) {
        first = candidate;
      }
      boolean inTime = !other.due().isAfter(run.due());
      if (inTime && (latest < 0 || !other.due().isBefore(run(latest).due()))) {
        latest = candidate;
      }
    }
    return latest >= 0 ? latest : first;
  }

  /** Whether two runs belong to one start: of the same stream, or one of a step of the other. */
  private static boolean isWithin(String a, String b) {
    String shorter = a.length() < b.length() ? a : b;
    String longer = a.length() < b.length() ? b : a;
    return longer.startsWith(shorter)
        && (longer.length() == shorter.length() || longer.charAt(shorter.length()) == '/');
  }
}

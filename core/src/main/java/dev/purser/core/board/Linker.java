package dev.purser.core.board;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.OnlyIf;
import dev.purser.core.definition.SuccessRule;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Durations;
import dev.purser.core.schedule.Window;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Ties the names of prerequisites to the runs of a board, and steps to what is below them. */
final class Linker {
  private static final int[] NONE = {};

  private final RunTable table;
  private final Map<Key, int[]> byJobAndDate = new HashMap<>();
  private final Map<Start, Integer> byStart = new HashMap<>();
  private final Map<String, int[]> byWindow = new HashMap<>();
  private Map<String, int[]> byPath;
  private int count;

  /** A job of one start. */
  private record Start(Key key, int number) {}

  /** A job on a date. */
  private record Key(String stream, String job, LocalDate date) {
    static Key of(String path, LocalDate date) {
      int slash = path.lastIndexOf('/');
      return new Key(path.substring(0, Math.max(slash, 0)), path.substring(slash + 1), date);
    }
  }

  /** Knows no run yet. */
  Linker(RunTable table) {
    this.table = table;
  }

  /** Takes in the runs that the table has more than before. */
  void takeIn() {
    for (int i = count; i < table.count; i++) {
      RunReference reference = run(i).reference();
      Key key = new Key(reference.stream(), reference.job(), reference.date());
      byJobAndDate.merge(key, new int[] {i}, Linker::append);
      byStart.putIfAbsent(new Start(key, reference.number()), i);
      if (run(i).start().window().isPresent()) {
        byWindow.merge(windowOf(reference), new int[] {i}, Linker::append);
      }
    }
    count = table.count;
    byPath = null;
  }

  private static String windowOf(RunReference reference) {
    return reference.stream() + "@" + reference.date() + "#" + reference.number();
  }

  /** What is new on a board, to be compared with what others ask for. */
  static final class News {
    private final int from;
    private final Set<Key> keys = new HashSet<>();
    private final Set<String> paths = new HashSet<>();
    private final Set<String> streams = new HashSet<>();

    /** The runs of a table from an index on. */
    News(RunTable table, int from) {
      this.from = from;
      for (int i = from; i < table.count; i++) {
        RunReference reference = table.specs[i].run().reference();
        keys.add(new Key(reference.stream(), reference.job(), reference.date()));
        paths.add(reference.path());
        streams.add(reference.stream());
      }
    }
  }

  /** Whether what a run is tied to may be another because of the news. */
  boolean concerns(int index, News news) {
    PlannedRun run = run(index);
    RunReference own = run.reference();
    boolean inOrder = run.start().window().isPresent() && news.streams.contains(own.stream());
    boolean orphan = table.parents[index] < 0 && news.paths.contains(own.stream());
    if (inOrder || orphan) {
      return true;
    }
    for (Prerequisite asks : run.job().asks()) {
      for (Prerequisite.Target target : asks.targets()) {
        PlannedRun.Whole whole = run.ties().wholeStreams().get(target.name());
        List<String> paths =
            whole == null
                ? List.of(Definitions.resolve(target.name(), own.stream()))
                : whole.jobs();
        for (String path : paths) {
          if (concerns(run, path, target, news)) {
            return true;
          }
        }
      }
    }
    return false;
  }

  private boolean concerns(PlannedRun run, String path, Prerequisite.Target target, News news) {
    if (target.within().isPresent()) {
      return news.paths.contains(path);
    }
    LocalDate date = target.previous() ? run.previous().orElseThrow() : run.reference().date();
    Key key = Key.of(path, date);
    if (!news.keys.contains(key)) {
      return false;
    }
    int sameStart = target.previous() ? -1 : sameStart(run, key);
    return sameStart < 0 || sameStart >= news.from;
  }

  /** The run of a job that belongs to the same start; -1 where there is none. */
  private int sameStart(PlannedRun run, Key key) {
    return isWithin(key.stream(), run.reference().stream())
        ? byStart.getOrDefault(new Start(key, run.reference().number()), -1)
        : -1;
  }

  private PlannedRun run(int index) {
    return table.specs[index].run();
  }

  private static int[] append(int[] a, int[] b) {
    int[] both = Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, both, a.length, b.length);
    return both;
  }

  /** The step that a run is below; -1 for none. */
  int parent(int run) {
    RunReference reference = run(run).reference();
    int slash = reference.stream().lastIndexOf('/');
    if (slash < 0) {
      return -1;
    }
    for (int candidate :
        byJobAndDate.getOrDefault(Key.of(reference.stream(), reference.date()), NONE)) {
      if (run(candidate).job().isStep()
          && run(candidate).reference().number() == reference.number()) {
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
    Condition own =
        planned.job().waitsFor().map(p -> link(planned, p, true)).orElse(Condition.Met.ALWAYS);
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
    return Optional.ofNullable(byWindow.get(stream + "@" + place))
        .map(targets -> new Condition.OnWindow(targets, place, begunIsEnough));
  }

  /**
   * Ties a prerequisite, or its opposite.
   *
   * @param wanted false for the opposite: it is handed down to what is asked of a moment or a value
   */
  private Condition link(PlannedRun run, Prerequisite prerequisite, boolean wanted) {
    if (prerequisite instanceof Prerequisite.Not not) {
      return link(run, not.part(), !wanted);
    }
    if (prerequisite instanceof Prerequisite.All all) {
      Condition[] parts = parts(run, all.parts(), wanted);
      return wanted ? new Condition.All(parts) : new Condition.Any(parts);
    }
    if (prerequisite instanceof Prerequisite.Any any) {
      Condition[] parts = parts(run, any.parts(), wanted);
      return wanted ? new Condition.Any(parts) : new Condition.All(parts);
    }
    if (prerequisite instanceof Prerequisite.FileArrived file) {
      List<String> names = run.watches().stream().map(FileWatch::name).toList();
      return opposite(new Condition.OnFile(names.indexOf(file.watch()), file.watch()), !wanted);
    }
    if (prerequisite instanceof Prerequisite.ValueIs value) {
      return onValue(run, value, wanted);
    }
    return onRuns(run, (Prerequisite.OfRun) prerequisite, wanted);
  }

  private static Condition opposite(Condition condition, boolean opposite) {
    return opposite ? new Condition.Not(condition) : condition;
  }

  private Condition[] parts(PlannedRun run, List<Prerequisite> parts, boolean wanted) {
    return parts.stream().map(part -> link(run, part, wanted)).toArray(Condition[]::new);
  }

  private Condition onRuns(PlannedRun run, Prerequisite.OfRun asked, boolean wanted) {
    PlannedRun.Whole whole = run.ties().wholeStreams().get(asked.job());
    List<String> jobs =
        whole == null
            ? List.of(Definitions.resolve(asked.job(), run.reference().stream()))
            : whole.jobs();
    if (jobs.stream().anyMatch(run.assumed()::contains)) {
      return Condition.Met.ALWAYS;
    }
    if (asked.outcome() == Prerequisite.Outcome.RUNNING) {
      Condition[] each =
          jobs.stream()
              .map(path -> new Condition.OnRunning(meant(run, path, asked.target()), path, wanted))
              .toArray(Condition[]::new);
      return each.length == 1
          ? each[0]
          : wanted ? new Condition.Any(each) : new Condition.All(each);
    }
    Condition condition =
        whole == null ? onRun(run, jobs.get(0), asked) : onStream(run, whole, asked);
    return condition instanceof Condition.Met ? condition : opposite(condition, !wanted);
  }

  /**
   * A stream did what is asked when those of its jobs did that count for it, and failed when one of
   * them did. Jobs that are not planned on the date are left aside, unless none is.
   */
  private Condition onStream(PlannedRun run, PlannedRun.Whole whole, Prerequisite.OfRun asked) {
    SuccessRule rule = whole.succeedsIf();
    boolean judged =
        asked.outcome() == Prerequisite.Outcome.SUCCEEDED
            || asked.outcome() == Prerequisite.Outcome.FAILED;
    List<Condition> each = new ArrayList<>();
    for (String job : whole.jobs()) {
      boolean counts = !judged || rule.counts(job.substring(job.lastIndexOf('/') + 1));
      Condition one = counts ? onRun(run, job, asked) : Condition.Met.ALWAYS;
      if (!(one instanceof Condition.Met) && !isUnplanned(one)) {
        each.add(one);
      }
    }
    if (each.isEmpty()) {
      return asked.target().ifPlanned()
          ? Condition.Met.ALWAYS
          : new Condition.OnRun(
              -1, whole.path(), asked.outcome(), asked.codes(), asked.target().previous());
    }
    boolean failed = asked.outcome() == Prerequisite.Outcome.FAILED;
    boolean oneIsEnough = judged && failed != rule.isByNumber();
    Condition[] parts = each.toArray(Condition[]::new);
    return oneIsEnough ? new Condition.Any(parts) : new Condition.All(parts);
  }

  private static boolean isUnplanned(Condition condition) {
    return (condition instanceof Condition.OnRun on && on.target() < 0)
        || (condition instanceof Condition.OnLatest latest && latest.targets().length == 0);
  }

  private Condition onRun(PlannedRun run, String path, Prerequisite.OfRun asked) {
    Prerequisite.Target target = asked.target();
    if (target.within().isPresent()) {
      long since = run.due().toEpochMilli() - target.within().get().toMillis();
      int[] all = byPath().getOrDefault(path, NONE);
      boolean none = Arrays.stream(all).noneMatch(i -> !run(i).reference().equals(run.reference()));
      return none && target.ifPlanned()
          ? Condition.Met.ALWAYS
          : new Condition.OnLatest(
              all,
              path,
              asked.outcome(),
              asked.codes(),
              since,
              Durations.print(target.within().get()));
    }
    int found = meant(run, path, target);
    return found < 0 && target.ifPlanned()
        ? Condition.Met.ALWAYS
        : new Condition.OnRun(found, path, asked.outcome(), asked.codes(), target.previous());
  }

  private Map<String, int[]> byPath() {
    if (byPath == null) {
      Map<String, List<Integer>> lists = new HashMap<>();
      for (int i = 0; i < count; i++) {
        lists.computeIfAbsent(run(i).reference().path(), path -> new ArrayList<>()).add(i);
      }
      byPath = new HashMap<>();
      lists.forEach(
          (path, all) -> byPath.put(path, all.stream().mapToInt(Integer::intValue).toArray()));
    }
    return byPath;
  }

  private Condition onValue(PlannedRun run, Prerequisite.ValueIs asked, boolean wanted) {
    String path = Definitions.resolve(asked.target().name(), run.reference().stream());
    int found = meant(run, path, asked.target());
    return found < 0 && asked.target().ifPlanned()
        ? Condition.Met.ALWAYS
        : new Condition.OnValue(
            found,
            path,
            asked.name(),
            asked.comparison(),
            asked.operand(),
            wanted,
            asked.target().previous());
  }

  /** The run that is meant; -1 where there is none. */
  private int meant(PlannedRun run, String path, Prerequisite.Target target) {
    LocalDate date = target.previous() ? run.previous().orElseThrow() : run.reference().date();
    Key key = Key.of(path, date);
    int sameStart = target.previous() ? -1 : sameStart(run, key);
    if (sameStart >= 0) {
      return sameStart;
    }
    int[] candidates = byJobAndDate.get(key);
    return candidates == null ? -1 : choose(run, candidates);
  }

  /**
   * Of several runs of a job on one date, none of the same start: the last one due no later than
   * this run; else the first.
   */
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

package dev.purser.core.board;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.job.Overlap;
import dev.purser.core.job.Placement;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.run.RunState;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * Plays a day by the rules of {@code docs/how-a-run-is-decided.md} and {@code
 * docs/prerequisites.md}, written from those pages and as plainly as they are: every round looks at
 * every run. It knows nothing of the board. No people, files, values or holds; hosts are always
 * connected but for those that are said to be away.
 */
final class Reference {
  /** How an attempt goes. */
  interface Going {
    /** How long it takes, in milliseconds, at least 1. */
    long millis(PlannedRun run, int attempt);

    /** Its exit code. */
    int code(PlannedRun run, int attempt);
  }

  /** The four answers, worst first. */
  private enum Says {
    IMPOSSIBLE,
    STUCK,
    OPEN,
    MET
  }

  private static final class Run {
    final PlannedRun plan;
    final int place;
    RunState state = RunState.PLANNED;
    boolean notNeeded;
    boolean asked;
    boolean stopping;
    int attempts;
    int code = -1;
    long retryAt;
    long endsAt = Long.MAX_VALUE;
    long ended;
    String host = "";
    Run above;
    final List<Run> below = new ArrayList<>();
    final Set<String> inLine = new HashSet<>();

    Run(PlannedRun plan, int place) {
      this.plan = plan;
      this.place = place;
    }

    Job job() {
      return plan.job();
    }

    String path() {
      return plan.reference().path();
    }

    int number() {
      return plan.reference().number();
    }

    long due() {
      return plan.due().toEpochMilli();
    }

    boolean atWork() {
      return state == RunState.RUNNING;
    }

    boolean isDone() {
      return state.isEnded();
    }
  }

  private final Definitions definitions;
  private final Going going;
  private final Set<String> away;
  private final List<Run> runs = new ArrayList<>();
  private final List<String> told = new ArrayList<>();
  private long now;

  Reference(Definitions definitions, List<PlannedRun> plan, Going going, Set<String> away) {
    this.definitions = definitions;
    this.going = going;
    this.away = away;
    plan.forEach(run -> runs.add(new Run(run, runs.size())));
    for (Run run : runs) {
      for (Run step : runs) {
        boolean isAbove =
            step.job().isStep()
                && step.path().equals(run.plan.reference().stream())
                && step.number() == run.number();
        if (isAbove) {
          run.above = step;
          step.below.add(run);
        }
      }
    }
  }

  /** Every start, in the order in which they happen, and how each run ended. */
  List<String> play() {
    while (true) {
      long next = nextInstant();
      if (next == Long.MAX_VALUE) {
        break;
      }
      now = next;
      takeIn();
      decide();
    }
    for (Run run : runs) {
      told.add(run.plan.reference() + " " + run.state.word() + " " + run.ended);
    }
    return told;
  }

  // ---- turns

  private long nextInstant() {
    long next = Long.MAX_VALUE;
    boolean waits = false;
    for (Run run : runs) {
      if (run.state == RunState.PLANNED) {
        next = Math.min(next, run.due());
      }
      if (run.state == RunState.WAITING && run.retryAt > now) {
        next = Math.min(next, run.retryAt);
      }
      if (run.atWork() && !run.job().isStep()) {
        next = Math.min(next, run.endsAt);
      }
      if (run.state == RunState.WAITING && run.asked && isReady(run)) {
        next = Math.min(next, now); // the answer is assumed to be given at once
      }
      waits |= run.state == RunState.WAITING && !run.job().takes().isEmpty();
    }
    if (waits && next != Long.MAX_VALUE) {
      next = Math.min(next, nextChangeOfUnits());
    } else if (waits && isAnybodyReadyAndHelpedByTheClock()) {
      next = nextChangeOfUnits();
    }
    return next;
  }

  private boolean isAnybodyReadyAndHelpedByTheClock() {
    for (Run run : runs) {
      if (run.state == RunState.WAITING && isReady(run)) {
        for (Map.Entry<String, Integer> take : run.job().takes().entrySet()) {
          if (take.getValue() > units(take.getKey()) && !hosts(run).isEmpty()) {
            return true;
          }
        }
      }
    }
    return false;
  }

  private long nextChangeOfUnits() {
    long next = Long.MAX_VALUE;
    for (Capacity capacity : definitions.capacities()) {
      Instant change = capacity.nextChange(Instant.ofEpochMilli(now));
      next = change.equals(Instant.MAX) ? next : Math.min(next, change.toEpochMilli());
    }
    return next;
  }

  private void takeIn() {
    for (Run run : runs) {
      if (run.state == RunState.PLANNED && run.due() <= now) {
        run.state = RunState.WAITING;
      }
    }
    Set<Run> answered = new HashSet<>(runs);
    answered.removeIf(run -> !run.asked || !isReady(run));
    for (Run run : runs) {
      if (run.atWork() && !run.job().isStep() && run.endsAt <= now) {
        attemptEnds(run);
      } else if (run.state == RunState.WAITING && run.asked && answered.contains(run)) {
        end(run, RunState.SUCCEEDED);
      }
    }
  }

  private void attemptEnds(Run run) {
    run.endsAt = Long.MAX_VALUE;
    if (run.stopping) {
      run.stopping = false;
      run.code = 143;
      end(run, RunState.CANCELLED);
      return;
    }
    run.code = going.code(run.plan, run.attempts);
    if (run.job().succeedsWith().contains(run.code)) {
      end(run, RunState.SUCCEEDED);
    } else if (run.attempts <= run.job().retry().times()
        && run.job().retry().on().contains(run.code)) {
      run.state = RunState.WAITING;
      run.retryAt = now + run.job().retry().pauseAfter(run.attempts).toMillis();
    } else {
      end(run, RunState.FAILED);
    }
  }

  private void end(Run run, RunState state) {
    run.state = state;
    run.ended = now;
    run.asked = false;
  }

  private void decide() {
    boolean changed;
    do {
      changed = settle();
      changed |= askAll();
    } while (changed);
  }

  // ---- who is ready

  private boolean settle() {
    boolean any = false;
    boolean changed = true;
    while (changed) {
      changed = false;
      for (Run run : runs) {
        if (run.state == RunState.WAITING && says(run) == Says.IMPOSSIBLE) {
          run.notNeeded = true;
          end(run, RunState.SKIPPED);
          changed = true;
        } else if (run.state == RunState.WAITING && isQuestion(run) && !run.asked) {
          run.asked = isReady(run);
          changed |= run.asked;
        }
      }
      if (!changed) {
        for (Run run : runs) {
          changed |= run.job().isStep() && run.state == RunState.RUNNING && judge(run);
        }
      }
      any |= changed;
    }
    for (Run run : runs) {
      if (run.state != RunState.WAITING || !isReady(run)) {
        run.inLine.clear();
      }
    }
    return any;
  }

  private static boolean isQuestion(Run run) {
    return run.job().work() instanceof Approval;
  }

  private boolean isReady(Run run) {
    return says(run) == Says.MET && run.retryAt <= now;
  }

  private Says says(Run run) {
    Says above = Says.MET;
    if (run.above != null) {
      above =
          switch (run.above.state) {
            case RUNNING, SUCCEEDED, FAILED -> Says.MET;
            case PLANNED, WAITING, STARTING -> Says.OPEN;
            case SKIPPED -> Says.IMPOSSIBLE;
            case CANCELLED -> Says.STUCK;
          };
    }
    Says own = run.job().waitsFor().map(asked -> says(run, asked, true)).orElse(Says.MET);
    return worst(above, own);
  }

  private static Says worst(Says a, Says b) {
    return a.compareTo(b) <= 0 ? a : b;
  }

  private Says says(Run run, Prerequisite asked, boolean wanted) {
    if (asked instanceof Prerequisite.Not not) {
      return says(run, not.part(), !wanted);
    }
    if (asked instanceof Prerequisite.All all) {
      return says(run, all.parts(), wanted, wanted);
    }
    if (asked instanceof Prerequisite.Any any) {
      return says(run, any.parts(), wanted, !wanted);
    }
    Prerequisite.OfRun ofRun = (Prerequisite.OfRun) asked;
    Says plain =
        run.plan.ties().wholeStreams().containsKey(ofRun.job())
            ? ofStream(run, ofRun)
            : ofJob(run, ofRun);
    if (ofRun.outcome() == Prerequisite.Outcome.RUNNING) {
      return ofRunning(run, ofRun, wanted);
    }
    return wanted ? plain : opposite(plain);
  }

  private Says says(Run run, List<Prerequisite> parts, boolean wanted, boolean all) {
    Says answer = all ? Says.MET : Says.IMPOSSIBLE;
    for (Prerequisite part : parts) {
      Says one = says(run, part, wanted);
      answer = all ? worst(answer, one) : answer.compareTo(one) >= 0 ? answer : one;
    }
    return answer;
  }

  private static Says opposite(Says says) {
    return switch (says) {
      case MET -> Says.IMPOSSIBLE;
      case OPEN -> Says.OPEN;
      case STUCK, IMPOSSIBLE -> Says.MET;
    };
  }

  private Says ofRunning(Run run, Prerequisite.OfRun asked, boolean wanted) {
    Run target = meant(run, asked.job());
    boolean atWork = target != null && target.atWork();
    if (atWork == wanted) {
      return Says.MET;
    }
    return wanted && (target == null || target.isDone()) ? Says.STUCK : Says.OPEN;
  }

  private Says ofJob(Run run, Prerequisite.OfRun asked) {
    Run target = meant(run, asked.job());
    if (target == null) {
      return asked.target().ifPlanned() ? Says.MET : Says.STUCK;
    }
    return column(target, asked);
  }

  /** The table of the page: a row for what is asked, a column for how it ended. */
  private static Says column(Run target, Prerequisite.OfRun asked) {
    if (!target.isDone()) {
      return Says.OPEN;
    }
    boolean succeeded = target.state == RunState.SUCCEEDED;
    boolean failed = target.state == RunState.FAILED;
    boolean skipped = target.state == RunState.SKIPPED;
    return switch (asked.outcome()) {
      case SUCCEEDED ->
          succeeded || (skipped && !target.notNeeded)
              ? Says.MET
              : skipped ? Says.IMPOSSIBLE : Says.STUCK;
      case FAILED ->
          failed ? Says.MET : target.state == RunState.CANCELLED ? Says.STUCK : Says.IMPOSSIBLE;
      case SKIPPED -> skipped ? Says.MET : succeeded ? Says.IMPOSSIBLE : Says.STUCK;
      case ENDED, RUNNING -> Says.MET;
    };
  }

  private Run meant(Run run, String name) {
    String path = name.contains("/") ? name : run.plan.reference().stream() + "/" + name;
    String stream = path.substring(0, path.lastIndexOf('/'));
    List<Run> all = runs.stream().filter(one -> one.path().equals(path)).toList();
    String own = run.plan.reference().stream();
    boolean sameStart = own.equals(stream) || (own + "/").startsWith(stream + "/");
    for (Run one : all) {
      if (sameStart && one.number() == run.number()) {
        return one;
      }
    }
    return lastDue(all, run);
  }

  /** The last one due no later than a run, else the first. */
  private static Run lastDue(List<Run> all, Run run) {
    Run last = null;
    Run first = null;
    for (Run one : all) {
      boolean inTime = one.due() <= run.due();
      last = inTime && (last == null || one.due() >= last.due()) ? one : last;
      first = first == null || one.due() < first.due() ? one : first;
    }
    return last == null ? first : last;
  }

  private Says ofStream(Run run, Prerequisite.OfRun asked) {
    PlannedRun.Whole whole = run.plan.ties().wholeStreams().get(asked.job());
    Map<Integer, Run> firsts = new HashMap<>();
    List<Run> all = runs.stream().filter(one -> whole.jobs().contains(one.path())).toList();
    for (Run one : all) {
      firsts.merge(one.number(), one, (a, b) -> b.due() < a.due() ? b : a);
    }
    Run start = lastDue(new ArrayList<>(firsts.values()), run);
    if (start == null) {
      return asked.target().ifPlanned() ? Says.MET : Says.STUCK;
    }
    List<Run> ofStart = all.stream().filter(one -> one.number() == start.number()).toList();
    SuccessRule rule = whole.succeedsIf();
    List<Run> counts =
        ofStart.stream().filter(one -> rule.counts(one.plan.reference().job())).toList();
    return switch (asked.outcome()) {
      case SUCCEEDED -> streamSucceeded(counts, rule);
      case FAILED -> streamFailed(counts, rule);
      default -> ofStart.stream().map(one -> column(one, asked)).reduce(Says.MET, Reference::worst);
    };
  }

  private static boolean anyIn(List<Run> all, RunState... states) {
    return all.stream().anyMatch(one -> List.of(states).contains(one.state));
  }

  private static boolean isGood(List<Run> counts, SuccessRule rule) {
    long good = counts.stream().filter(one -> one.state == RunState.SUCCEEDED).count();
    boolean clean =
        counts.stream().allMatch(Run::isDone)
            && !anyIn(counts, RunState.FAILED, RunState.CANCELLED);
    return (rule.isByNumber() && good >= rule.least()) || clean;
  }

  private static Says streamSucceeded(List<Run> counts, SuccessRule rule) {
    boolean open = counts.stream().anyMatch(one -> !one.isDone());
    if (isGood(counts, rule)) {
      return counts.stream().allMatch(one -> one.notNeeded) ? Says.IMPOSSIBLE : Says.MET;
    }
    boolean bad = anyIn(counts, RunState.FAILED, RunState.CANCELLED);
    return open && (rule.isByNumber() || !bad) ? Says.OPEN : Says.STUCK;
  }

  private static Says streamFailed(List<Run> counts, SuccessRule rule) {
    boolean open = counts.stream().anyMatch(one -> !one.isDone());
    boolean failed = anyIn(counts, RunState.FAILED);
    if (isGood(counts, rule)) {
      return Says.IMPOSSIBLE;
    }
    if (failed && !(rule.isByNumber() && open)) {
      return Says.MET;
    }
    return open ? Says.OPEN : Says.STUCK;
  }

  /** Ends a step where nothing below it can move by itself. */
  private boolean judge(Run step) {
    if (step.stopping) {
      boolean over = step.below.stream().noneMatch(Run::atWork);
      if (over) {
        step.stopping = false;
        end(step, RunState.CANCELLED);
      }
      return over;
    }
    for (Run one : step.below) {
      boolean moves =
          !one.isDone() && (one.atWork() || says(one) == Says.OPEN || says(one) == Says.MET);
      if (moves) {
        return false;
      }
    }
    SuccessRule rule = step.plan.ties().succeedsIf();
    List<Run> counts =
        step.below.stream().filter(one -> rule.counts(one.plan.reference().job())).toList();
    if (isGood(counts, rule)) {
      end(step, RunState.SUCCEEDED);
      return true;
    }
    if (anyIn(counts, RunState.FAILED, RunState.CANCELLED)) {
      end(step, RunState.FAILED);
      return true;
    }
    return false;
  }

  // ---- who starts

  private boolean askAll() {
    List<Run> ready = new ArrayList<>();
    for (Run run : runs) {
      if (run.state == RunState.WAITING && !isQuestion(run) && isReady(run)) {
        ready.add(run);
      }
    }
    ready.sort(
        Comparator.comparingLong((Run r) -> r.due() - r.plan.job().priority() * 60_000L)
            .thenComparingLong(Run::due)
            .thenComparingInt(r -> r.place));
    Set<String> closed = new HashSet<>();
    Map<String, Integer> kept = new HashMap<>();
    boolean changed = false;
    for (Run run : ready) {
      if (run.state == RunState.WAITING && isReady(run)) {
        changed |= ask(run, closed, kept);
      } else {
        run.inLine.clear();
      }
    }
    return changed;
  }

  /** Returns whether something starts, ends or is stopped by it. */
  private boolean ask(Run run, Set<String> closed, Map<String, Integer> kept) {
    boolean changes = false;
    Overlap overlap = run.job().overlap();
    if (overlap.isLimited() && overlap.manner() != Overlap.Manner.WAIT) {
      List<Run> earlier =
          runs.stream()
              .filter(o -> o.path().equals(run.path()) && o.atWork() && comesBefore(o, run))
              .toList();
      if (!earlier.isEmpty() && overlap.manner() == Overlap.Manner.SKIP) {
        end(run, RunState.SKIPPED);
        run.inLine.clear();
        return true;
      }
      List<Run> cancelled = earlier.stream().filter(one -> !one.stopping).toList();
      cancelled.forEach(this::cancel);
      changes = !cancelled.isEmpty();
    }
    Map<String, Integer> needs = new HashMap<>(run.job().takes());
    if (overlap.isLimited()) {
      needs.put(run.path() + " itself", 1);
    }
    boolean tooMuch =
        needs.entrySet().stream().anyMatch(n -> n.getValue() > total(run, n.getKey()));
    if (tooMuch || (isPlaced(run) && hosts(run).isEmpty())) {
      run.inLine.clear();
      return changes;
    }
    Set<String> lacks = new HashSet<>();
    needs.forEach(
        (what, many) -> {
          int free = total(run, what) - taken(what) - kept.getOrDefault(what, 0);
          if (closed.contains(what) || free < many) {
            lacks.add(what);
          }
        });
    String host = isPlaced(run) ? hostFor(run) : "";
    if (lacks.isEmpty() && host != null) {
      start(run, host);
      return true;
    }
    run.inLine.addAll(lacks);
    for (String what : run.inLine) {
      if (lacks.contains(what)) {
        closed.add(what);
      } else {
        kept.merge(what, needs.get(what), Integer::sum);
      }
    }
    return changes;
  }

  /** What is at work is asked to stop, and is assumed to end in the next turn of this instant. */
  private void cancel(Run run) {
    run.below.stream().filter(one -> !one.isDone()).forEach(this::cancel);
    if (run.atWork()) {
      run.stopping = true;
      run.endsAt = now;
    } else {
      end(run, RunState.CANCELLED);
      run.inLine.clear();
    }
  }

  private static boolean comesBefore(Run a, Run b) {
    return a.due() != b.due() ? a.due() < b.due() : a.place < b.place;
  }

  private int units(String capacity) {
    return definitions.capacities().stream()
        .filter(one -> one.name().equals(capacity))
        .findFirst()
        .orElseThrow()
        .unitsAt(Instant.ofEpochMilli(now));
  }

  private int total(Run run, String what) {
    return what.endsWith(" itself") ? run.job().overlap().most() : units(what);
  }

  private int taken(String what) {
    int taken = 0;
    for (Run run : runs) {
      if (run.atWork()) {
        taken += run.job().takes().getOrDefault(what, 0);
        taken += what.equals(run.path() + " itself") ? 1 : 0;
      }
    }
    return taken;
  }

  private static boolean isPlaced(Run run) {
    return !run.job().isStep();
  }

  /** Hosts that come into question, by name: connected, and not of another part. */
  private Set<String> hosts(Run run) {
    Placement placement = run.job().placement();
    Set<String> all = new TreeSet<>();
    if (placement instanceof Placement.OnHost on) {
      all.add(on.host());
    } else if (placement.ofGroup().isPresent()) {
      HostGroup group =
          definitions.hostGroups().stream()
              .filter(one -> one.name().equals(placement.ofGroup().get()))
              .findFirst()
              .orElseThrow();
      all.addAll(group.members(definitions.hosts()));
    } else {
      all.add("");
    }
    all.removeAll(away);
    if (placement instanceof Placement.Another) {
      for (Run part : run.above.below) {
        if (part != run && (part.atWork() || part.state == RunState.SUCCEEDED)) {
          all.remove(part.host);
        }
      }
    }
    return all;
  }

  /** The one with the fewest attempts on it that has room; null where none has. */
  private String hostFor(Run run) {
    String best = null;
    long least = Long.MAX_VALUE;
    for (String host : hosts(run)) {
      long load =
          runs.stream()
              .filter(one -> one.atWork() && isPlaced(one) && one.host.equals(host))
              .count();
      int atMost =
          definitions.hosts().stream()
              .filter(one -> one.name().equals(host))
              .mapToInt(one -> one.atMost())
              .findFirst()
              .orElse(0);
      if (load < least && (atMost == 0 || load < atMost)) {
        best = host;
        least = load;
      }
    }
    return best;
  }

  private void start(Run run, String host) {
    for (Run step = run.above; step != null && step.isDone(); step = step.above) {
      step.state = RunState.RUNNING;
      step.ended = 0;
    }
    run.state = RunState.RUNNING;
    run.inLine.clear();
    run.host = host;
    run.retryAt = 0;
    if (!run.job().isStep()) {
      run.attempts++;
      run.endsAt = now + going.millis(run.plan, run.attempts);
      told.add(now + " " + run.plan.reference() + " " + run.attempts + " on " + host);
    }
  }
}

package dev.purser.service.plan;

import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;

/**
 * What other definitions make of the plan, run by run: a run that would be planned as it is stays
 * as it is, with all that people have said of it; one that would be another is replaced, and what
 * they said goes over to it as far as the change does not say otherwise; start times that are past
 * are left alone.
 */
final class Replan {
  private final BoardView board;
  private final Definitions definitions;
  private final Planner planner;
  private final Predicate<String> paused;
  private final Holds holds;
  private final LocalDate today;
  private final Instant now;

  /**
   * For definitions that are, or would be, in force.
   *
   * @param paused whether nothing of a stream starts by itself
   * @param holds from when the change holds
   */
  Replan(
      BoardView board,
      Definitions definitions,
      Predicate<String> paused,
      Holds holds,
      LocalDate today,
      Instant now) {
    this.board = board;
    this.definitions = definitions;
    this.planner = new Planner(definitions);
    this.paused = paused;
    this.holds = holds;
    this.today = today;
    this.now = now;
  }

  /** A run that becomes another, with what people have said of it and what of that stays. */
  record Replaced(RunSpec before, PlannedRun after, RunStatus.Said said, RunStatus.Said stays) {}

  /**
   * What changes of a stream.
   *
   * @param gone taken off the plan, and nothing comes instead
   * @param fresh new on the plan
   */
  record Change(List<RunSpec> gone, List<Replaced> replaced, List<PlannedRun> fresh) {
    static Change none() {
      return new Change(new ArrayList<>(), new ArrayList<>(), new ArrayList<>());
    }
  }

  /**
   * All changes, by stream.
   *
   * @param planned the dates that are planned already
   * @param concerned whose plan may be another; the others are left alone
   */
  Map<String, Change> all(Collection<LocalDate> planned, Predicate<String> concerned) {
    Map<String, List<RunSpec>> onBoard = new HashMap<>();
    Set<LocalDate> dates = new TreeSet<>();
    planned.stream().filter(date -> !date.isBefore(today)).forEach(dates::add);
    for (RunSpec run : board.runs()) {
      String top = top(run.run().reference());
      if (!concerned.test(top)) {
        continue;
      }
      onBoard.computeIfAbsent(top, path -> new ArrayList<>()).add(run);
      if (isNotBegun(run)) {
        dates.add(run.run().reference().date());
      }
    }
    Set<String> streams = new TreeSet<>(onBoard.keySet());
    definitions.streams().stream().map(Stream::path).filter(concerned).forEach(streams::add);
    Map<String, Change> changes = new LinkedHashMap<>();
    for (String path : streams) {
      Change change = Change.none();
      List<RunSpec> there = onBoard.getOrDefault(path, List.of());
      dates.stream()
          .filter(date -> holds.of(path).holdsOn(date))
          .forEach(date -> ofDate(path, date, there, change));
      changes.put(path, change);
    }
    return changes;
  }

  private String top(RunReference run) {
    return definitions.topOf(run.stream()).map(Stream::path).orElse(run.stream());
  }

  private RunStatus status(RunSpec run) {
    return board.status(run.id()).orElseThrow();
  }

  private boolean isNotBegun(RunSpec run) {
    return status(run).state() == RunState.PLANNED;
  }

  private void ofDate(String path, LocalDate date, List<RunSpec> onBoard, Change change) {
    List<RunSpec> there =
        onBoard.stream().filter(run -> run.run().reference().date().equals(date)).toList();
    List<PlannedRun> wanted =
        paused.test(path)
            ? List.of()
            : definitions.stream(path)
                .map(stream -> planner.plan(stream, date))
                .orElse(List.of())
                .stream()
                .filter(run -> run.due().isAfter(now))
                .map(run -> afterOldWindows(run, onBoard))
                .toList();
    if (!date.isAfter(today) && haveOtherWindows(there, wanted)) {
      return; // windows of another length stay as they were planned
    }
    List<RunSpec> open = new ArrayList<>(there.stream().filter(this::isNotBegun).toList());
    List<PlannedRun> unmatched = new ArrayList<>();
    for (PlannedRun run : wanted) {
      Optional<RunSpec> same = take(open, one -> isSameStart(one.run(), run));
      if (same.isPresent()) {
        pair(same.get(), run, change);
      } else {
        unmatched.add(run);
      }
    }
    for (PlannedRun run : unmatched) {
      Optional<RunSpec> same = take(open, one -> one.run().reference().equals(run.reference()));
      if (same.isPresent()) {
        pair(same.get(), run, change);
      } else {
        change.fresh().add(run); // what has begun before its time is told apart by PlannedRuns
      }
    }
    open.stream().filter(one -> !isKept(one)).forEach(change.gone()::add);
  }

  private static Optional<RunSpec> take(List<RunSpec> from, Predicate<RunSpec> which) {
    Optional<RunSpec> found = from.stream().filter(which).findFirst();
    found.ifPresent(from::remove);
    return found;
  }

  /** Windows are known by their number, all else by job and time: numbers may have moved on. */
  private static boolean isSameStart(PlannedRun one, PlannedRun other) {
    boolean windows = one.start().window().isPresent() || other.start().window().isPresent();
    return windows
        ? one.reference().equals(other.reference())
        : one.reference().path().equals(other.reference().path()) && one.due().equals(other.due());
  }

  private void pair(RunSpec before, PlannedRun wanted, Change change) {
    PlannedRun after = wanted.numbered(before.run().reference().number());
    if (!before.run().equals(after)) {
      RunStatus.Said said = RunStatus.Said.of(before, status(before));
      change.replaced().add(new Replaced(before, after, said, said.staysFor(before, after)));
    }
  }

  /** What a person has moved beyond its time stays, though it is not wanted at that time now. */
  private boolean isKept(RunSpec run) {
    return status(run).due() != 0
        && !run.run().due().isAfter(now)
        && definitions.job(run.run().reference().path()).isPresent();
  }

  /** Whether windows of another length have been planned on a date: they stay as they are. */
  private static boolean haveOtherWindows(List<RunSpec> there, List<PlannedRun> wanted) {
    return there.stream().anyMatch(run -> run.run().start().window().isPresent())
        && wanted.stream()
            .flatMap(run -> run.start().window().stream())
            .anyMatch(window -> isOther(window, there));
  }

  private static boolean isOther(Window wanted, List<RunSpec> there) {
    return there.stream()
        .flatMap(run -> run.run().start().window().stream())
        .noneMatch(w -> w.start().equals(wanted.start()) && w.end().equals(wanted.end()));
  }

  /** Whether a run is one of the windows in line; those by hand come after none. */
  private static boolean isInLine(PlannedRun run) {
    return run.start().window().flatMap(Window::after).isPresent();
  }

  /** The first windows of a new length come after the last ones of the old. */
  private static PlannedRun afterOldWindows(PlannedRun run, List<RunSpec> onBoard) {
    Optional<Window.Place> after = run.start().window().flatMap(Window::after);
    if (after.isEmpty() || after.get().date().equals(run.reference().date())) {
      return run;
    }
    int last =
        onBoard.stream()
            .filter(one -> one.run().reference().date().equals(after.get().date()))
            .filter(one -> isInLine(one.run()))
            .mapToInt(one -> one.run().reference().number())
            .max()
            .orElse(0);
    return last > after.get().number()
        ? run.after(new Window.Place(after.get().date(), last))
        : run;
  }
}

package dev.purser.service.plan;

import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.HoldsFrom;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/** What a change makes of runs that are there and not over. */
final class OpenRuns {
  private static final String STOPPED =
      "its attempt is asked to stop, and it is tried again; if it ends well before that, it is over";

  private final BoardView board;
  private final Definitions before;
  private final Definitions definitions;
  private final Planner planner;
  private final Map<String, List<PlannedRun>> plansBefore = new HashMap<>();
  private final Map<String, List<PlannedRun>> plans = new HashMap<>();

  /**
   * For definitions that are, or would be, in force.
   *
   * @param before those that were in force until then
   */
  OpenRuns(BoardView board, Definitions before, Definitions definitions) {
    this.board = board;
    this.before = before;
    this.definitions = definitions;
    this.planner = new Planner(definitions);
  }

  /**
   * Those for which it makes a difference, in the order of the board.
   *
   * @param concerned whose plan may be another
   */
  List<OpenRun> all(Holds holds, Predicate<String> concerned) {
    List<OpenRun> all = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      RunStatus status = board.status(run.id()).orElseThrow();
      RunReference reference = run.run().reference();
      if (!status.state().isOver()
          && concerned.test(top(reference))
          && !Stream.isTrial(reference.stream())) {
        of(run, status, holds.of(top(reference))).ifPresent(all::add);
      }
    }
    return all;
  }

  /**
   * What a run becomes by the definitions, the same or another; empty where they do not have it.
   */
  Optional<PlannedRun> renewed(PlannedRun run) {
    return planner.renewed(run, wanted(run));
  }

  private Optional<OpenRun> of(RunSpec run, RunStatus status, HoldsFrom from) {
    RunState state = status.state();
    Optional<PlannedRun> wanted = wanted(run.run());
    Optional<PlannedRun> after = planner.renewed(run.run(), wanted);
    if (after.filter(run.run()::equals).isPresent()) {
      return Optional.empty();
    }
    if (!from.holdsOn(run.run().reference().date())) {
      return keeps(run, state, after, "its business date is before " + from.date().orElseThrow());
    }
    if (state == RunState.PLANNED) {
      return wanted.isPresent()
          ? takes(run, state, after)
          : Optional.of(
              new OpenRun(run, state, OpenRun.What.GONE, after, "it is not due any more"));
    }
    if (after.isEmpty()) {
      return keeps(run, state, after, "the new version does not have this job");
    }
    boolean isAttempt = state.isActive() && !run.run().job().isStep();
    if (from.what() == HoldsFrom.What.PLANNED) {
      return keeps(run, state, after, state.isEnded() ? "it has ended" : "it has begun");
    }
    if (!isAttempt) {
      return takes(run, state, after);
    }
    if (from.what() != HoldsFrom.What.RUNNING) {
      return keeps(run, state, after, "it runs");
    }
    return board.canBeReplaced(run.id())
        ? Optional.of(new OpenRun(run, state, OpenRun.What.REPLACED, after, STOPPED))
        : keeps(run, state, after, "it is being stopped, or its host is away");
  }

  private static Optional<OpenRun> keeps(
      RunSpec run, RunState state, Optional<PlannedRun> after, String because) {
    return Optional.of(new OpenRun(run, state, OpenRun.What.KEEPS, after, because));
  }

  private static Optional<OpenRun> takes(RunSpec run, RunState state, Optional<PlannedRun> after) {
    String note =
        state.isEnded()
            ? "for when it is run again"
            : after.map(PlannedRun::leftOut).filter(text -> !text.isEmpty()).orElse("");
    return Optional.of(new OpenRun(run, state, OpenRun.What.TAKES, after, note));
  }

  /**
   * The run that is planned in the place of one that is there: of the same job and due time, else
   * of the same job and start. What a person has started has none at another time.
   */
  private Optional<PlannedRun> wanted(PlannedRun run) {
    RunReference reference = run.reference();
    List<PlannedRun> plan = plan(top(reference), reference.date());
    Predicate<PlannedRun> ofJob = one -> one.reference().path().equals(reference.path());
    return plan.stream()
        .filter(ofJob.and(one -> one.due().equals(run.due())))
        .findFirst()
        .or(
            () ->
                plan.stream()
                    .filter(ofJob.and(one -> one.reference().equals(reference)))
                    .filter(one -> wasOfSchedule(run))
                    .findFirst());
  }

  /** Whether the schedule had it at its time; else a person has started it. */
  private boolean wasOfSchedule(PlannedRun run) {
    RunReference reference = run.reference();
    String path = before.topOf(reference.stream()).map(Stream::path).orElse(reference.stream());
    return plansBefore
        .computeIfAbsent(path + "@" + reference.date(), any -> plan(before, path, reference.date()))
        .stream()
        .anyMatch(
            one -> one.due().equals(run.due()) && one.reference().path().equals(reference.path()));
  }

  private static List<PlannedRun> plan(Definitions definitions, String path, LocalDate date) {
    return definitions.stream(path)
        .map(stream -> new Planner(definitions).plan(stream, date))
        .orElse(List.of());
  }

  private List<PlannedRun> plan(String path, LocalDate date) {
    return plans.computeIfAbsent(path + "@" + date, any -> plan(definitions, path, date));
  }

  private String top(RunReference run) {
    return definitions.topOf(run.stream()).map(Stream::path).orElse(run.stream());
  }

  /**
   * Runs that the definitions have of starts that are under way, and that are not there: jobs that
   * a change has added.
   *
   * @param now up to which their start times are past
   */
  List<PlannedRun> joining(Holds holds, Instant now) {
    Set<String> underWay = new HashSet<>();
    Set<RunReference> there = new HashSet<>();
    Map<String, RunReference> starts = new HashMap<>();
    for (RunSpec run : board.runs()) {
      RunReference reference = run.run().reference();
      RunState state = board.status(run.id()).orElseThrow().state();
      String top = top(reference);
      there.add(reference);
      if (!state.isEnded()
          && state != RunState.PLANNED
          && holds.of(top).what() != HoldsFrom.What.PLANNED
          && !Stream.isTrial(top)
          && wasOfSchedule(run.run())
          && underWay.add(top + "@" + reference.date() + "#" + reference.number())) {
        starts.put(top + "@" + reference.date() + "#" + reference.number(), reference);
      }
    }
    List<PlannedRun> joining = new ArrayList<>();
    for (RunReference start : starts.values()) {
      for (PlannedRun run : plan(top(start), start.date())) {
        boolean isOfStart = run.reference().number() == start.number();
        if (isOfStart && !run.due().isAfter(now) && !there.contains(run.reference())) {
          joining.add(run);
        }
      }
    }
    return joining;
  }
}

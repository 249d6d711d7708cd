package dev.purser.core.advice;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;

/**
 * How a promise is likely to come about: the runs of its lineage with their starts and ends, who
 * waits for whom, the chain that decides, and the slack of all else.
 */
public final class Course {
  private final Map<Long, Leg> legs = new HashMap<>();
  private final List<Leg> chain = new ArrayList<>();
  private final BoardView played;

  /**
   * A run of the lineage on its likely way. Times are epoch milliseconds; 0 where nobody can say.
   *
   * @param waitsFor ids of the runs of the lineage that it waits for
   * @param slack how much later it may end before it decides, in milliseconds; -1 where nobody can
   *     say
   */
  public record Leg(
      RunSpec run, RunStatus status, long start, long end, List<Long> waitsFor, long slack) {}

  private Course(BoardView played) {
    this.played = played;
  }

  /** A promise with the lineage that it rests on. */
  public record Asked(Promised promised, Lineage lineage) {}

  /**
   * Finds the course of a promise.
   *
   * @param board where it begins; it is not changed
   * @param until epoch milliseconds at which the play ends
   */
  public static Course of(
      Board board, Outcomes outcomes, Promised promised, Lineage lineage, long until) {
    return of(board, outcomes, List.of(new Asked(promised, lineage)), until).get(0);
  }

  /**
   * Finds the courses of several promises, in the same order, from one play of the day.
   *
   * @param board where it begins; it is not changed
   * @param until epoch milliseconds at which the play ends
   */
  public static List<Course> of(Board board, Outcomes outcomes, List<Asked> promises, long until) {
    Rehearsal rehearsal = new Rehearsal(new Board(board), outcomes, new SplittableRandom(1));
    rehearsal.assumeActiveAttemptsGoOn();
    rehearsal.apply();
    rehearsal.play(until);
    Map<RunReference, Long> ids = byReference(rehearsal.board());
    List<Course> courses = new ArrayList<>();
    for (Asked asked : promises) {
      Course course = new Course(rehearsal.board());
      course.find(board, rehearsal, asked.promised(), asked.lineage(), ids);
      courses.add(course);
    }
    return courses;
  }

  private static Map<RunReference, Long> byReference(BoardView board) {
    Map<RunReference, Long> ids = new HashMap<>();
    for (RunSpec run : board.runs()) {
      ids.put(run.run().reference(), run.id());
    }
    return ids;
  }

  /** The runs of the lineage by id. */
  public Map<Long, Leg> legs() {
    return Collections.unmodifiableMap(legs);
  }

  /** The chain that decides, from its first run to the end run. */
  public List<Leg> chain() {
    return List.copyOf(chain);
  }

  private void find(
      Board now,
      Rehearsal rehearsal,
      Promised promised,
      Lineage lineage,
      Map<RunReference, Long> byReference) {
    Set<Long> ids = upstream(played, promised, lineage, byReference);
    for (long id : ids) {
      RunSpec run = played.run(id).orElseThrow();
      RunStatus then = played.status(id).orElseThrow();
      long first = rehearsal.firstStart(id);
      long start = first > 0 ? first : then.started();
      legs.put(
          id,
          new Leg(run, now.status(id).orElseThrow(), start, then.ended(), waitsFor(id, ids), -1));
    }
    setSlack(promised);
    setChain(promised);
  }

  /**
   * The runs that a promise rests on, by id: its end runs, and whatever they wait for, near or far,
   * as far as that is in the lineage; steps are taken as the runs in them.
   */
  public static Set<Long> upstream(BoardView board, Promised promised, Lineage lineage) {
    return upstream(board, promised, lineage, byReference(board));
  }

  private static Set<Long> upstream(
      BoardView board, Promised promised, Lineage lineage, Map<RunReference, Long> byReference) {
    Set<Long> found = new LinkedHashSet<>();
    Set<Long> seen = new HashSet<>();
    Deque<Long> open = new ArrayDeque<>();
    for (RunReference end : promised.ends()) {
      Long id = byReference.get(end);
      if (id != null) {
        open.add(id);
      }
    }
    while (!open.isEmpty()) {
      long id = open.poll();
      RunSpec run = board.run(id).orElse(null);
      if (run == null || !seen.add(id) || !lineage.jobs().contains(run.run().reference().path())) {
        continue;
      }
      boolean late =
          run.run().reference().date().isBefore(promised.date())
              && board.state(id).filter(RunState::isEnded).isPresent();
      if (late) {
        continue; // it has been there since before
      }
      if (!run.run().job().isStep()) {
        found.add(id);
      }
      open.addAll(board.looksAt(id));
      open.addAll(board.below(id));
      for (Optional<Long> step = board.above(id); step.isPresent(); ) {
        open.addAll(board.looksAt(step.get()));
        step = board.above(step.get());
      }
    }
    return found;
  }

  /** The runs of the lineage that a run waits for, steps taken as the runs in them. */
  private List<Long> waitsFor(long id, Set<Long> ids) {
    Set<Long> found = new LinkedHashSet<>();
    collect(id, ids, found, new HashSet<>());
    return List.copyOf(found);
  }

  private void collect(long id, Set<Long> ids, Set<Long> found, Set<Long> seen) {
    if (!seen.add(id)) {
      return;
    }
    for (long other : played.looksAt(id)) {
      within(other, ids, found);
    }
    played.above(id).ifPresent(step -> collect(step, ids, found, seen));
  }

  private void within(long id, Set<Long> ids, Set<Long> found) {
    if (ids.contains(id)) {
      found.add(id);
    }
    played.below(id).forEach(inner -> within(inner, ids, found));
  }

  private void setSlack(Promised promised) {
    List<Leg> order = new ArrayList<>(legs.values());
    order.sort(Comparator.comparingLong(Leg::end).thenComparingLong(Leg::start).reversed());
    Map<Long, Long> slack = new HashMap<>();
    long last =
        order.stream()
            .filter(leg -> promised.ends().contains(leg.run().run().reference()))
            .mapToLong(Leg::end)
            .max()
            .orElse(0);
    for (Leg leg : order) {
      if (promised.ends().contains(leg.run().run().reference()) && leg.end() > 0) {
        slack.merge(leg.run().id(), last - leg.end(), Math::min);
      }
      Long own = slack.get(leg.run().id());
      for (long other : own == null ? List.<Long>of() : leg.waitsFor()) {
        long end = legs.get(other).end();
        if (end > 0 && leg.start() > 0) {
          slack.merge(other, own + Math.max(0, leg.start() - end), Math::min);
        }
      }
    }
    slack.forEach(
        (id, millis) -> {
          Leg leg = legs.get(id);
          legs.put(
              id, new Leg(leg.run(), leg.status(), leg.start(), leg.end(), leg.waitsFor(), millis));
        });
  }

  private void setChain(Promised promised) {
    Leg leg =
        legs.values().stream()
            .filter(one -> promised.ends().contains(one.run().run().reference()))
            .max(Comparator.comparingLong(Leg::end))
            .orElse(null);
    Set<Long> seen = new HashSet<>();
    while (leg != null && seen.add(leg.run().id())) {
      chain.add(0, leg);
      Leg before =
          leg.waitsFor().stream()
              .map(legs::get)
              .max(Comparator.comparingLong(Leg::end))
              .orElse(null);
      boolean itsOwnTime = before != null && before.end() > 0 && before.end() < leg.run().due();
      leg = itsOwnTime ? null : before;
    }
  }
}

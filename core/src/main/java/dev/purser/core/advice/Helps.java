package dev.purser.core.advice;

import dev.purser.core.board.Board;
import dev.purser.core.commitment.Promised;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What an operator could do for a promise that is in danger: each thing is tried on a copy of the
 * board, and what it costs other promises is told with it. Nothing is ever done by itself.
 */
public final class Helps {
  private static final int MOST_TRIED = 40;
  private static final int MOST_FOUND = 12;
  private static final int HIGHEST = 100;
  private static final long LEAST_GAIN = 60_000;
  private static final double LEAST_COST = 0.05;

  private final Board board;
  private final Outcomes outcomes;
  private final List<Promised> promised;
  private final int samples;
  private final long until;

  /**
   * Prepares.
   *
   * @param board where it begins; it is not changed
   * @param promised all promises that may be touched
   */
  public Helps(Board board, Outcomes outcomes, List<Promised> promised, int samples, long until) {
    this.board = board;
    this.outcomes = outcomes;
    this.promised = List.copyOf(promised);
    this.samples = samples;
    this.until = until;
  }

  /**
   * Something that would help.
   *
   * <p>Both outlooks come of the same draws, which are few: what lies between them says more than
   * either, and is what {@link #end} and {@link #chanceLate} go by.
   *
   * @param remedy what is done
   * @param before how the promise stands
   * @param after how the promise would stand then
   * @param cost what it would do to other promises, by their reference: the chance of being late
   *     then, where that grows
   */
  public record Help(
      Remedy remedy, PromiseOutlook before, PromiseOutlook after, Map<String, Double> cost) {

    /**
     * By how much earlier it would be kept, in milliseconds; 0 where no end could be told before.
     */
    public long gain() {
      return before.end() > 0 && after.end() > 0 ? before.end() - after.end() : 0;
    }

    /** The likely end then, epoch milliseconds, of a promise that is told of by more draws. */
    public long end(PromiseOutlook told) {
      return told.end() > 0 && before.end() > 0 ? told.end() - gain() : after.end();
    }

    /** The chance of being late then, 0 to 1, of a promise that is told of by more draws. */
    public double chanceLate(PromiseOutlook told) {
      double chance = told.chanceLate() + after.chanceLate() - before.chanceLate();
      return Double.isNaN(chance) ? after.chanceLate() : Math.max(0, Math.min(1, chance));
    }
  }

  /** What would help a promise, the most helpful first. */
  public List<Help> of(Promised wanted, Course course) {
    List<PromiseOutlook> before = play(board);
    PromiseOutlook now = of(before, wanted);
    List<Help> found = new ArrayList<>();
    for (Remedy remedy : remedies(course)) {
      if (found.size() >= MOST_FOUND) {
        break;
      }
      Board copy = new Board(board);
      List<Instruction> given = copy.turn(remedy.event(copy.now()));
      if (given.stream().anyMatch(Instruction.Refused.class::isInstance)) {
        continue;
      }
      List<PromiseOutlook> after = play(copy);
      PromiseOutlook then = of(after, wanted);
      if (isBetter(now, then)) {
        found.add(new Help(remedy, now, then, cost(before, after, wanted)));
      }
    }
    found.sort(
        Comparator.comparingDouble((Help help) -> help.after().chanceLate())
            .thenComparing(Comparator.comparingLong(Help::gain).reversed()));
    return found;
  }

  /** What may be tried, each once. */
  private List<Remedy> remedies(Course course) {
    List<Remedy> all = new ArrayList<>();
    Set<String> capacities = new HashSet<>();
    Set<String> hosts = new HashSet<>();
    for (Course.Leg leg : candidates(course)) {
      for (Action action : possible(leg)) {
        all.add(new Remedy.OnRun(leg.run(), action, action == Action.PRIORITY ? HIGHEST : 0));
      }
      if (leg.status().state() == RunState.FAILED || leg.status().state().isActive()) {
        continue;
      }
      leg.run()
          .run()
          .job()
          .takes()
          .forEach(
              (capacity, many) -> {
                int units = board.capacity(capacity).units();
                if (capacities.add(capacity)) {
                  all.add(new Remedy.MoreUnits(leg.run(), capacity, units + many, units));
                }
              });
      for (String host : board.drainedFor(leg.run().id())) {
        if (hosts.add(host)) {
          all.add(new Remedy.HostReturned(leg.run(), host));
        }
      }
    }
    return all.subList(0, Math.min(MOST_TRIED, all.size()));
  }

  private List<PromiseOutlook> play(Board start) {
    return new Outlook(start, outcomes, 1).play(List.of(), promised, samples, until).promises();
  }

  private static PromiseOutlook of(List<PromiseOutlook> all, Promised wanted) {
    return all.stream()
        .filter(one -> one.promised().reference().equals(wanted.reference()))
        .findFirst()
        .orElseThrow();
  }

  /** What has not ended well, the deciding chain first. */
  private List<Course.Leg> candidates(Course course) {
    Map<Long, Course.Leg> legs = new LinkedHashMap<>();
    List<Course.Leg> chain = course.chain();
    for (int i = chain.size() - 1; i >= 0; i--) {
      legs.put(chain.get(i).run().id(), chain.get(i));
    }
    course.legs().values().stream()
        .sorted(Comparator.comparingLong(leg -> Math.max(0, leg.slack())))
        .forEach(leg -> legs.putIfAbsent(leg.run().id(), leg));
    return legs.values().stream()
        .filter(leg -> !leg.status().state().isEnded() || leg.status().state() == RunState.FAILED)
        .toList();
  }

  private List<Action> possible(Course.Leg leg) {
    Set<Action> possible = board.actions(leg.run().id());
    List<Action> wanted = new ArrayList<>();
    boolean waits = leg.status().state() == RunState.WAITING;
    boolean failed = leg.status().state() == RunState.FAILED;
    if (failed) {
      wanted.addAll(List.of(Action.RERUN, Action.SUCCEED));
    }
    wanted.addAll(List.of(Action.RELEASE, Action.APPROVE));
    if (waits && leg.waitsFor().stream().allMatch(this::isOver)) {
      wanted.add(Action.START);
    }
    if (!leg.run().run().job().takes().isEmpty() && !failed) {
      wanted.add(Action.PRIORITY);
    }
    wanted.removeIf(action -> !possible.contains(action));
    return wanted;
  }

  private boolean isOver(long run) {
    return board.state(run).filter(RunState::isEnded).isPresent();
  }

  /**
   * Whether it helps: it is kept clearly more often, or clearly earlier and no less often, or at
   * all.
   */
  static boolean isBetter(PromiseOutlook now, PromiseOutlook then) {
    if (then.end() == 0 || !then.canSayLate()) {
      return false;
    }
    boolean earlier = now.end() - then.end() >= LEAST_GAIN;
    return now.end() == 0
        || (earlier && !(then.chanceLate() > now.chanceLate()))
        || now.chanceLate() - then.chanceLate() >= LEAST_COST;
  }

  private static Map<String, Double> cost(
      List<PromiseOutlook> before, List<PromiseOutlook> after, Promised wanted) {
    Map<String, Double> cost = new LinkedHashMap<>();
    for (int i = 0; i < before.size(); i++) {
      PromiseOutlook was = before.get(i);
      PromiseOutlook is = after.get(i);
      boolean other = !was.promised().reference().equals(wanted.reference());
      if (other && was.canSayLate() && is.chanceLate() - was.chanceLate() >= LEAST_COST) {
        cost.put(was.promised().reference(), is.chanceLate());
      }
    }
    return cost;
  }
}

package dev.purser.core.rule;

import dev.purser.core.course.Bits;
import dev.purser.core.course.Course;
import dev.purser.core.course.Demands;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Line;
import dev.purser.core.course.Lines;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.job.Overlap;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.RunState;
import java.util.ArrayList;
import java.util.List;

/**
 * The one place where the order of decisions is made, at the end of a turn. First it is settled who
 * is ready; then all who are ready are asked in one order, across all units and hosts together, and
 * start where nothing is lacking; and so on until nothing more follows.
 *
 * <p>Only those are asked for whom the answer may be another than before: who has become ready, and
 * who stands in line for what has been freed, one after the other until somebody still lacks it.
 */
final class Agenda {
  private final Rules rules;
  private final Course course;
  private final Runs runs;
  private final Lines lines;
  private final Asked asked;
  private final Bits openUnits = new Bits();
  private final Bits openRooms = new Bits();

  Agenda(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
    lines = course.lines();
    asked = new Asked(course.order());
  }

  /** Decides all that follows from what has come in. */
  void decide() {
    do {
      settle();
      askWhoMayGain();
      askAll();
      course.drawn().drain(lines::lookAgain);
    } while (!course.isDecided());
  }

  // ---- who is ready

  private void settle() {
    while (true) {
      if (!course.toTry().isEmpty()) {
        look(course.toTry().take());
      } else if (!course.toJudge().isEmpty()) {
        rules.steps().judge(course.toJudge().take());
      } else {
        return;
      }
    }
  }

  private void look(int run) {
    if (runs.state(run) != RunState.WAITING) {
      return;
    }
    if (rules.starting().isReady(run)) {
      asked.add(run);
    } else {
      asked.drop(run);
      lines.leave(run);
    }
  }

  // ---- who is asked

  private void askWhoMayGain() {
    openUnits.clear();
    openRooms.clear();
    course.freedUnits().drain(what -> openUnits.set(what, true));
    course.freedRooms().drain(placement -> openRooms.set(placement, true));
    openUnits.forEach(what -> first(lines.line(what)));
    openRooms.forEach(placement -> first(lines.room(placement)));
  }

  private void first(Line line) {
    if (!line.isEmpty()) {
      asked.add(line.get(0));
    }
  }

  private void askAll() {
    for (int run = asked.take(); run >= 0; run = asked.take()) {
      if (runs.state(run) == RunState.WAITING) {
        ask(run);
      }
    }
  }

  private void ask(int run) {
    if (!isStillReady(run)) {
      int stood = runs.lacking.get(run);
      lines.leave(run);
      askBehind(run, stood, 0);
      return;
    }
    if (endsByOverlap(run)) {
      askConcerned(run);
      return;
    }
    boolean nowhere = course.demands().placement(run) == Hosts.NOWHERE;
    int stood = runs.lacking.get(run);
    int lacks = 0;
    if (lines.mayYetStart(run)) {
      int host = nowhere ? Hosts.NO_HOST : lines.host(run);
      boolean room = nowhere || host >= 0;
      lacks = lines.lacks(run);
      if (lacks == 0 && room) {
        rules.starting().start(run, host);
        lookAtOverlap(run);
        askConcerned(run);
      } else {
        lines.stand(run, lacks, room);
      }
    } else {
      lines.standAside(run);
    }
    askBehind(run, stood, lacks);
  }

  /** Who is asked whether something runs may have been ready before it started, and is no more. */
  private boolean isStillReady(int run) {
    return !course.toTry().contains(run)
        || (course.answer(run) == Answer.YES && !course.isHeld(run));
  }

  /** What has just started or ended may be what somebody who comes later in this round hangs on. */
  private void askConcerned(int run) {
    for (int follower : course.ties().followers(run)) {
      if (lines.isStanding(follower) && course.order().isBefore(run, follower)) {
        asked.add(follower);
      }
    }
  }

  /** Whoever stands behind a run in a line that it holds up no more may gain as well. */
  private void askBehind(int run, int stood, int lacks) {
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      int bit = 1 << (at / 3);
      boolean letGo = (stood & bit) != 0 && !lines.isInLine(run, at);
      if (letGo || (openUnits.get(needs[at]) && (lacks & bit) == 0)) {
        openUnits.set(needs[at], true);
        behind(lines.line(needs[at]), run);
      }
    }
    int placement = course.demands().placement(run);
    if (openRooms.get(placement) && (!lines.isWithoutRoom(run) || isOnePartOfMany(run))) {
      behind(lines.room(placement), run);
    }
  }

  private void behind(Line line, int run) {
    int next = line.behind(run, course.order());
    if (next >= 0) {
      asked.add(next);
    }
  }

  /** What has no room for one part may have room for another. */
  private boolean isOnePartOfMany(int run) {
    return course.demands().is(run, Demands.ANOTHER);
  }

  // ---- overlap

  /**
   * Deals with earlier runs of the same job at work, where the job says that it is skipped then, or
   * replaces them.
   *
   * @return whether the run is ended by it
   */
  private boolean endsByOverlap(int run) {
    if (!course.demands().is(run, Demands.MINDS_OVERLAP)) {
      return false;
    }
    List<Integer> earlier = earlierAtWork(run);
    if (earlier.isEmpty()) {
      return false;
    }
    if (course.spec(run).run().job().overlap().manner() == Overlap.Manner.SKIP) {
      List<String> names = earlier.stream().map(rules::reference).toList();
      String note = "not started: " + String.join(", ", names) + " is still at work";
      rules.transitions().end(run, RunState.SKIPPED, note);
      return true;
    }
    for (int other : earlier) {
      if (!runs.has(other, Marks.STOPPING)) {
        String note = "cancelled: replaced by " + rules.reference(run);
        new PeoplesActions(rules).cancel(other, note);
      }
    }
    return false;
  }

  private List<Integer> earlierAtWork(int run) {
    Demands demands = course.demands();
    int own = demands.needs(run)[demands.ownNeed(run)];
    List<Integer> earlier = new ArrayList<>();
    for (int other : course.units().holders(own)) {
      long difference = course.spec(other).due() - course.spec(run).due();
      if (difference < 0 || (difference == 0 && other < run)) {
        earlier.add(other);
      }
    }
    return earlier;
  }

  /** Later runs of the same job are skipped, or replace this one, now that it is at work. */
  private void lookAtOverlap(int run) {
    int own = course.demands().ownNeed(run);
    if (own >= 0) {
      lines.forEachAsking(
          course.demands().needs(run)[own],
          other -> {
            if (course.demands().is(other, Demands.MINDS_OVERLAP)) {
              course.toTry().add(other);
            }
          });
    }
  }
}

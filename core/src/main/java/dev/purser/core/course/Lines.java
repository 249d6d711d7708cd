package dev.purser.core.course;

import dev.purser.core.run.RunState;
import java.util.BitSet;
import java.util.function.IntConsumer;

/**
 * Who of those who are ready stands in line for what. A run that lacks units stands in line for
 * them until it starts or is not ready any more: what it lacks is closed to all behind it, and once
 * there are enough, so many are kept for it. A run that could not start even if all that is at work
 * had ended stands <em>aside</em>, in no line.
 *
 * <p>All of it can be told from two columns ({@link Runs#standing}, {@link Runs#lacking}); the
 * lines themselves make it quick.
 */
public final class Lines {
  private static final int READY = 1;
  private static final int NO_ROOM = 2;
  private static final int ASIDE = 4;
  private static final int ASIDE_FOR_UNITS = 8;

  private final Course course;
  private final Runs runs;
  private final Order order;
  private int asideForUnits;

  Lines(Course course) {
    this.course = course;
    runs = course.runs();
    order = course.order();
  }

  Lines(Course course, Lines other) {
    this(course);
    asideForUnits = other.asideForUnits;
  }

  // ---- what a run finds

  /**
   * How many units a run may take of what it needs: those that are free and not kept for somebody
   * before it; -1 where somebody before it lacks some, so that all is closed to it.
   *
   * @param at the place of the need, a multiple of 3
   */
  public int available(int run, int[] needs, int at) {
    Units units = course.units();
    int what = needs[at];
    int free = units.free(needs, at);
    Line line = units.line(what);
    for (int i = 0; i < line.size(); i++) {
      int other = line.get(i);
      if (!order.isBefore(other, run)) {
        break;
      }
      int kept = needOf(other, what);
      if (free < kept) {
        return -1;
      }
      free -= kept;
    }
    return free;
  }

  /** How many units of something a run takes; 0 for none. */
  int needOf(int run, int what) {
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      if (needs[at] == what) {
        return needs[at + 1];
      }
    }
    return 0;
  }

  /** What a run lacks now: bit by place in its needs; 0 where it may take all of them. */
  public int lacks(int run) {
    int[] needs = course.demands().needs(run);
    int lacks = 0;
    for (int at = 0; at < needs.length; at += 3) {
      if (available(run, needs, at) < needs[at + 1]) {
        lacks |= 1 << (at / 3);
      }
    }
    return lacks;
  }

  /** The host that a run would be sent to; -1 where none that is open has room. */
  public int host(int run) {
    return course.hosts().choose(course.demands().placement(run), hostsOfOthers(run));
  }

  /** Whether a host but one that is away has room for a run. */
  public boolean hasRoomElsewhere(int run, int away) {
    BitSet not = hostsOfOthers(run);
    not = not == null ? new BitSet() : not;
    not.set(away);
    return course.hosts().choose(course.demands().placement(run), not) >= 0;
  }

  /** Whether nothing stands against a run but what others hold: it may start when they end. */
  public boolean mayYetStart(int run) {
    return hasOpenHost(run) && !needsTooMuch(run);
  }

  private boolean hasOpenHost(int run) {
    int placement = course.demands().placement(run);
    return placement == Hosts.NOWHERE || course.hosts().isAnyOpen(placement, hostsOfOthers(run));
  }

  /** Whether it needs more units of something than there are at all now. */
  public boolean needsTooMuch(int run) {
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      if (needs[at + 1] > course.units().total(needs, at)) {
        return true;
      }
    }
    return false;
  }

  /** Where other parts of the same run are or have succeeded, if each must be on its own host. */
  private BitSet hostsOfOthers(int run) {
    int parent = course.ties().parent(run);
    if (!course.demands().is(run, Demands.ANOTHER) || parent < 0) {
      return null;
    }
    BitSet others = new BitSet();
    for (int part : course.ties().children(parent)) {
      RunState state = runs.state(part);
      boolean counts = state.isActive() || state == RunState.SUCCEEDED;
      if (part != run && counts && runs.hosts.get(part) >= 0) {
        others.set(runs.hosts.get(part));
      }
    }
    return others;
  }

  // ---- coming and going

  /** Whether a run stands anywhere, in line or aside. */
  public boolean isStanding(int run) {
    return runs.standing.get(run) != 0;
  }

  /** Whether a run waits for room on a host. */
  public boolean isWithoutRoom(int run) {
    return (runs.standing.get(run) & NO_ROOM) != 0;
  }

  /** Whether it stands aside because it needs more units of something than there are. */
  public boolean isAsideFor(int run, int what) {
    if ((runs.standing.get(run) & ASIDE) == 0) {
      return false;
    }
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      if (needs[at] == what && needs[at + 1] > course.units().total(needs, at)) {
        return true;
      }
    }
    return false;
  }

  /** Whether it stands in line for a need of its own. */
  public boolean isInLine(int run, int at) {
    return (runs.lacking.get(run) & 1 << (at / 3)) != 0;
  }

  /**
   * A run that is ready could not start: it stands in line for what it lacks, and for what it has
   * lacked since it is ready.
   *
   * @param lacks as {@link #lacks} says
   * @param room whether it found a host
   */
  public void stand(int run, int lacks, boolean room) {
    if ((runs.standing.get(run) & ASIDE) != 0) {
      leave(run);
    }
    int standing = runs.standing.get(run);
    int[] needs = course.demands().needs(run);
    boolean isNew = (standing & READY) == 0;
    int before = runs.lacking.get(run);
    for (int at = 0; at < needs.length; at += 3) {
      int bit = 1 << (at / 3);
      if ((lacks & ~before & bit) != 0) {
        if (!isNew) {
          course.units().lookers(needs[at]).remove(run, order);
        }
        course.units().line(needs[at]).add(run, order);
        course.units().lacked(needs[at]);
        course.joined(needs[at]);
      } else if (isNew) {
        course.units().looks(needs[at], needs[at + 1]);
        course.units().lookers(needs[at]).add(run, order);
      }
    }
    runs.lacking.set(run, before | lacks);
    Line line = course.hosts().room(course.demands().placement(run));
    if (room) {
      line.remove(run, order);
    } else {
      line.add(run, order);
      course.hosts().lacked(course.demands().placement(run));
    }
    runs.standing.set(run, READY | (room ? 0 : NO_ROOM));
  }

  /** A run that is ready cannot start before somebody acts, a host comes or units change. */
  public void standAside(int run) {
    leave(run);
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      course.units().lacked(needs[at]);
    }
    boolean forUnits = hasOpenHost(run) && needsOnlyMoreThanNow(run);
    asideForUnits += forUnits ? 1 : 0;
    runs.standing.set(run, ASIDE | (forUnits ? ASIDE_FOR_UNITS : 0));
  }

  /** Whether all of which it needs more than there is changes with the time of day. */
  private boolean needsOnlyMoreThanNow(int run) {
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      boolean tooMuch = needs[at + 1] > course.units().total(needs, at);
      if (tooMuch && !course.units().changes(needs[at])) {
        return false;
      }
    }
    return true;
  }

  /**
   * Takes a run out of every line: it starts, or is not ready any more. Must come before anything
   * that changes its place in the order. What it stood in line for is free to those behind it.
   */
  public void leave(int run) {
    int standing = runs.standing.get(run);
    if (standing == 0) {
      return;
    }
    asideForUnits -= (standing & ASIDE_FOR_UNITS) != 0 ? 1 : 0;
    if ((standing & READY) != 0) {
      int[] needs = course.demands().needs(run);
      for (int at = 0; at < needs.length; at += 3) {
        if (isInLine(run, at)) {
          course.units().line(needs[at]).remove(run, order);
          course.freed(needs[at]);
        } else {
          course.units().lookers(needs[at]).remove(run, order);
        }
      }
      if ((standing & NO_ROOM) != 0) {
        course.hosts().room(course.demands().placement(run)).remove(run, order);
      }
    }
    runs.standing.set(run, 0);
    runs.lacking.set(run, 0);
  }

  /** Whether a change of units by the time of day may let somebody start. */
  public boolean isAnyoneWaitingForTheClock() {
    return asideForUnits > 0 || course.units().isAnyChangingAskedFor();
  }

  /** Puts a run back where its columns say that it stands: the indexes have changed. */
  void takeAgain(int run) {
    int standing = runs.standing.get(run);
    if ((standing & READY) == 0) {
      return;
    }
    int[] needs = course.demands().needs(run);
    for (int at = 0; at < needs.length; at += 3) {
      if (isInLine(run, at)) {
        course.units().line(needs[at]).add(run, order);
      } else {
        course.units().looks(needs[at], needs[at + 1]);
        course.units().lookers(needs[at]).add(run, order);
      }
    }
    if ((standing & NO_ROOM) != 0) {
      course.hosts().room(course.demands().placement(run)).add(run, order);
    }
  }

  // ---- who is asked next

  /** Who stands in line for units, first to last. */
  public Line line(int what) {
    return course.units().line(what);
  }

  /** Hands everybody who stands in line for units, or looks at them, to the visitor. */
  public void forEachAsking(int what, IntConsumer visitor) {
    course.units().line(what).forEach(visitor);
    course.units().lookers(what).forEach(visitor);
  }

  /** Who of a placement waits for room, first to last. */
  public Line room(int placement) {
    return course.hosts().room(placement);
  }

  /**
   * Those who only looked at units, and lack them since others have taken some: they stand in line
   * from now on.
   */
  public void lookAgain(int what) {
    Units units = course.units();
    Line lookers = units.lookers(what);
    if (lookers.isEmpty()) {
      return;
    }
    int[] first = course.demands().needs(lookers.get(0));
    int at = placeOf(first, what);
    boolean enough = units.line(what).isEmpty() && units.free(first, at) >= units.mostLooked(what);
    if (!enough) {
      for (int run : lookers.toArray()) {
        int[] needs = course.demands().needs(run);
        int own = placeOf(needs, what);
        if (available(run, needs, own) < needs[own + 1]) {
          stand(run, runs.lacking.get(run) | 1 << (own / 3), !isWithoutRoom(run));
        }
      }
    }
  }

  private static int placeOf(int[] needs, int what) {
    int at = 0;
    while (needs[at] != what) {
      at += 3;
    }
    return at;
  }
}

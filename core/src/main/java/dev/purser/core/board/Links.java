package dev.purser.core.board;

import java.util.Arrays;
import java.util.function.IntConsumer;

/**
 * What the runs of a board are tied to, both ways: conditions and who follows, steps and what is
 * below them. What is added is tied by itself; of the others only those are tied anew for which it
 * can make a difference.
 */
final class Links {
  private static final int[] NONE = {};

  private final RunTable table;
  private final Bits heard;
  private Linker linker;

  Links(RunTable table) {
    this.table = table;
    this.heard = new Bits();
  }

  /** A copy for a copy of the table. */
  Links(RunTable table, Links other) {
    this.table = table;
    this.heard = new Bits(other.heard);
  }

  /** Whether somebody asks for a run to be running, or not to be. */
  boolean isHeard(int run) {
    return heard.get(run);
  }

  /** Ties everything anew; linear in the runs of the board. */
  void all() {
    linker = new Linker(table);
    linker.takeIn();
    int[] sizes = new int[table.count];
    int[] below = new int[table.count];
    heard.clear();
    for (int i = 0; i < table.count; i++) {
      ask(i);
      targets(i, target -> sizes[target]++);
      if (table.parents[i] >= 0) {
        below[table.parents[i]]++;
      }
    }
    for (int i = 0; i < table.count; i++) {
      table.followers[i] = new int[sizes[i]];
      table.children[i] = new int[below[i]];
    }
    for (int i = table.count - 1; i >= 0; i--) {
      int follower = i;
      targets(i, target -> table.followers[target][--sizes[target]] = follower);
      if (table.parents[i] >= 0) {
        table.children[table.parents[i]][--below[table.parents[i]]] = i;
      }
    }
  }

  private void ask(int run) {
    table.conditions[run] = linker.link(run);
    table.checks[run] = linker.check(run);
    table.parents[run] = linker.parent(run);
    table.conditions[run].heard(target -> heard.set(target, true));
  }

  private void targets(int run, IntConsumer visitor) {
    table.conditions[run].targets(visitor);
    if (table.checks[run] != null) {
      table.checks[run].targets(visitor);
    }
  }

  /**
   * Ties what was added, and anew those that are not over and for which it makes a difference.
   *
   * @param from index of the first that was added
   * @param tied is told of each
   */
  void added(int from, IntConsumer tied) {
    if (linker == null) {
      linker = new Linker(table);
    }
    linker.takeIn();
    for (int i = from; i < table.count; i++) {
      table.followers[i] = NONE;
      table.children[i] = NONE;
    }
    Linker.News news = new Linker.News(table, from);
    for (int i = 0; i < from; i++) {
      boolean over = RunState.of(table.states[i]).isEnded();
      if (!over && linker.concerns(i, news)) {
        again(i);
        tied.accept(i);
      }
    }
    for (int i = from; i < table.count; i++) {
      ask(i);
      tie(i);
      tied.accept(i);
    }
  }

  /** Ties a run anew: it was over, and goes on. */
  void again(int run) {
    if (linker == null) {
      linker = new Linker(table);
      linker.takeIn();
    }
    targets(run, target -> table.followers[target] = without(table.followers[target], run));
    int parent = table.parents[run];
    if (parent >= 0) {
      table.children[parent] = without(table.children[parent], run);
    }
    ask(run);
    tie(run);
  }

  private void tie(int run) {
    targets(run, target -> table.followers[target] = with(table.followers[target], run));
    int parent = table.parents[run];
    if (parent >= 0) {
      table.children[parent] = with(table.children[parent], run);
    }
  }

  private static int[] without(int[] all, int one) {
    return Arrays.stream(all).filter(each -> each != one).toArray();
  }

  /** In ascending order, as if all had been tied at once. */
  private static int[] with(int[] all, int one) {
    int[] more = Arrays.copyOf(all, all.length + 1);
    int place = all.length;
    while (place > 0 && all[place - 1] > one) {
      more[place] = all[place - 1];
      place--;
    }
    more[place] = one;
    return more;
  }
}

package dev.purser.core.course;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntPredicate;

/**
 * All that changes of the runs on a board: columns by a run's index. Each column is declared once,
 * here; copying, growing, closing up and cutting go over all that are declared. About 90 bytes a
 * run.
 *
 * <p>Times are epoch milliseconds, 0 for never.
 */
public final class Runs {
  private final List<Column> columns = new ArrayList<>();

  /** Ordinals of {@link RunState}. */
  public final Column.Bytes states = keep(new Column.Bytes());

  /** 0 to 100. */
  public final Column.Bytes priorities = keep(new Column.Bytes());

  /** How it stands in lines: see {@link Lines}. */
  public final Column.Bytes standing = keep(new Column.Bytes());

  /** Bits of {@link Marks}. */
  public final Column.Ints marks = keep(new Column.Ints());

  /** By place in its needs: the units for which it stands in line. */
  public final Column.Ints lacking = keep(new Column.Ints());

  /** Attempts begun so far. */
  public final Column.Ints attempts = keep(new Column.Ints());

  /** The attempt after which no retry is left. */
  public final Column.Ints budgets = keep(new Column.Ints());

  /** Index of the host where the last attempt is or was; -1 for none. */
  public final Column.Ints hosts = keep(new Column.Ints());

  /** When it may start at the earliest, as it stands now. */
  public final Column.Longs due = keep(new Column.Longs());

  /** When it came into its state. */
  public final Column.Longs since = keep(new Column.Longs());

  /** When the last attempt began to run. */
  public final Column.Longs started = keep(new Column.Longs());

  /** When it ended. */
  public final Column.Longs ended = keep(new Column.Longs());

  /** The earliest next attempt. */
  public final Column.Longs retryAt = keep(new Column.Longs());

  /** Since when a person is asked. */
  public final Column.Longs asked = keep(new Column.Longs());

  /** Of the last attempt; -1 for none. */
  public final Column.Shorts exitCodes = keep(new Column.Shorts());

  /** How often it went to another host because one was lost. */
  public final Column.Shorts moves = keep(new Column.Shorts());

  /** What a person should know of its state; never null. */
  public final Column.Refs<String> notes = keep(new Column.Refs<>());

  /** By whom and why it is held itself; empty where it is not. */
  public final Column.Refs<String> holds = keep(new Column.Refs<>());

  /** What is seen of each of its files, in the order of its watches; replaced as a whole. */
  public final Column.Refs<List<RunStatus.FileState>> files = keep(new Column.Refs<>());

  /** What the last attempt handed back; replaced as a whole. */
  public final Column.Refs<Map<String, String>> values = keep(new Column.Refs<>());

  /** The kinds of alerts that are open for it; replaced as a whole. */
  public final Column.Refs<Set<AlertKind>> alerts = keep(new Column.Refs<>());

  private int length;
  private int count;

  Runs() {}

  Runs(Runs other) {
    count = other.count;
    length = Math.max(count, 1);
    for (int i = 0; i < columns.size(); i++) {
      columns.get(i).copyFrom(other.columns.get(i), length);
    }
  }

  private <C extends Column> C keep(C column) {
    columns.add(column);
    return column;
  }

  /** How many there are. */
  public int count() {
    return count;
  }

  /** Adds one of which nothing is known; returns its index. */
  int add() {
    if (count == length) {
      length = Math.max(16, count + (count >> 1));
      columns.forEach(column -> column.resize(length));
    }
    return count++;
  }

  /** Forgets all but some, whose indexes close up. */
  void keep(IntPredicate kept) {
    int to = 0;
    for (int from = 0; from < count; from++) {
      if (kept.test(from)) {
        for (int i = 0; to != from && i < columns.size(); i++) {
          columns.get(i).move(from, to);
        }
        to++;
      }
    }
    for (Column column : columns) {
      column.clear(to, count);
    }
    count = to;
  }

  /** The state of a run. */
  public RunState state(int run) {
    return RunState.of(states.get(run));
  }

  /**
   * Whether a mark, or one of several, is set.
   *
   * @param mark of {@link Marks}, or several joined by {@code |}
   */
  public boolean has(int run, int mark) {
    return (marks.get(run) & mark) != 0;
  }

  /** Sets a mark, or several joined by {@code |}; others stay. */
  public void mark(int run, int mark) {
    marks.set(run, marks.get(run) | mark);
  }

  /** Takes a mark away, or several joined by {@code |}; others stay. */
  public void unmark(int run, int mark) {
    marks.set(run, marks.get(run) & ~mark);
  }
}

package dev.purser.core.board;

import java.util.Arrays;
import java.util.List;
import java.util.Map;

/**
 * All that changes of the runs on a board, in parallel arrays by a run's index, so that a copy is a
 * copy of arrays.
 */
final class RunTable {
  private static final int FIRST = 16;

  RunSpec[] specs = new RunSpec[FIRST];
  byte[] states = new byte[FIRST];
  byte[] priorities = new byte[FIRST];
  int[] marks = new int[FIRST];
  int[] attempts = new int[FIRST];
  int[] budgets = new int[FIRST];
  int[] parents = new int[FIRST];
  long[] due = new long[FIRST];
  long[] since = new long[FIRST];
  long[] started = new long[FIRST];
  long[] ended = new long[FIRST];
  long[] retryAt = new long[FIRST];
  long[] asked = new long[FIRST];
  short[] exitCodes = new short[FIRST];
  short[] moves = new short[FIRST];
  String[] hosts = new String[FIRST];
  String[] notes = new String[FIRST];
  String[] holds = new String[FIRST];
  RunStatus.FileState[][] files = new RunStatus.FileState[FIRST][];

  @SuppressWarnings({"unchecked", "rawtypes"})
  Map<String, String>[] values = new Map[FIRST];

  @SuppressWarnings({"unchecked", "rawtypes"})
  List<Site.Need>[] needs = new List[FIRST];

  Condition[] conditions = new Condition[FIRST];
  Condition[] checks = new Condition[FIRST];
  int[][] followers = new int[FIRST][];
  int[][] children = new int[FIRST][];
  int count;

  RunTable() {}

  RunTable(RunTable other) {
    specs = other.specs.clone();
    states = other.states.clone();
    priorities = other.priorities.clone();
    marks = other.marks.clone();
    attempts = other.attempts.clone();
    budgets = other.budgets.clone();
    parents = other.parents.clone();
    due = other.due.clone();
    since = other.since.clone();
    started = other.started.clone();
    ended = other.ended.clone();
    retryAt = other.retryAt.clone();
    asked = other.asked.clone();
    exitCodes = other.exitCodes.clone();
    moves = other.moves.clone();
    hosts = other.hosts.clone();
    notes = other.notes.clone();
    holds = other.holds.clone();
    files = other.files.clone();
    values = other.values.clone();
    needs = other.needs.clone();
    conditions = other.conditions.clone();
    checks = other.checks.clone();
    followers = other.followers.clone();
    children = other.children.clone();
    count = other.count;
  }

  /** A new index at the end. */
  int add() {
    if (count == specs.length) {
      grow(count * 2);
    }
    return count++;
  }

  private void grow(int length) {
    specs = Arrays.copyOf(specs, length);
    states = Arrays.copyOf(states, length);
    priorities = Arrays.copyOf(priorities, length);
    marks = Arrays.copyOf(marks, length);
    attempts = Arrays.copyOf(attempts, length);
    budgets = Arrays.copyOf(budgets, length);
    parents = Arrays.copyOf(parents, length);
    due = Arrays.copyOf(due, length);
    since = Arrays.copyOf(since, length);
    started = Arrays.copyOf(started, length);
    ended = Arrays.copyOf(ended, length);
    retryAt = Arrays.copyOf(retryAt, length);
    asked = Arrays.copyOf(asked, length);
    exitCodes = Arrays.copyOf(exitCodes, length);
    moves = Arrays.copyOf(moves, length);
    hosts = Arrays.copyOf(hosts, length);
    notes = Arrays.copyOf(notes, length);
    holds = Arrays.copyOf(holds, length);
    files = Arrays.copyOf(files, length);
    values = Arrays.copyOf(values, length);
    needs = Arrays.copyOf(needs, length);
    conditions = Arrays.copyOf(conditions, length);
    checks = Arrays.copyOf(checks, length);
    followers = Arrays.copyOf(followers, length);
    children = Arrays.copyOf(children, length);
  }

  /** Moves a run to a lower index; its ties to others are made anew by linking. */
  void move(int from, int to) {
    specs[to] = specs[from];
    states[to] = states[from];
    priorities[to] = priorities[from];
    marks[to] = marks[from];
    attempts[to] = attempts[from];
    budgets[to] = budgets[from];
    due[to] = due[from];
    since[to] = since[from];
    started[to] = started[from];
    ended[to] = ended[from];
    retryAt[to] = retryAt[from];
    asked[to] = asked[from];
    exitCodes[to] = exitCodes[from];
    moves[to] = moves[from];
    hosts[to] = hosts[from];
    notes[to] = notes[from];
    holds[to] = holds[from];
    files[to] = files[from];
    values[to] = values[from];
    needs[to] = needs[from];
  }

  /** Forgets all runs from an index on. */
  void cut(int to) {
    for (int i = to; i < count; i++) {
      specs[i] = null;
      files[i] = null;
      values[i] = null;
      needs[i] = null;
      conditions[i] = null;
      checks[i] = null;
      followers[i] = null;
      children[i] = null;
    }
    count = to;
  }
}

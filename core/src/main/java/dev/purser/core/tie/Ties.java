package dev.purser.core.tie;

import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.BitSet;
import java.util.function.IntConsumer;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * The runs of a board with all that they are tied to, both ways: conditions and who follows, steps
 * and what is below them. What is added is tied by itself; of the others only those are tied anew
 * for which it can make a difference.
 *
 * <p>While a day is played nothing of this changes, so copies share it until one of them changes
 * something: that one then takes its own.
 */
public final class Ties {
  private static final int[] NONE = {};
  private static final int FIRST = 16;

  private RunSpec[] specs;
  private long[] ids;
  private Condition[] conditions;
  private Condition[] checks;
  private int[] parents;
  private int[][] followers;
  private int[][] children;
  private BitSet heard;
  private RunsByName names;
  private Linker linker;
  private int count;
  private boolean shared;

  /** No run. */
  public Ties() {
    specs = new RunSpec[FIRST];
    ids = new long[FIRST];
    conditions = new Condition[FIRST];
    checks = new Condition[FIRST];
    parents = new int[FIRST];
    followers = new int[FIRST][];
    children = new int[FIRST][];
    heard = new BitSet();
    names = new RunsByName();
  }

  private Ties(Ties other) {
    specs = other.specs;
    ids = other.ids;
    conditions = other.conditions;
    checks = other.checks;
    parents = other.parents;
    followers = other.followers;
    children = other.children;
    heard = other.heard;
    names = other.names;
    count = other.count;
    shared = true;
  }

  /** A copy that goes its own way from here; it costs nothing before one of the two changes. */
  public Ties copy() {
    shared = true;
    return new Ties(this);
  }

  private void own() {
    if (!shared) {
      return;
    }
    specs = specs.clone();
    ids = ids.clone();
    conditions = conditions.clone();
    checks = checks.clone();
    parents = parents.clone();
    followers = followers.clone();
    children = children.clone();
    heard = (BitSet) heard.clone();
    names = new RunsByName(names);
    linker = null;
    shared = false;
  }

  // ---- what there is

  /** How many runs there are. */
  public int count() {
    return count;
  }

  /** The run at an index. */
  public RunSpec spec(int run) {
    return specs[run];
  }

  /** The id of a run. */
  public long id(int run) {
    return ids[run];
  }

  /** What must be true before a run may start. */
  public Condition condition(int run) {
    return conditions[run];
  }

  /** What must hold of values for there to be anything to do; null for nothing. */
  public Condition check(int run) {
    return checks[run];
  }

  /** The step that a run is below; -1 for none. */
  public int parent(int run) {
    return parents[run];
  }

  /** Those that look at a run, in ascending order, as often as they do; not to be changed. */
  public int[] followers(int run) {
    return followers[run];
  }

  /** Those right below a step, in ascending order; not to be changed. */
  public int[] children(int run) {
    return children[run];
  }

  /**
   * The runs of a job on a date, in the order in which they came.
   *
   * @param path the job's full path
   * @return indexes; not to be changed
   */
  public int[] runsOf(String path, LocalDate date) {
    int slash = path.lastIndexOf('/');
    String stream = path.substring(0, Math.max(slash, 0));
    int first = names.first(specs, stream, path.substring(slash + 1), date);
    return IntStream.iterate(first, run -> run >= 0, names::next).toArray();
  }

  /** Whether somebody asks for a run to be running, or not to be. */
  public boolean isHeard(int run) {
    return heard.get(run);
  }

  // ---- what comes and goes

  /** Adds a run that is tied to nothing yet; returns its index. */
  public int add(RunSpec spec) {
    own();
    if (count == specs.length) {
      grow(count + (count >> 1));
    }
    specs[count] = spec;
    ids[count] = spec.id();
    conditions[count] = Condition.Met.ALWAYS;
    checks[count] = null;
    parents[count] = -1;
    followers[count] = NONE;
    children[count] = NONE;
    return count++;
  }

  /** A run has become another, with the id that it had; ties must be made anew then. */
  public void redefine(int run, RunSpec spec) {
    own();
    specs[run] = spec;
  }

  private void grow(int length) {
    specs = Arrays.copyOf(specs, length);
    ids = Arrays.copyOf(ids, length);
    conditions = Arrays.copyOf(conditions, length);
    checks = Arrays.copyOf(checks, length);
    parents = Arrays.copyOf(parents, length);
    followers = Arrays.copyOf(followers, length);
    children = Arrays.copyOf(children, length);
  }

  /** Forgets all but some runs, whose indexes close up; ties must be made anew then. */
  public void keep(IntPredicate kept) {
    own();
    int to = 0;
    for (int from = 0; from < count; from++) {
      if (kept.test(from)) {
        ids[to] = ids[from];
        specs[to++] = specs[from];
      }
    }
    Arrays.fill(specs, to, count, null);
    Arrays.fill(conditions, to, count, null);
    Arrays.fill(checks, to, count, null);
    Arrays.fill(followers, to, count, null);
    Arrays.fill(children, to, count, null);
    count = to;
    names = new RunsByName();
  }

  /** Ties everything anew; linear in the runs. */
  public void tieAll() {
    own();
    linker = newLinker();
    int[] sizes = new int[count];
    int[] below = new int[count];
    heard.clear();
    for (int i = 0; i < count; i++) {
      ask(i);
      targets(i, target -> sizes[target]++);
      if (parents[i] >= 0) {
        below[parents[i]]++;
      }
    }
    for (int i = 0; i < count; i++) {
      followers[i] = sizes[i] == 0 ? NONE : new int[sizes[i]];
      children[i] = below[i] == 0 ? NONE : new int[below[i]];
    }
    for (int i = count - 1; i >= 0; i--) {
      int follower = i;
      targets(i, target -> followers[target][--sizes[target]] = follower);
      if (parents[i] >= 0) {
        children[parents[i]][--below[parents[i]]] = i;
      }
    }
  }

  private Linker newLinker() {
    names.takeIn(specs, count);
    return new Linker(specs, count, names);
  }

  private void ask(int run) {
    conditions[run] = linker.link(run);
    checks[run] = linker.check(run);
    parents[run] = linker.parent(run);
    conditions[run].heard(heard::set);
  }

  private void targets(int run, IntConsumer visitor) {
    conditions[run].targets(visitor);
    if (checks[run] != null) {
      checks[run].targets(visitor);
    }
  }

  /** Hands every run that a run looks at to the visitor, as often as it does. */
  public void lookedAt(int run, IntConsumer visitor) {
    targets(run, visitor);
  }

  /**
   * Ties what was added, and anew those that are not over and for which it makes a difference.
   *
   * @param from index of the first that was added
   * @param isOver whether a run has ended
   * @param tied is told of each
   */
  public void tieAdded(int from, IntPredicate isOver, IntConsumer tied) {
    own();
    if (from == 0) {
      tieAll();
      for (int i = 0; i < count; i++) {
        tied.accept(i);
      }
      return;
    }
    linker = newLinker();
    Linker.News news = new Linker.News(specs, from, count);
    for (int i = 0; i < from; i++) {
      if (!isOver.test(i) && linker.concerns(i, parents[i], news)) {
        tieAgain(i);
        tied.accept(i);
      }
    }
    for (int i = from; i < count; i++) {
      ask(i);
      tie(i);
      tied.accept(i);
    }
  }

  /** Ties a run anew: it was over, and goes on. */
  public void tieAgain(int run) {
    own();
    linker = linker == null ? newLinker() : linker;
    targets(run, target -> followers[target] = without(followers[target], run));
    int parent = parents[run];
    if (parent >= 0) {
      children[parent] = without(children[parent], run);
    }
    ask(run);
    tie(run);
  }

  private void tie(int run) {
    targets(run, target -> followers[target] = with(followers[target], run));
    int parent = parents[run];
    if (parent >= 0) {
      children[parent] = with(children[parent], run);
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

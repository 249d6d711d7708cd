package dev.purser.core.learning;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.concurrent.ConcurrentHashMap;

/**
 * How long one job takes, as its past says: the logarithm of a duration is a level, which may have
 * changed for good at some time, what kinds of days add to it, what slow days have in common, and a
 * rest of its own. Later runs weigh more. What explains nothing is left out.
 *
 * <p>A lasting change counts where it stands out from chance by several standard errors, since
 * every moment is tried. Kinds of days count as far as chance does not explain them, given how much
 * they add to jobs at all.
 */
final class JobLaw {
  /** After so many runs a run weighs half. */
  private static final double HALF_LIFE = 25;

  private static final double CHANGED = 4.5;
  private static final int FEWEST_AFTER = 3;
  private static final int FEWEST_BEFORE = 5;
  private static final int LOOKED_BACK = 40;
  private static final int ROUNDS = 4;
  private static final int LEAST_TOLD = 10;
  private static final int ENOUGH = 30;

  /** The spread of a job of which little is known: about a third up or down. */
  static final double USUAL_SPREAD = 0.3;

  /** How far a level may wander from run to run, as a part of the spread. */
  private static final double WANDERS = 0.35;

  private final DayKinds kinds;
  private final LocalDate[] dates;
  private final double[] logs;
  private final int[] bits;
  private final double[] weights;
  private final double[] rests;
  private final double[] chances;
  private final double[] effects;
  private final double[] doubts;
  private final double spreadOfOthers;
  private double level;
  private double levelError;
  private double spread;
  private int changedAt;

  /**
   * As how many fitted numbers what kinds of days add counts, by which the rests are smaller than
   * what is to come: one that chance explains as well counts little.
   */
  private double explained;

  /** What slow days have in common is in the rests until {@link #takeOut} has taken it out. */
  private double own;

  private JobLaw(DayKinds kinds, LocalDate[] dates, double[] logs, double spreadOfOthers) {
    this.kinds = kinds;
    this.dates = dates;
    this.logs = logs;
    this.spreadOfOthers = spreadOfOthers;
    this.bits = Arrays.stream(dates).mapToInt(kinds::of).toArray();
    Weights known = Weights.of(dates.length);
    this.weights = known.each();
    this.chances = known.sums();
    this.rests = new double[logs.length];
    this.effects = new double[kinds.size()];
    this.doubts = new double[kinds.size()];
    findLevel();
  }

  /**
   * The level, where it has changed, and what is left, with the kinds of days as they are known.
   */
  private void findLevel() {
    double[] known = logs.clone();
    for (int i = 0; i < known.length; i++) {
      known[i] -= added(bits[i]);
    }
    changedAt = change(known);
    double before = mean(known, weights, 0, changedAt);
    level = mean(known, weights, changedAt, known.length);
    for (int i = 0; i < rests.length; i++) {
      rests[i] = known[i] - (i < changedAt ? before : level);
    }
    setSpread();
  }

  private double added(int kindsOfDay) {
    double sum = 0;
    for (int kind = 0; kind < effects.length; kind++) {
      sum += (kindsOfDay >> kind & 1) * effects[kind];
    }
    return sum;
  }

  /**
   * What a kind of day adds, as this job's runs alone say it.
   *
   * @param more how much longer than on other days, as a logarithm
   * @param error its standard error
   */
  record Effect(double more, double error) {}

  /** What a kind of day adds beside what is known of it; empty where there are too few runs. */
  Optional<Effect> effect(int kind) {
    double[] in = only(rests, bits, kind, 1);
    double[] out = only(rests, bits, kind, 0);
    if (in.length == 0 || out.length < FEWEST_BEFORE) {
      return Optional.empty();
    }
    double noise = Math.max(0.02, deviation(rests, 0, rests.length, median(rests.clone())));
    return Optional.of(
        new Effect(
            middle(in) - middle(out), noise * Math.sqrt(1.0 / in.length + 1.0 / out.length)));
  }

  /**
   * Learns what kinds of days add: as much of what its runs say as chance does not explain, given
   * how much such days usually add.
   *
   * @param usual by kind, the standard deviation of what it adds to jobs
   */
  void learnKinds(Map<String, Double> usual) {
    for (int round = 0; round < ROUNDS; round++) {
      explained = 0;
      for (int kind = 0; kind < effects.length; kind++) {
        double usually = square(usual.get(kinds.name(kind)));
        double was = effects[kind];
        Optional<Effect> seen = effect(kind);
        double error = seen.map(one -> square(one.error())).orElse(Double.MAX_VALUE);
        double trust = usually / (usually + error);
        effects[kind] = seen.isEmpty() ? 0 : trust * (was + seen.get().more());
        doubts[kind] = usually * (1 - trust);
        explained += seen.isEmpty() ? 0 : trust;
        for (int i = 0; i < rests.length; i++) {
          rests[i] -= (bits[i] >> kind & 1) * (effects[kind] - was);
        }
      }
    }
    findLevel();
  }

  private static double square(double number) {
    return number * number;
  }

  /** The kinds of days that it knows. */
  DayKinds kinds() {
    return kinds;
  }

  /**
   * Learns from runs, oldest first.
   *
   * @param logs logarithms of milliseconds
   * @param spreadOfOthers the standard deviation that is assumed while there are few
   */
  static JobLaw of(DayKinds kinds, LocalDate[] dates, double[] logs, double spreadOfOthers) {
    return new JobLaw(kinds, dates, logs, spreadOfOthers);
  }

  /** How much each of so many runs weighs, and their sums: the same for all jobs, never changed. */
  private record Weights(double[] each, double[] sums) {
    private static final Map<Integer, Weights> KNOWN = new ConcurrentHashMap<>();

    static Weights of(int runs) {
      return KNOWN.computeIfAbsent(runs, Weights::make);
    }

    private static Weights make(int n) {
      double[] weights = new double[n];
      for (int i = 0; i < n; i++) {
        weights[i] = Math.pow(0.5, (n - 1 - i) / HALF_LIFE);
      }
      double[] sums = weights.clone();
      for (int i = 1; i < n; i++) {
        sums[i] += sums[i - 1];
      }
      return new Weights(weights, sums);
    }
  }

  /** The weighted mean of values, those far out drawn in. */
  private static double mean(double[] values, double[] weights, int from, int to) {
    if (from >= to) {
      return 0;
    }
    double middle = median(Arrays.copyOfRange(values, from, to));
    double reach = 3 * deviation(values, from, to, middle) + 1e-9;
    double sum = 0;
    double all = 0;
    for (int i = from; i < to; i++) {
      double near = Math.max(middle - reach, Math.min(middle + reach, values[i]));
      sum += weights[i] * near;
      all += weights[i];
    }
    return sum / all;
  }

  private static double median(double[] some) {
    Arrays.sort(some);
    int n = some.length;
    return n % 2 == 1 ? some[n / 2] : (some[n / 2 - 1] + some[n / 2]) / 2;
  }

  /**
   * The usual deviation from a middle, as that of a normal law, of values that may hold odd ones.
   */
  private static double deviation(double[] values, int from, int to, double middle) {
    double[] far = new double[to - from];
    for (int i = from; i < to; i++) {
      far[i - from] = Math.abs(values[i] - middle);
    }
    return 1.4826 * median(far);
  }

  /** Where the level has changed for good, last: the place of the first run after; 0 for never. */
  private static int change(double[] values) {
    int from = 0;
    while (values.length - from >= FEWEST_BEFORE + FEWEST_AFTER) {
      int found = changeFrom(values, from);
      if (found == 0) {
        return from;
      }
      from = found;
    }
    return from;
  }

  private static int changeFrom(double[] values, int from) {
    double[] steps = new double[values.length - from - 1];
    for (int i = 0; i < steps.length; i++) {
      steps[i] = Math.abs(values[from + i + 1] - values[from + i]);
    }
    double noise = Math.max(0.02, 1.4826 * median(steps) / Math.sqrt(2));
    int best = 0;
    double most = CHANGED;
    for (int at = from + FEWEST_BEFORE; at <= values.length - FEWEST_AFTER; at++) {
      int start = Math.max(from, at - LOOKED_BACK);
      int stop = Math.min(values.length, at + LOOKED_BACK);
      double before = median(Arrays.copyOfRange(values, start, at));
      double after = median(Arrays.copyOfRange(values, at, stop));
      // a median is a quarter less sure than a mean
      double error = 1.25 * noise * Math.sqrt(1.0 / (at - start) + 1.0 / (stop - at));
      double far = Math.abs(after - before) / error;
      if (far > most && Math.abs(after - before) > 0.1) {
        most = far;
        best = at;
      }
    }
    return best;
  }

  private static double[] only(double[] rest, int[] bits, int kind, int wanted) {
    double[] some = new double[rest.length];
    int n = 0;
    for (int i = 0; i < rest.length; i++) {
      if ((bits[i] >> kind & 1) == wanted) {
        some[n++] = rest[i];
      }
    }
    return Arrays.copyOf(some, n);
  }

  /** The mean of the inner half, or of all where there are few. */
  private static double middle(double[] some) {
    Arrays.sort(some);
    int cut = some.length < 8 ? 0 : some.length / 4;
    return Arrays.stream(some, cut, some.length - cut).average().orElse(0);
  }

  private void setSpread() {
    double squares = 0;
    double all = 0;
    double squared = 0;
    double allAfter = 0;
    double squaredAfter = 0;
    for (int i = 0; i < rests.length; i++) {
      squares += weights[i] * rests[i] * rests[i];
      all += weights[i];
      squared += weights[i] * weights[i];
      if (i >= changedAt) {
        allAfter += weights[i];
        squaredAfter += weights[i] * weights[i];
      }
    }
    int n = rests.length;
    double counted = all * all / squared;
    double fitted = Math.min(counted / 2, 1 + explained + (changedAt > 0 ? 1 : 0));
    double seen = squares / all * counted / (counted - fitted);
    double doubt = Math.max(0, (ENOUGH - n) / 10.0);
    spread = Math.sqrt((n * seen + doubt * spreadOfOthers * spreadOfOthers) / (n + doubt));
    spread = Math.max(spread, 0.01);
    own = spread;
    double runs = allAfter * allAfter / squaredAfter;
    levelError = spread * Math.sqrt(1 / runs + WANDERS * WANDERS);
  }

  /** The standard deviation of the rest, with what slow days have in common. */
  double spread() {
    return spread;
  }

  /** The standard deviation of the rest without what slow days have in common. */
  double own() {
    return own;
  }

  int size() {
    return rests.length;
  }

  LocalDate date(int i) {
    return dates[i];
  }

  double rest(int i) {
    return rests[i];
  }

  /**
   * Takes out of the rests what slow days have in common.
   *
   * @param common what the day of each run has
   * @param ownSpread the standard deviation that is left
   */
  void takeOut(double[] common, double ownSpread) {
    double squares = 0;
    for (int i = 0; i < rests.length; i++) {
      rests[i] -= common[i];
      squares += rests[i] * rests[i];
    }
    own = ownSpread;
    double left = Math.sqrt(squares / Math.max(1, rests.length));
    double scale = left < 1e-6 ? 1 : Math.max(0.7, Math.min(1.4, ownSpread / left));
    for (int i = 0; i < rests.length; i++) {
      rests[i] *= scale;
    }
  }

  /** What the level and the kind of day say of a date, as a logarithm. */
  double expected(LocalDate date) {
    return level + added(kinds.of(date));
  }

  /** How sure that is: its standard error. */
  double error(LocalDate date) {
    double sum = levelError * levelError;
    int kindsOfDay = kinds.of(date);
    for (int kind = 0; kind < doubts.length; kind++) {
      sum += (kindsOfDay >> kind & 1) * doubts[kind];
    }
    return Math.sqrt(sum);
  }

  /**
   * A rest, drawn; with what is unsure about the level and the kind of day.
   *
   * @param error what {@link #error} says of the date
   */
  double draw(double error, SplittableRandom random) {
    double unsure = Math.sqrt(0.0625 * own * own + error * error);
    if (rests.length < ENOUGH) {
      return Math.sqrt(0.9409 * own * own + unsure * unsure) * random.nextGaussian();
    }
    double rest = rests[place(random.nextDouble() * chances[chances.length - 1])];
    return rest * 0.97 + unsure * random.nextGaussian();
  }

  private int place(double at) {
    int found = Arrays.binarySearch(chances, at);
    return Math.min(rests.length - 1, found < 0 ? -found - 1 : found);
  }

  /** On what it rests, for people. */
  String restsOn(LocalDate date) {
    StringBuilder text = new StringBuilder();
    int after = rests.length - changedAt;
    text.append(rests.length == 1 ? "1 end" : rests.length + " ends");
    text.append(" from ").append(dates[0]).append(" on");
    if (changedAt > 0) {
      text.append("; its level changed on ")
          .append(dates[changedAt])
          .append(", ")
          .append(after == 1 ? "1 end" : after + " ends")
          .append(" since");
    }
    int kindsOfDay = kinds.of(date);
    for (int kind = 0; kind < effects.length; kind++) {
      long percent = Math.round((Math.exp(effects[kind]) - 1) * 100);
      if ((kindsOfDay >> kind & 1) == 1 && Math.abs(percent) >= LEAST_TOLD) {
        text.append("; ")
            .append(kinds.name(kind))
            .append(percent < 0 ? ": " + -percent + " % shorter" : ": " + percent + " % longer");
      }
    }
    return text.toString();
  }
}

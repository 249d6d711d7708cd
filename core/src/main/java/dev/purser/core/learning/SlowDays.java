package dev.purser.core.learning;

import java.time.LocalDate;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;

/**
 * What slow days have in common: on each date every job takes longer or shorter by the same factor,
 * as far as the jobs of that date say so together.
 */
final class SlowDays {
  private static final double LEAST = 0.02;

  private final double spread;

  private SlowDays(double spread) {
    this.spread = spread;
  }

  /** The sums over the jobs of one date. */
  private static final class Day {
    private double sum;
    private double squares;
    private double weighed;
    private double weight;
    private int jobs;
  }

  /** Learns from the laws of all jobs, and takes what days have in common out of them. */
  static SlowDays of(Collection<JobLaw> laws) {
    Map<LocalDate, Day> days = new HashMap<>();
    for (JobLaw law : laws) {
      byDate(law)
          .forEach(
              (date, rest) -> {
                Day day = days.computeIfAbsent(date, any -> new Day());
                day.sum += rest;
                day.squares += rest * rest;
                day.jobs++;
              });
    }
    double together = 0;
    double pairs = 0;
    for (Day day : days.values()) {
      together += day.sum * day.sum - day.squares;
      pairs += (double) day.jobs * (day.jobs - 1);
    }
    double variance = pairs < 20 ? 0 : Math.max(0, together / pairs);
    SlowDays found = new SlowDays(variance < LEAST * LEAST ? 0 : Math.sqrt(variance));
    if (found.spread > 0) {
      found.takeOut(laws, days);
    }
    return found;
  }

  /** One rest a date: the mean, where a job ran several times. */
  private static Map<LocalDate, Double> byDate(JobLaw law) {
    Map<LocalDate, Double> sums = new HashMap<>();
    Map<LocalDate, Integer> counts = new HashMap<>();
    for (int i = 0; i < law.size(); i++) {
      sums.merge(law.date(i), law.rest(i), Double::sum);
      counts.merge(law.date(i), 1, Integer::sum);
    }
    sums.replaceAll((date, sum) -> sum / counts.get(date));
    return sums;
  }

  private void takeOut(Collection<JobLaw> laws, Map<LocalDate, Day> days) {
    for (JobLaw law : laws) {
      double weight = 1 / square(ownSpread(law));
      byDate(law)
          .forEach(
              (date, rest) -> {
                Day day = days.get(date);
                day.weighed += weight * rest;
                day.weight += weight;
              });
    }
    for (JobLaw law : laws) {
      double[] common = new double[law.size()];
      for (int i = 0; i < common.length; i++) {
        Day day = days.get(law.date(i));
        common[i] = day.weighed / (day.weight + 1 / square(spread));
      }
      law.takeOut(common, ownSpread(law));
    }
  }

  /** What is left of the spread of a job without what days have in common. */
  double ownSpread(JobLaw law) {
    double all = square(law.spread());
    return Math.sqrt(Math.max(all - square(spread), all * 0.15));
  }

  private static double square(double number) {
    return number * number;
  }

  /**
   * The standard deviation of what days have in common, as a logarithm; 0 where they have nothing.
   */
  double spread() {
    return spread;
  }

  /**
   * What today has in common, as a normal law.
   *
   * @param mean as a logarithm
   * @param spread its standard deviation
   */
  record Today(double mean, double spread) {
    /** Nothing. */
    static final Today NOTHING = new Today(0, 0);
  }

  /** Gathers what the jobs of today have shown so far. */
  final class SoFar {
    private double weighed;
    private double weight;

    /**
     * Takes in a job that has ended.
     *
     * @param rest by how much it took longer than expected, as a logarithm
     */
    void ended(JobLaw law, LocalDate date, double rest) {
      double doubt = square(law.own()) + square(law.error(date));
      double reach =
          3 * Math.sqrt(doubt + square(spread)); // one that is far out says little of all
      double near = Math.max(-reach, Math.min(reach, rest));
      weighed += near / doubt;
      weight += 1 / doubt;
    }

    /** What is known of today. */
    Today today() {
      if (spread == 0) {
        return Today.NOTHING;
      }
      double sure = weight + 1 / square(spread);
      return new Today(weighed / sure, Math.sqrt(1 / sure));
    }
  }
}

package dev.purser.core.learning;

import java.util.Collection;
import java.util.HashMap;
import java.util.Map;

/** How much kinds of days usually add to jobs, as all jobs together say it. */
final class KindsOfDays {
  /** What is assumed before anything is known counts as much as so many jobs. */
  private static final double STRENGTH = 3;

  private static final double OF_WEEKDAYS = 0.05;
  private static final double OF_OTHERS = 0.15;

  private KindsOfDays() {}

  /** By the words for a kind: the standard deviation of what it adds to jobs, as a logarithm. */
  static Map<String, Double> usual(Collection<JobLaw> laws) {
    Map<String, double[]> sums = new HashMap<>();
    for (JobLaw law : laws) {
      DayKinds kinds = law.kinds();
      for (int kind = 0; kind < kinds.size(); kind++) {
        String name = kinds.name(kind);
        double assumed = name.matches("[a-z]+day") ? OF_WEEKDAYS : OF_OTHERS;
        double[] sum =
            sums.computeIfAbsent(
                name, any -> new double[] {STRENGTH * assumed * assumed, STRENGTH});
        law.effect(kind)
            .ifPresent(
                effect -> {
                  // how much more than chance alone would give; weighed by how much it says
                  double chance = effect.error() * effect.error();
                  double weight = 1 / (1 + chance / (assumed * assumed));
                  sum[0] += weight * (effect.more() * effect.more() - chance);
                  sum[1] += weight;
                });
      }
    }
    Map<String, Double> usual = new HashMap<>();
    sums.forEach((name, sum) -> usual.put(name, Math.sqrt(Math.max(1e-4, sum[0] / sum[1]))));
    return usual;
  }
}

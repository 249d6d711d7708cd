package dev.purser.core.learning;

/** The standard normal law. */
final class Normal {
  private static final double FARTHEST = 8;

  private Normal() {}

  /** The chance of more than a value (Abramowitz and Stegun 26.2.17, off by less than 1e-7). */
  static double above(double value) {
    if (value < 0) {
      return 1 - above(-value);
    }
    double t = 1 / (1 + 0.2316419 * value);
    double sum =
        t
            * (0.319381530
                + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
    return sum * Math.exp(-value * value / 2) / Math.sqrt(2 * Math.PI);
  }

  /**
   * The value below which a share lies.
   *
   * @param share above 0 and below 1
   */
  static double quantile(double share) {
    double low = -FARTHEST;
    double high = FARTHEST;
    for (int i = 0; i < 50; i++) {
      double middle = (low + high) / 2;
      if (1 - above(middle) < share) {
        low = middle;
      } else {
        high = middle;
      }
    }
    return (low + high) / 2;
  }
}

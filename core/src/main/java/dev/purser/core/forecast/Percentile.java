package dev.purser.core.forecast;

/** Percentiles of samples. */
final class Percentile {
  private Percentile() {}

  /**
   * The nearest-rank percentile.
   *
   * @param sorted the samples, as far as {@code length}
   * @return 0 where there is none
   */
  static long of(long[] sorted, int length, double share) {
    return length == 0 ? 0 : sorted[(int) Math.min(length - 1L, Math.round(share * (length - 1)))];
  }
}

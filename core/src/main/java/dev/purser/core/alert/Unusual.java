package dev.purser.core.alert;

import dev.purser.core.prerequisite.Comparison;
import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;

/**
 * Looks whether a value that a job hands back is unlike what its last dates handed back: a number
 * beyond the lowest or the highest of them, or a text that none of them was.
 *
 * @param name of the value
 * @param beyond how much a number may be beyond those, in percent of the lowest or highest; 0 to
 *     1,000
 */
public record Unusual(String name, int beyond) {
  /** So many dates are looked at. */
  public static final int LAST = 30;

  /** With fewer, nothing is called unusual. */
  public static final int ENOUGH = 10;

  /**
   * Why a value is unusual; empty where it is not, or too little is known.
   *
   * @param before what earlier runs handed back, of any order; at most {@link #LAST}
   */
  public Optional<String> why(String value, List<String> before) {
    if (before.size() < ENOUGH) {
      return Optional.empty();
    }
    Optional<BigDecimal> number = Comparison.number(value);
    List<BigDecimal> numbers =
        before.stream().flatMap(one -> Comparison.number(one).stream()).toList();
    if (number.isEmpty() || numbers.size() < ENOUGH) {
      return before.contains(value)
          ? Optional.empty()
          : Optional.of("none of its last " + before.size() + " was that");
    }
    BigDecimal low = numbers.stream().min(BigDecimal::compareTo).orElseThrow();
    BigDecimal high = numbers.stream().max(BigDecimal::compareTo).orElseThrow();
    boolean usual =
        number.get().compareTo(low.subtract(room(low))) >= 0
            && number.get().compareTo(high.add(room(high))) <= 0;
    return usual
        ? Optional.empty()
        : Optional.of(
            "its last "
                + numbers.size()
                + " were from "
                + low.toPlainString()
                + " to "
                + high.toPlainString());
  }

  private BigDecimal room(BigDecimal of) {
    return of.abs().multiply(BigDecimal.valueOf(beyond)).movePointLeft(2);
  }

  /** As it stands in files. */
  @Override
  public String toString() {
    return "unusual " + name + (beyond == 0 ? "" : ", beyond " + beyond + " %");
  }
}

package dev.purser.core.prerequisite;

import java.math.BigDecimal;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * How a value that a job handed back is compared. Two numbers compare as numbers ({@code 7} equals
 * {@code 7.0}), all else as text, letter by letter.
 */
public enum Comparison {
  /** More than. */
  MORE(">"),
  /** At least. */
  AT_LEAST(">="),
  /** Less than. */
  LESS("<"),
  /** At most. */
  AT_MOST("<="),
  /** The same as. */
  IS("="),
  /** Other than. */
  IS_NOT("!=");

  private final String sign;

  Comparison(String sign) {
    this.sign = sign;
  }

  /** The sign in files. */
  public String sign() {
    return sign;
  }

  /** The comparison of a sign. */
  public static Optional<Comparison> of(String sign) {
    return Arrays.stream(values()).filter(one -> one.sign.equals(sign)).findFirst();
  }

  /** All signs. */
  public static List<String> signs() {
    return Arrays.stream(values()).map(Comparison::sign).toList();
  }

  /**
   * Whether it holds between what was handed back and what is asked for: as numbers where both are,
   * else as texts, in the order of their characters.
   */
  public boolean holds(String value, String operand) {
    Optional<BigDecimal> left = number(value);
    Optional<BigDecimal> right = number(operand);
    int order =
        left.isPresent() && right.isPresent()
            ? left.get().compareTo(right.get())
            : value.compareTo(operand);
    return switch (this) {
      case MORE -> order > 0;
      case AT_LEAST -> order >= 0;
      case LESS -> order < 0;
      case AT_MOST -> order <= 0;
      case IS -> order == 0;
      case IS_NOT -> order != 0;
    };
  }

  /** A decimal number of reasonable length; empty for all else. */
  public static Optional<BigDecimal> number(String text) {
    return text.matches("[+-]?\\d{1,30}(\\.\\d{1,30})?")
        ? Optional.of(new BigDecimal(text))
        : Optional.empty();
  }
}

package dev.purser.client;

import java.math.BigDecimal;
import java.math.BigInteger;

/**
 * The limits that the library for JSON holds decimal numbers against, made when one is: Java works
 * out large powers when it first meets a decimal number (16 ms with Java 25), and hardly any answer
 * has one. A step of the build ({@code LateLimits}) has the library ask here.
 */
public final class Limits {
  private Limits() {}

  /**
   * One limit.
   *
   * @param name as the library names it: {@code BD_MIN_INT}, {@code BD_MAX_INT}, {@code
   *     BD_MIN_LONG} or {@code BD_MAX_LONG}
   */
  public static BigDecimal of(String name) {
    long limit =
        switch (name) {
          case "BD_MIN_INT" -> Integer.MIN_VALUE;
          case "BD_MAX_INT" -> Integer.MAX_VALUE;
          case "BD_MIN_LONG" -> Long.MIN_VALUE;
          case "BD_MAX_LONG" -> Long.MAX_VALUE;
          default -> throw new IllegalArgumentException(name);
        };
    return new BigDecimal(BigInteger.valueOf(limit));
  }
}

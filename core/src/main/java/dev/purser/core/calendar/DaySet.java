package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.BitSet;
import java.util.List;

/**
 * Days of a span of dates, one bit a day: a year is six machine words, and rules combine by word.
 *
 * <p>Mutable while a rule fills it; what leaves this package is not changed any more.
 */
public final class DaySet {
  private final LocalDate from;
  private final int length;
  private final BitSet bits;

  private DaySet(LocalDate from, int length, BitSet bits) {
    this.from = from;
    this.length = length;
    this.bits = bits;
  }

  /** Returns an empty set over the span from {@code from} to {@code to}, both included. */
  public static DaySet empty(LocalDate from, LocalDate to) {
    int length = Math.toIntExact(to.toEpochDay() - from.toEpochDay() + 1);
    return new DaySet(from, Math.max(length, 0), new BitSet());
  }

  /** The first date of the span. */
  public LocalDate from() {
    return from;
  }

  /** The last date of the span. */
  public LocalDate to() {
    return from.plusDays(length - 1L);
  }

  /** Whether the day is picked; days outside the span are not. */
  public boolean contains(LocalDate day) {
    long at = day.toEpochDay() - from.toEpochDay();
    return at >= 0 && at < length && bits.get((int) at);
  }

  /** The picked days in order. */
  public List<LocalDate> days() {
    return bits.stream().mapToObj(from::plusDays).toList();
  }

  /** How many days are picked. */
  public int size() {
    return bits.cardinality();
  }

  void add(LocalDate day) {
    long at = day.toEpochDay() - from.toEpochDay();
    if (at >= 0 && at < length) {
      bits.set((int) at);
    }
  }

  void addAll() {
    bits.set(0, length);
  }

  DaySet and(DaySet other) {
    bits.and(other.bits);
    return this;
  }

  DaySet or(DaySet other) {
    bits.or(other.bits);
    return this;
  }

  DaySet except(DaySet other) {
    bits.andNot(other.bits);
    return this;
  }
}

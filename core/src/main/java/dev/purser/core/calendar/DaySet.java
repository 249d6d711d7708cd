package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

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

  /** The days of any of the sets, over the span of the first. */
  public static DaySet union(List<DaySet> sets) {
    DaySet all = empty(sets.get(0).from(), sets.get(0).to());
    sets.forEach(all::orWithin);
    return all;
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

  /**
   * A copy of the days of this set over another span; days outside of this span are not picked.
   *
   * @param first of the span
   * @param last of the span, included; not before the first
   */
  public DaySet over(LocalDate first, LocalDate last) {
    DaySet part = empty(first, last);
    part.orWithin(this);
    return part;
  }

  /** The first picked day on or after a day; empty where there is none in the span. */
  public Optional<LocalDate> onOrAfter(LocalDate day) {
    int at = bits.nextSetBit((int) Math.max(0, Math.min(length, indexOf(day))));
    return at < 0 ? Optional.empty() : Optional.of(from.plusDays(at));
  }

  long indexOf(LocalDate day) {
    return day.toEpochDay() - from.toEpochDay();
  }

  void add(LocalDate day) {
    addAt(indexOf(day));
  }

  void addAt(long at) {
    if (at >= 0 && at < length) {
      bits.set((int) at);
    }
  }

  /** Adds all days from the first to the last index, as far as they are in the span. */
  void addRange(long first, long last) {
    int start = (int) Math.max(0, Math.min(length, first));
    int end = (int) Math.max(0, Math.min(length, last + 1));
    if (start < end) {
      bits.set(start, end);
    }
  }

  /** The nth picked day between two indexes, counted from the first (n > 0) or the last; or -1. */
  int nthBetween(int first, int last, int n) {
    int at = n > 0 ? bits.nextSetBit(Math.max(0, first)) : bits.previousSetBit(last);
    for (int left = Math.abs(n) - 1; left > 0 && at >= 0; left--) {
      at = n > 0 ? bits.nextSetBit(at + 1) : at == 0 ? -1 : bits.previousSetBit(at - 1);
    }
    return at >= first && at <= last ? at : -1;
  }

  /** Adds the days of another set that are in this span; both may begin at different dates. */
  DaySet orWithin(DaySet other) {
    long shift = other.indexOf(from); // index there of this span's first day
    if (shift >= 0 && shift <= Integer.MAX_VALUE) {
      long end = Math.min(shift + length, other.length);
      if (shift < end) {
        bits.or(other.bits.get((int) shift, (int) end));
      }
    } else {
      other.bits.stream().forEach(at -> addAt(at - shift));
    }
    return this;
  }

  boolean at(int index) {
    return bits.get(index);
  }

  IntStream indexes() {
    return bits.stream();
  }

  int length() {
    return length;
  }

  void addAll() {
    bits.set(0, length);
  }

  /** Of two sets over the same span, the days of this one that the other does not have. */
  public DaySet without(DaySet other) {
    return over(from, to()).except(other);
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

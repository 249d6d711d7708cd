package dev.purser.core.calendar;

import java.time.Duration;
import java.time.LocalDate;
import java.util.Optional;

/**
 * How far a calendar is good, and when people are told that it runs out.
 *
 * @param knownTo the last date that somebody has entered; empty where it has no end. What lies
 *     after it is a guess
 * @param warn how long before that people are told; empty for the service's own setting
 */
public record Good(Optional<LocalDate> knownTo, Optional<Duration> warn) {
  /** Without an end. */
  public static final Good FOR_EVER = new Good(Optional.empty(), Optional.empty());
}

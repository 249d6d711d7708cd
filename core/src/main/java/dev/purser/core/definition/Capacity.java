package dev.purser.core.definition;

import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;

/**
 * A named number of units that runs take while they run.
 *
 * @param units how many there are where no span says otherwise
 * @param zone the clock of the spans
 * @param spans times of day at which there are more or fewer; of several that hold, the first
 */
public record Capacity(String name, String title, int units, ZoneId zone, List<Span> spans) {
  /** Copies the list. */
  public Capacity {
    spans = List.copyOf(spans);
  }

  /**
   * From one time of day to another, across midnight where the second is not after the first.
   *
   * @param to not included
   */
  public record Span(LocalTime from, LocalTime to, int units) {
    /** Whether there is a time of day at which both hold. */
    public boolean overlaps(Span other) {
      return holds(other.from) || other.holds(from);
    }

    boolean holds(LocalTime time) {
      return from.isBefore(to)
          ? !time.isBefore(from) && time.isBefore(to)
          : !time.isBefore(from) || time.isBefore(to);
    }
  }

  /** How many units there are at a moment. */
  public int unitsAt(Instant instant) {
    LocalTime time = instant.atZone(zone).toLocalTime();
    return spans.stream()
        .filter(span -> span.holds(time))
        .mapToInt(Span::units)
        .findFirst()
        .orElse(units);
  }

  /** The most units that there are at any time of day. */
  public int most() {
    boolean wholeDay = spans.stream().anyMatch(span -> span.from().equals(span.to()));
    int most = wholeDay ? 0 : units;
    for (Span span : spans) {
      most = Math.max(most, span.units());
    }
    return most;
  }

  /** The next time after a moment at which a span begins or ends; {@link Instant#MAX} for never. */
  public Instant nextChange(Instant after) {
    Instant next = Instant.MAX;
    ZonedDateTime local = after.atZone(zone);
    for (Span span : spans) {
      for (LocalTime time : List.of(span.from(), span.to())) {
        for (int day = 0; day < 2; day++) {
          Instant at = local.toLocalDate().plusDays(day).atTime(time).atZone(zone).toInstant();
          if (at.isAfter(after) && at.isBefore(next)) {
            next = at;
          }
        }
      }
    }
    return next;
  }
}

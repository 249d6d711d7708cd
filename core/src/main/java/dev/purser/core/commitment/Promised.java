package dev.purser.core.commitment;

import dev.purser.core.definition.Commitment;
import dev.purser.core.plan.RunReference;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/**
 * What a commitment promises of one business date, or of one start of it.
 *
 * @param number which of the date's starts, from 1; 1 where it promises once a date
 * @param ends the runs that must be done
 * @param begin the planned start from which it counts
 * @param by when they must be done; empty for one that promises what is usual while too little is
 *     known
 * @param zone the clock that it is read on
 */
public record Promised(
    Commitment commitment,
    LocalDate date,
    int number,
    List<RunReference> ends,
    Instant begin,
    Optional<Instant> by,
    ZoneId zone) {
  /** Copies the list. */
  public Promised {
    ends = List.copyOf(ends);
  }

  /**
   * What people type to mean it: {@code night-manifest@2027-03-04}, with {@code #2} where needed.
   */
  public String reference() {
    return commitment.name() + "@" + date + (number == 1 ? "" : "#" + number);
  }
}

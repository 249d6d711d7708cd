package dev.purser.service.event;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;

/**
 * Up to which number all rows of a table are known. Rows get their numbers before they are on
 * record for all to see, so one is told of once no earlier one can appear any more: two seconds
 * later.
 */
public final class Settled {
  private static final Duration SETTLES = Duration.ofSeconds(2);

  private final Deque<Seen> seen = new ArrayDeque<>();
  private long settled;

  private record Seen(Instant at, long number) {}

  /** Notes how far the numbers have come. */
  public synchronized void seen(Instant now, long number) {
    seen.addLast(new Seen(now, number));
    while (!seen.isEmpty() && !seen.peekFirst().at().isAfter(now.minus(SETTLES))) {
      settled = Math.max(settled, seen.removeFirst().number());
    }
  }

  /** The number up to which all are known. */
  public synchronized long number() {
    return settled;
  }
}

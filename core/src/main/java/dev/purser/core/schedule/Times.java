package dev.purser.core.schedule;

import java.time.Duration;
import java.time.LocalTime;
import java.util.List;
import java.util.stream.Collectors;

/** When on a business date a stream starts. */
public sealed interface Times {

  /** At local times. */
  record At(List<LocalTime> times) implements Times {
    /** Copies the list. */
    public At {
      times = List.copyOf(times);
    }

    @Override
    public String toString() {
      return times.stream().map(LocalTime::toString).collect(Collectors.joining(", "));
    }
  }

  /**
   * Again and again between two local times, both included; the step counts elapsed time.
   *
   * @param step at least a second
   * @param last before {@code first} where it is on the next day; equal to it for a whole day
   */
  record Every(Duration step, LocalTime first, LocalTime last) implements Times {
    @Override
    public String toString() {
      return "every "
          + Durations.print(step)
          + (first.equals(last) ? "" : " between " + first + " and " + last);
    }
  }

  /**
   * At the end of each of contiguous windows of time, which together leave no gap.
   *
   * @param length of a window within a day; a divisor of 24 hours
   * @param businessDay whether a window is a business day with the closed days after it, and {@code
   *     length} does not matter
   * @param atATime how many may be open at once: they begin in order, and none begins before the
   *     one that is so many back is done
   */
  record Windows(Duration length, boolean businessDay, int atATime) implements Times {
    @Override
    public String toString() {
      return "windows of " + (businessDay ? "1 business day" : Durations.print(length));
    }
  }
}

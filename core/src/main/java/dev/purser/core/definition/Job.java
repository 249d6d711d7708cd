package dev.purser.core.definition;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalTime;
import java.util.Map;
import java.util.Optional;

/**
 * The smallest unit of work.
 *
 * @param name within its stream
 * @param title for people; the name where none is given
 * @param work what it does
 * @param placement where
 * @param waitsFor what must be true before it starts
 * @param days the business dates that it has of its own, whatever its stream's are; empty for those
 *     of its stream
 * @param onlyOn on other business dates it is skipped, and what follows goes on
 * @param notBefore local time before which it does not start
 * @param usually how long it usually takes
 * @param stopAfter when a running attempt is stopped
 * @param grace between asking a process to stop and forcing it
 * @param retry how a failed attempt is tried again
 * @param startBy local time at which it is late if it has not started
 * @param finishBy local time at which it is late if it has not finished well
 * @param takes units of capacities that it holds while it runs
 * @param directory working directory on the host; empty for the agent's own
 * @param environment further environment variables, with placeholders
 * @param mayRepeat whether an attempt that was lost may be tried elsewhere
 */
public record Job(
    String name,
    String title,
    Work work,
    Placement placement,
    Optional<Prerequisite> waitsFor,
    Optional<DayRule> days,
    Optional<DayRule> onlyOn,
    Optional<LocalTime> notBefore,
    Optional<Durations.Range> usually,
    Optional<Duration> stopAfter,
    Duration grace,
    Retry retry,
    Optional<LocalTime> startBy,
    Optional<LocalTime> finishBy,
    Map<String, Integer> takes,
    String directory,
    Map<String, String> environment,
    boolean mayRepeat) {
  /** Copies the maps. */
  public Job {
    takes = Map.copyOf(takes);
    environment = Map.copyOf(environment);
  }
}

package dev.purser.core.job;

import dev.purser.core.alert.AlertRule;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.parameter.Given;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
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
 * @param secrets that its command is given
 * @param repeat what becomes of an attempt that was lost with its host
 * @param user on whose behalf its command runs; empty for the agent's own user
 * @param parameters values for placeholders; for a step, what the stream is given
 * @param onlyIf decides just before the start whether there is anything to do
 * @param succeedsWith the exit codes that count as success
 * @param overlap what happens while earlier runs of it are at work
 * @param priority who comes first where capacity is short, 0 to 100
 * @param alerts rules of alerts of its runs
 * @param whenItFails what to do, for whoever is called; empty for what its stream says
 * @param tags words that people find its runs by
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
    JobSecrets secrets,
    Repeat repeat,
    String user,
    Given parameters,
    Optional<OnlyIf> onlyIf,
    ExitCodes succeedsWith,
    Overlap overlap,
    int priority,
    List<AlertRule> alerts,
    String whenItFails,
    List<String> tags) {
  /** The priority where none is given. */
  public static final int USUAL_PRIORITY = 50;

  /** Copies the maps. */
  public Job {
    alerts = List.copyOf(alerts);
    tags = List.copyOf(tags);
    takes = Map.copyOf(takes);
    environment = Map.copyOf(environment);
  }

  /** The same job with other work. */
  public Job with(Work other) {
    return with(other, placement);
  }

  /** The same job on a host by name. */
  public Job on(String host) {
    return with(work, new Placement.OnHost(host));
  }

  private Job with(Work other, Placement where) {
    return with(other, where, takes);
  }

  /** The same job, which holds one unit more of a capacity. */
  public Job taking(String capacity) {
    Map<String, Integer> more = new HashMap<>(takes);
    more.merge(capacity, 1, Integer::sum);
    return with(work, placement, more);
  }

  private Job with(Work other, Placement where, Map<String, Integer> units) {
    return new Job(
        name,
        title,
        other,
        where,
        waitsFor,
        days,
        onlyOn,
        notBefore,
        usually,
        stopAfter,
        grace,
        retry,
        startBy,
        finishBy,
        units,
        directory,
        environment,
        secrets,
        repeat,
        user,
        parameters,
        onlyIf,
        succeedsWith,
        overlap,
        priority,
        alerts,
        whenItFails,
        tags);
  }

  /** A part of it, where it runs in parts: what it does, without what the whole waits for. */
  public Job part(String part, Placement where, String line) {
    return new Job(
        part,
        title + ", " + part,
        new Command(line),
        where,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        usually,
        stopAfter,
        grace,
        retry,
        Optional.empty(),
        Optional.empty(),
        takes,
        directory,
        environment,
        secrets,
        repeat,
        user,
        parameters,
        onlyIf.filter(OnlyIf.Command.class::isInstance),
        succeedsWith,
        Overlap.ANY,
        priority,
        alerts,
        whenItFails,
        tags);
  }

  /** The whole of a job that runs in parts: what it waits for, without what the parts do. */
  private Job whole() {
    return new Job(
        name,
        title,
        work,
        placement,
        waitsFor,
        days,
        onlyOn,
        notBefore,
        usually,
        Optional.empty(),
        grace,
        Retry.NEVER,
        startBy,
        finishBy,
        Map.of(),
        directory,
        environment,
        secrets,
        repeat,
        user,
        parameters,
        onlyIf.filter(OnlyIf.Compare.class::isInstance),
        succeedsWith,
        overlap,
        priority,
        alerts,
        whenItFails,
        tags);
  }

  /** Everything that it asks of other runs: its prerequisite, and its check before work. */
  public List<Prerequisite> asks() {
    List<Prerequisite> asks = new ArrayList<>();
    waitsFor.ifPresent(asks::add);
    onlyIf
        .filter(OnlyIf.Compare.class::isInstance)
        .ifPresent(check -> asks.add(((OnlyIf.Compare) check).values()));
    return asks;
  }

  /** Whether other runs are below its run: those of another stream, or its parts. */
  public boolean isStep() {
    return Shape.of(work.kind()) == Shape.RUNS;
  }

  /** Whether it runs on several hosts at once. */
  public boolean isInParts() {
    return work instanceof Parts;
  }

  /** The job as its own run has it: of one in parts only what the whole of it waits for. */
  public Job ofItsRun() {
    return isInParts() ? whole() : this;
  }
}

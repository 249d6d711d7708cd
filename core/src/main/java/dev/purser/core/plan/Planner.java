package dev.purser.core.plan;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Works out starts and runs from definitions. */
public final class Planner {
  private final Definitions definitions;

  private final RunMaker maker;

  /** Plans from the given definitions. */
  public Planner(Definitions definitions) {
    this.definitions = definitions;
    this.maker = new RunMaker(definitions);
  }

  /** What it plans from. */
  public Definitions definitions() {
    return definitions;
  }

  /** All runs due on a business date, stream by stream, in the order of the definitions. */
  public List<PlannedRun> plan(LocalDate date) {
    List<PlannedRun> runs = new ArrayList<>();
    for (Stream stream : definitions.streams()) {
      runs.addAll(plan(stream, date));
    }
    return runs;
  }

  /**
   * The runs of one stream on a business date, in the order of starts and of its jobs.
   *
   * @return empty where its day rules do not pick the date
   * @throws IllegalArgumentException where a calendar is missing, which a check finds before
   */
  public List<PlannedRun> plan(Stream stream, LocalDate date) {
    return plan(stream, date, date);
  }

  /**
   * The runs of one stream over a span of business dates; its day rules are worked out once.
   *
   * @param to the last date, included; many runs come of many years
   */
  public List<PlannedRun> plan(Stream stream, LocalDate from, LocalDate to) {
    RunMaker.Body body = maker.new Body(stream, from, to, RunMaker.DaysThatCount.ALL);
    List<PlannedRun> runs = new ArrayList<>();
    Map<Schedule, Parameters> given = new HashMap<>();
    for (StreamStart start : starts(stream, from, to)) {
      Schedule entry = start.entry();
      ZoneId zone = entry.zone();
      RunMaker.Facts facts =
          new RunMaker.Facts(
              start.date(),
              start.number(),
              new PlannedRun.Start(
                  start.start().shift(),
                  entry.ifMissed(),
                  entry.startBy().map(time -> StartTimes.firstAfter(start.at(), time, zone)),
                  start.start().window()),
              zone,
              (at, time) -> StartTimes.notBefore(entry, start.date(), at, time));
      Parameters values = given.computeIfAbsent(entry, e -> maker.values(stream, e));
      body.add(facts, start.own(), start.at(), "", values, runs);
    }
    return runs;
  }

  /**
   * The starts of a stream over a span of business dates, in order. Two entries that give the same
   * instant with the same parameters are one start, that of the first entry.
   */
  public List<StreamStart> starts(Stream stream, LocalDate from, LocalDate to) {
    return new Starts(definitions).of(stream, from, to);
  }

  /** Whether a run's date lies after what its stream's calendars are known to. */
  public boolean isGuess(RunReference run) {
    return definitions
        .topOf(run.stream())
        .flatMap(
            stream ->
                stream.schedule().stream()
                    .flatMap(
                        entry -> definitions.calendarsOf(stream).knownTo(entry.days()).stream())
                    .min(LocalDate::compareTo))
        .filter(run.date()::isAfter)
        .isPresent();
  }

  /**
   * How many runs a start has, with those below steps and parts, without jobs that are left out on
   * its date.
   */
  public int runsOf(Stream stream, StreamStart start) {
    return runsOf(stream, start.date(), start.own());
  }

  private int runsOf(Stream stream, LocalDate date, boolean own) {
    Calendars calendars = definitions.calendarsOf(stream);
    int runs = 0;
    for (Job job : stream.jobs()) {
      boolean due =
          job.days().map(rule -> rule.pick(date, date, calendars).contains(date)).orElse(own);
      boolean in =
          job.onlyOn().map(rule -> rule.pick(date, date, calendars).contains(date)).orElse(true);
      if (due && in) {
        runs +=
            1
                + definitions
                    .streamAt(stream.pathOf(job))
                    .filter(one -> job.isStep())
                    .map(inner -> runsOf(inner, date, true))
                    .orElse(0);
      }
    }
    return runs;
  }

  /**
   * What a person starts by hand.
   *
   * @param job only this job, whose prerequisites then do not count; empty for the whole stream
   * @param andFollowing with it all jobs of the stream that follow it
   * @param parameters values that the person gives
   * @param number the number that the runs get
   * @param zone for times in messages, where the stream has no schedule of its own
   * @param ignoring what of the jobs' own conditions does not count
   */
  public record ByHand(
      Optional<Job> job,
      boolean andFollowing,
      Map<String, String> parameters,
      LocalDate date,
      int number,
      Instant at,
      ZoneId zone,
      Set<StartCondition> ignoring) {
    /** A start of one job or of the whole stream, with nothing special. */
    public static ByHand of(
        Optional<Job> job, LocalDate date, int number, Instant at, ZoneId zone) {
      return new ByHand(job, false, Map.of(), date, number, at, zone, Set.of());
    }
  }

  /**
   * Runs that a person starts by hand. They have the parameters of the schedule's first entry, and
   * upon them those that the person gives; where it has windows, they are about the last one of the
   * date that has ended, out of order.
   *
   * @throws NotUnderstood where a parameter has no value, or one is given that nothing asks for:
   *     the message names it
   */
  public List<PlannedRun> byHand(Stream stream, ByHand wanted) {
    return new HandStart(definitions, maker).runs(stream, wanted);
  }

  /**
   * What records keep of a planned run beside its reference.
   *
   * @param parameters its values for placeholders; empty where they are those of {@link
   *     #usualValues}
   * @param assumed full paths of jobs that count as done
   */
  public record Kept(
      Instant due,
      PlannedRun.Start start,
      Optional<Instant> startBy,
      Optional<Instant> finishBy,
      ZoneId zone,
      boolean waived,
      String leftOut,
      Optional<Parameters> parameters,
      Set<String> assumed) {}

  /**
   * A run as it was planned, taken up again from records by the definitions of that time.
   *
   * @throws java.util.NoSuchElementException where these definitions do not have its job
   */
  public PlannedRun again(RunReference reference, Kept kept) {
    Stream stream = definitions.streamAt(reference.stream()).orElseThrow();
    Job job = stream.job(reference.job()).orElseThrow();
    Parameters values = kept.parameters().orElseGet(() -> usualValues(stream, job));
    return new PlannedRun(
        reference,
        maker.asked(job, reference.date(), values, definitions.calendarsOf(stream)),
        kept.due(),
        kept.start(),
        kept.startBy(),
        kept.finishBy(),
        kept.zone(),
        kept.waived(),
        stream.calendar(),
        kept.leftOut(),
        values,
        maker.ties(stream, job),
        RunMaker.previous(job, definitions.calendarsOf(stream), reference.date()),
        kept.assumed());
  }

  /**
   * What a run that is there becomes by these definitions, with the reference that it has.
   *
   * @param before the run as it is
   * @param wanted the run that these definitions plan in its place; empty where they plan none, as
   *     for a start by hand: then it keeps when it is due, and what its start gave it
   * @return empty where these definitions do not have its job, or have a step in its place
   */
  public Optional<PlannedRun> renewed(PlannedRun before, Optional<PlannedRun> wanted) {
    Optional<Stream> stream = definitions.streamAt(before.reference().stream());
    Optional<Job> job = stream.flatMap(found -> found.job(before.reference().job()));
    if (job.isEmpty() || job.get().isStep() != before.job().isStep()) {
      return Optional.empty();
    }
    if (wanted.isPresent()) {
      return Optional.of(wanted.get().inPlaceOf(before));
    }
    Parameters values = before.parameters().startOver(usualValues(stream.get(), job.get()));
    return Optional.of(
        again(
            before.reference(),
            new Kept(
                before.due(),
                before.start(),
                job.get().startBy().map(time -> after(before, time)),
                job.get().finishBy().map(time -> after(before, time)),
                before.zone(),
                before.waived(),
                before.leftOut(),
                Optional.of(values),
                before.assumed())));
  }

  private static Instant after(PlannedRun run, LocalTime time) {
    return StartTimes.firstAfter(run.due(), time, run.zone());
  }

  /** The values that a job of a stream has where its start says nothing special. */
  public Parameters usualValues(Stream stream, Job job) {
    return job.isStep()
        ? maker.values(stream)
        : maker.values(stream).with(Parameters.Origin.JOB, job.parameters());
  }
}

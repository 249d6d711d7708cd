package dev.purser.core.plan;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Placement;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.job.Work;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.prerequisite.Prerequisite;
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
import java.util.function.BiFunction;

/** Makes the runs of a start: those of a stream's jobs, and of the streams in it. */
final class RunMaker {
  private final Definitions definitions;

  RunMaker(Definitions definitions) {
    this.definitions = definitions;
  }

  /** What all runs of a start share. */
  record Facts(
      LocalDate date,
      int number,
      PlannedRun.Start start,
      ZoneId zone,
      BiFunction<Instant, LocalTime, Instant> notBefore) {}

  /** The values of a start by an entry of the schedule, without those of jobs. */
  Parameters values(Stream stream, Schedule entry) {
    return values(stream).with(Parameters.Origin.SCHEDULE, entry.parameters());
  }

  /** The values of a start that no entry gives, without those of jobs. */
  Parameters values(Stream stream) {
    return definitions
        .levels(stream.department())
        .with(Parameters.Origin.STREAM, stream.parameters());
  }

  /**
   * Which days of jobs count for a start.
   *
   * @param own those on which a job is due though its stream may not be
   * @param onlyOn those to which it is narrowed
   */
  record DaysThatCount(boolean own, boolean onlyOn) {
    static final DaysThatCount ALL = new DaysThatCount(true, true);
  }

  /** The jobs of a stream and of the streams in it, with their days worked out once. */
  final class Body {
    private final Stream stream;
    private final Calendars calendars;
    final List<JobDays> jobs = new ArrayList<>();

    /** For a span of dates, both included. */
    Body(Stream stream, LocalDate from, LocalDate to, DaysThatCount count) {
      this.stream = stream;
      this.calendars = definitions.calendarsOf(stream);
      for (Job job : stream.jobs()) {
        Optional<Stream> inner =
            job.isStep() ? definitions.streamAt(stream.pathOf(job)) : Optional.empty();
        jobs.add(
            new JobDays(
                job,
                job.days().filter(any -> count.own()).map(rule -> rule.pick(from, to, calendars)),
                job.onlyOn()
                    .filter(any -> count.onlyOn())
                    .map(rule -> rule.pick(from, to, calendars)),
                ties(stream, job),
                inner.map(found -> new Body(found, from, to, count))));
      }
    }

    /**
     * Adds the runs of one start.
     *
     * @param own whether jobs without days of their own are due
     * @param leftOut why all of it is left out; empty where it runs
     */
    void add(
        Facts facts,
        boolean own,
        Instant at,
        String leftOut,
        Parameters values,
        List<PlannedRun> runs) {
      for (JobDays days : jobs) {
        if (days.own().map(some -> some.contains(facts.date())).orElse(own)) {
          add(days, facts, at, leftOut, values, false, Set.of(), runs);
        }
      }
    }

    void add(
        JobDays days,
        Facts facts,
        Instant at,
        String leftOut,
        Parameters values,
        boolean waived,
        Set<String> assumed,
        List<PlannedRun> runs) {
      Job job = days.job();
      LocalDate date = facts.date();
      boolean outByItself = days.only().filter(only -> !only.contains(date)).isPresent();
      String out = outByItself && leftOut.isEmpty() ? leftOut(stream, job, date) : leftOut;
      Instant due = job.notBefore().map(time -> facts.notBefore().apply(at, time)).orElse(at);
      Parameters own = job.isStep() ? values : values.with(Parameters.Origin.JOB, job.parameters());
      runs.add(
          new PlannedRun(
              new RunReference(stream.path(), job.name(), date, facts.number()),
              asked(job, date, own, calendars),
              due,
              facts.start(),
              job.startBy().map(time -> StartTimes.firstAfter(due, time, facts.zone())),
              job.finishBy().map(time -> StartTimes.firstAfter(due, time, facts.zone())),
              facts.zone(),
              waived,
              stream.calendar(),
              out,
              own,
              days.ties(),
              previous(job, calendars, date),
              assumed));
      if (days.inner().isPresent()) {
        Body inner = days.inner().get();
        String below =
            out.isEmpty() ? "" : "its step " + stream.pathOf(job) + " is left out: " + out;
        Parameters given = job.isInParts() ? values : given(inner.stream, job, values);
        inner.add(facts, true, due, below, given, runs);
      }
    }

    /** What a step gives to the stream that it runs: its own values count, filled in with ours. */
    private Parameters given(Stream inner, Job step, Parameters outer) {
      Map<String, String> filled = new HashMap<>();
      step.parameters()
          .texts()
          .forEach(
              (name, value) -> filled.put(name, PlaceholderText.partly(value, outer.values())));
      return values(inner).with(Parameters.Origin.STEP, filled);
    }
  }

  /** A question is asked with its placeholders filled in, as far as that can be done beforehand. */
  Job asked(Job job, LocalDate date, Parameters values, Calendars calendars) {
    Optional<Parameters.Effective> host = values.of(StartsOn.HOST);
    if (job.placement() instanceof Placement.WithFile && host.isPresent()) {
      return job.on(host.get().value());
    }
    Job own = job.ofItsRun();
    Work filled =
        own.work().filled(text -> PlaceholderText.known(text, date, calendars, values.values()));
    Job meant = filled == own.work() ? own : own.with(filled);
    return definitions.capacityOf(job.work()).map(meant::taking).orElse(meant);
  }

  static Optional<LocalDate> previous(Job job, Calendars calendars, LocalDate date) {
    boolean asked =
        job.asks().stream()
            .flatMap(asks -> asks.targets().stream())
            .anyMatch(Prerequisite.Target::previous);
    return asked ? Optional.of(calendars.businessDay("", date, -1)) : Optional.empty();
  }

  /** A job, its own days and those to which it is narrowed, and what it is tied to. */
  record JobDays(
      Job job,
      Optional<DaySet> own,
      Optional<DaySet> only,
      PlannedRun.Ties ties,
      Optional<Body> inner) {}

  private String leftOut(Stream stream, Job job, LocalDate date) {
    DayRule only = job.onlyOn().orElseThrow();
    String because =
        DayExplainer.inOneLine(DayExplainer.explain(only, date, definitions.calendarsOf(stream)));
    return "it is due only on " + only + ", and " + date + " is not one of them: " + because;
  }

  PlannedRun.Ties ties(Stream stream, Job job) {
    Map<String, PlannedRun.Whole> whole = new HashMap<>();
    for (Prerequisite asks : job.asks()) {
      for (Prerequisite.Target target : asks.targets()) {
        Optional<Stream> other = definitions.stream(target.name());
        boolean isJob =
            definitions.job(Definitions.resolve(target.name(), stream.path())).isPresent();
        if (!isJob && other.isPresent()) {
          whole.put(
              target.name(),
              new PlannedRun.Whole(
                  target.name(),
                  other.get().jobs().stream().map(other.get()::pathOf).toList(),
                  other.get().succeedsIf()));
        }
      }
    }
    List<FileWatch> watches =
        job.waitsFor().map(Prerequisite::files).orElse(List.of()).stream()
            .map(file -> definitions.fileWatch(file.watch()).orElseThrow())
            .distinct()
            .toList();
    SuccessRule rule =
        job.isStep()
            ? definitions
                .streamAt(stream.pathOf(job))
                .map(Stream::succeedsIf)
                .orElse(SuccessRule.ALL)
            : SuccessRule.ALL;
    return new PlannedRun.Ties(stream.department(), watches, whole, rule);
  }
}

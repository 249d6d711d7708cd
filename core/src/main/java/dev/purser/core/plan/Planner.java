package dev.purser.core.plan;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Placement;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.SuccessRule;
import dev.purser.core.definition.Work;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.parameter.Template;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiFunction;

/** Works out starts and runs from definitions. */
public final class Planner {
  private static final Comparator<Numbered> IN_TIME =
      Comparator.comparing((Numbered one) -> one.start().at()).thenComparing(Numbered::entry);

  private final Definitions definitions;

  /** Plans from the given definitions. */
  public Planner(Definitions definitions) {
    this.definitions = definitions;
  }

  /** What it plans from. */
  public Definitions definitions() {
    return definitions;
  }

  /** A start, and the place of its entry in the schedule. */
  private record Numbered(StartTimes.Start start, int entry, boolean own) {}

  /** All runs due on a business date, stream by stream, in the order of the definitions. */
  public List<PlannedRun> plan(LocalDate date) {
    List<PlannedRun> runs = new ArrayList<>();
    for (Stream stream : definitions.streams()) {
      runs.addAll(plan(stream, date));
    }
    return runs;
  }

  /** The runs of one stream on a business date; none where its day rules do not pick the date. */
  public List<PlannedRun> plan(Stream stream, LocalDate date) {
    return plan(stream, date, date);
  }

  /** The runs of one stream over a span of business dates; its day rules are worked out once. */
  public List<PlannedRun> plan(Stream stream, LocalDate from, LocalDate to) {
    Body body = new Body(stream, Optional.of(from), to);
    List<PlannedRun> runs = new ArrayList<>();
    Map<Schedule, Parameters> given = new HashMap<>();
    for (StreamStart start : starts(stream, from, to)) {
      Schedule entry = start.entry();
      ZoneId zone = entry.zone();
      Facts facts =
          new Facts(
              start.date(),
              start.number(),
              new PlannedRun.Start(
                  start.start().shift(),
                  entry.ifMissed(),
                  entry.startBy().map(time -> StartTimes.firstAfter(start.at(), time, zone)),
                  start.start().window()),
              zone,
              (at, time) -> StartTimes.notBefore(entry, start.date(), at, time));
      Parameters values = given.computeIfAbsent(entry, e -> values(stream, e));
      body.add(facts, start.own(), start.at(), "", values, runs);
    }
    return runs;
  }

  /** What all runs of a start share. */
  private record Facts(
      LocalDate date,
      int number,
      PlannedRun.Start start,
      ZoneId zone,
      BiFunction<Instant, LocalTime, Instant> notBefore) {}

  private Parameters values(Stream stream, Schedule entry) {
    return values(stream).with(Parameters.Origin.SCHEDULE, entry.parameters());
  }

  private Parameters values(Stream stream) {
    return definitions
        .levels(stream.department())
        .with(Parameters.Origin.STREAM, stream.parameters());
  }

  /** The jobs of a stream and of the streams in it, with their days worked out once. */
  private final class Body {
    private final Stream stream;
    private final Calendars calendars;
    private final List<JobDays> jobs = new ArrayList<>();

    /**
     * @param from first date of the span; empty where days of jobs do not count, as by hand
     */
    Body(Stream stream, Optional<LocalDate> from, LocalDate to) {
      this.stream = stream;
      this.calendars = definitions.calendarsOf(stream);
      for (Job job : stream.jobs()) {
        Optional<Stream> inner =
            job.isStep() ? definitions.streamAt(stream.pathOf(job)) : Optional.empty();
        jobs.add(
            new JobDays(
                job,
                job.days().flatMap(rule -> from.map(f -> rule.pick(f, to, calendars))),
                job.onlyOn().flatMap(rule -> from.map(f -> rule.pick(f, to, calendars))),
                ties(stream, job),
                inner.map(found -> new Body(found, from, to))));
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
          .forEach((name, value) -> filled.put(name, Template.partly(value, outer.values())));
      return values(inner).with(Parameters.Origin.STEP, filled);
    }
  }

  /** A question is asked with its placeholders filled in, as far as that can be done beforehand. */
  private static Job asked(Job job, LocalDate date, Parameters values, Calendars calendars) {
    Optional<Parameters.Effective> host = values.of(StartsOn.HOST);
    if (job.placement() instanceof Placement.WithFile && host.isPresent()) {
      return job.on(host.get().value());
    }
    if (!(job.work() instanceof Work.Approval approval) || !approval.question().contains("${")) {
      return job.ofItsRun();
    }
    try {
      String question = Template.fill(approval.question(), date, calendars, values.values());
      return job.with(new Work.Approval(question, approval.answering()));
    } catch (Template.TemplateException e) {
      return job; // what other jobs hand back is not known yet
    }
  }

  private static Optional<LocalDate> previous(Job job, Calendars calendars, LocalDate date) {
    boolean asked =
        job.asks().stream()
            .flatMap(asks -> asks.targets().stream())
            .anyMatch(Prerequisite.Target::previous);
    return asked ? Optional.of(calendars.businessDay("", date, -1)) : Optional.empty();
  }

  /** A job, its own days and those to which it is narrowed, and what it is tied to. */
  private record JobDays(
      Job job,
      Optional<DaySet> own,
      Optional<DaySet> only,
      PlannedRun.Ties ties,
      Optional<Body> inner) {}

  /**
   * The starts of a stream over a span of business dates, in order. Two entries that give the same
   * instant with the same parameters are one start, that of the first entry.
   */
  public List<StreamStart> starts(Stream stream, LocalDate from, LocalDate to) {
    List<StreamStart> all = new ArrayList<>();
    if (stream.schedule().isEmpty()) {
      return all;
    }
    Calendars calendars = definitions.calendarsOf(stream);
    List<DaySet> own = new ArrayList<>();
    List<DaySet> any = new ArrayList<>();
    List<Optional<LocalDate>> known = new ArrayList<>();
    for (Schedule entry : stream.schedule()) {
      DaySet days = StartTimes.dates(entry, from, to, calendars);
      own.add(days);
      any.add(withJobs(stream, entry, days, calendars));
      known.add(calendars.knownTo(entry.days()));
    }
    DaySet dates = DaySet.union(any);
    for (LocalDate date : dates.days()) {
      List<Numbered> starts = new ArrayList<>();
      for (int i = 0; i < any.size(); i++) {
        if (any.get(i).contains(date)) {
          for (StartTimes.Start start : StartTimes.of(stream.schedule().get(i), date, calendars)) {
            starts.add(new Numbered(start, i, own.get(i).contains(date)));
          }
        }
      }
      number(stream, date, starts, known, all);
    }
    return all;
  }

  private static DaySet withJobs(Stream stream, Schedule entry, DaySet days, Calendars calendars) {
    List<DaySet> all = new ArrayList<>(List.of(days));
    for (Job job : stream.jobs()) {
      job.days()
          .ifPresent(
              rule -> all.add(StartTimes.within(entry, rule, days.from(), days.to(), calendars)));
    }
    return all.size() == 1 ? days : DaySet.union(all);
  }

  private static void number(
      Stream stream,
      LocalDate date,
      List<Numbered> starts,
      List<Optional<LocalDate>> known,
      List<StreamStart> all) {
    if (stream.schedule().size() > 1) {
      starts.sort(IN_TIME);
    } else if (!stream.hasWindows()) {
      starts.sort(Comparator.comparing((Numbered one) -> one.start().at()));
    }
    int number = 0;
    List<Numbered> taken = new ArrayList<>(starts.size());
    for (Numbered one : starts) {
      if (!isTaken(one, taken, stream)) {
        taken.add(one);
        number++;
        Schedule entry = stream.schedule().get(one.entry());
        boolean guess = known.get(one.entry()).filter(date::isAfter).isPresent();
        all.add(new StreamStart(date, number, one.start(), entry, one.own(), guess));
      }
    }
  }

  private static boolean isTaken(Numbered one, List<Numbered> taken, Stream stream) {
    for (int i = taken.size() - 1; i >= 0; i--) {
      Numbered before = taken.get(i);
      if (!before.start().at().equals(one.start().at())) {
        return false;
      }
      if (stream
          .schedule()
          .get(before.entry())
          .parameters()
          .equals(stream.schedule().get(one.entry()).parameters())) {
        return true;
      }
    }
    return false;
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

  /** How many runs a start has, without jobs that are left out on its date. */
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
   */
  public record ByHand(
      Optional<Job> job,
      boolean andFollowing,
      Map<String, String> parameters,
      LocalDate date,
      int number,
      Instant at,
      ZoneId zone) {
    /** A start of one job or of the whole stream, with nothing special. */
    public static ByHand of(
        Optional<Job> job, LocalDate date, int number, Instant at, ZoneId zone) {
      return new ByHand(job, false, Map.of(), date, number, at, zone);
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
    Optional<Schedule> entry = stream.schedule().stream().findFirst();
    ZoneId zone = entry.map(Schedule::zone).orElse(wanted.zone());
    PlannedRun.Start start =
        entry
            .flatMap(first -> lastWindow(stream, first, wanted.date(), wanted.at()))
            .map(PlannedRun.Start::about)
            .orElse(PlannedRun.Start.PLAIN);
    Parameters values =
        entry
            .map(first -> values(stream, first))
            .orElseGet(() -> values(stream))
            .with(Parameters.Origin.START, wanted.parameters());
    refuseWrongParameters(stream, wanted, values);
    Set<String> chosen = chosen(stream, wanted);
    Set<String> assumed = new HashSet<>();
    stream.jobs().stream()
        .filter(job -> wanted.andFollowing() && !chosen.contains(job.name()))
        .forEach(job -> assumed.add(stream.pathOf(job)));
    Facts facts = new Facts(wanted.date(), wanted.number(), start, zone, (at, notBefore) -> at);
    Body body = new Body(stream, Optional.empty(), wanted.date());
    List<PlannedRun> runs = new ArrayList<>();
    for (JobDays days : body.jobs) {
      if (chosen.contains(days.job().name())) {
        boolean waived = wanted.job().filter(days.job()::equals).isPresent();
        body.add(days, facts, wanted.at(), "", values, waived, assumed, runs);
      }
    }
    return runs;
  }

  private void refuseWrongParameters(Stream stream, ByHand wanted, Parameters values) {
    for (String name : stream.asksFor()) {
      if (values.of(name).isEmpty()) {
        throw new NotUnderstood(
            stream.path()
                + " asks for the parameter \""
                + name
                + "\", and nothing gives it a value; give one with the start");
      }
    }
    if (stream.startsOn().isPresent() && values.of(StartsOn.PATH).isEmpty()) {
      throw new NotUnderstood(
          stream.path()
              + " starts on files of "
              + stream.startsOn().get().watch()
              + "; to start it by hand, say which: give "
              + StartsOn.PATH
              + " and "
              + StartsOn.HOST
              + " with the start");
    }
    Set<String> known = new TreeSet<>(definitions.parameterNames(stream, Optional.empty()));
    stream.schedule().forEach(entry -> known.addAll(entry.parameters().keySet()));
    stream.jobs().forEach(job -> known.addAll(job.parameters().keySet()));
    for (String name : wanted.parameters().keySet()) {
      if (!known.contains(name)) {
        throw new NotUnderstood(
            stream.path() + " has no parameter \"" + name + "\"" + Nearest.hint(name, known));
      }
    }
  }

  /** The names of the jobs that a start by hand means. */
  private static Set<String> chosen(Stream stream, ByHand wanted) {
    Set<String> chosen = new LinkedHashSet<>();
    if (wanted.job().isEmpty()) {
      stream.jobs().forEach(job -> chosen.add(job.name()));
      return chosen;
    }
    chosen.add(wanted.job().get().name());
    boolean grows = wanted.andFollowing();
    while (grows) {
      grows = false;
      for (Job job : stream.jobs()) {
        boolean follows =
            job.waitsFor().map(Prerequisite::targets).orElse(List.of()).stream()
                .anyMatch(target -> isOneOf(stream, chosen, target.name()));
        grows |= follows && chosen.add(job.name());
      }
    }
    return chosen;
  }

  private static boolean isOneOf(Stream stream, Set<String> names, String named) {
    return names.contains(named)
        || names.stream().anyMatch(name -> named.equals(stream.path() + "/" + name))
        || names.stream().anyMatch(name -> named.startsWith(stream.path() + "/" + name + "/"));
  }

  /** The last window of a date that has ended, or its first: what a start by hand is about. */
  private Optional<Window> lastWindow(Stream stream, Schedule entry, LocalDate date, Instant at) {
    if (!entry.hasWindows()) {
      return Optional.empty();
    }
    List<StartTimes.Start> starts = StartTimes.of(entry, date, definitions.calendarsOf(stream));
    return starts.stream()
        .filter(start -> !start.at().isAfter(at))
        .reduce((earlier, later) -> later)
        .or(() -> starts.stream().findFirst())
        .flatMap(StartTimes.Start::window)
        .map(
            window -> new Window(window.start(), window.end(), Optional.empty(), Optional.empty()));
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

  /** A run as it was planned, taken up again from records by the definitions of that time. */
  public PlannedRun again(RunReference reference, Kept kept) {
    Stream stream = definitions.streamAt(reference.stream()).orElseThrow();
    Job job = stream.job(reference.job()).orElseThrow();
    Parameters values = kept.parameters().orElseGet(() -> usualValues(stream, job));
    return new PlannedRun(
        reference,
        asked(job, reference.date(), values, definitions.calendarsOf(stream)),
        kept.due(),
        kept.start(),
        kept.startBy(),
        kept.finishBy(),
        kept.zone(),
        kept.waived(),
        stream.calendar(),
        kept.leftOut(),
        values,
        ties(stream, job),
        previous(job, definitions.calendarsOf(stream), reference.date()),
        kept.assumed());
  }

  /** The values that a job of a stream has where its start says nothing special. */
  public Parameters usualValues(Stream stream, Job job) {
    return job.isStep()
        ? values(stream)
        : values(stream).with(Parameters.Origin.JOB, job.parameters());
  }

  private String leftOut(Stream stream, Job job, LocalDate date) {
    DayRule only = job.onlyOn().orElseThrow();
    String because =
        DayExplainer.inOneLine(DayExplainer.explain(only, date, definitions.calendarsOf(stream)));
    return "it is due only on " + only + ", and " + date + " is none of them: " + because;
  }

  private PlannedRun.Ties ties(Stream stream, Job job) {
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

package dev.purser.core.plan;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Stream;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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
    Calendars calendars = definitions.calendarsOf(stream);
    List<JobDays> jobs = new ArrayList<>(stream.jobs().size());
    for (Job job : stream.jobs()) {
      jobs.add(
          new JobDays(
              job,
              job.days().map(rule -> rule.pick(from, to, calendars)),
              job.onlyOn().map(rule -> rule.pick(from, to, calendars)),
              watches(job),
              wholeStreams(stream, job)));
    }
    List<PlannedRun> runs = new ArrayList<>();
    for (StreamStart start : starts(stream, from, to)) {
      for (JobDays job : jobs) {
        if (job.own().map(days -> days.contains(start.date())).orElse(start.own())) {
          runs.add(run(stream, job, start));
        }
      }
    }
    return runs;
  }

  /** A job, its own days and those to which it is narrowed, and what it is tied to. */
  private record JobDays(
      Job job,
      Optional<DaySet> own,
      Optional<DaySet> only,
      List<FileWatch> watches,
      Map<String, List<String>> wholeStreams) {}

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
    return definitions.stream(run.stream())
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
    Calendars calendars = definitions.calendarsOf(stream);
    LocalDate date = start.date();
    int runs = 0;
    for (Job job : stream.jobs()) {
      boolean due =
          job.days()
              .map(rule -> rule.pick(date, date, calendars).contains(date))
              .orElse(start.own());
      boolean in =
          job.onlyOn().map(rule -> rule.pick(date, date, calendars).contains(date)).orElse(true);
      runs += due && in ? 1 : 0;
    }
    return runs;
  }

  /**
   * Runs that a person starts by hand: of a whole stream, or of one job, whose prerequisites then
   * do not count. They have the parameters of the schedule's first entry; where it has windows,
   * they are about the last one of the date that has ended, out of order.
   *
   * @param number the number that the runs get
   * @param zone for times in messages, where the stream has no schedule of its own
   */
  public List<PlannedRun> byHand(
      Stream stream, Optional<Job> only, LocalDate date, int number, Instant at, ZoneId zone) {
    Optional<Schedule> entry = stream.schedule().stream().findFirst();
    ZoneId ownZone = entry.map(Schedule::zone).orElse(zone);
    PlannedRun.Start start =
        entry
            .flatMap(first -> lastWindow(stream, first, date, at))
            .map(PlannedRun.Start::about)
            .orElse(PlannedRun.Start.PLAIN);
    return only.map(List::of).orElse(stream.jobs()).stream()
        .map(
            job ->
                new PlannedRun(
                    new RunReference(stream.path(), job.name(), date, number),
                    job,
                    at,
                    start,
                    job.startBy().map(time -> StartTimes.firstAfter(at, time, ownZone)),
                    job.finishBy().map(time -> StartTimes.firstAfter(at, time, ownZone)),
                    ownZone,
                    only.isPresent(),
                    stream.calendar(),
                    "",
                    entry.map(first -> parameters(stream, first)).orElse(stream.parameters()),
                    watches(job),
                    wholeStreams(stream, job)))
        .toList();
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
   * @param parameters its values for placeholders; empty where they are the stream's
   */
  public record Kept(
      Instant due,
      PlannedRun.Start start,
      Optional<Instant> startBy,
      Optional<Instant> finishBy,
      ZoneId zone,
      boolean waived,
      String leftOut,
      Optional<Map<String, String>> parameters) {}

  /** A run as it was planned, taken up again from records by the definitions of that time. */
  public PlannedRun again(RunReference reference, Kept kept) {
    Stream stream = definitions.stream(reference.stream()).orElseThrow();
    Job job = stream.job(reference.job()).orElseThrow();
    return new PlannedRun(
        reference,
        job,
        kept.due(),
        kept.start(),
        kept.startBy(),
        kept.finishBy(),
        kept.zone(),
        kept.waived(),
        stream.calendar(),
        kept.leftOut(),
        kept.parameters().orElse(stream.parameters()),
        watches(job),
        wholeStreams(stream, job));
  }

  private PlannedRun run(Stream stream, JobDays days, StreamStart start) {
    Job job = days.job();
    Schedule entry = start.entry();
    ZoneId zone = entry.zone();
    Instant due =
        job.notBefore().isEmpty()
            ? start.at()
            : StartTimes.notBefore(entry, start.date(), start.at(), job.notBefore().get());
    boolean leftOut = days.only().filter(only -> !only.contains(start.date())).isPresent();
    return new PlannedRun(
        new RunReference(stream.path(), job.name(), start.date(), start.number()),
        job,
        due,
        new PlannedRun.Start(
            start.start().shift(),
            entry.ifMissed(),
            entry.startBy().map(time -> StartTimes.firstAfter(start.at(), time, zone)),
            start.start().window()),
        job.startBy().map(time -> StartTimes.firstAfter(due, time, zone)),
        job.finishBy().map(time -> StartTimes.firstAfter(due, time, zone)),
        zone,
        false,
        stream.calendar(),
        leftOut ? leftOut(stream, job, start.date()) : "",
        parameters(stream, entry),
        days.watches(),
        days.wholeStreams());
  }

  private String leftOut(Stream stream, Job job, LocalDate date) {
    DayRule only = job.onlyOn().orElseThrow();
    String because =
        DayExplainer.inOneLine(DayExplainer.explain(only, date, definitions.calendarsOf(stream)));
    return "it is due only on " + only + ", and " + date + " is none of them: " + because;
  }

  private static Map<String, String> parameters(Stream stream, Schedule entry) {
    if (entry.parameters().isEmpty()) {
      return stream.parameters();
    }
    Map<String, String> both = new HashMap<>(stream.parameters());
    both.putAll(entry.parameters());
    return both;
  }

  private List<FileWatch> watches(Job job) {
    return job.waitsFor().map(Prerequisite::files).orElse(List.of()).stream()
        .map(file -> definitions.fileWatch(file.watch()).orElseThrow())
        .distinct()
        .toList();
  }

  private Map<String, List<String>> wholeStreams(Stream stream, Job job) {
    Map<String, List<String>> whole = new HashMap<>();
    for (Prerequisite.RunEnded run : job.waitsFor().map(Prerequisite::runs).orElse(List.of())) {
      Optional<Stream> other = definitions.stream(run.job());
      boolean isJob = definitions.job(Definitions.resolve(run.job(), stream.path())).isPresent();
      if (!isJob && other.isPresent()) {
        whole.put(
            run.job(),
            other.get().jobs().stream().map(inner -> other.get().pathOf(inner)).toList());
      }
    }
    return whole;
  }
}

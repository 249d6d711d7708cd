package dev.purser.core.plan;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Stream;
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

/** Works out the plan of a business date from definitions. */
public final class Planner {
  private final Definitions definitions;

  /** Plans from the given definitions. */
  public Planner(Definitions definitions) {
    this.definitions = definitions;
  }

  /** All runs due on a business date, stream by stream, in the order of the definitions. */
  public List<PlannedRun> plan(LocalDate date) {
    List<PlannedRun> runs = new ArrayList<>();
    for (Stream stream : definitions.streams()) {
      runs.addAll(plan(stream, date));
    }
    return runs;
  }

  /** The runs of one stream on a business date; none where its day rule does not pick the date. */
  public List<PlannedRun> plan(Stream stream, LocalDate date) {
    List<PlannedRun> runs = new ArrayList<>();
    Optional<Schedule> schedule = stream.schedule();
    boolean picked =
        schedule.isPresent()
            && schedule
                .get()
                .days()
                .pick(date, date, definitions.calendarsOf(stream))
                .contains(date);
    if (picked) {
      int number = 1;
      for (LocalTime time : schedule.get().at()) {
        StartTimes.Start start = StartTimes.of(date, time, schedule.get().zone());
        for (Job job : stream.jobs()) {
          runs.add(run(stream, job, date, number, start, schedule.get().zone(), false));
        }
        number++;
      }
    }
    return runs;
  }

  /**
   * Runs that a person starts by hand: of a whole stream, or of one job, whose prerequisites then
   * do not count.
   *
   * @param number the number that the runs get
   * @param zone for times in messages, where the stream has no schedule of its own
   */
  public List<PlannedRun> byHand(
      Stream stream, Optional<Job> only, LocalDate date, int number, Instant at, ZoneId zone) {
    ZoneId ownZone = stream.schedule().map(Schedule::zone).orElse(zone);
    StartTimes.Start start = new StartTimes.Start(at, StartTimes.Shift.NONE);
    return only.map(List::of).orElse(stream.jobs()).stream()
        .map(job -> run(stream, job, date, number, start, ownZone, only.isPresent()))
        .toList();
  }

  /** A run as it was planned, taken up again from records by the definitions of that time. */
  public PlannedRun again(
      RunReference reference,
      Instant due,
      StartTimes.Shift shift,
      Optional<Instant> startBy,
      Optional<Instant> finishBy,
      ZoneId zone,
      boolean waived) {
    Stream stream = definitions.stream(reference.stream()).orElseThrow();
    Job job = stream.job(reference.job()).orElseThrow();
    return new PlannedRun(
        reference,
        job,
        due,
        shift,
        startBy,
        finishBy,
        zone,
        waived,
        stream.calendar(),
        stream.parameters(),
        watches(job),
        wholeStreams(stream, job));
  }

  private PlannedRun run(
      Stream stream,
      Job job,
      LocalDate date,
      int number,
      StartTimes.Start start,
      ZoneId zone,
      boolean waived) {
    return new PlannedRun(
        new RunReference(stream.path(), job.name(), date, number),
        job,
        start.at(),
        start.shift(),
        job.startBy().map(time -> StartTimes.firstAfter(start.at(), time, zone)),
        job.finishBy().map(time -> StartTimes.firstAfter(start.at(), time, zone)),
        zone,
        waived,
        stream.calendar(),
        stream.parameters(),
        watches(job),
        wholeStreams(stream, job));
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

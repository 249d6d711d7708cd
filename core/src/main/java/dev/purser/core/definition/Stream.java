package dev.purser.core.definition;

import dev.purser.core.alert.AlertRule;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.job.Job;
import dev.purser.core.job.Parts;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.parameter.Given;
import dev.purser.core.schedule.Schedule;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A named set of jobs that belong together, with a schedule of its own.
 *
 * @param path the full name, with slashes
 * @param title for people
 * @param about what it is for
 * @param department to whom it belongs
 * @param owner the recipient of its alerts, where one of that name is defined
 * @param alertsTo further recipients
 * @param calendar the business calendar that its day rules mean; empty for Monday to Friday
 * @param schedule when it starts: its entries; empty for one that people start
 * @param startsOn the files that start it; empty where none do
 * @param paused what its file says: whether it is to be paused when it is published; empty where
 *     nothing is said, and then a new stream is
 * @param parameters values for placeholders
 * @param asksFor names of parameters that whoever starts it must give
 * @param succeedsIf which of its jobs must succeed for it to succeed
 * @param alerts rules of alerts of its runs
 * @param whenItFails what to do where one of its jobs fails that says nothing; empty for nothing
 * @param tags words that people find its runs by
 * @param places where jobs stand in its picture, by name, as far as somebody has said
 * @param jobs in the order of the file
 */
public record Stream(
    String path,
    String title,
    String about,
    String department,
    String owner,
    List<String> alertsTo,
    String calendar,
    List<Schedule> schedule,
    Optional<StartsOn> startsOn,
    Optional<Boolean> paused,
    Given parameters,
    List<String> asksFor,
    SuccessRule succeedsIf,
    List<AlertRule> alerts,
    String whenItFails,
    List<String> tags,
    Map<String, Spot> places,
    List<Job> jobs) {
  /** Copies the collections. */
  public Stream {
    alertsTo = List.copyOf(alertsTo);
    schedule = List.copyOf(schedule);
    asksFor = List.copyOf(asksFor);
    alerts = List.copyOf(alerts);
    tags = List.copyOf(tags);
    places = Map.copyOf(places);
    jobs = new NamedJobs(jobs);
  }

  /** What the paths of streams begin with that try a draft; no other stream's may. */
  public static final String TRIAL = "trial/";

  /** Whether the path of a stream, a job or a run is of a try of a draft. */
  public static boolean isTrial(String path) {
    return path.startsWith(TRIAL);
  }

  /** The job of a name. */
  public Optional<Job> job(String name) {
    return ((NamedJobs) jobs).named(name);
  }

  /** Whether its schedule cuts time into windows; then it has one entry only. */
  public boolean hasWindows() {
    return schedule.stream().anyMatch(Schedule::hasWindows);
  }

  /** Whether it starts without a person: by its schedule, or on files. */
  public boolean startsByItself() {
    return !schedule.isEmpty() || startsOn.isPresent();
  }

  /** Every day rule of it: of its schedule and of its jobs. */
  public List<DayRule> dayRules() {
    List<DayRule> rules = new ArrayList<>();
    schedule.forEach(entry -> rules.add(entry.days()));
    for (Job job : jobs) {
      job.days().ifPresent(rules::add);
      job.onlyOn().ifPresent(rules::add);
    }
    return rules;
  }

  /** This stream as a step of another one uses it: under the step's path, with its department. */
  Stream asStep(String stepPath, Stream outer) {
    return new Stream(
        stepPath,
        title,
        about,
        department.isEmpty() ? outer.department() : department,
        owner.isEmpty() ? outer.owner() : owner,
        alertsTo.isEmpty() ? outer.alertsTo() : alertsTo,
        calendar.isEmpty() ? outer.calendar() : calendar,
        List.of(),
        Optional.empty(),
        Optional.empty(),
        parameters,
        asksFor,
        succeedsIf,
        alerts,
        whenItFails,
        tags.isEmpty() ? outer.tags() : tags,
        places,
        jobs);
  }

  /** The parts of one of its jobs, as the runs below that job's. */
  Stream ofParts(String jobPath, Job job, Parts parts, List<Job> all) {
    return new Stream(
        jobPath,
        job.title(),
        about,
        department,
        owner,
        alertsTo,
        calendar,
        List.of(),
        Optional.empty(),
        Optional.empty(),
        parameters,
        asksFor,
        parts.endsWell(),
        alerts,
        whenItFails,
        tags,
        Map.of(),
        all);
  }

  /** The full path of a job of this stream. */
  public String pathOf(Job job) {
    return path + "/" + job.name();
  }
}

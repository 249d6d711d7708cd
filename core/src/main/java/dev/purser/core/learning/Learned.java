package dev.purser.core.learning;

import dev.purser.core.commitment.Lineage;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.history.PastRun;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What runs of the past say of the jobs of definitions: the law of each, and of slow days. */
public final class Learned {
  /** Of older runs than the last so many of a job nothing is learned. */
  private static final int MOST_RUNS = 400;

  private static final double GIVE_OR_TAKE = 3;

  /** The kinds of days of longer ago are not looked at. */
  private static final int MOST_YEARS = 10;

  private final Definitions definitions;
  private final Map<String, JobLaw> laws = new HashMap<>();
  private final Map<String, Failures> failures = new HashMap<>();
  private final Map<String, double[]> likes = new HashMap<>();
  private final SlowDays slowDays;

  private Learned(Definitions definitions, Map<String, List<PastRun>> byJob, LocalDate before) {
    this.definitions = definitions;
    LocalDate first =
        byJob.values().stream()
            .flatMap(List::stream)
            .map(PastRun::date)
            .min(LocalDate::compareTo)
            .filter(date -> date.isAfter(before.minusYears(MOST_YEARS)))
            .orElse(before.minusYears(MOST_YEARS));
    DayKinds.Maker kinds = new DayKinds.Maker(definitions, first.minusDays(7), before.plusDays(7));
    double spread = spreadOfMost(byJob);
    byJob.forEach((path, runs) -> learn(path, runs, kinds, spread));
    Map<String, Double> usual = KindsOfDays.usual(laws.values());
    laws.values().forEach(law -> law.learnKinds(usual));
    this.slowDays = SlowDays.of(laws.values());
    laws.forEach(this::countAsLike);
  }

  /**
   * Learns.
   *
   * @param past runs of the past; those that did not run to an end are left alone
   * @param before only what belongs to an earlier business date is learned from
   */
  public static Learned of(Definitions definitions, Collection<PastRun> past, LocalDate before) {
    Map<String, LocalDate> from = countsFrom(definitions);
    Map<String, List<PastRun>> byJob = new TreeMap<>();
    for (PastRun run : past) {
      boolean counts =
          run.isEnded()
              && run.date().isBefore(before)
              && !run.date().isBefore(from.getOrDefault(run.path(), LocalDate.MIN));
      if (counts) {
        byJob.computeIfAbsent(run.path(), any -> new ArrayList<>()).add(run);
      }
    }
    byJob.keySet().removeIf(path -> definitions.job(path).isEmpty());
    byJob.replaceAll((path, runs) -> newest(runs));
    return new Learned(definitions, byJob, before);
  }

  /** From which date on the runs of a job count, where a commitment that it bears on says so. */
  private static Map<String, LocalDate> countsFrom(Definitions definitions) {
    Map<String, LocalDate> from = new HashMap<>();
    for (Commitment commitment : definitions.commitments()) {
      commitment
          .historyFrom()
          .ifPresent(
              date ->
                  Lineage.of(definitions, commitment)
                      .jobs()
                      .forEach(
                          path ->
                              from.merge(path, date, (one, two) -> one.isAfter(two) ? one : two)));
    }
    return from;
  }

  private static List<PastRun> newest(List<PastRun> runs) {
    List<PastRun> sorted = new ArrayList<>(runs);
    sorted.sort(Comparator.comparingLong(PastRun::start));
    return sorted.subList(Math.max(0, sorted.size() - MOST_RUNS), sorted.size());
  }

  /** The middle of the spreads of jobs of which enough is known. */
  private double spreadOfMost(Map<String, List<PastRun>> byJob) {
    double[] spreads =
        byJob.values().stream()
            .filter(runs -> runs.size() >= 10)
            .mapToDouble(Learned::plainSpread)
            .sorted()
            .toArray();
    return spreads.length < 3 ? JobLaw.USUAL_SPREAD : spreads[spreads.length / 2];
  }

  private static double plainSpread(List<PastRun> runs) {
    double[] logs =
        runs.stream()
            .mapToDouble(run -> Math.log((double) Math.max(1, run.millis())))
            .sorted()
            .toArray();
    return (logs[logs.length * 84 / 100] - logs[logs.length * 16 / 100]) / 2;
  }

  private void learn(String path, List<PastRun> runs, DayKinds.Maker kinds, double spread) {
    Job job = definitions.job(path).orElseThrow();
    Failures found = Failures.of(runs);
    failures.put(path, found);
    List<PastRun> well =
        runs.stream().filter(run -> run.outcome() == PastRun.Outcome.SUCCEEDED).toList();
    if (!well.isEmpty() && !(job.work() instanceof Approval)) {
      double[] logs =
          well.stream()
              .mapToDouble(run -> Math.log((double) found.attemptMillis(run, job)))
              .toArray();
      LocalDate[] dates = well.stream().map(PastRun::date).toArray(LocalDate[]::new);
      laws.put(path, JobLaw.of(kinds.of(path), dates, logs, spread));
    }
  }

  private void countAsLike(String path, JobLaw law) {
    double[] sums = likes.computeIfAbsent(Definitions.streamOf(path), any -> new double[2]);
    sums[0] += law.expected(law.date(law.size() - 1));
    sums[1]++;
  }

  Optional<JobLaw> law(String path) {
    return Optional.ofNullable(laws.get(path));
  }

  Failures failures(String path) {
    return failures.getOrDefault(path, Failures.of(List.of()));
  }

  SlowDays slowDays() {
    return slowDays;
  }

  /** From the shortest to the longest duration that is assumed of a job without a past. */
  Durations.Range assumed(String path) {
    Optional<Durations.Range> usually = definitions.job(path).flatMap(Job::usually);
    if (usually.isPresent()) {
      return usually.get();
    }
    double[] like = likes.get(Definitions.streamOf(path));
    if (like == null) {
      Duration unknown = Duration.ofMillis(Outcomes.UNKNOWN_DURATION);
      return new Durations.Range(unknown, unknown);
    }
    double millis = Math.exp(like[0] / like[1]);
    return new Durations.Range(
        Duration.ofMillis((long) (millis / GIVE_OR_TAKE)),
        Duration.ofMillis((long) (millis * GIVE_OR_TAKE)));
  }

  /** On what a forecast of a commitment rests, for people. */
  public String restsOn(Lineage lineage) {
    int ends = 0;
    int without = 0;
    for (String path : lineage.jobs()) {
      JobLaw law = laws.get(path);
      ends += law == null ? 0 : law.size();
      boolean work = definitions.job(path).filter(job -> !job.isStep()).isPresent();
      without += law == null && work ? 1 : 0;
    }
    String text =
        count(ends, "end")
            + " of "
            + count(lineage.jobs().size() - without, "job")
            + " in "
            + count(lineage.streams().size(), "stream");
    return without == 0 ? text : text + "; nothing is known of " + count(without, "job");
  }

  private static String count(int n, String what) {
    return n + " " + what + (n == 1 ? "" : "s");
  }

  /** On what a forecast of a job rests, for people. */
  public String restsOn(String path, LocalDate date) {
    JobLaw law = laws.get(path);
    if (law != null) {
      return law.restsOn(date);
    }
    if (definitions.job(path).flatMap(Job::usually).isPresent()) {
      return "no end is known; its usually";
    }
    return likes.containsKey(Definitions.streamOf(path))
        ? "no end is known; the other jobs of its stream"
        : "nothing is known; a minute is assumed";
  }
}

package dev.purser.core.learning;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.AsBefore;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.history.PastRun;
import dev.purser.core.job.Retry;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * Jobs go as they are learned to go, on a day as slow as this one is: drawn anew for every sample
 * from what the jobs that have ended, and those that run on, have shown of it. People and files do
 * as they usually do.
 */
public final class LearnedOutcomes extends AsBefore {
  private static final int DAYS_TRIED = 200;
  private static final int DRAWS_TRIED = 40;

  private final Learned learned;
  private final LocalDate date;
  private final double[] days;
  private final double day;
  private final double otherDay;
  private final boolean attemptsAreSeen;

  /** The same for all samples. */
  private final KnownRuns<Known> known;

  /**
   * What is known of a run, worked out once for all samples.
   *
   * @param law null where nothing is known of its job
   * @param middle the logarithm that is expected
   */
  private record Known(
      JobLaw law,
      double middle,
      double error,
      boolean ofToday,
      Failures failures,
      Durations.Range assumed,
      Map<String, String> values,
      Ending success,
      Ending failure) {
    static Known of(RunSpec run, Learned learned, History history, LocalDate today) {
      RunReference reference = run.run().reference();
      String path = reference.path();
      JobLaw law = learned.law(path).orElse(null);
      return new Known(
          law,
          law == null ? 0 : law.expected(reference.date()),
          law == null ? 0 : law.error(reference.date()),
          reference.date().equals(today),
          learned.failures(path),
          law == null ? learned.assumed(path) : null,
          history.values().getOrDefault(path, Map.of()),
          Outcomes.success(run),
          Outcomes.failure(run));
    }
  }

  private LearnedOutcomes(
      Learned learned,
      History history,
      LocalDate date,
      double[] days,
      double day,
      double otherDay,
      boolean attemptsAreSeen,
      KnownRuns<Known> known) {
    super(history);
    this.known = known;
    this.learned = learned;
    this.date = date;
    this.days = days;
    this.day = day;
    this.otherDay = otherDay;
    this.attemptsAreSeen = attemptsAreSeen;
  }

  /**
   * Prepares outcomes for a day.
   *
   * @param history how people and files usually do
   * @param date the business date whose slowness is looked at
   * @param soFar runs of that date, ended or running
   * @param at epoch milliseconds, for how long the others have run
   * @param attemptsAreSeen whether what is running is seen by attempts; else a run that is at work
   *     may have failed and been tried again already
   */
  public static LearnedOutcomes of(
      Learned learned,
      History history,
      LocalDate date,
      Collection<PastRun> soFar,
      long at,
      boolean attemptsAreSeen) {
    SlowDays.SoFar shown = learned.slowDays().new SoFar();
    List<double[]> running = new ArrayList<>();
    for (PastRun run : soFar) {
      Optional<JobLaw> law = learned.law(run.path()).filter(any -> run.start() > 0);
      if (law.isPresent() && run.isEnded() && run.outcome() == PastRun.Outcome.SUCCEEDED) {
        int attempts = Math.max(1, run.attempts());
        double rest = Math.log((double) Math.max(1, run.millis())) - law.get().expected(date);
        if (attempts == 1) {
          shown.ended(law.get(), date, rest);
        }
      } else if (law.isPresent() && run.end() == 0) {
        double beyond = Math.log((double) Math.max(1, at - run.start())) - law.get().expected(date);
        running.add(new double[] {beyond, law.get().own() + law.get().error(date)});
      }
    }
    double[] days = days(shown.today(), running);
    return new LearnedOutcomes(
        learned,
        history,
        date,
        days,
        0,
        0,
        attemptsAreSeen,
        new KnownRuns<>(run -> Known.of(run, learned, history, date)));
  }

  /** Draws of what today has in common, given that some jobs have run for so long already. */
  private static double[] days(SlowDays.Today today, List<double[]> running) {
    SplittableRandom random = new SplittableRandom(20_270_304);
    double[] tried = new double[DAYS_TRIED];
    double[] weights = new double[DAYS_TRIED];
    double all = 0;
    for (int i = 0; i < DAYS_TRIED; i++) {
      double even = (i + 0.5) / DAYS_TRIED;
      tried[i] = today.mean() + today.spread() * Normal.quantile(even);
      double weight = 1;
      for (double[] one : running) {
        weight *= 1e-6 + Normal.above((one[0] - tried[i]) / one[1]);
      }
      weights[i] = weight;
      all += weight;
    }
    double[] drawn = new double[DAYS_TRIED];
    double step = all / DAYS_TRIED;
    double at = step * random.nextDouble();
    double sum = 0;
    int next = 0;
    for (int i = 0; i < DAYS_TRIED; i++) {
      while (next < DAYS_TRIED - 1 && sum + weights[next] < at) {
        sum += weights[next++];
      }
      drawn[i] = tried[next];
      at += step;
    }
    return drawn;
  }

  /** The same with nothing left to chance: every job takes what is expected of it today. */
  public Outcomes typical() {
    double[] sorted = days.clone();
    Arrays.sort(sorted);
    return new Typical(sorted[sorted.length / 2]);
  }

  /**
   * How long a run usually takes on such a day, in milliseconds; below 0 where nothing is known.
   */
  public long usualMillis(RunSpec run) {
    RunReference reference = run.run().reference();
    return learned
        .law(reference.path())
        .map(law -> (long) Math.exp(Math.min(25, law.expected(reference.date()))))
        .orElse(-1L);
  }

  /** Nothing is left to chance. */
  private final class Typical implements Outcomes {
    private final double slow;

    Typical(double slow) {
      this.slow = slow;
    }

    @Override
    public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
      return goingOn(run, attempt, 0, random);
    }

    @Override
    public Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
      String path = run.run().reference().path();
      Durations.Range range = learned.assumed(path);
      long known = usualMillis(run);
      long millis =
          known < 0
              ? (range.low().toMillis() + range.high().toMillis()) / 2
              : (long) (known * Math.exp(slow));
      return new Outcome(
          Math.max(millis, elapsed + elapsed / 10),
          Outcomes.success(run),
          history().values().getOrDefault(path, Map.of()));
    }

    @Override
    public List<BoardEvent> planned() {
      return history().planned();
    }

    @Override
    public FileOutcome file(String watch, LocalDate of, SplittableRandom random) {
      return history().file(watch, of, 0.5);
    }

    @Override
    public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
      return LearnedOutcomes.this.approval(run, asked, random);
    }

    @Override
    public Optional<Long> recovery(RunSpec run, long failed, SplittableRandom random) {
      return LearnedOutcomes.this.recovery(run, failed, random);
    }
  }

  @Override
  public Outcomes inSample(SplittableRandom random) {
    return new LearnedOutcomes(
        learned,
        history(),
        date,
        days,
        days[random.nextInt(days.length)],
        learned.slowDays().spread() * random.nextGaussian(),
        attemptsAreSeen,
        known);
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    Known job = known.of(run);
    return outcome(run, job, attempt, millis(job, 0, random), random);
  }

  @Override
  public Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
    Known job = known.of(run);
    Failures failures = job.failures();
    if (!attemptsAreSeen && failures.perAttempt() && elapsed > 0) {
      return wholeRun(run, job, elapsed, random);
    }
    return outcome(run, job, attempt, millis(job, elapsed, random), random);
  }

  /** A run with all its attempts, of those that are longer than it has been. */
  private Outcome wholeRun(RunSpec run, Known job, long elapsed, SplittableRandom random) {
    double failing = job.failures().chance();
    Retry retry = run.run().job().retry();
    for (int tried = 0; tried < DRAWS_TRIED; tried++) {
      long millis = millis(job, 0, random);
      int attempts = 1;
      boolean fails = random.nextDouble() < failing;
      while (fails && attempts <= retry.times()) {
        millis += retry.pauseAfter(attempts++).toMillis() + millis(job, 0, random);
        fails = random.nextDouble() < failing;
      }
      if (millis > elapsed) {
        return new Outcome(millis, fails ? job.failure() : job.success());
      }
    }
    return new Outcome(millis(job, elapsed, random), job.success());
  }

  private static Outcome outcome(
      RunSpec run, Known job, int attempt, long millis, SplittableRandom random) {
    Failures failures = job.failures();
    boolean fails =
        failures.perAttempt()
            ? random.nextDouble() < failures.chance()
            : attempt > 1 || random.nextDouble() < failures.chance();
    int parts = failures.perAttempt() ? 1 : 1 + run.run().job().retry().times();
    return fails
        ? new Outcome(Math.max(1, millis / parts), job.failure())
        : new Outcome(millis, job.success(), job.values());
  }

  private long millis(Known job, long elapsed, SplittableRandom random) {
    JobLaw law = job.law();
    if (law == null) {
      return assumed(job.assumed(), elapsed, random);
    }
    double middle = job.middle() + (job.ofToday() ? day : otherDay);
    double error = job.error();
    double least = elapsed <= 0 ? Double.NEGATIVE_INFINITY : Math.log((double) elapsed);
    double drawn = middle + law.draw(error, random);
    for (int tried = 0; tried < DRAWS_TRIED && drawn <= least; tried++) {
      drawn = middle + law.draw(error, random);
    }
    if (drawn <= least) {
      drawn = least + 0.3 * law.own() * Math.abs(random.nextGaussian()) + 0.01;
    }
    return Math.max(1, (long) Math.exp(Math.min(drawn, 25)));
  }

  private static long assumed(Durations.Range range, long elapsed, SplittableRandom random) {
    long low = Math.max(range.low().toMillis(), elapsed + 1);
    long high = Math.max(range.high().toMillis(), low + low / 10);
    return low + random.nextLong(high - low + 1);
  }
}

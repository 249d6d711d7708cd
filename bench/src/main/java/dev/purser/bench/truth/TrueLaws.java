package dev.purser.bench.truth;

import dev.purser.core.forecast.Outcomes;
import dev.purser.core.history.PastRun;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.List;
import java.util.SplittableRandom;

/** All goes by the laws of a made-up world, given what has happened on a day so far. */
final class TrueLaws implements Outcomes {
  private static final LocalTime FILE = LocalTime.of(21, 35);
  private static final int DRAWS = 200;

  private final MadeUpWorld world;
  private final double mean;
  private final double spread;
  private final double day;
  private final LocalTime now;

  private TrueLaws(MadeUpWorld world, double mean, double spread, double day, LocalTime now) {
    this.world = world;
    this.mean = mean;
    this.spread = spread;
    this.day = day;
    this.now = now;
  }

  /** A day of which nothing has happened. */
  static TrueLaws of(MadeUpWorld world) {
    return new TrueLaws(world, 0, world.slowDays, 0, LocalTime.MIN);
  }

  /** A day of which the runs that have ended are known. */
  static TrueLaws given(MadeUpWorld world, List<PastRun> ended, LocalDate date, LocalTime now) {
    double sure = 1 / (world.slowDays * world.slowDays);
    double sum = 0;
    for (PastRun run : ended) {
      MadeUpWorld.Law law = world.laws.get(run.path());
      if (run.attempts() == 1 && run.outcome() == PastRun.Outcome.SUCCEEDED) {
        double precision = 1 / (law.spread() * law.spread());
        sum += precision * (Math.log((double) run.millis()) - law.mean(date));
        sure += precision;
      }
    }
    return new TrueLaws(world, sum / sure, Math.sqrt(1 / sure), 0, now);
  }

  @Override
  public Outcomes inSample(SplittableRandom random) {
    return new TrueLaws(world, mean, spread, mean + spread * gauss(random), now);
  }

  private static double gauss(SplittableRandom random) {
    return Math.sqrt(-2 * Math.log(1 - random.nextDouble()))
        * Math.cos(2 * Math.PI * random.nextDouble());
  }

  @Override
  public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
    return goingOn(run, attempt, 0, random);
  }

  @Override
  public Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
    MadeUpWorld.Law law = world.laws.get(run.run().reference().path());
    for (int i = 0; i < DRAWS; i++) {
      long millis = millis(run, law, random);
      boolean fails = random.nextDouble() < law.failing();
      for (int tries = 0; elapsed > 0 && fails && tries < 3; tries++) {
        millis += 60_000 + millis(run, law, random);
        fails = random.nextDouble() < law.failing();
      }
      if (millis > elapsed) {
        return new Outcome(millis, fails ? Outcomes.failure(run) : Outcomes.success(run));
      }
    }
    return new Outcome(elapsed + 1000, Outcomes.success(run));
  }

  private long millis(RunSpec run, MadeUpWorld.Law law, SplittableRandom random) {
    double middle = law.mean(run.run().reference().date()) + day;
    return (long) Math.exp(middle + law.spread() * gauss(random));
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    LocalTime at = LocalTime.MIN;
    for (int i = 0; i < DRAWS && !at.isAfter(now); i++) {
      double minutes = 6 * gauss(random);
      minutes += random.nextDouble() < world.fileLate ? 20 + 50 * random.nextDouble() : 0;
      at = FILE.plusSeconds((long) (60 * minutes));
    }
    return new FileOutcome.At(at);
  }
}

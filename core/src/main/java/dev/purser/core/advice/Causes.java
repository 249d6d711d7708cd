package dev.purser.core.advice;

import dev.purser.core.job.Approval;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.ToLongFunction;

/**
 * What makes the difference between the likely end of a promise and its usual one: causes along the
 * chain that decides, whose parts add up to it.
 */
public final class Causes {
  private static final long LEAST = 30_000;
  private static final long LEAST_REST = 3_000;

  private Causes() {}

  /**
   * A cause.
   *
   * @param run the run that it is about; null for what is about none
   * @param text the cause, in words
   * @param millis by how much it moves the end; below 0 for earlier
   */
  public record Cause(RunSpec run, String text, long millis) {}

  /** What is on record of runs. */
  @FunctionalInterface
  public interface Records {
    /**
     * Why a run waited between two times, epoch milliseconds, as the end of a sentence that begins
     * with its title; empty where nothing on record says it.
     */
    Optional<String> whyWaited(RunSpec run, long from, long to);

    /** Nothing is on record. */
    static Records none() {
      return (run, from, to) -> Optional.empty();
    }
  }

  /**
   * Splits the difference.
   *
   * @param usualEnd when the promise is usually kept, epoch milliseconds
   * @param usual how long a run usually takes, in milliseconds; below 0 where nothing is known
   * @param records what is on record of why runs waited
   */
  public static List<Cause> of(
      Course course, long usualEnd, ToLongFunction<RunSpec> usual, Records records) {
    List<Course.Leg> chain = course.chain();
    List<Cause> causes = new ArrayList<>();
    if (chain.isEmpty() || chain.get(chain.size() - 1).end() == 0) {
      return causes;
    }
    long end = chain.get(chain.size() - 1).end();
    long told = 0;
    long ready = chain.get(0).run().due();
    for (Course.Leg leg : chain) {
      long free = Math.max(ready, leg.run().due());
      if (leg.start() - free >= LEAST) {
        String why = records.whyWaited(leg.run(), free, leg.start()).orElseGet(() -> waited(leg));
        told += add(causes, leg.run(), why, leg.start() - free);
      } else {
        told += add(causes, leg.run(), "started earlier", leg.start() - free);
      }
      long usually = usual.applyAsLong(leg.run());
      long longer = leg.end() - leg.start() - (usually < 0 ? leg.end() - leg.start() : usually);
      String ran =
          leg.status().attempts() > 1
              ? "was retried"
              : longer > 0 ? "ran longer than usual" : "ran shorter than usual";
      told += add(causes, leg.run(), ran, longer);
      ready = leg.end();
    }
    add(causes, null, "all else: on other days other runs decide", end - usualEnd - told);
    return causes;
  }

  private static long add(List<Cause> causes, RunSpec run, String text, long millis) {
    if (Math.abs(millis) < (run == null ? LEAST_REST : LEAST)) {
      return 0;
    }
    causes.add(new Cause(run, text, millis));
    return millis;
  }

  /** What a run waits for that nothing before it explains. */
  private static String waited(Course.Leg leg) {
    if (!leg.run().run().watches().isEmpty()) {
      return "waited for a file";
    }
    if (leg.run().run().job().work() instanceof Approval) {
      return "waited for an answer";
    }
    return leg.run().run().job().takes().isEmpty()
        ? "waited for a host or a person"
        : "waited for units of " + String.join(", ", leg.run().run().job().takes().keySet());
  }
}

package dev.purser.core.forecast;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/** What a rehearsal assumes about the world. */
public interface Outcomes {
  /** Where nothing at all is known of a job, it is assumed to take this long, in milliseconds. */
  long UNKNOWN_DURATION = 60_000;

  /**
   * An attempt's assumed duration and end.
   *
   * @param millis how long it runs, 0 or more
   * @param values what it hands back
   */
  record Outcome(long millis, Ending ending, Map<String, String> values) {
    /** One that hands back nothing. */
    public Outcome(long millis, Ending ending) {
      this(millis, ending, Map.of());
    }
  }

  /**
   * A person's assumed answer.
   *
   * @param millis how long after they were asked
   * @param yes or no
   */
  record Answer(long millis, boolean yes) {}

  /** When a file is assumed to come. */
  sealed interface FileOutcome {
    /** As soon as somebody looks for it. */
    record AtOnce() implements FileOutcome {}

    /** This long after somebody began to look, in milliseconds. */
    record After(long millis) implements FileOutcome {}

    /**
     * As it came before.
     *
     * @param part which of the known times is meant, 0 to 1
     */
    record AsUsual(FileTimes times, double part) implements FileOutcome {}

    /** At a local time; at once where that is past. */
    record At(LocalTime time) implements FileOutcome {}

    /** Not at all. */
    record Never() implements FileOutcome {}
  }

  /** An end that counts as success for a run: with the least exit code that does. */
  static Ending success(RunSpec run) {
    return Ending.exited(run.run().job().succeedsWith().least());
  }

  /**
   * An end that counts as failure for a run: with exit code 1, or the least above it that is no
   * success for its job; where every code is one, it could not be started.
   */
  static Ending failure(RunSpec run) {
    int code = run.run().job().succeedsWith().leastOther();
    return code < 0 ? new Ending(Ending.Kind.NOT_STARTED, -1, "assumed") : Ending.exited(code);
  }

  /** How an attempt goes. */
  Outcome attempt(RunSpec run, int attempt, SplittableRandom random);

  /**
   * How an attempt goes that is at work already.
   *
   * @param elapsed how long it has been, in milliseconds
   */
  default Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
    return attempt(run, attempt, random);
  }

  /** What is assumed throughout one sample, such as how slow a day it is. */
  default Outcomes inSample(SplittableRandom random) {
    return this;
  }

  /** What people have planned to happen, such as that a host is drained for a while. */
  default List<BoardEvent> planned() {
    return List.of();
  }

  /** When a file comes. */
  default FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    return new FileOutcome.AtOnce();
  }

  /**
   * What a person answers to an approval; empty where nobody ever does, or nobody can say when.
   *
   * @param asked how long it has been asked already, in milliseconds
   */
  default Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
    return Optional.of(new Answer(0, true));
  }

  /**
   * How long after a run failed a person has it run again, in milliseconds; empty where nobody does
   * or nobody can say when.
   *
   * @param failed how long ago it failed, in milliseconds
   */
  default Optional<Long> recovery(RunSpec run, long failed, SplittableRandom random) {
    return Optional.empty();
  }
}

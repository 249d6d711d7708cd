package dev.purser.core.forecast;

import dev.purser.core.arrival.FileTimes;
import dev.purser.core.event.BoardEvent;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;

/**
 * What is known of how things went before, for forecasts.
 *
 * @param durations by a job's full path, earlier durations in milliseconds; of a question, how long
 *     it was asked before it was answered
 * @param recoveries by a job's full path, how long a failure of it stood before a person had it go
 *     on, in milliseconds
 * @param values by a job's full path, what it handed back last
 * @param fileTimes by a watch's name, when its files have come
 * @param come the files of which it is known that they are there
 * @param overdue the files whose time has passed, and which are not there
 * @param planned what people have planned to happen, such as that a host is drained for a while
 */
public record History(
    Map<String, long[]> durations,
    Map<String, long[]> recoveries,
    Map<String, Map<String, String>> values,
    Map<String, FileTimes> fileTimes,
    Set<DatedFile> come,
    Set<DatedFile> overdue,
    List<BoardEvent> planned) {
  /** Nothing is known. */
  public static final History NONE = of(Map.of(), Map.of(), Map.of());

  /** So often people must have answered before it can be said how long they usually take. */
  public static final int ENOUGH = 20;

  /** The file of a watch for a business date. */
  public record DatedFile(String watch, LocalDate date) {}

  /** Copies what is given. */
  public History {
    durations = Map.copyOf(durations);
    recoveries = Map.copyOf(recoveries);
    values = Map.copyOf(values);
    fileTimes = Map.copyOf(fileTimes);
    come = Set.copyOf(come);
    overdue = Set.copyOf(overdue);
    planned = List.copyOf(planned);
  }

  /** All this, and nothing is planned. */
  public History(
      Map<String, long[]> durations,
      Map<String, long[]> recoveries,
      Map<String, Map<String, String>> values,
      Map<String, FileTimes> fileTimes,
      Set<DatedFile> come,
      Set<DatedFile> overdue) {
    this(durations, recoveries, values, fileTimes, come, overdue, List.of());
  }

  /** The same, and this is planned. */
  public History planning(List<BoardEvent> events) {
    return new History(durations, recoveries, values, fileTimes, come, overdue, events);
  }

  /** What is known of jobs and of the times of files, and nothing of today's files. */
  public static History of(
      Map<String, long[]> durations,
      Map<String, FileTimes> fileTimes,
      Map<String, Map<String, String>> values) {
    return new History(durations, Map.of(), values, fileTimes, Set.of(), Set.of());
  }

  /**
   * When the file of a date comes.
   *
   * @param part which of the known times is meant, 0 to 1
   */
  public Outcomes.FileOutcome file(String watch, LocalDate date, double part) {
    DatedFile file = new DatedFile(watch, date);
    if (overdue.contains(file)) {
      return new Outcomes.FileOutcome.Never();
    }
    FileTimes times = fileTimes.get(watch);
    return times == null || come.contains(file)
        ? new Outcomes.FileOutcome.AtOnce()
        : new Outcomes.FileOutcome.AsUsual(times, part);
  }

  /**
   * How long a question will have been asked when it is answered: one of the earlier times that are
   * longer than it has been asked already. Empty where too few are known, or all were shorter:
   * nobody can say then.
   *
   * @param asked how long it has been asked, in milliseconds
   */
  public Optional<Long> answer(String path, long asked, SplittableRandom random) {
    return drawn(durations.get(path), asked, random);
  }

  /** The same for how long a failure stands before a person has the job go on. */
  public Optional<Long> recovery(String path, long failed, SplittableRandom random) {
    return drawn(recoveries.get(path), failed, random);
  }

  private static Optional<Long> drawn(long[] known, long already, SplittableRandom random) {
    if (known == null || known.length < ENOUGH) {
      return Optional.empty();
    }
    long[] longer = Arrays.stream(known).filter(one -> one > already).toArray();
    return longer.length == 0
        ? Optional.empty()
        : Optional.of(longer[random.nextInt(longer.length)]);
  }
}

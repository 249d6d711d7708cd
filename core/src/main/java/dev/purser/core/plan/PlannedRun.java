package dev.purser.core.plan;

import dev.purser.core.definition.FileWatch;
import dev.purser.core.job.Job;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.schedule.IfMissed;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A run that is due on a business date, with all that the board must know of it.
 *
 * @param reference what people call it
 * @param job what it does
 * @param due when it may start at the earliest
 * @param start the start that it belongs to, of its stream
 * @param startBy when it is late if it has not started
 * @param finishBy when it is late if it has not finished well
 * @param zone for times in messages
 * @param waived whether its prerequisites do not count, as for a job tried by hand
 * @param calendar the business calendar that its placeholders mean; empty for Monday to Friday
 * @param leftOut why it is left out on this date, though its stream is due; empty for one that runs
 * @param parameters its values for placeholders, each with the level that it comes from
 * @param ties what its definition ties it to
 * @param previous the business date before its own, where its prerequisite asks for that
 * @param assumed full paths of jobs that count as done: those left out of a start by hand that goes
 *     on from a job
 */
public record PlannedRun(
    RunReference reference,
    Job job,
    Instant due,
    Start start,
    Optional<Instant> startBy,
    Optional<Instant> finishBy,
    ZoneId zone,
    boolean waived,
    String calendar,
    String leftOut,
    Parameters parameters,
    Ties ties,
    Optional<LocalDate> previous,
    Set<String> assumed) {

  /**
   * What a job is tied to by the definitions; its runs share it.
   *
   * @param department of its stream
   * @param watches the file watches that its prerequisite names
   * @param wholeStreams by name as written: the streams that its prerequisite names as a whole
   * @param succeedsIf of a step: which of the jobs below it must succeed
   */
  public record Ties(
      String department,
      List<FileWatch> watches,
      Map<String, Whole> wholeStreams,
      SuccessRule succeedsIf) {
    /** Copies the collections. */
    public Ties {
      watches = List.copyOf(watches);
      wholeStreams = Map.copyOf(wholeStreams);
    }
  }

  /**
   * A stream that is named as a whole.
   *
   * @param path its full path
   * @param jobs its jobs by full path
   */
  public record Whole(String path, List<String> jobs, SuccessRule succeedsIf) {}

  /**
   * What the runs of one start have in common.
   *
   * @param shift what a clock change did to the start time
   * @param ifMissed what becomes of it where it was missed
   * @param limit when it is not made up any more; empty for never
   * @param window what it is about; empty for a schedule without windows
   */
  public record Start(
      StartTimes.Shift shift, IfMissed ifMissed, Optional<Instant> limit, Optional<Window> window) {
    /** A start that nothing special is to be said of, as one by hand. */
    public static final Start PLAIN =
        new Start(StartTimes.Shift.NONE, IfMissed.RUN, Optional.empty(), Optional.empty());

    /** A plain start that is about a window. */
    static Start about(Window window) {
      return new Start(StartTimes.Shift.NONE, IfMissed.RUN, Optional.empty(), Optional.of(window));
    }
  }

  /** What a clock change did to the start time. */
  public StartTimes.Shift shift() {
    return start.shift();
  }

  /** Copies the set. */
  public PlannedRun {
    assumed = Set.copyOf(assumed);
  }

  /** The file watches that its prerequisite names. */
  public List<FileWatch> watches() {
    return ties.watches();
  }

  /** The same run under another number of its date. */
  public PlannedRun numbered(int number) {
    return with(
        new RunReference(reference.stream(), reference.job(), reference.date(), number), start);
  }

  /** The same run of a stream that has another name now. */
  public PlannedRun ofStream(String path) {
    return with(
        new RunReference(path, reference.job(), reference.date(), reference.number()), start);
  }

  /** The same run, whose window comes after another one than it did. */
  public PlannedRun after(Window.Place place) {
    Window own = start.window().orElseThrow();
    Window moved = new Window(own.start(), own.end(), Optional.of(place), own.previous());
    return with(
        reference, new Start(start.shift(), start.ifMissed(), start.limit(), Optional.of(moved)));
  }

  /**
   * The same run with the number of another, and with its place in line where both are one window.
   */
  PlannedRun inPlaceOf(PlannedRun other) {
    Optional<Window> own = start.window();
    boolean sameWindow =
        own.isPresent()
            && other
                .start
                .window()
                .filter(w -> w.start().equals(own.get().start()) && w.end().equals(own.get().end()))
                .isPresent();
    PlannedRun numbered = numbered(other.reference.number());
    return sameWindow
        ? numbered.with(
            numbered.reference,
            new Start(start.shift(), start.ifMissed(), start.limit(), other.start.window()))
        : numbered;
  }

  private PlannedRun with(RunReference otherReference, Start otherStart) {
    return new PlannedRun(
        otherReference,
        job,
        due,
        otherStart,
        startBy,
        finishBy,
        zone,
        waived,
        calendar,
        leftOut,
        parameters,
        ties,
        previous,
        assumed);
  }
}

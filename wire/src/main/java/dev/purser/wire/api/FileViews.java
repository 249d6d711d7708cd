package dev.purser.wire.api;

import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;

/** File watches and arrivals. */
public final class FileViews {
  private FileViews() {}

  /**
   * A file watch, and how it stands on a business date.
   *
   * @param place a host, {@code each of} a group, or a connection
   * @param expected when files should come, in words; empty where nobody says
   * @param standing in a word: expected, overdue, in time, late, missing, came, any time or not
   *     expected
   * @param by when the date's file should be there
   * @param usually when it usually comes; null where too little is known
   * @param usuallyBy when it nearly always has come
   * @param came when it was whole; null where it has not come
   * @param count how many files of the date were whole
   * @param setOf how many files make a set; 1 for files that stand alone
   * @param states how many arrivals are in each state, of the last day or still open
   * @param troubles what is wrong with its directories
   * @param usedBy the jobs that wait for it and the streams that it starts
   */
  public record WatchView(
      String name,
      String title,
      String place,
      String path,
      LocalDate date,
      String expected,
      String standing,
      Instant by,
      Instant usually,
      Instant usuallyBy,
      Instant came,
      int count,
      int setOf,
      Map<String, Long> states,
      List<String> troubles,
      List<String> usedBy) {}

  /**
   * A file that was found, and what has become of it.
   *
   * @param place the host or connection
   * @param date the business date; null where none is known yet
   * @param size in bytes
   * @param checksum SHA-256 in hexadecimal; empty where the content was not read
   * @param ready when it was whole; null where it is not
   * @param state {@code seen}, {@code settling}, {@code ready}, {@code taken}, {@code used}, {@code
   *     unprocessed}, {@code rejected} or {@code ignored}
   * @param since when it came into its state
   * @param run the id of the run that has it; 0 for none
   * @param reference of that run; empty for none
   * @param repeats the arrival whose name and content it has again; 0 for none
   * @param note why it is as it is
   * @param afterUse what was done with it after use; empty where nothing was
   */
  public record ArrivalView(
      long id,
      String watch,
      String place,
      String path,
      String name,
      LocalDate date,
      long size,
      Instant modified,
      String checksum,
      Instant found,
      Instant ready,
      String state,
      Instant since,
      long run,
      String reference,
      long repeats,
      String note,
      String afterUse) {}

  /**
   * A page of arrivals, newest first.
   *
   * @param next what to ask for as {@code before} for the next page; 0 at the end
   * @param total how many there are; -1 on all pages but the first
   */
  public record ArrivalPage(List<ArrivalView> arrivals, long next, long total) {}

  /**
   * A decision on arrivals.
   *
   * @param action {@code retry}, {@code put-aside} or {@code done}
   */
  public record DecisionRequest(
      @Size(max = Limits.ARRIVALS) List<Long> arrivals,
      @Size(max = Limits.NAME) String action,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * What became of one arrival.
   *
   * @param refusal why nothing was done; empty where it was done
   * @param effect what became of the runs that had it, in words; empty where there are none
   */
  public record DecisionView(
      long id, String path, String state, boolean done, String refusal, String effect) {}

  /** A file that a trial has found. */
  public record TriedFile(
      String directory, String name, long size, Instant modified, String state, String note) {}

  /**
   * What a watch would find now, at one place.
   *
   * @param problem why it could not be tried; empty where it was
   * @param more how many files there are besides those listed
   * @param troubles directories that cannot be looked at
   * @param notified whether the system would tell of new files; else it is looked again and again
   */
  public record TrialView(
      String place,
      String problem,
      List<TriedFile> files,
      long more,
      List<String> troubles,
      boolean notified) {}
}

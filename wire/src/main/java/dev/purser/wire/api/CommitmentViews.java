package dev.purser.wire.api;

import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** What is promised to the business, as clients see it. */
public final class CommitmentViews {
  private CommitmentViews() {}

  /**
   * A promise of a date and how it stands.
   *
   * @param reference what people type: {@code night-manifest@2027-03-04}
   * @param name the commitment
   * @param endJob the full path of the end job
   * @param promise what is promised, in words
   * @param number which of the date's starts, from 1
   * @param by when it is promised; null for one that promises what is usual while too little is
   *     known
   * @param standing one of kept, missed, late, stalled, will be kept, in danger, will be late, open
   * @param sentence the same as the end of a sentence
   * @param begin the planned start from which it counts
   * @param usual when it is usually done; null where that is not known
   * @param end when it is likely to be done, or was
   * @param earliestEnd one time in ten it is earlier
   * @param latestEnd one time in ten it is later
   * @param chanceLate 0 to 1; null where nobody can say
   * @param chanceFailed 0 to 1
   * @param hangsOn {@code person} or {@code file}; empty for nothing
   * @param ifAnswered whether the times hold only if people do as they usually do
   * @param important whether its alerts are urgent
   * @param restsOn on what the figures rest
   * @param samples how often the rest of the day was played for it; 0 where it is over
   * @param zone the clock that it is read on
   */
  public record CommitmentView(
      String reference,
      String name,
      String title,
      String about,
      String department,
      String endJob,
      String promise,
      LocalDate date,
      int number,
      Instant by,
      String standing,
      String sentence,
      Instant begin,
      Instant usual,
      Instant end,
      Instant earliestEnd,
      Instant latestEnd,
      Double chanceLate,
      double chanceFailed,
      String hangsOn,
      boolean ifAnswered,
      boolean important,
      String restsOn,
      int samples,
      String zone) {}

  /**
   * A promise that is not kept yet, and what decides when it is.
   *
   * @param reference of the promise, as in {@code night-manifest@2027-03-04}
   * @param stream path of the end job's stream, or the end stream itself
   * @param by when it is promised; null for none yet
   * @param end when it is likely to be done; null where nobody can say
   * @param chain references of the runs that decide, from the first to the end run
   */
  public record DecidingView(
      String reference,
      String title,
      String stream,
      String standing,
      Instant by,
      Instant end,
      Instant latestEnd,
      Double chanceLate,
      List<String> chain) {}

  /**
   * A run of a lineage.
   *
   * @param run its id; 0 for one that is not on record yet
   * @param start when it started or is likely to
   * @param end when it ended or is likely to
   * @param decides whether it is on the chain that decides when the end job is done
   * @param slackMinutes how much later it may end before it decides; null where nobody can say
   * @param waitsFor references of the runs of the lineage that it waits for
   */
  public record LineageRun(
      long run,
      String reference,
      String title,
      String streamTitle,
      String state,
      Instant start,
      Instant end,
      boolean over,
      boolean decides,
      Long slackMinutes,
      List<String> waitsFor) {}

  /**
   * A cause of the difference between the likely and the usual end.
   *
   * @param minutes by how much it moves the end; below 0 for earlier
   */
  public record CauseView(String run, String cause, double minutes) {}

  /**
   * What became of it on an earlier date.
   *
   * @param done null where it never was
   */
  public record KeptView(
      LocalDate date, int number, Instant by, Instant done, boolean kept, long minutesOfDay) {}

  /**
   * A commitment with its lineage and its record.
   *
   * @param lineage in the order of their starts
   * @param why what makes the difference to the usual end; the minutes add up to it
   * @param helps what an operator could do, the most helpful first
   * @param earlier what became of it on the last 90 dates, oldest first
   * @param cutOff jobs that are left out of its lineage
   */
  public record CommitmentDetail(
      CommitmentView commitment,
      List<LineageRun> lineage,
      List<CauseView> why,
      List<HelpView> helps,
      List<KeptView> earlier,
      List<String> cutOff) {}

  /**
   * Something that an operator could do.
   *
   * @param action the word for it in actions; empty for what is done elsewhere
   * @param run the id of the run that it is done to, or for
   * @param text what to do, for people
   * @param page the console's page where it is done
   * @param command the command line that does it
   * @param end when it would be done
   * @param chanceLate how likely it would be late then, 0 to 1
   * @param gainMinutes by how much earlier
   * @param cost what it would do to other commitments; empty for nothing
   */
  public record HelpView(
      String action,
      long run,
      String text,
      String page,
      String command,
      Instant end,
      Double chanceLate,
      double gainMinutes,
      String cost) {}

  /** Asks to work out anew what is usual. */
  public record RenewalRequest(@Size(max = Limits.REASON) String reason) {}

  /**
   * What is usual of a commitment.
   *
   * @param afterMinutes how long after its beginning nine of ten earlier ends were
   */
  public record UsualView(String name, double afterMinutes) {}

  /**
   * How well was foretold.
   *
   * @param horizon how long before the promise, or {@code begin} for the beginning of the date;
   *     {@code alerts} for what people were told in truth, by alerts of kind will-be-late
   * @param count how many promises
   * @param within90 share of the ends at or before the foretold 90 %
   * @param within50 share at or before the foretold middle
   * @param minutesOff how far the middle was off on average
   * @param late how many were late
   * @param warned how many of these were foretold with a chance of at least what they warn at
   * @param cameToNothing how many such warnings were of promises that were kept
   * @param minutesBefore of the alerts: how long before the promised time people were warned of a
   *     late end, the middle one
   */
  public record ForetoldView(
      String horizon,
      int count,
      Double within90,
      Double within50,
      Double minutesOff,
      int late,
      int warned,
      int cameToNothing,
      Double minutesBefore) {}
}

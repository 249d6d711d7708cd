package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** What the API says of days, calendars, schedules and changes of them. */
public final class ScheduleViews {
  /**
   * Which starts files would give a stream.
   *
   * @param count of them, at most
   */
  public record NextRequest(
      @NotNull @Size(max = Limits.FILES) @Valid List<Views.FileText> files,
      @NotNull @Size(max = Limits.NAME) String stream,
      @Min(1) @Max(100) int count) {}

  private ScheduleViews() {}

  /**
   * Days of a rule.
   *
   * @param rule in canonical form
   * @param knownTo how far its calendars are good; missing where that has no end
   * @param count how many days are picked
   */
  public record RuleDays(String rule, LocalDate knownTo, int count, List<RuleDay> days) {}

  /**
   * A day as a rule sees it.
   *
   * @param reason why it is picked or not, in one line; empty where it was not asked for
   * @param holiday the name of a holiday on it, and its calendar
   * @param guess whether it lies after what the calendars are known to
   */
  public record RuleDay(
      LocalDate date, boolean picked, String reason, String holiday, boolean guess) {}

  /** Why a rule picks a day or not. */
  public record Explained(LocalDate date, boolean picked, boolean guess, RuleReason reason) {}

  /** The reason of a part of a rule. */
  public record RuleReason(boolean picked, String rule, String text, List<RuleReason> below) {}

  /**
   * A calendar.
   *
   * @param builtOn the calendars that it is built on
   * @param knownTo how far it and they are good; missing where that has no end
   * @param usedBy streams with a schedule that look at it
   * @param source where it is fetched from; empty for one that is written down
   * @param fetched when it was fetched well for the last time
   * @param fetchError what went wrong the last time
   */
  public record CalendarView(
      String name,
      String kind,
      String title,
      List<String> builtOn,
      LocalDate knownTo,
      List<String> usedBy,
      String source,
      Instant fetched,
      String fetchError) {}

  /**
   * One day of a calendar's year.
   *
   * @param open whether it is worked (business calendars), or not a holiday (holiday calendars)
   * @param name of the holiday on it
   * @param reason why it is open or closed
   */
  public record DayView(LocalDate date, boolean open, String name, String reason, boolean guess) {}

  /** A calendar's year. */
  public record YearView(
      String name, String kind, int year, LocalDate knownTo, List<DayView> days) {}

  /**
   * A stream and its schedule.
   *
   * @param schedule its entries in words; none for one that people or files start
   * @param startsOn the file watch whose files start it; empty for none
   * @param pause missing where it is not paused
   * @param next when it starts next, were it not paused
   */
  public record StreamView(
      String stream,
      String title,
      String about,
      String department,
      String calendar,
      List<String> schedule,
      String startsOn,
      PauseView pause,
      boolean windows,
      int jobs,
      Instant next,
      String zone) {}

  /** Since when, by whom and why a stream is paused, and until when if that was said. */
  public record PauseView(Instant since, LocalDate until, String who, String reason) {}

  /**
   * A coming start of a stream.
   *
   * @param shift what a clock change does to it: empty, {@code skipped} or {@code twice}
   * @param reason why its date is picked
   * @param paused whether it will not happen because the stream is paused then
   */
  public record StartView(
      String stream,
      LocalDate date,
      int number,
      Instant at,
      String zone,
      String shift,
      int runs,
      boolean guess,
      String reason,
      Instant windowStart,
      Instant windowEnd,
      boolean paused) {}

  /** Streams down, days across. */
  public record MonthView(LocalDate from, int days, List<MonthRow> streams) {}

  /** A stream's days. */
  public record MonthRow(
      String stream,
      String title,
      String department,
      String calendar,
      boolean paused,
      List<MonthCell> cells) {}

  /**
   * A stream's day.
   *
   * @param closed whether the stream's calendar is closed on it
   * @param reason why it has starts or not
   * @param paused whether its starts will not happen because the stream is paused then
   */
  public record MonthCell(
      LocalDate date,
      int starts,
      boolean closed,
      String holiday,
      String reason,
      boolean guess,
      boolean paused) {}

  /** Files to be looked at; {@code days} ahead, 400 where nothing is said. */
  public record PreviewRequest(
      @Size(max = Limits.FILES) @Valid List<Views.FileText> files,
      @Min(1) @Max(1_500) Integer days,
      @Valid Views.HoldsRequest holds) {
    /** A change that holds for what is planned. */
    public PreviewRequest(List<Views.FileText> files, Integer days) {
      this(files, days, null);
    }
  }

  /**
   * What publishing files would change.
   *
   * @param revision what they were held against
   * @param touched runs of the plan that would change, of which people have said something
   * @param open runs that are there and not over, for which it makes a difference; the first 500
   * @param moreOpen how many more there are
   * @param promises of commitments among them: on what each rests, and what it would have kept
   */
  public record PreviewView(
      boolean sound,
      long revision,
      LocalDate from,
      LocalDate to,
      List<DefinitionChange> definitions,
      int gained,
      int lost,
      int moved,
      List<StreamChange> streams,
      List<TouchedRun> touched,
      List<OpenRunView> open,
      int moreOpen,
      List<String> promises,
      List<Views.ProblemView> problems) {}

  /**
   * A run that is there and not over, and what a change makes of it.
   *
   * @param state how it stands
   * @param what {@code takes} the new version, {@code replaced} (its attempt is stopped, the next
   *     one takes it), {@code gone} from the plan, or {@code keeps} the old version
   * @param because why, or what else it would do; may be empty
   */
  public record OpenRunView(String reference, String state, String what, String because) {}

  /** A run that somebody holds, has moved or given a priority, and what becomes of that. */
  public record TouchedRun(String reference, String what) {}

  /** A definition that is {@code added} or {@code changed}, by field and as a whole. */
  public record DefinitionChange(
      String kind,
      String name,
      String action,
      List<FieldChange> fields,
      String before,
      String after) {}

  /** A field that differs. */
  public record FieldChange(String field, String before, String after) {}

  /**
   * A stream whose runs change; {@code more} changes are not listed.
   *
   * @param paused whether it will be paused after publishing: then none of it starts yet
   */
  public record StreamChange(
      String stream,
      String title,
      int gained,
      int lost,
      int moved,
      boolean paused,
      int more,
      List<StartChange> changes) {}

  /**
   * A start that is {@code gained}, {@code lost} or {@code moved}.
   *
   * @param shift what a clock change does to it: empty, {@code skipped} or {@code twice}
   */
  public record StartChange(
      String what,
      LocalDate date,
      Instant at,
      LocalDate toDate,
      Instant toAt,
      int runs,
      String reason,
      boolean guess,
      String shift) {}

  /** A stream to be paused, until a date or until a person says so. */
  public record PauseRequest(
      @Size(max = Limits.NAME) String stream,
      LocalDate until,
      @Size(max = Limits.REASON) String reason) {}

  /** A stream to go on. */
  public record ResumeRequest(
      @Size(max = Limits.NAME) String stream, @Size(max = Limits.REASON) String reason) {}

  /** How a stream stands after it was paused or resumed; {@code planned} runs were added. */
  public record PauseResult(StreamView stream, int planned) {}

  /** Windows to be filled in from a date on. */
  public record FillRequest(
      @Size(max = Limits.NAME) String stream,
      LocalDate from,
      @Size(max = Limits.REASON) String reason) {}

  /** How many windows were filled in. */
  public record Filled(String stream, int windows) {}

  /** A window: {@code done}, {@code open} or {@code failed}. */
  public record WindowView(
      LocalDate date, int number, Instant start, Instant end, String state, List<WindowRun> runs) {}

  /** A run of a window. */
  public record WindowRun(long id, String reference, String state) {}

  /** An iCalendar file to become a holiday calendar of a name. */
  public record CalendarFile(
      @Size(max = Limits.NAME) String name, String title, @Size(max = Limits.FILE) String text) {}

  /** A crontab to become definitions. */
  public record CrontabFile(
      @Size(max = Limits.FILE) String text,
      @Size(max = Limits.NAME) String prefix,
      @Size(max = Limits.NAME) String host,
      @Size(max = Limits.NAME) String zone) {}

  /**
   * Definitions made from a file; nothing is published.
   *
   * @param yaml empty where the file could not be taken
   */
  public record Imported(String yaml, int definitions, List<Views.ProblemView> problems) {}
}

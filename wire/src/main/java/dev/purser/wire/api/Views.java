package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;

/** The smaller records of the API. */
public final class Views {
  /** Of an answer: which of several runs a reference was taken to mean. */
  public static final String MEANT_HEADER = "Purser-Meant";

  private Views() {}

  /**
   * A page of a list.
   *
   * @param next the cursor of the page after it, empty at the end
   * @param total how many there are in all; -1 on all pages but the first
   */
  public record RunPage(List<RunView> runs, String next, long total) {}

  /** One attempt of a run. */
  public record AttemptView(
      int number,
      String host,
      Instant sent,
      Instant started,
      Instant ended,
      Integer exitCode,
      String note,
      long outputBytes,
      long outputKept) {}

  /** Something that happened to a run. */
  public record MomentView(Instant at, String state, String note) {}

  /** A file that a run waits for or has used. */
  public record FileView(String watch, String sight, String path) {}

  /** An earlier run of the same job. */
  public record EarlierRun(
      long id, String reference, String state, Instant started, Instant ended, Integer exitCode) {}

  /** All about one run. */
  public record RunDetail(
      RunView run,
      WhyView why,
      List<AttemptView> attempts,
      List<MomentView> moments,
      List<FileView> files,
      List<EarlierRun> earlier,
      String command,
      String whenItFails,
      String waitsFor,
      String onlyIf,
      List<ActionViews.ParameterView> parameters,
      List<ActionViews.ValueView> values,
      List<AuditView> done,
      String above,
      List<RunView> below,
      List<ActionView> actions) {}

  /** An action that can be taken now, and what it would do. */
  public record ActionView(String action, String effect) {}

  /** Why a run is not running. */
  public record WhyView(
      String reference, String state, String sentence, List<ReasonView> reasons) {}

  /**
   * One thing that is missing.
   *
   * @param who who can change it; empty where time will
   * @param run the reference of the run that it hangs on; empty for none
   * @param expected when that is likely to be done
   */
  public record ReasonView(
      String text,
      Instant since,
      String who,
      String run,
      Instant expected,
      List<ReasonView> below) {}

  /** A piece of output; {@code next} is the offset to ask from the next time. */
  public record OutputView(
      String text, long offset, long next, boolean complete, long total, long kept) {}

  /** What a person asks to be done to a run; the argument of some actions beside it. */
  public record ActionRequest(
      @Size(max = Limits.NAME) String action,
      @Size(max = Limits.REASON) String reason,
      @Min(0) @Max(100) Integer priority,
      Instant startAt) {}

  /**
   * What a person asks to be started by hand.
   *
   * @param job empty for the whole stream
   * @param andFollowing with the job all that follow it
   * @param parameters values that count more than all others
   * @param ignoring {@code not-before}, {@code only-on}: what of the jobs' own conditions does not
   *     count; null for nothing
   */
  public record StartRequest(
      @Size(max = Limits.NAME) String stream,
      @Size(max = Limits.NAME) String job,
      Boolean andFollowing,
      LocalDate date,
      @Size(max = Limits.PARAMETERS)
          Map<@Size(max = Limits.NAME) String, @Size(max = Limits.VALUE) String> parameters,
      @Size(max = 10) List<@Size(max = Limits.NAME) String> ignoring,
      @Size(max = Limits.REASON) String reason) {}

  /** What has been started. */
  public record Started(List<RunView> runs) {}

  /** A definition file. */
  public record FileText(
      @NotNull @Size(max = 1_000) String name, @NotNull @Size(max = Limits.FILE) String text) {}

  /**
   * From when a change holds: {@code planned} (what has begun goes on as it was; also where nothing
   * is said), {@code next-date}, a date, {@code now} (also what waits and what has failed) or
   * {@code running} (also what runs, by a new attempt).
   *
   * @param from for all streams
   * @param ofStreams for some of them, by path; a date later than tomorrow is for all or none
   */
  public record HoldsRequest(
      @Size(max = 40) String from,
      @Size(max = 1_000)
          Map<@Size(max = Limits.NAME) String, @NotNull @Size(max = 40) String> ofStreams) {}

  /**
   * Files to be checked or published.
   *
   * @param holds from when; null for what is planned
   */
  public record PublishRequest(
      @Size(max = Limits.FILES) @Valid List<FileText> files,
      @Size(max = Limits.REASON) String reason,
      @Valid HoldsRequest holds) {
    /** A change that holds for what is planned. */
    public PublishRequest(List<FileText> files, String reason) {
      this(files, reason, null);
    }
  }

  /** What is wrong with a file. */
  public record ProblemView(String severity, String file, int line, int column, String message) {}

  /**
   * What checking or publishing found.
   *
   * @param revision 0 where nothing was published
   * @param runsTaken runs that had begun and take it where they stand
   * @param runsStopped runs whose attempts are stopped, so that the next one takes it
   * @param draft kept until it goes live by itself; 0 where it has, or will not
   * @param goesLive the business date from which it holds, where it is yet to come; else null
   */
  public record PublishResult(
      boolean sound,
      long revision,
      List<String> added,
      List<String> changed,
      List<String> unchanged,
      List<String> withdrawn,
      int runsPlanned,
      int runsWithdrawn,
      int runsChanged,
      int runsTaken,
      int runsStopped,
      long draft,
      LocalDate goesLive,
      List<ProblemView> problems) {}

  /**
   * A definition.
   *
   * @param department of a stream; empty for none
   * @param made where it comes from, of a stream that a template has a part in; null for all else
   * @param origin of the version in force, other than from a person's own hand; empty for that
   */
  public record DefinitionView(
      String kind,
      String name,
      String title,
      String text,
      long revision,
      Instant published,
      String publishedBy,
      List<String> usedBy,
      String department,
      TemplateViews.MadeView made,
      String origin) {}

  /**
   * A host.
   *
   * @param planned when it will be drained next, and why; empty where nothing is planned
   * @param zone the clock by which texts say when
   */
  public record HostView(
      String name,
      String title,
      List<String> labels,
      List<String> groups,
      boolean enrolled,
      boolean connected,
      Instant since,
      Instant lastSeen,
      String version,
      Long clockDifferenceMillis,
      int running,
      int atMost,
      String drained,
      String planned,
      MachineView machine,
      String zone) {}

  /**
   * How a host is, or was when it was last heard of.
   *
   * @param cores processors
   * @param load running and waiting processes, over a minute; -1 where that is not known
   * @param memoryFree bytes; -1 where that is not known
   * @param memory bytes in all
   * @param diskFree bytes, where the agent keeps its journal and output
   * @param disk bytes in all there
   */
  public record MachineView(
      int cores, double load, long memoryFree, long memory, long diskFree, long disk) {}

  /** Something that is wanted of a host: {@code drain} or {@code return}. */
  public record HostAction(
      @Size(max = Limits.NAME) String action, @Size(max = Limits.REASON) String reason) {}

  /**
   * How Purser itself is.
   *
   * @param epoch counts the services that have been active on the records
   * @param clockAheadSeconds how far its clock was set ahead of its machine's, for a demo or a
   *     test; 0 where it goes by that
   * @param findings worst first
   * @param keeping how long what is kept, in words
   * @param tables largest first
   */
  public record HealthView(
      Instant at,
      String version,
      long epoch,
      long clockAheadSeconds,
      List<FindingView> findings,
      String keeping,
      List<TableSize> tables) {}

  /**
   * What was found of one thing.
   *
   * @param level {@code good}, {@code look} or {@code bad}
   * @param remedy what to do about it; empty where nothing is to be done
   */
  public record FindingView(String about, String level, String text, String remedy) {}

  /**
   * A table of the records.
   *
   * @param rows about so many
   * @param bytes with its indexes
   */
  public record TableSize(String name, long rows, long bytes) {}

  /**
   * Which history is to go; only what is over and past counts.
   *
   * @param state with commas between; none for all
   * @param runs how many that is, as was told before; needed to delete
   */
  public record HistoryRequest(
      @Size(max = Limits.NAME) String stream,
      @Size(max = Limits.NAME) String job,
      LocalDate from,
      LocalDate to,
      @Size(max = Limits.NAME) String state,
      Long runs,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * How much history.
   *
   * @param children below steps of the others, and parts of them; they are among {@code runs}
   * @param outputBytes as it is kept
   */
  public record HistoryAmount(
      long runs, long children, long attempts, long moments, long outputBytes) {}

  /** A token with which an agent can be enrolled once. */
  public record EnrolmentToken(String host, String token, Instant expires) {}

  /**
   * The outlook of one run.
   *
   * @param chanceLate from 0 to 1; null where it has no finish-by, or nobody can say
   * @param guess whether its date lies after what the calendars are known to
   * @param hangsOn on what it hangs of which nobody can say when it comes: {@code person} or {@code
   *     file}; empty for nothing
   * @param ifAnswered whether the times hold only if people answer as they usually do
   * @param samples how often it was played
   */
  public record OutlookView(
      String reference,
      String stream,
      String title,
      LocalDate date,
      String state,
      Instant due,
      String shift,
      Instant start,
      Instant end,
      Instant earliestEnd,
      Instant latestEnd,
      Instant finishBy,
      Double chanceLate,
      String host,
      boolean guess,
      String hangsOn,
      boolean ifAnswered,
      int samples,
      String zone) {}

  /** An entry of the audit trail. */
  public record AuditView(
      long id, Instant at, String who, String from, String what, String about, String reason) {}

  /**
   * Who is signed in.
   *
   * @param may what this person may do: {@code act} on runs, {@code publish} definitions, {@code
   *     administer} the site
   * @param now of the service's clock
   * @param environment which this service stands for, such as test; empty where that is not set
   */
  public record Me(
      String name,
      String role,
      List<String> may,
      LocalDate businessDate,
      Instant now,
      String zone,
      String version,
      String environment) {}

  /**
   * What of a stream's day matters at a glance.
   *
   * @param date its business date: an earlier one where something of that is still open
   * @param number which start of the date
   * @param stalled whether nothing in it can move without a person
   */
  public record StreamDay(
      String stream,
      String title,
      String department,
      LocalDate date,
      int number,
      String state,
      boolean stalled,
      Instant due,
      Instant started,
      Instant ended,
      Instant expectedEnd,
      List<RunView> runs) {}

  /**
   * Something that needs a person.
   *
   * @param zone whose clock the text goes by
   */
  public record NeedView(
      String reference,
      long run,
      String title,
      String text,
      String kind,
      String kindTitle,
      boolean urgent,
      String page,
      Instant since,
      String zone) {}

  /** A business date at a glance. */
  public record TodayView(
      LocalDate date,
      Instant now,
      Map<String, Integer> counts,
      List<NeedView> needs,
      List<StreamDay> streams) {}
}

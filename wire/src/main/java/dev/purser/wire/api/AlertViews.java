package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** Alerts, and who is told of them. */
public final class AlertViews {
  private AlertViews() {}

  /**
   * An alert.
   *
   * @param kindTitle what people call its kind
   * @param urgency {@code note}, {@code warning} or {@code urgent}
   * @param rule where the rule stands that it follows, such as {@code stream fuel/bunkering}
   * @param state {@code open}, {@code acknowledged}, {@code put off} or {@code closed}
   * @param run 0 for one that is about no run
   * @param page the console's page on which something can be done about it
   * @param cause of what it comes, such as {@code host depot}; empty for nothing else
   * @param partOf the alert of what it comes of, or of the storm that it is part of; 0 for none
   * @param parts how many alerts are part of it
   * @param firstAid what to do, for whoever is called; empty where nobody has said it
   * @param notices who is, was or will be told
   * @param zone the clock of the times in its text
   */
  public record AlertView(
      long id,
      String kind,
      String kindTitle,
      String urgency,
      String rule,
      String state,
      String reference,
      long run,
      String stream,
      String title,
      String text,
      String page,
      Instant opened,
      Instant acknowledged,
      String acknowledgedBy,
      Instant closed,
      String closedBecause,
      Instant putOffUntil,
      String cause,
      long partOf,
      int parts,
      String firstAid,
      List<NoticeView> notices,
      List<DeliveryView> deliveries,
      List<AlertStepView> record,
      String zone) {}

  /**
   * What is said of a kind of alert.
   *
   * @param origin where it stands: a job, a stream, a department, {@code site} or {@code built in}
   * @param condition what it asks for; empty for whatever the kind is
   * @param none whether there are no such alerts
   * @param tell recipients; empty for owner and alerts-to
   * @param say what it says instead of the usual words
   * @param escalation who is told besides, in words, such as {@code after 15m: chief}
   * @param remindEvery how often people are reminded; empty for never
   * @param does what is done besides, in words; empty for nothing
   */
  public record AlertRuleView(
      String kind,
      String kindTitle,
      String origin,
      String condition,
      boolean none,
      String urgency,
      List<String> tell,
      String say,
      List<String> escalation,
      String remindEvery,
      String does) {}

  /**
   * A step in the life of an alert.
   *
   * @param what {@code opened}, {@code changed}, {@code acknowledged}, {@code put off}, {@code
   *     commented} or {@code closed}
   * @param kind the kind that it had from then on
   * @param who by whom; empty where nobody did it
   * @param text what it said from then on, or why it was closed
   */
  public record AlertStepView(
      Instant at, String what, String kind, String kindTitle, String who, String text) {}

  /** How an alert reached, or did not reach, a recipient. */
  public record DeliveryView(
      String recipient,
      String channel,
      String address,
      String what,
      String state,
      int tries,
      Instant delivered,
      String answer,
      String lastError) {}

  /**
   * That somebody is, was or will be told of an alert.
   *
   * @param byWayOf of whom it is a member, or has the duty; empty for none
   * @param why {@code rule}, {@code escalation}, {@code reminder}, {@code update} or {@code over}
   * @param due when it is told, where it is not yet
   * @param state {@code due}, {@code waits}, {@code told}, {@code folded} or {@code dropped}
   * @param note why it waits, or nobody is told
   */
  public record NoticeView(
      String name,
      String byWayOf,
      String why,
      String urgency,
      Instant at,
      Instant due,
      String state,
      String note) {}

  /**
   * How an address fares to which alerts go.
   *
   * @param state {@code well}, {@code failing} (it is tried again), {@code refusing} or {@code new}
   * @param pending how many messages are on their way
   * @param nextTry when the next one is tried; null where none waits
   * @param delivered when the last one arrived; null for never
   * @param lastError of the last one that did not
   */
  public record AddressView(
      String channel,
      String address,
      List<String> recipients,
      String state,
      long pending,
      long refused,
      Instant oldest,
      Instant nextTry,
      Instant delivered,
      String answer,
      String lastError) {}

  /**
   * A way that was tried.
   *
   * @param arrived whether the receiver took it
   * @param answer what it answered, or what went wrong
   */
  public record TriedView(
      String recipient, String channel, String address, boolean arrived, String answer) {}

  /** How many alerts of a kind were opened on a date of the site's clock. */
  public record DayCount(LocalDate date, String kind, String kindTitle, int count) {}

  /**
   * What came of one rule for one kind and one stream.
   *
   * @param stream empty for what is about no run
   * @param takenOn somebody took it on
   * @param byPerson somebody closed it without taking it on
   * @param byItself its cause was gone before anybody took it on
   * @param ignored it is open for more than a day, and nobody has taken it on
   * @param parts how many of all were part of another
   */
  public record RuleSum(
      String kind,
      String kindTitle,
      String rule,
      String stream,
      int count,
      int takenOn,
      int byPerson,
      int byItself,
      int ignored,
      int parts) {}

  /**
   * How many alerts there were, and what became of them.
   *
   * @param sums those of which there were most first
   */
  public record SumsView(LocalDate from, LocalDate to, List<DayCount> days, List<RuleSum> sums) {}

  /**
   * A time at which nobody is told of a scope, or a host is given no work.
   *
   * @param what {@code mute} or {@code drain}
   * @param scope {@code site}, {@code department}, {@code stream} or {@code host}
   * @param state {@code planned}, {@code on} or {@code over}
   * @param zone the site's clock
   */
  public record MaintenanceView(
      long id,
      String what,
      String scope,
      String name,
      Instant from,
      Instant until,
      String reason,
      String who,
      String state,
      String note,
      String zone) {}

  /**
   * What is to be planned.
   *
   * @param scope as of a view, or {@code group}: each host of the group as it is now
   * @param from null for now
   */
  public record MaintenanceRequest(
      @Size(max = Limits.NAME) String what,
      @Size(max = Limits.NAME) String scope,
      @Size(max = Limits.NAME) String name,
      Instant from,
      Instant until,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * A step in the life of an alert, for whoever follows all of them.
   *
   * @param id its number: those of later steps are higher
   * @param what as of {@link AlertStepView}
   * @param link the console's page of the alert
   * @param zone the site's clock
   */
  public record StepEventView(
      long id,
      Instant at,
      String what,
      String kind,
      String who,
      String text,
      long alert,
      String urgency,
      String title,
      String reference,
      String stream,
      long run,
      String link,
      String zone) {}

  /**
   * Steps in their order.
   *
   * @param cursor from where to go on
   */
  public record StepsView(long cursor, List<StepEventView> steps) {}

  /**
   * What one shift tells the next.
   *
   * @param standing how things stood when it was written, in words
   * @param takenBy who took over; empty where nobody has yet
   * @param zone the site's clock
   */
  public record HandoverView(
      long id,
      Instant written,
      String who,
      String text,
      String standing,
      Instant taken,
      String takenBy,
      String zone) {}

  /** What is to be told to the next shift. */
  public record HandoverRequest(@Size(max = 20_000) String text) {}

  /**
   * Files whose rules are rehearsed over so many days, today included; 30 where nothing is said.
   */
  public record RehearsalRequest(
      @Size(max = Limits.FILES) @Valid List<Views.FileText> files,
      @Min(1) @Max(400) Integer days) {}

  /** An alert that would have come. */
  public record ExampleView(String reference, Instant at, String text) {}

  /**
   * What a rule would have made.
   *
   * @param origin where it stands
   * @param count how many alerts; of a rule that switches a kind off, none
   * @param before how many by the rules that hold now
   * @param atNight how many of them from 22:00 to 06:00 on the site's clock
   * @param mostOnDay how many on the date with the most
   * @param tell who would have been told
   * @param examples the last of them
   */
  public record RehearsedRule(
      String kind,
      String kindTitle,
      String origin,
      String condition,
      boolean none,
      String urgency,
      int count,
      int before,
      int atNight,
      int mostOnDay,
      List<String> tell,
      List<ExampleView> examples) {}

  /**
   * How often the rules of files would have made alerts.
   *
   * @param runs how many past runs that rests on
   * @param notes what the records cannot say
   * @param zone the clock of nights and days
   */
  public record RehearsalView(
      boolean sound,
      Instant from,
      Instant to,
      int runs,
      List<RehearsedRule> rules,
      List<String> notes,
      List<Views.ProblemView> problems,
      String zone) {}

  /** Who is to be tried. */
  public record TryRequest(@Size(max = Limits.NAME) String to) {}

  /**
   * A duty.
   *
   * @param now who has it; empty for nobody
   * @param until when that changes
   * @param next who has it then
   */
  public record DutyView(
      String name, String title, String zone, List<String> now, Instant until, List<String> next) {}

  /**
   * Who has a duty from one time to another.
   *
   * @param zone the duty's clock
   */
  public record StretchView(Instant from, Instant to, List<String> who, String zone) {}

  /**
   * What a person asks to be done to an alert.
   *
   * @param action {@code acknowledge}, {@code put-off}, {@code comment} or {@code close}
   * @param reason why; for a comment, what is said
   * @param until for {@code put-off}: until when
   */
  public record AlertActionRequest(
      @Size(max = Limits.NAME) String action,
      @Size(max = Limits.REASON) String reason,
      Instant until) {}

  /**
   * The same done to many alerts.
   *
   * @param withParts whether it is done to the open parts of each, too
   * @param action as of one
   */
  public record AlertsActionRequest(
      @Size(max = 1_000) List<Long> ids,
      Boolean withParts,
      @Size(max = Limits.NAME) String action,
      @Size(max = Limits.REASON) String reason,
      Instant until) {}

  /**
   * What became of one of many.
   *
   * @param refusal why nothing was done to it; empty where it was done
   */
  public record AlertDone(long alert, String title, String state, String refusal) {}

  /**
   * How much may be told, and how much has been.
   *
   * @param of {@code the site}, {@code way NAME} or {@code recipient NAME}
   * @param within {@code an hour}, {@code a day} or {@code a week}
   * @param urgent whether it is of urgent messages; the others count by themselves
   * @param most messages; to a recipient, by each way
   * @param used within that time until now
   * @param waiting how many messages wait for room
   */
  public record LimitView(
      String of, String within, boolean urgent, int most, long used, long waiting) {}
}

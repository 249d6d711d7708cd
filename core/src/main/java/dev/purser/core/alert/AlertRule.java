package dev.purser.core.alert;

import dev.purser.core.prerequisite.Comparison;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What is said of one kind of alert: on a job, a stream, a commitment, a department or the site.
 *
 * @param kind of the alert
 * @param none the kind is switched off
 * @param urgency empty where nothing is said
 * @param tell names of recipients, instead of those who are told without a rule; empty for those
 * @param say what it says instead, with placeholders; empty for the usual words
 * @param below for {@link AlertKind#TOO_QUICK}: the part of the usual duration, in percent, below
 *     which it is too quick; 0 for all else
 * @param when for {@link AlertKind#VALUE}: what a value must be like
 * @param unusual for {@link AlertKind#VALUE}, instead: which value must be unlike those of before
 * @param escalation who is told besides, the longer nobody takes it on; in order of time
 * @param remindEvery how often those who were told are reminded until somebody takes it on; zero
 *     for never
 * @param act what is done besides; empty for nothing
 * @param longerThan for {@link AlertKind#LONG_RUNNING} and {@link AlertKind#WAITS_LONG}: how long
 *     is long; empty for what is usual
 * @param longerThanRuns for {@link AlertKind#LONG_RUNNING}: longer than so many percent of its last
 *     runs, 1 to 99; 0 where nothing is said
 */
public record AlertRule(
    AlertKind kind,
    boolean none,
    Optional<Urgency> urgency,
    List<String> tell,
    String say,
    int below,
    Optional<ValueTest> when,
    Optional<Unusual> unusual,
    List<Escalation> escalation,
    Duration remindEvery,
    Optional<AlertAct> act,
    Optional<Duration> longerThan,
    int longerThanRuns) {
  /** The part of the usual duration below which a run is too quick where nothing is said. */
  public static final int USUALLY_BELOW = 20;

  /** Copies the list. */
  public AlertRule {
    tell = List.copyOf(tell);
    escalation = List.copyOf(escalation);
  }

  /**
   * How a value that a job hands back is compared.
   *
   * @param operand a number or a text
   */
  public record ValueTest(String name, Comparison comparison, String operand) {
    /** Whether a value that was handed back is so. */
    public boolean holds(String value) {
      return comparison.holds(value, operand);
    }

    /** As it stands in files. */
    @Override
    public String toString() {
      boolean plain = Comparison.number(operand).isPresent();
      String shown = plain ? operand : "\"" + operand + "\"";
      return "value " + name + " " + comparison.sign() + " " + shown;
    }
  }

  /** A rule that says nothing but how the kind is without any. */
  public static AlertRule usual(AlertKind kind) {
    return plain(kind, kind.isOnlyAskedFor());
  }

  /** A rule that switches a kind off. */
  public static AlertRule off(AlertKind kind) {
    return plain(kind, true);
  }

  private static AlertRule plain(AlertKind kind, boolean none) {
    return new AlertRule(
        kind,
        none,
        Optional.empty(),
        List.of(),
        "",
        0,
        Optional.empty(),
        Optional.empty(),
        List.of(),
        Duration.ZERO,
        Optional.empty(),
        Optional.empty(),
        0);
  }

  /** How urgent its alerts are: as it says, else as the kind is. */
  public Urgency isUrgent() {
    return urgency.orElse(kind.urgency());
  }

  /** For what it asks, in words; empty for whatever the kind is. */
  public String condition() {
    if (longerThan.isPresent()) {
      return "longer than " + Durations.print(longerThan.get());
    }
    if (longerThanRuns > 0) {
      return "longer than " + longerThanRuns + " % of its runs";
    }
    return when.map(ValueTest::toString)
        .or(() -> unusual.map(Unusual::toString))
        .orElse(kind == AlertKind.TOO_QUICK && !none ? "below " + below + " %" : "");
  }
}

package dev.purser.core.alert;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The kinds of alerts: all that anybody shows of a kind is said here. Alerts about runs are opened
 * by the board; those about other things are kept by whoever looks after them.
 */
public enum AlertKind {
  /** A run failed and no retry is left. */
  FAILED("failed", "Failed", 10),
  /** Nothing that a commitment rests on can move until a person acts. */
  STALLED("stalled", "Stalled", 12),
  /** The service itself cannot do what it should. */
  SERVICE("service", "Service", 15),
  /**
   * A run had not started by its start-by, or not finished well by its finish-by; or a commitment
   * is not kept.
   */
  LATE("late", "Late", 20),
  /** A commitment is likely not to be kept. */
  WILL_BE_LATE("will-be-late", "Will be late", 25),
  /** A host is away, short of disk or memory, or its clock is off. */
  HOST("host", "Host", 30),
  /** A file is missing or wrong, or was not processed. */
  FILE("file", "File", 40),
  /** A run was done in a fraction of its usual time: an empty load looks like this. */
  TOO_QUICK("too-quick", "Too quick", 42),
  /** A run handed back a value that is not as it should be. */
  VALUE("value", "Value", 45),
  /** A run takes longer than it usually does. */
  LONG_RUNNING("long-running", "Takes long", 50),
  /** A calendar runs out, or cannot be fetched. */
  CALENDAR("calendar", "Calendar", 60),
  /** A change of definitions that is to go live by itself cannot. */
  CHANGE("change", "Change", 62),
  /** A person is asked, and has not answered for a while. */
  APPROVAL("approval", "Wants an answer", 70),
  /** A run has waited for long for units, a host or a file. */
  WAITS_LONG("waits-long", "Waits long", 54),
  /** A run waits for something that is not planned, and so will not come. */
  NOT_PLANNED("not-planned", "Not planned", 22),
  /** An attempt failed and is tried again. */
  RETRIED("retried", "Retried", 80),
  /** A run was cancelled. */
  CANCELLED("cancelled", "Cancelled", 82),
  /** A run was left out. */
  SKIPPED("skipped", "Skipped", 84),
  /** A run has started. */
  STARTED("started", "Started", 86),
  /** A run has succeeded. */
  SUCCEEDED("succeeded", "Succeeded", 88),
  /** A person has done something to a run. */
  ACTED_ON("acted-on", "Acted on", 90);

  private static final Set<AlertKind> OF_RUNS_BY_RULE =
      EnumSet.of(
          TOO_QUICK,
          VALUE,
          WAITS_LONG,
          NOT_PLANNED,
          RETRIED,
          CANCELLED,
          SKIPPED,
          STARTED,
          SUCCEEDED,
          ACTED_ON);
  private static final Set<AlertKind> OF_WAITING = EnumSet.of(WAITS_LONG, NOT_PLANNED);
  private static final Set<AlertKind> TOLD_ONLY =
      EnumSet.of(RETRIED, CANCELLED, SKIPPED, STARTED, SUCCEEDED, ACTED_ON);

  private final String word;
  private final String title;
  private final int rank;

  AlertKind(String word, String title, int rank) {
    this.word = word;
    this.title = title;
    this.rank = rank;
  }

  /** The word in files and in the API. */
  public String word() {
    return word;
  }

  /** What people read. */
  public String title() {
    return title;
  }

  /** Whether there are such alerts only where a rule asks for them; all of them are about runs. */
  public boolean isOnlyAskedFor() {
    return OF_RUNS_BY_RULE.contains(this);
  }

  /** Whether it is about runs that wait: whoever looks after those opens and closes them. */
  public boolean isOfWaiting() {
    return OF_WAITING.contains(this);
  }

  /** Whether it is told and over: nothing stays open that somebody should take on. */
  public boolean isToldOnly() {
    return TOLD_ONLY.contains(this);
  }

  /** How urgent it is where nothing is said. */
  public Urgency urgency() {
    return isToldOnly() ? Urgency.NOTE : Urgency.WARNING;
  }

  /** The lower, the more it presses. */
  public int rank() {
    return rank;
  }

  /** The kind of a word. */
  public static Optional<AlertKind> of(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(AlertKind::word).toList();
  }
}

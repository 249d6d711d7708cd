package dev.purser.core.board;

import dev.purser.core.event.AlertReason;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.RunSpec;
import dev.purser.core.schedule.Durations;
import dev.purser.core.why.Why;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** Makes the sentence of an alert: when somebody reads it, not where it is decided. */
public final class AlertWords {
  private AlertWords() {}

  /**
   * What an alert says, and of what it comes.
   *
   * @param text the end of a sentence that begins with the run
   * @param cause a key, as {@link AlertCause} makes it; empty for nothing but the run itself
   */
  public record Said(String text, String cause) {}

  /**
   * What is said of an alert.
   *
   * @param board as it stands at the end of the turn in which the alert was opened
   */
  public static Said of(Instruction.OpenAlert alert, BoardView board) {
    Why why = board.why(alert.run());
    return new Said(text(alert, why, board), AlertCause.of(alert.run(), why, board));
  }

  private static String text(Instruction.OpenAlert alert, Why why, BoardView board) {
    RunSpec run = board.run(alert.run()).orElseThrow();
    AlertReason reason = alert.reason();
    if (reason instanceof AlertReason.Failed failed) {
      return failed.note() + handedBack(failed.values());
    }
    if (reason instanceof AlertReason.NotStarted late) {
      return "not started by " + run.clock(late.by()) + ": " + inWords(why);
    }
    if (reason instanceof AlertReason.NotFinished late) {
      return "not finished by " + run.clock(late.by()) + ": " + inWords(why);
    }
    if (reason instanceof AlertReason.TakesLong takes) {
      Duration usual = Duration.ofMillis(takes.usual());
      return "has been running for longer than " + Durations.print(usual);
    }
    AlertReason.Unanswered asked = (AlertReason.Unanswered) reason;
    return "has waited for an answer since " + run.clock(asked.since()) + ": " + asked.question();
  }

  private static String inWords(Why why) {
    return why.sentence().substring(0, 1).toLowerCase(Locale.ROOT) + why.sentence().substring(1);
  }

  private static String handedBack(Map<String, String> values) {
    if (values.isEmpty()) {
      return "";
    }
    List<String> all = new ArrayList<>();
    new TreeMap<>(values).forEach((name, value) -> all.add(name + " = " + value));
    return "; it handed back " + String.join(", ", all);
  }
}

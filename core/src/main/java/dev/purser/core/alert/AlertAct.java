package dev.purser.core.alert;

import java.time.Duration;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a rule does besides telling.
 *
 * @param argument of {@link What#START} the stream's path, of {@link What#MARK} the outcome
 * @param with parameters of a start, with placeholders as of a rule's words
 * @param after how long after the alert was opened
 * @param most how often for one run, or for what else the alert is about
 */
public record AlertAct(
    What what, String argument, Map<String, String> with, Duration after, int most) {
  /** After so many rounds a stream is not started from an alert of what it has started itself. */
  public static final int MOST_ROUNDS = 3;

  /** No rule does more in an hour. */
  public static final int MOST_AN_HOUR = 20;

  /** Copies the map. */
  public AlertAct {
    with = Collections.unmodifiableMap(new TreeMap<>(with));
  }

  /** What can be done. */
  public enum What {
    /** The run is done again. */
    RERUN("rerun", "reruns it"),
    /** The run is cancelled. */
    CANCEL("cancel", "cancels it"),
    /** What waits for the run is held. */
    HOLD("hold-what-follows", "holds what follows"),
    /** The run is marked. */
    MARK("mark", "marks it"),
    /** A stream is started. */
    START("start", "starts a stream");

    private final String word;
    private final String does;

    What(String word, String does) {
      this.word = word;
      this.does = does;
    }

    /** The key in files, and the word in records. */
    public String word() {
      return word;
    }

    /** What it does, after the rule's name. */
    public String does() {
      return does;
    }

    /** The one of a word. */
    public static Optional<What> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word.equals(word)).findFirst();
    }

    /** All words. */
    public static List<String> words() {
      return Arrays.stream(values()).map(What::word).toList();
    }
  }

  /** As people read it: {@code reruns it, twice at the most}. */
  public String inWords() {
    String text =
        what == What.START
            ? "starts " + argument
            : what == What.MARK ? "marks it " + argument : what.does();
    String often = most == 1 ? "" : ", " + most + " times at the most";
    String later =
        after.isZero() ? "" : " after " + dev.purser.core.schedule.Durations.print(after);
    return text + later + often;
  }
}

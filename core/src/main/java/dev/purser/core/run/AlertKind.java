package dev.purser.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What an alert is about. */
public enum AlertKind {
  /** A run failed and no retry is left. */
  FAILED("failed"),
  /** A run had not started by its start-by, or not finished well by its finish-by. */
  LATE("late"),
  /** A run takes longer than it usually does. */
  LONG_RUNNING("long-running"),
  /** A calendar runs out, or cannot be fetched. It is about no run; boards never open it. */
  CALENDAR("calendar"),
  /** A person is asked, and has not answered for a while. */
  APPROVAL("approval"),
  /** A host's agent is not connected. It is about no run; boards never open it. */
  HOST("host"),
  /** A file is missing or wrong, or was not processed. Boards never open it. */
  FILE("file");

  private final String word;

  AlertKind(String word) {
    this.word = word;
  }

  /** The word in files, in the API and on screens. */
  public String word() {
    return word;
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

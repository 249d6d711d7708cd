package dev.purser.core.alert;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** What an alert is about, and so where something can be done about it. */
public enum AlertSubject {
  /** A run. */
  RUN,
  /** That a run waits. */
  WAIT,
  /** A host. */
  HOST,
  /** What a commitment promises of a date. */
  COMMITMENT,
  /** The service itself. */
  SERVICE,
  /** A calendar. */
  CALENDAR,
  /** A change of definitions that is to come. */
  CHANGE,
  /** Files that are to come, or a directory where they are looked for. */
  FILES,
  /** One file that has been found. */
  ARRIVAL,
  /** Files that were not processed. */
  UNPROCESSED;

  /** The word in records and in the API. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The subject of a word. */
  public static Optional<AlertSubject> of(String word) {
    return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
  }
}

package dev.purser.core.schedule;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What becomes of a start time that passed while the service was away or the stream was paused. */
public enum IfMissed {
  /** All of them run. */
  RUN("run"),
  /** Only the last of them runs; those before it are skipped. */
  RUN_ONCE("run once"),
  /** They are skipped. */
  SKIP("skip");

  private final String word;

  IfMissed(String word) {
    this.word = word;
  }

  /** The words in files and in the API. */
  public String word() {
    return word;
  }

  /** The one of some words. */
  public static Optional<IfMissed> of(String word) {
    return Arrays.stream(values()).filter(one -> one.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(IfMissed::word).toList();
  }
}

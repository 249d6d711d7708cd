package dev.purser.core.plan;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a start by hand keeps of a job's own conditions, unless the person says otherwise. */
public enum StartCondition {
  /** The time of day before which it does not start. */
  NOT_BEFORE("not-before"),
  /** The days on which it is due at all; on others it is skipped. */
  ONLY_ON("only-on");

  private final String word;

  StartCondition(String word) {
    this.word = word;
  }

  /** The key of a job in definitions. */
  public String word() {
    return word;
  }

  /** The condition of a word. */
  public static Optional<StartCondition> of(String word) {
    return Arrays.stream(values()).filter(one -> one.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(StartCondition::word).toList();
  }
}

package dev.purser.core.alert;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** How urgent an alert is. */
public enum Urgency {
  /** Good to know; nobody must do anything. */
  NOTE("note"),
  /** Somebody should look. */
  WARNING("warning"),
  /** Somebody must act at once. */
  URGENT("urgent");

  private final String word;

  Urgency(String word) {
    this.word = word;
  }

  /** The word in files and in the API. */
  public String word() {
    return word;
  }

  /** The urgency of a word. */
  public static Optional<Urgency> of(String word) {
    return Arrays.stream(values()).filter(one -> one.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(Urgency::word).toList();
  }
}

package dev.purser.service.people;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What somebody may do; each role may do what those before it may. */
public enum Role {
  /** Look. */
  VIEWER,
  /** Act on runs and alerts. */
  OPERATOR,
  /** Publish definitions. */
  AUTHOR,
  /** Enrol hosts and manage people. */
  ADMINISTRATOR;

  /** The word for people and the API. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** The role of a word. */
  public static Optional<Role> of(String word) {
    return Arrays.stream(values()).filter(role -> role.word().equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(Role::word).toList();
  }
}

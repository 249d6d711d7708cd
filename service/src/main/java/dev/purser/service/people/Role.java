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

  /** What each role may do besides what those before it may. */
  private static final List<String> MAY = List.of("act", "publish", "administer");

  /** What may be done with it, in the words of the API; none for looking alone. */
  public List<String> may() {
    return MAY.subList(0, ordinal());
  }

  /** Whether it may do all that another may. */
  public boolean isAtLeast(Role other) {
    return compareTo(other) >= 0;
  }

  /** The word with its article, for sentences. */
  public String inWords() {
    return (ordinal() == 0 ? "a " : "an ") + word();
  }

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

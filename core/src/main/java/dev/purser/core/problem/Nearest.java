package dev.purser.core.problem;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds what somebody probably meant, by the restricted Damerau-Levenshtein distance. */
public final class Nearest {
  private Nearest() {}

  /** Returns the nearest candidate, if any is within a third of the word's length (at least 1). */
  public static Optional<String> to(String word, Collection<String> candidates) {
    int limit = Math.max(1, (word.length() + 1) / 3);
    String given = word.toLowerCase(Locale.ROOT);
    return candidates.stream()
        .filter(c -> Math.abs(c.length() - word.length()) <= limit)
        .filter(c -> distance(given, c.toLowerCase(Locale.ROOT)) <= limit)
        .min(
            Comparator.comparingInt((String c) -> distance(given, c.toLowerCase(Locale.ROOT)))
                .thenComparing(Comparator.naturalOrder()));
  }

  /**
   * What to say after an unknown word: {@code ; did you mean "x"?} for the nearest candidate, else
   * what there is, if that is short.
   *
   * @return the end of a sentence; never null
   */
  public static String hint(String word, Collection<String> candidates) {
    Optional<String> nearest = to(word, candidates);
    if (nearest.isPresent()) {
      return "; did you mean \"" + nearest.get() + "\"?";
    }
    if (candidates.isEmpty()) {
      return "; none is defined";
    }
    if (candidates.size() > 12) {
      return "";
    }
    return "; there is " + String.join(", ", candidates.stream().sorted().toList());
  }

  static int distance(String a, String b) {
    int[][] d = new int[a.length() + 1][b.length() + 1];
    for (int i = 0; i <= a.length(); i++) {
      d[i][0] = i;
    }
    for (int j = 0; j <= b.length(); j++) {
      d[0][j] = j;
    }
    for (int i = 1; i <= a.length(); i++) {
      for (int j = 1; j <= b.length(); j++) {
        int cost = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
        d[i][j] = Math.min(Math.min(d[i - 1][j] + 1, d[i][j - 1] + 1), d[i - 1][j - 1] + cost);
        boolean swapped =
            i > 1
                && j > 1
                && a.charAt(i - 1) == b.charAt(j - 2)
                && a.charAt(i - 2) == b.charAt(j - 1);
        if (swapped) {
          d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
        }
      }
    }
    return d[a.length()][b.length()];
  }
}

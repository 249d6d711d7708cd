package dev.purser.core.problem;

import java.util.Collection;
import java.util.stream.Collectors;

/** Makes short what may be long, so that nobody takes a part for the whole. */
public final class Shorten {
  private Shorten() {}

  /**
   * Names with commas between.
   *
   * @param most how many are named, at least 1; of the others it is said how many there are
   */
  public static String names(Collection<String> names, int most) {
    int rest = names.size() - most;
    return names.stream().limit(most).collect(Collectors.joining(", "))
        + (rest > 0 ? " and " + rest + " more" : "");
  }

  /**
   * A text of a length that fits.
   *
   * @param most in UTF-16 units, at least 1; what is longer ends with an ellipsis
   */
  public static String text(String text, int most) {
    if (text.length() <= most) {
      return text;
    }
    int end = most - 1;
    boolean halved = end > 0 && Character.isHighSurrogate(text.charAt(end - 1));
    return text.substring(0, halved ? end - 1 : end) + "…";
  }

  /**
   * A text that somebody else has made up, fit for a line of a log or a terminal: what is no
   * printable character, and what turns the direction of writing, becomes a question mark.
   *
   * @param most as {@link #text}
   */
  public static String printable(String text, int most) {
    StringBuilder out = new StringBuilder();
    text(text, most)
        .codePoints()
        .map(
            c ->
                Character.isISOControl(c)
                        || Character.getType(c) == Character.FORMAT
                        || Character.getType(c) == Character.LINE_SEPARATOR
                        || Character.getType(c) == Character.PARAGRAPH_SEPARATOR
                        || Character.getType(c) == Character.SURROGATE
                    ? '?'
                    : c)
        .forEach(out::appendCodePoint);
    return out.toString();
  }
}

package dev.purser.core.alert;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What an alert says in words of one's own: a text with placeholders. */
public final class AlertText {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$?\\$\\{([^}]*)\\}?");
  private static final Pattern VALUE = Pattern.compile("value ([a-z0-9][a-z0-9._-]{0,99})");

  /** All but {@code value NAME}. */
  public static final List<String> NAMES =
      List.of(
          "title", "run", "stream", "job", "date", "kind", "text", "host", "exit-code", "attempt");

  private AlertText() {}

  /** The first placeholder that nobody fills; empty where all are filled. */
  public static Optional<String> unknown(String text) {
    Matcher found = PLACEHOLDER.matcher(text);
    while (found.find()) {
      boolean known = NAMES.contains(found.group(1)) || VALUE.matcher(found.group(1)).matches();
      if (!isItself(found) && !(known && found.group().endsWith("}"))) {
        return Optional.of(found.group());
      }
    }
    return Optional.empty();
  }

  private static boolean isItself(Matcher found) {
    return found.group().startsWith("$$");
  }

  /**
   * Fills a text.
   *
   * @param facts by name of {@link #NAMES}
   * @param values what was handed back, by name; what was not is said to be missing
   */
  public static String fill(
      String text, Function<String, String> facts, Function<String, Optional<String>> values) {
    StringBuilder filled = new StringBuilder();
    Matcher found = PLACEHOLDER.matcher(text);
    while (found.find()) {
      Matcher value = VALUE.matcher(found.group(1));
      String with =
          isItself(found)
              ? found.group().substring(1)
              : value.matches()
                  ? values.apply(value.group(1)).orElse("(no " + value.group(1) + ")")
                  : NAMES.contains(found.group(1)) ? facts.apply(found.group(1)) : found.group();
      found.appendReplacement(filled, Matcher.quoteReplacement(with));
    }
    return found.appendTail(filled).toString();
  }
}

package dev.purser.core.alert;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.json.JsonFactory;

/** What an alert says in words of one's own: a text with placeholders. */
public final class AlertText {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$?\\$\\{([^}]*)\\}?");
  private static final JsonFactory JSON = JsonFactory.builder().build();
  private static final Pattern VALUE = Pattern.compile("value ([a-z0-9][a-z0-9._-]{0,99})");

  /** All but {@code value NAME}. */
  public static final List<String> NAMES =
      List.of(
          "title", "run", "stream", "job", "date", "kind", "text", "host", "exit-code", "attempt");

  /** What a message to a chat, or a mail, may have. */
  public static final List<String> MESSAGE_NAMES =
      List.of(
          "title",
          "text",
          "kind",
          "urgency",
          "about",
          "stream",
          "link",
          "at",
          "rule",
          "count",
          "parts",
          "first-aid",
          "what",
          "command",
          "job",
          "host",
          "exit-code",
          "output",
          "failed-jobs");

  private AlertText() {}

  /**
   * The first placeholder of a message's template that nobody fills; empty where all are filled.
   */
  public static Optional<String> unknownInMessage(String text) {
    Matcher found = PLACEHOLDER.matcher(text);
    while (found.find()) {
      boolean known = MESSAGE_NAMES.contains(found.group(1)) && found.group().endsWith("}");
      if (!isItself(found) && !known) {
        return Optional.of(found.group());
      }
    }
    return Optional.empty();
  }

  /**
   * Fills a template that is JSON: each value is escaped, so that none can end its string.
   *
   * @param facts by name of {@link #MESSAGE_NAMES}
   */
  public static String fillJson(String template, Function<String, String> facts) {
    StringBuilder filled = new StringBuilder();
    Matcher found = PLACEHOLDER.matcher(template);
    while (found.find()) {
      String with =
          isItself(found) ? found.group().substring(1) : escaped(facts.apply(found.group(1)));
      found.appendReplacement(filled, Matcher.quoteReplacement(with));
    }
    return found.appendTail(filled).toString();
  }

  /**
   * Fills a template of plain text.
   *
   * @param facts by name of {@link #MESSAGE_NAMES}
   */
  public static String fillMessage(String template, Function<String, String> facts) {
    StringBuilder filled = new StringBuilder();
    Matcher found = PLACEHOLDER.matcher(template);
    while (found.find()) {
      String with = isItself(found) ? found.group().substring(1) : facts.apply(found.group(1));
      found.appendReplacement(filled, Matcher.quoteReplacement(with));
    }
    return found.appendTail(filled).toString();
  }

  /** What is wrong with a template as JSON; empty where it is JSON whatever its values are. */
  public static Optional<String> brokenJson(String template) {
    String sample = fillJson(template, name -> name.equals("count") ? "1" : "a\"b");
    try (JsonParser parser = JSON.createParser(ObjectReadContext.empty(), sample)) {
      boolean any = false;
      while (parser.nextToken() != null) {
        any = true;
      }
      return any ? Optional.empty() : Optional.of("it is empty");
    } catch (JacksonException e) {
      return Optional.of(
          e.getOriginalMessage() + " at character " + e.getLocation().getCharOffset());
    }
  }

  /** A text as it stands within the quotes of a JSON string. */
  public static String escaped(String text) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c == '"' || c == '\\') {
        out.append('\\').append(c);
      } else if (c < ' ' || c == 0x7f || c == 0x2028 || c == 0x2029 || Character.isSurrogate(c)) {
        out.append("\\u%04x".formatted((int) c));
      } else {
        out.append(c);
      }
    }
    return out.toString();
  }

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

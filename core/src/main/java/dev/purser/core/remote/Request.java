package dev.purser.core.remote;

import dev.purser.core.parameter.PlaceholderText;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A request by HTTP, with placeholders. A value that is filled in stays one value wherever it
 * stands: in an address and a form it is percent-encoded, in JSON it is the text of one string, in
 * a header it cannot end the line.
 *
 * @param method such as GET
 * @param path begins with a slash, and is added to the connection's address
 * @param query further values of the address, by name
 * @param headers by name
 * @param body what is sent
 */
public record Request(
    String method, String path, Map<String, String> query, Map<String, String> headers, Body body) {
  /** An object of JSON with this one key stands for the number that its text is. */
  public static final String AS_NUMBER = "as-number";

  /** An object of JSON with this one key stands for the truth value that its text is. */
  public static final String AS_FLAG = "as-flag";

  /** What is sent. */
  public sealed interface Body {
    /** The texts in it that may hold placeholders. */
    List<String> texts();
  }

  /** Nothing. */
  public record None() implements Body {
    @Override
    public List<String> texts() {
      return List.of();
    }
  }

  /**
   * JSON.
   *
   * @param tree of maps, lists, strings, numbers, truth values and null
   */
  public record Json(Object tree) implements Body {
    @Override
    public List<String> texts() {
      List<String> texts = new ArrayList<>();
      gather(tree, texts);
      return texts;
    }

    private static void gather(Object tree, List<String> into) {
      if (tree instanceof Map<?, ?> map) {
        map.values().forEach(value -> gather(value, into));
      } else if (tree instanceof List<?> list) {
        list.forEach(value -> gather(value, into));
      } else if (tree instanceof String text) {
        into.add(text);
      }
    }
  }

  /** The values of a form, by name. */
  public record Form(Map<String, String> values) implements Body {
    @Override
    public List<String> texts() {
      return List.copyOf(values.values());
    }
  }

  /** Plain text. */
  public record Text(String text) implements Body {
    @Override
    public List<String> texts() {
      return List.of(text);
    }
  }

  /** Every text in it that may hold placeholders. */
  public List<String> texts() {
    List<String> texts = new ArrayList<>();
    texts.add(path);
    texts.addAll(query.values());
    texts.addAll(headers.values());
    texts.addAll(body.texts());
    return texts;
  }

  /** What stands in the braces of its placeholders, in order. */
  public List<String> inBraces() {
    List<String> found = new ArrayList<>();
    for (String text : texts()) {
      PlaceholderText.each(
          text,
          (whole, inner) -> {
            if (!whole.startsWith("$$")) {
              found.add(inner);
            }
            return whole;
          });
    }
    return found;
  }

  /**
   * The parameters that it asks for.
   *
   * @throws PlaceholderText.PlaceholderException where a date in it cannot be filled in
   */
  public Set<String> parameters() {
    Set<String> names = new LinkedHashSet<>();
    texts().forEach(text -> names.addAll(PlaceholderText.asked(text).parameters()));
    names.removeAll(Operation.OWN);
    return names;
  }
}

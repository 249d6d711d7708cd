package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.parameter.Given;
import dev.purser.core.parameter.PlaceholderText;
import java.util.List;
import java.util.Map;
import org.snakeyaml.engine.v2.nodes.Node;

/** What the placeholders in texts of a definition ask for. */
final class Placeholders {
  private Placeholders() {}

  /**
   * Notes what a text asks for, and says what can never be filled in.
   *
   * @param stream in which a job is looked for whose value is asked for
   * @param user who asks
   */
  static void note(
      Page page, Mentions mentions, Node node, String text, String stream, String user) {
    try {
      PlaceholderText.Asked asked = PlaceholderText.asked(text);
      for (String name : asked.parameters()) {
        int column = Math.max(text.indexOf("${" + name) + 2, 0) + 1;
        mentions.add(node, column, Document.What.PARAMETER, name, user, user);
      }
      for (PlaceholderText.ValueOf value : asked.handedBack()) {
        int column = Math.max(text.indexOf(value.job()), 0) + 1;
        mentions.add(node, column, Document.What.VALUE_OF, value.job(), stream, user);
      }
    } catch (PlaceholderText.PlaceholderException e) {
      page.error(node, e.getMessage());
    }
  }

  /** Says which dates of a text can never be filled in. */
  static void dates(Page page, Node node, String text) {
    try {
      PlaceholderText.asked(text);
    } catch (PlaceholderText.PlaceholderException e) {
      page.error(node, e.getMessage());
    }
  }

  /** The parameters that a text asks for; none where it cannot be read. */
  static List<String> askedBy(String text) {
    try {
      return PlaceholderText.asked(text).parameters();
    } catch (PlaceholderText.PlaceholderException e) {
      return List.of();
    }
  }

  /** Values for placeholders, each one word; what they ask for themselves is noted. */
  static Map<String, String> values(
      Page page, Mentions mentions, Fields fields, String key, String stream, String user) {
    Map<String, String> values = fields.texts(key);
    values.values().forEach(v -> note(page, mentions, fields.at(key), v, stream, user));
    return values;
  }

  /** Values for placeholders of an author's own level; what they ask for themselves is noted. */
  static Given given(
      Page page, Mentions mentions, Fields fields, String key, String stream, String user) {
    Given given = fields.parameters(key);
    given.texts().values().forEach(v -> note(page, mentions, fields.at(key), v, stream, user));
    return given;
  }
}

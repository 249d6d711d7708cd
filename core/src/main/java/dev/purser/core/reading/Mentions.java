package dev.purser.core.reading;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.definition.Document;
import java.util.ArrayList;
import java.util.List;
import org.snakeyaml.engine.v2.nodes.Node;

/** Gathers the names in one document that must exist. */
final class Mentions {
  private final List<Document.Mention> all = new ArrayList<>();

  List<Document.Mention> all() {
    return all;
  }

  void add(Fields fields, String key, Document.What what, String name, String within, String user) {
    if (fields.has(key)) {
      String text = fields.text(key, "");
      add(fields.at(key), Math.max(text.lastIndexOf(name), 0) + 1, what, name, within, user);
    }
  }

  void add(Node node, int column, Document.What what, String name, String within, String user) {
    all.add(
        new Document.Mention(
            what, name, within, user, Page.line(node), Page.columnIn(node, column)));
  }

  /** The calendars and periods of a day rule that is written in {@code text}. */
  void add(DayRule rule, Node node, String text, String within, String user) {
    for (String calendar : rule.calendars()) {
      int column = Math.max(text.lastIndexOf(calendar), 0) + 1;
      add(node, column, Document.What.CALENDAR, calendar, within, user);
    }
    for (String period : rule.periods()) {
      int column = Math.max(text.lastIndexOf(period), 0) + 1;
      add(node, column, Document.What.PERIOD, period, within, user);
    }
  }
}

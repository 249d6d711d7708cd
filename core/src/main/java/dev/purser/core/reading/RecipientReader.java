package dev.purser.core.reading;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Way;
import dev.purser.core.problem.Nearest;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.nodes.Node;

/** Reads recipients. */
final class RecipientReader {
  private final Page page;
  private final Mentions mentions;

  RecipientReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  Recipient read(String name, Fields fields) {
    List<Way> ways = new ArrayList<>();
    WayKinds.ALL.forEach(kind -> ways.addAll(kind.read(fields, page, mentions, name)));
    List<Recipient.Quiet> quiet = quiet(fields);
    if (!quiet.isEmpty() && !fields.has("zone")) {
      page.error(fields.at("quiet"), "\"quiet\" needs \"zone\": the clock that it is read on");
    }
    return new Recipient(
        name,
        fields.text("title", name),
        ways,
        members(page, mentions, fields, "members", name),
        fields.has("receives") ? receives(fields) : EnumSet.allOf(AlertKind.class),
        fields.flag("when-over"),
        fields.zone("zone").orElse(ZoneOffset.UTC),
        quiet,
        MessageLimitsReader.read(page, fields, "at-most"));
  }

  /** Names of recipients and duties, and {@code person NAME}. */
  static List<String> members(
      Page page, Mentions mentions, Fields fields, String key, String user) {
    List<String> names = new ArrayList<>();
    for (Fields.Item item : fields.items(key)) {
      String text = item.text();
      if (text.startsWith(Recipient.PERSON)) {
        if (!Fields.isName(text.substring(Recipient.PERSON.length()))) {
          page.error(item.node(), "\"" + text + "\" does not name a person, as person ola does");
        }
      } else {
        mentions.add(item.node(), 1, Document.What.RECIPIENT, text, "", user);
      }
      if (names.contains(text)) {
        page.error(item.node(), "\"" + text + "\" is named twice");
      }
      names.add(text);
    }
    return names;
  }

  private Set<AlertKind> receives(Fields fields) {
    Set<AlertKind> receives = EnumSet.noneOf(AlertKind.class);
    for (Fields.Item item : fields.items("receives")) {
      Optional<AlertKind> kind = AlertKind.of(item.text());
      kind.ifPresent(receives::add);
      if (kind.isEmpty()) {
        page.error(
            item.node(),
            "unknown kind of alert \""
                + item.text()
                + "\""
                + Nearest.hint(item.text(), AlertKind.words()));
      }
    }
    return receives;
  }

  private List<Recipient.Quiet> quiet(Fields fields) {
    List<Recipient.Quiet> quiet = new ArrayList<>();
    for (Node node : fields.list("quiet")) {
      Fields one = new Fields(page, node, TellingKeys.QUIET, "a quiet time");
      String word = one.text("but", Urgency.URGENT.word());
      Optional<Urgency> but = Urgency.of(word).filter(urgency -> urgency != Urgency.NOTE);
      if (but.isEmpty()) {
        page.error(
            one.at("but"),
            "cannot use \""
                + word
                + "\" for \"but\"; expected warning or urgent: what is told all the same");
      }
      quiet.add(
          new Recipient.Quiet(
              one.time("from").orElse(LocalTime.MIDNIGHT),
              one.endTime("to").orElse(LocalTime.MIDNIGHT),
              but.orElse(Urgency.URGENT)));
    }
    return quiet;
  }
}

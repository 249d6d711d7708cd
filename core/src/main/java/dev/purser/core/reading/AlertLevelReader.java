package dev.purser.core.reading;

import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.MessageLimits;
import dev.purser.core.definition.Level;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Reads rules of alerts of the site or a department, and how much the site tells. */
final class AlertLevelReader {
  private final Page page;
  private final Mentions mentions;

  AlertLevelReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  AlertLevel read(String of, Fields fields) {
    for (String key : List.of("at-most", "by-way")) {
      if (fields.has(key) && !of.equals(Level.SITE)) {
        page.error(
            fields.at(key),
            "\"" + key + "\" is said of the site, or (at-most) of a recipient; not of " + of);
      }
    }
    if (List.of("alerts", "at-most", "by-way").stream().noneMatch(fields::has)) {
      page.error(fields.at("alerts-of"), "it says nothing; expected \"alerts\"");
    }
    return new AlertLevel(
        of,
        fields.text("title", of),
        new AlertRuleReader(page, mentions).read(fields, "alerts of " + of, ""),
        MessageLimitsReader.read(page, fields, "at-most"),
        byWay(fields));
  }

  private Map<String, MessageLimits> byWay(Fields fields) {
    Map<String, MessageLimits> all = new LinkedHashMap<>();
    if (fields.has("by-way")) {
      Fields ways = new Fields(page, fields.at("by-way"), TellingKeys.BY_WAY, "\"by-way\"");
      for (String way : WayKinds.names()) {
        if (ways.has(way)) {
          all.put(way, MessageLimitsReader.read(page, ways, way));
        }
      }
    }
    return all;
  }
}

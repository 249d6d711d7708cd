package dev.purser.core.reading;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.pattern.FilePattern;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Nearest;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;

/** Reads file watches, and what starts streams by them. */
final class FileWatchReader {
  private static final Pattern EACH = Pattern.compile("each of (\\S+)");
  private static final Pattern MOVE = Pattern.compile("move to (/\\S.*)");
  private static final Pattern EVERY = Pattern.compile("every (\\S+)");
  private static final Duration LEAST_PAUSE = Duration.ofSeconds(1);
  private static final LocalDate ANY_DATE = LocalDate.of(2027, 3, 4);

  private final Page page;
  private final Mentions mentions;

  FileWatchReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  FileWatch read(String name, Fields fields) {
    boolean caseSensitive = !fields.has("case-sensitive") || fields.flag("case-sensitive");
    String path = path(fields, caseSensitive);
    FileWatch.Whole whole =
        new FileWatch.Whole(
            fields.duration("still-for").orElse(FileWatch.Whole.USUAL.stillFor()),
            fields.bytes("minimum-size").orElse(1L),
            besides(fields, "companion"),
            besides(fields, "checksum-file"),
            pattern(fields, "last-line"),
            fields.number("set-of", 1, 10_000).orElse(1));
    return new FileWatch(
        name,
        fields.text("title", name),
        place(name, fields),
        path,
        whole,
        fields.has("expected") ? expected(name, fields.at("expected")) : Optional.empty(),
        handling(path, fields, caseSensitive),
        new AlertRuleReader(page, mentions)
            .only(EnumSet.of(AlertKind.FILE), "a file watch")
            .read(fields, "file watch " + name, ""));
  }

  // ---- where

  private FileWatch.Place place(String name, Fields fields) {
    if (fields.has("host") == fields.has("connection")) {
      page.error(
          fields.at("file-watch"),
          "a file watch needs either a host, whose agent looks, or a connection, through which the"
              + " service looks");
      return new FileWatch.Place.OnHost("");
    }
    if (fields.has("connection")) {
      String connection = fields.name("connection");
      mentions.add(fields, "connection", Document.What.CONNECTION, connection, "", name);
      return new FileWatch.Place.Through(connection);
    }
    String text = fields.text("host", "");
    Matcher each = EACH.matcher(text);
    if (each.matches()) {
      mentions.add(fields, "host", Document.What.HOST_GROUP, each.group(1), "", name);
      return new FileWatch.Place.OnEachOf(each.group(1));
    }
    if (text.contains(" ")) {
      page.error(
          fields.at("host"),
          "cannot read the host \"" + text + "\"; expected a host's name, or each of a group");
    } else {
      mentions.add(fields, "host", Document.What.HOST, text, "", name);
    }
    return new FileWatch.Place.OnHost(text);
  }

  private String path(Fields fields, boolean caseSensitive) {
    String path = fields.text("path", "");
    Node node = fields.at("path");
    if (path.isEmpty()) {
      return path;
    }
    long before = page.errors();
    Placeholders.dates(page, node, path);
    for (String asked : Placeholders.askedBy(path)) {
      page.error(
          node,
          "unknown placeholder ${" + asked + "}; a path may hold the date: ${date | yyyyMMdd}");
    }
    if (!path.startsWith("/")) {
      page.error(node, "expected an absolute path, but \"" + path + "\" is not");
    } else if (path.endsWith("/")) {
      page.error(node, "the path ends with a slash; expected a pattern for names after it");
    } else if (Arrays.asList(path.split("/")).contains("..")) {
      page.error(node, "\"..\" leads out of the directory; write the path without it");
    }
    if (page.errors() == before) {
      lastPart(node, path, caseSensitive);
    }
    return path;
  }

  private void lastPart(Node node, String path, boolean caseSensitive) {
    String day = FileWatch.of("any", "any", path).pathOf(ANY_DATE);
    int slash = day.lastIndexOf('/');
    if (day.substring(0, slash).matches(".*[*?\\[{].*")) {
      page.error(node, "* and ? may stand only in the last part of the path");
      return;
    }
    String pattern = day.substring(slash + 1);
    try {
      FilePattern.of(pattern, caseSensitive);
    } catch (PhraseException e) {
      page.error(node, "cannot read the pattern \"" + pattern + "\": " + e.getMessage());
    }
    if (pattern.matches("\\*+")) {
      page.warning(
          node,
          "the pattern matches every file of the directory, also those that others leave there by"
              + " mistake; say more, such as *.csv");
    }
  }

  private String pattern(Fields fields, String key) {
    String text = fields.text(key, "");
    if (!text.isEmpty()) {
      try {
        FilePattern.of(text, true);
      } catch (PhraseException e) {
        page.error(fields.at(key), "cannot read \"" + text + "\": " + e.getMessage());
      }
    }
    return text;
  }

  /** The name of a file that stands beside another one. */
  private String besides(Fields fields, String key) {
    String text = fields.text(key, "");
    boolean says =
        text.isEmpty()
            || (text.replaceFirst("\\$\\{file\\.(name|stem)}", "").indexOf('$') < 0
                && text.contains("${file.")
                && !text.equals("${file.name}")
                && !text.equals("${file.stem}")
                && text.indexOf('/') < 0);
    if (!says) {
      page.error(
          fields.at(key),
          "cannot use \""
              + text
              + "\"; expected the name of a file in the same directory, made of ${file.name} or"
              + " ${file.stem}, such as \"${file.name}.done\"");
    }
    return text;
  }

  // ---- when

  private Optional<FileWatch.Expected> expected(String name, Node node) {
    Fields fields = new Fields(page, node, KeyTables.EXPECTED, "what is expected");
    Optional<DayRule> days = fields.phrase("days", DayRuleParser::parse);
    days.ifPresent(
        rule -> mentions.add(rule, fields.at("days"), fields.text("days", ""), "", name));
    Optional<LocalTime> by = fields.endTime("by");
    Optional<ZoneId> zone = fields.zone("zone");
    String calendar = fields.has("calendar") ? fields.name("calendar") : "";
    if (!calendar.isEmpty()) {
      mentions.add(fields, "calendar", Document.What.BUSINESS_CALENDAR, calendar, "", name);
    }
    if (days.isEmpty() || by.isEmpty() || zone.isEmpty()) {
      return Optional.empty();
    }
    LocalTime from = fields.time("from").orElse(LocalTime.MIDNIGHT);
    return Optional.of(new FileWatch.Expected(days.get(), from, by.get(), zone.get(), calendar));
  }

  // ---- what is done

  private FileWatch.Handling handling(String path, Fields fields, boolean caseSensitive) {
    String after = fields.text("after-use", "leave");
    Matcher move = MOVE.matcher(after);
    FileWatch.AfterUse use =
        move.matches()
            ? FileWatch.AfterUse.MOVE
            : after.equals("remove") ? FileWatch.AfterUse.REMOVE : FileWatch.AfterUse.LEAVE;
    if (use == FileWatch.AfterUse.LEAVE && !after.equals("leave")) {
      page.error(
          fields.at("after-use"),
          "cannot use \"" + after + "\"; expected leave, remove, or move to a DIRECTORY");
    }
    String target = move.matches() ? move.group(1).replaceAll("/+$", "") : "";
    if (!target.isEmpty() && path.substring(0, path.lastIndexOf('/')).equals(target)) {
      page.error(
          fields.at("after-use"), "files moved to where they are looked for would be found again");
    }
    if (target.contains("${") || Arrays.asList(target.split("/")).contains("..")) {
      page.error(fields.at("after-use"), "expected a plain absolute directory");
    }
    FileWatch.Handling usual = FileWatch.Handling.USUAL;
    return new FileWatch.Handling(
        choice(fields, "existing", Map.of("take", true, "ignore", false), usual.takeExisting()),
        choice(
            fields,
            "repeats",
            Map.of(
                "take", FileWatch.Repeats.TAKE,
                "ignore", FileWatch.Repeats.IGNORE,
                "ask", FileWatch.Repeats.ASK),
            usual.repeats()),
        caseSensitive,
        fields.duration("not-older-than"),
        every(fields),
        use,
        target,
        fields.duration("grows-for").orElse(usual.growsFor()),
        fields.duration("unprocessed-for").orElse(usual.unprocessedFor()));
  }

  private Optional<Duration> every(Fields fields) {
    String text = fields.text("look", "when told");
    Matcher every = EVERY.matcher(text);
    Optional<Duration> pause =
        every.matches()
            ? Durations.parse(every.group(1)).filter(one -> one.compareTo(LEAST_PAUSE) >= 0)
            : Optional.empty();
    if (pause.isEmpty() && !text.equals("when told")) {
      page.error(
          fields.at("look"),
          "cannot use \""
              + text
              + "\"; expected when told (by the system's notifications) or such as every 10s");
    }
    return pause;
  }

  private <T> T choice(Fields fields, String key, Map<String, T> choices, T otherwise) {
    if (!fields.has(key)) {
      return otherwise;
    }
    String text = fields.text(key, "");
    if (!choices.containsKey(text)) {
      page.error(
          fields.at(key),
          "cannot use \"" + text + "\" for \"" + key + "\"" + Nearest.hint(text, choices.keySet()));
    }
    return choices.getOrDefault(text, otherwise);
  }

  // ---- starting by files

  Optional<StartsOn> startsOn(String stream, Fields of) {
    if (!of.has("starts-on")) {
      return Optional.empty();
    }
    Fields fields = new Fields(page, of.at("starts-on"), KeyTables.STARTS_ON, "what starts it");
    String watch = fields.name("file");
    mentions.add(fields, "file", Document.What.FILE_WATCH, watch, "", stream);
    boolean byName = choice(fields, "in-order-of", Map.of("arrival", false, "name", true), false);
    boolean waits = choice(fields, "after-failure", Map.of("go on", false, "wait", true), false);
    if (of.has("schedule")) {
      page.error(
          of.at("starts-on"),
          "a stream starts either by its schedule or on files; let another stream do the one");
    }
    List<Fields.Item> asked = of.items("asks-for");
    if (!asked.isEmpty()) {
      page.error(
          asked.get(0).node(), "nobody is there to give parameters when a file starts a stream");
    }
    return Optional.of(
        new StartsOn(watch, fields.number("at-a-time", 1, 1_000).orElse(1), byName, waits));
  }
}

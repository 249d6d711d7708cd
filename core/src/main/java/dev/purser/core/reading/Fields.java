package dev.purser.core.reading;

import dev.purser.core.parameter.Given;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Nearest;
import dev.purser.core.schedule.Durations;
import dev.purser.core.schedule.RenamedZones;
import dev.purser.core.schedule.Zones;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** The values of one mapping, read through its table of keys; what is wrong goes to the page. */
public final class Fields {
  private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9._-]{0,99}");
  private static final Pattern PATH =
      Pattern.compile("[a-z0-9][a-z0-9._-]*(/[a-z0-9][a-z0-9._-]*)*");
  private static final DateTimeFormatter HH_MM =
      DateTimeFormatter.ofPattern("HH:mm[:ss]").withResolverStyle(ResolverStyle.STRICT);

  /** The end of a day, where a time of day ends something. */
  private static final String END_OF_DAY = "24:00";

  private final Page page;
  private final Node node;
  private final Keys keys;
  private final Map<String, Node> values = new LinkedHashMap<>();

  Fields(Page page, Node node, Keys keys, String what) {
    this.page = page;
    this.node = node;
    this.keys = keys;
    if (!(node instanceof MappingNode mapping)) {
      page.error(node, what + " must be a mapping with keys " + String.join(", ", keys.names()));
      return;
    }
    for (NodeTuple tuple : mapping.getValue()) {
      take(tuple, what);
    }
    for (Keys.Key key : keys.all()) {
      if (key.required() && !values.containsKey(key.name())) {
        page.error(node, what + " has no \"" + key.name() + "\"; it needs one: " + key.about());
      }
    }
  }

  private void take(NodeTuple tuple, String what) {
    String name = scalar(tuple.getKeyNode()).orElse("");
    if (!keys.has(name)) {
      page.error(
          tuple.getKeyNode(),
          "unknown key \"" + name + "\" in " + what + Nearest.hint(name, keys.names()));
    } else if (values.put(name, tuple.getValueNode()) != null) {
      page.error(tuple.getKeyNode(), "\"" + name + "\" is given twice in " + what);
    }
  }

  /** Whether a key has a value. */
  public boolean has(String key) {
    keys.key(key);
    return values.containsKey(key);
  }

  /** The keys that have a value, in the order of the text. */
  Set<String> given() {
    return values.keySet();
  }

  /** The node of a key, for messages; the mapping itself where the key is missing. */
  Node at(String key) {
    keys.key(key);
    return values.getOrDefault(key, node);
  }

  /** A plain value; another where there is none. */
  public String text(String key, String otherwise) {
    return scalarOf(key).orElse(otherwise);
  }

  /** A name; empty where it is missing. */
  public String name(String key) {
    return shaped(key, NAME, "lower-case letters, digits, dots, dashes and underscores");
  }

  String path(String key) {
    return shaped(key, PATH, "names of lower-case letters, digits and dashes joined by slashes");
  }

  private String shaped(String key, Pattern shape, String expected) {
    Optional<String> value = scalarOf(key);
    if (value.isPresent() && !shape.matcher(value.get()).matches()) {
      page.error(at(key), "\"" + value.get() + "\" is not a valid name; expected " + expected);
    }
    return value.orElse("");
  }

  /** Whether a text can be the name of a thing that is no stream. */
  public static boolean isName(String text) {
    return NAME.matcher(text).matches();
  }

  /** Whether a text can be the path of a stream. */
  public static boolean isPath(String text) {
    return text.length() <= Keys.LONGEST_PATH && PATH.matcher(text).matches();
  }

  /** A length of time, which may be nothing: {@code 0s}. */
  public Optional<Duration> duration(String key) {
    return parsed(key, Durations::parse, "a duration such as 90s, 4m or 1h30m");
  }

  /** A length of time that is more than nothing. */
  public Optional<Duration> span(String key) {
    return parsed(
        key,
        text -> Durations.parse(text).filter(length -> !length.isZero()),
        "a duration of at least 1s, such as 90s, 4m or 1h30m");
  }

  Optional<Durations.Range> durations(String key) {
    return parsed(key, Durations::parseRange, "a duration such as 4m, or a range such as 4m to 9m");
  }

  /** A time of day. */
  public Optional<LocalTime> time(String key) {
    return parsed(
        key,
        Fields::parseTime,
        isEndOfDay(key)
            ? "00:00 of the day that begins then; 24:00 can only end something"
            : "a time of day such as \"07:00\", in quotes");
  }

  /** A time of day at which something ends; 24:00 is the end of the day, as midnight. */
  Optional<LocalTime> endTime(String key) {
    return isEndOfDay(key) ? Optional.of(LocalTime.MIDNIGHT) : time(key);
  }

  private boolean isEndOfDay(String key) {
    return has(key) && scalar(at(key)).filter(END_OF_DAY::equals).isPresent();
  }

  /** A date. */
  public Optional<LocalDate> date(String key) {
    return parsed(key, Fields::parseDate, "a date such as 2027-12-24");
  }

  private static Optional<LocalDate> parseDate(String text) {
    try {
      return Optional.of(LocalDate.parse(text))
          .filter(date -> date.getYear() >= 1970 && date.getYear() <= 9999);
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  /** A time zone by its IANA name; older names give a warning. */
  public Optional<ZoneId> zone(String key) {
    Optional<String> text = scalarOf(key);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Optional<ZoneId> zone = Zones.of(text.get());
    if (zone.isEmpty()) {
      page.error(at(key), Zones.unknown(text.get()));
    } else if (zone.get().getId().equals(text.get())) {
      warnOfRenamed(key, text.get());
    }
    return zone;
  }

  private void warnOfRenamed(String key, String zone) {
    RenamedZones.presentName(zone)
        .ifPresent(
            now ->
                page.warning(
                    at(key), "\"" + zone + "\" is called \"" + now + "\" now; both mean the same"));
  }

  /**
   * A whole number.
   *
   * @param least included
   * @param most included
   * @return empty where it is missing or wrong; what is wrong is on the page
   */
  public Optional<Integer> number(String key, int least, int most) {
    return parsed(
        key,
        text -> whole(text).filter(n -> n >= least && n <= most).map(Long::intValue),
        "a whole number from " + least + " to " + most);
  }

  Optional<Long> bytes(String key) {
    return parsed(key, text -> whole(text).filter(n -> n >= 1), "a number of bytes, at least 1");
  }

  /** true or false; false where it is missing. */
  public boolean flag(String key) {
    return parsed(
            key,
            text ->
                switch (text) {
                  case "true", "yes" -> Optional.of(true);
                  case "false", "no" -> Optional.of(false);
                  default -> Optional.<Boolean>empty();
                },
            "true or false")
        .orElse(false);
  }

  /**
   * A day rule, prerequisite or other phrase.
   *
   * @param parser throws {@link PhraseException} with a column: the problem points at that place
   * @return empty where it is missing or wrong
   */
  public <T> Optional<T> phrase(String key, Function<String, T> parser) {
    Optional<String> text = scalarOf(key);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(parser.apply(text.get()));
    } catch (PhraseException e) {
      page.errorInPhrase(at(key), e.column(), e.getMessage());
      return Optional.empty();
    }
  }

  /** A list, or one text with commas, as nodes that know their place. */
  public List<Item> items(String key) {
    if (!has(key)) {
      return List.of();
    }
    List<Item> items = new ArrayList<>();
    if (at(key) instanceof SequenceNode list) {
      for (Node item : list.getValue()) {
        Optional<String> text = scalar(item);
        text.ifPresent(t -> items.add(new Item(t, item)));
        if (text.isEmpty()) {
          page.error(item, "expected plain text in the list \"" + key + "\"");
        }
      }
    } else {
      scalarOf(key)
          .ifPresent(
              all ->
                  Arrays.stream(all.split(","))
                      .map(String::trim)
                      .filter(one -> !one.isEmpty())
                      .forEach(one -> items.add(new Item(one, at(key)))));
    }
    return items;
  }

  List<LocalTime> times(String key) {
    List<LocalTime> times = new ArrayList<>();
    for (Item item : items(key)) {
      Optional<LocalTime> time = parseTime(item.text());
      if (time.isEmpty()) {
        page.error(
            item.node(),
            item.text().equals(END_OF_DAY)
                ? "nothing starts at 24:00; write \"00:00\" for midnight, on the date that begins then"
                : "\""
                    + item.text()
                    + "\" is not a time of day; expected one such as \"21:30\", in quotes");
      } else if (times.contains(time.get())) {
        page.error(item.node(), "the start time " + time.get() + " is given twice");
      } else {
        times.add(time.get());
      }
    }
    return times;
  }

  /** A mapping of names to texts. */
  public Map<String, String> texts(String key) {
    Map<String, String> out = new LinkedHashMap<>();
    for (Entry entry : entries(key)) {
      Optional<String> value = scalar(entry.value());
      if (value.isEmpty()) {
        page.error(entry.value(), "expected plain text for \"" + entry.name() + "\"");
      }
      out.put(entry.name(), value.orElse(""));
    }
    return out;
  }

  /** A mapping of names to values for placeholders; each is a text, or says more about it. */
  Given parameters(String key) {
    Given all = Given.NONE;
    for (Entry entry : entries(key)) {
      if (entry.value() instanceof MappingNode) {
        Fields one = new Fields(page, entry.value(), KeyTables.PARAMETER, "a parameter");
        all = all.and(entry.name(), one.text("value", ""), one.flag("shell"));
      } else {
        Optional<String> value = scalar(entry.value());
        if (value.isEmpty()) {
          page.error(
              entry.value(),
              "expected plain text for \"" + entry.name() + "\", or { value: …, shell: yes }");
        }
        all = all.and(entry.name(), value.orElse(""), false);
      }
    }
    return all;
  }

  List<Entry> entries(String key) {
    List<Entry> entries = new ArrayList<>();
    if (!has(key)) {
      return entries;
    }
    if (!(at(key) instanceof MappingNode mapping)) {
      page.error(at(key), "expected a mapping for \"" + key + "\"");
      return entries;
    }
    Set<String> seen = new HashSet<>();
    for (NodeTuple tuple : mapping.getValue()) {
      String name = scalar(tuple.getKeyNode()).orElse("");
      if (!seen.add(name)) {
        page.error(tuple.getKeyNode(), "two entries of \"" + key + "\" are named \"" + name + "\"");
      } else {
        entries.add(new Entry(name, tuple.getKeyNode(), tuple.getValueNode()));
      }
    }
    return entries;
  }

  List<Node> list(String key) {
    if (!has(key)) {
      return List.of();
    }
    if (at(key) instanceof SequenceNode list) {
      return list.getValue();
    }
    page.error(at(key), "expected a list for \"" + key + "\"");
    return List.of();
  }

  /** One text of a list. */
  public record Item(String text, Node node) {}

  /** One entry of a mapping of names. */
  record Entry(String name, Node key, Node value) {}

  private <T> Optional<T> parsed(
      String key, Function<String, Optional<T>> parser, String expected) {
    Optional<String> text = scalarOf(key);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Optional<T> value = parser.apply(text.get());
    if (value.isEmpty()) {
      page.error(
          at(key), "cannot use \"" + text.get() + "\" for \"" + key + "\"; expected " + expected);
    }
    return value;
  }

  private Optional<String> scalarOf(String key) {
    if (!has(key)) {
      return Optional.empty();
    }
    Optional<String> text = scalar(at(key)).map(String::strip).filter(t -> !t.isEmpty());
    int longest = keys.key(key).longest();
    if (text.isEmpty()) {
      page.error(at(key), "\"" + key + "\" needs a plain value: " + keys.key(key).about());
    } else if (text.get().length() > longest) {
      page.error(
          at(key),
          "\""
              + key
              + "\" has "
              + text.get().length()
              + " characters; at most "
              + longest
              + " are taken");
    }
    return text;
  }

  /** The text of a plain value; empty for all else. */
  static Optional<String> scalar(Node node) {
    return node instanceof ScalarNode scalar ? Optional.of(scalar.getValue()) : Optional.empty();
  }

  private static Optional<Long> whole(String text) {
    try {
      return Optional.of(Long.parseLong(text));
    } catch (NumberFormatException e) {
      return Optional.empty();
    }
  }

  /** The same where it ends a span of times: the last second of the day for 24:00. */
  static Optional<LocalTime> parseLast(String text) {
    return text.equals(END_OF_DAY) ? Optional.of(LocalTime.of(23, 59, 59)) : parseTime(text);
  }

  static Optional<LocalTime> parseTime(String text) {
    if (text.length() == 5 && text.charAt(2) == ':') { // nearly all, for which this is quicker
      int hour = twoDigits(text, 0);
      int minute = twoDigits(text, 3);
      return hour < 0 || hour > 23 || minute < 0 || minute > 59
          ? Optional.empty()
          : Optional.of(LocalTime.of(hour, minute));
    }
    try {
      return Optional.of(LocalTime.parse(text, HH_MM));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  /** The number of two digits; negative where they are none. */
  private static int twoDigits(String text, int at) {
    int tens = text.charAt(at) - '0';
    int ones = text.charAt(at + 1) - '0';
    return tens < 0 || tens > 9 || ones < 0 || ones > 9 ? -1 : 10 * tens + ones;
  }
}

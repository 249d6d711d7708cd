package dev.purser.core.parcel;

import dev.purser.core.definition.Document;
import dev.purser.core.edit.YamlText;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;

/**
 * What is called otherwise in another environment: hosts, host groups, connections, calendars,
 * recipients, and values of parameters. Names are put in place at the parser's marks; every other
 * character stays.
 */
public final class NameMap {
  /** A kind of name that can be mapped: the key of the map, and what may mean it. */
  private enum Part {
    HOSTS("hosts", Document.What.HOST),
    HOST_GROUPS("host-groups", Document.What.HOST_GROUP),
    CONNECTIONS("connections", Document.What.CONNECTION),
    CALENDARS("calendars", Document.What.CALENDAR),
    RECIPIENTS("recipients", Document.What.RECIPIENT);

    private final String key;
    private final Document.What what;

    Part(String key, Document.What what) {
      this.key = key;
      this.what = what;
    }

    boolean means(Document.What mentioned) {
      boolean calendar =
          mentioned == Document.What.BUSINESS_CALENDAR
              || mentioned == Document.What.HOLIDAY_CALENDAR;
      return mentioned == what || (this == CALENDARS && calendar);
    }
  }

  /** An environment without anything mapped. */
  public static final NameMap NONE = new NameMap(Map.of(), Map.of());

  private static final String PARAMETERS = "parameters";

  private final Map<Part, Map<String, String>> names;

  /** By the path of a stream, or of none for all of them: values by parameter. */
  private final Map<String, Map<String, String>> values;

  private NameMap(Map<Part, Map<String, String>> names, Map<String, Map<String, String>> values) {
    this.names = names;
    this.values = values;
  }

  /**
   * Reads a map: YAML with any of {@code hosts}, {@code host-groups}, {@code connections}, {@code
   * calendars}, {@code recipients}, each a mapping of names here to names there, and {@code
   * parameters}, a mapping of streams to values.
   *
   * @throws NotUnderstood where it is something else
   */
  public static NameMap read(String yaml) {
    Object root;
    try {
      root =
          yaml.isBlank() ? Map.of() : new Load(LoadSettings.builder().build()).loadFromString(yaml);
    } catch (YamlEngineException e) {
      throw new NotUnderstood(
          "the map is not YAML: " + e.getMessage().lines().findFirst().orElse(""));
    }
    List<String> known = new ArrayList<>();
    for (Part part : Part.values()) {
      known.add(part.key);
    }
    known.add(PARAMETERS);
    if (!(root instanceof Map<?, ?> map)) {
      throw new NotUnderstood("the map needs keys: " + String.join(", ", known));
    }
    Map<Part, Map<String, String>> names = new EnumMap<>(Part.class);
    Map<String, Map<String, String>> values = new LinkedHashMap<>();
    for (Map.Entry<?, ?> entry : map.entrySet()) {
      String key = String.valueOf(entry.getKey());
      if (!known.contains(key)) {
        throw new NotUnderstood(
            "unknown key \"" + key + "\" in the map" + Nearest.hint(key, known));
      }
      if (key.equals(PARAMETERS)) {
        mapping(entry.getValue(), key)
            .forEach((stream, of) -> values.put(stream, texts(of, key + " of " + stream)));
      } else {
        for (Part part : Part.values()) {
          if (part.key.equals(key)) {
            names.put(part, texts(entry.getValue(), key));
          }
        }
      }
    }
    return new NameMap(names, values);
  }

  private static Map<String, Object> mapping(Object value, String key) {
    if (!(value instanceof Map<?, ?> map)) {
      throw new NotUnderstood("\"" + key + "\" of the map needs names and what they are there");
    }
    Map<String, Object> out = new LinkedHashMap<>();
    map.forEach((k, v) -> out.put(String.valueOf(k), v));
    return out;
  }

  private static Map<String, String> texts(Object value, String key) {
    Map<String, String> out = new LinkedHashMap<>();
    mapping(value, key)
        .forEach(
            (name, to) -> {
              if (to == null || to.equals("~") || to instanceof Map || to instanceof List) {
                throw new NotUnderstood(
                    "the map says nothing of what " + name + " under \"" + key + "\" is there");
              }
              out.put(name, String.valueOf(to));
            });
    return out;
  }

  /** The names that something would have there, as mentions: to see that they are there. */
  public Map<Document.What, Set<String>> targets() {
    Map<Document.What, Set<String>> all = new EnumMap<>(Document.What.class);
    names.forEach(
        (part, map) ->
            all.computeIfAbsent(part.what, key -> new LinkedHashSet<>()).addAll(map.values()));
    return all;
  }

  /** Whether it says nothing. */
  public boolean isEmpty() {
    return names.isEmpty() && values.isEmpty();
  }

  /**
   * The text of a definition as it is there.
   *
   * @param document as it is here, read from its text alone
   * @param made the streams that it makes, where it is a template or a table, or one itself
   */
  public String in(Document document, List<Document> made) {
    YamlText text = new YamlText(document.text());
    List<YamlText.Splice> splices = new ArrayList<>();
    int[] lines = lineStarts(document.text());
    Map<Part, Set<String>> elsewhere = new EnumMap<>(Part.class);
    boolean literal = made.isEmpty();
    for (Document.Mention mention : document.mentions()) {
      Optional<Part> part = part(mention);
      String to = part.map(one -> names.get(one).get(mention.name())).orElse(null);
      if (to != null && literal) {
        at(document, lines, mention)
            .ifPresentOrElse(
                at ->
                    splices.add(
                        new YamlText.Splice(
                            at,
                            at + mention.name().codePointCount(0, mention.name().length()),
                            to)),
                () ->
                    elsewhere
                        .computeIfAbsent(part.get(), key -> new LinkedHashSet<>())
                        .add(mention.name()));
      }
    }
    for (Document one : made) {
      for (Document.Mention mention : one.mentions()) {
        part(mention)
            .filter(part -> names.get(part).containsKey(mention.name()))
            .ifPresent(
                part ->
                    elsewhere
                        .computeIfAbsent(part, key -> new LinkedHashSet<>())
                        .add(mention.name()));
      }
    }
    text = text.spliced(splices.stream().distinct().toList());
    for (Map.Entry<Part, Set<String>> entry : elsewhere.entrySet()) {
      for (String name : entry.getValue()) {
        text = text.withWord(name, names.get(entry.getKey()).get(name));
      }
    }
    text = owner(text);
    for (String of : List.of("", document.name())) {
      for (Map.Entry<String, String> value : values.getOrDefault(of, Map.of()).entrySet()) {
        text = text.with(List.of("parameters", value.getKey()), value.getValue());
        text = text.with(List.of("values", value.getKey()), value.getValue());
      }
    }
    return text.text();
  }

  private YamlText owner(YamlText text) {
    Map<String, String> recipients = names.getOrDefault(Part.RECIPIENTS, Map.of());
    return text.value(List.of("owner"))
        .filter(recipients::containsKey)
        .map(owner -> text.with(List.of("owner"), recipients.get(owner)))
        .orElse(text);
  }

  private Optional<Part> part(Document.Mention mention) {
    return names.keySet().stream().filter(one -> one.means(mention.what())).findFirst();
  }

  /** Where in a text a mention stands; empty where the text there says it in another way. */
  private static Optional<Integer> at(Document document, int[] lines, Document.Mention mention) {
    String text = document.text();
    int at =
        mention.line() - document.line(); // what stood before it in its file is not in its text
    if (at < 0 || at >= lines.length) {
      return Optional.empty();
    }
    int from = lines[at];
    String line =
        text.substring(
            from, text.indexOf('\n', from) < 0 ? text.length() : text.indexOf('\n', from));
    Matcher word =
        Pattern.compile("(?<![a-z0-9._-])" + Pattern.quote(mention.name()) + "(?![a-z0-9._-])")
            .matcher(line);
    int column =
        line.offsetByCodePoints(
            0, Math.min(mention.column() - 1, line.codePointCount(0, line.length())));
    if (!word.find(Math.min(column, line.length()))) {
      return Optional.empty();
    }
    return Optional.of(text.codePointCount(0, from + word.start()));
  }

  private static int[] lineStarts(String text) {
    List<Integer> starts = new ArrayList<>(List.of(0));
    for (int i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) {
      starts.add(i + 1);
    }
    return starts.stream().mapToInt(Integer::intValue).toArray();
  }
}

package dev.purser.core.preview;

import dev.purser.core.definition.Document;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

/** What of a definition differs between two texts of it, field by field. */
public final class FieldChanges {
  private FieldChanges() {}

  /**
   * A field that differs.
   *
   * @param field its path, such as {@code jobs.load.retry.times}
   * @param before empty where it was not there
   * @param after empty where it is not there any more
   */
  public record Field(String field, String before, String after) {}

  /**
   * The fields that differ, in the order of their paths.
   *
   * @param before null where there was none
   * @param after null where there is none any more
   */
  public static List<Field> between(Document before, Document after) {
    return ofTexts(before == null ? "" : before.whole(), after == null ? "" : after.whole());
  }

  /**
   * The fields that differ between two definitions that were read before, as YAML.
   *
   * @param before empty where there was none
   * @param after empty where there is none any more
   */
  public static List<Field> ofTexts(String before, String after) {
    Map<String, String> old = before.isEmpty() ? Map.of() : flat(before);
    Map<String, String> now = after.isEmpty() ? Map.of() : flat(after);
    TreeSet<String> all = new TreeSet<>(old.keySet());
    all.addAll(now.keySet());
    List<Field> changes = new ArrayList<>();
    for (String field : all) {
      String was = old.getOrDefault(field, "");
      String is = now.getOrDefault(field, "");
      if (!was.equals(is)) {
        changes.add(new Field(field, was, is));
      }
    }
    return changes;
  }

  /** What an item of a list is called, so that it is found again at another place. */
  private static String name(Object item) {
    return item instanceof Map<?, ?> map && map.get("name") != null ? "" + map.get("name") : "";
  }

  private static Map<String, String> flat(String yaml) {
    Map<String, String> fields = new TreeMap<>();
    Object root = new Load(LoadSettings.builder().build()).loadFromString(yaml);
    flatten("", root, fields);
    return fields;
  }

  private static void flatten(String path, Object value, Map<String, String> fields) {
    if (value instanceof Map<?, ?> map) {
      map.forEach(
          (key, below) -> flatten(path.isEmpty() ? "" + key : path + "." + key, below, fields));
    } else if (value instanceof List<?> list && list.stream().anyMatch(Map.class::isInstance)) {
      boolean named = list.stream().map(FieldChanges::name).distinct().count() == list.size();
      for (int i = 0; i < list.size(); i++) {
        String place = named ? name(list.get(i)) : String.valueOf(i + 1);
        flatten(path + "[" + place + "]", list.get(i), fields);
      }
    } else if (value instanceof List<?> list) {
      fields.put(path, String.join(", ", list.stream().map(String::valueOf).toList()));
    } else {
      fields.put(path, String.valueOf(value));
    }
  }
}

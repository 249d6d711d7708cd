package dev.purser.core.reading;

import dev.purser.core.definition.Kind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Writes the JSON Schema (draft 2020-12) of a definition document from the table of keys. */
public final class SchemaWriter {
  private SchemaWriter() {}

  /** The schema as maps, lists and strings, ready for any JSON writer. */
  public static Map<String, Object> schema() {
    List<Object> kinds = new ArrayList<>();
    for (Kind kind : Kind.values()) {
      Map<String, Object> one = object(KeyTables.of(kind));
      one.put("title", kind.title());
      kinds.add(one);
    }
    Map<String, Object> schema = new LinkedHashMap<>();
    schema.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    schema.put("title", "A Purser definition");
    schema.put("oneOf", kinds);
    return schema;
  }

  private static Map<String, Object> object(Keys keys) {
    Map<String, Object> properties = new LinkedHashMap<>();
    List<String> required = new ArrayList<>();
    for (Keys.Key key : keys.all()) {
      properties.put(key.name(), value(key));
      if (key.required()) {
        required.add(key.name());
      }
    }
    Map<String, Object> out = new LinkedHashMap<>();
    out.put("type", "object");
    out.put("additionalProperties", false);
    out.put("properties", properties);
    if (keys.has(TemplateReader.FROM) && keys.has(TemplateReader.WITH) && required.size() > 1) {
      // The rest may come from the template.
      String name = required.get(0);
      out.put(
          "anyOf",
          List.of(
              Map.of("required", required),
              Map.of("required", List.of(name, TemplateReader.FROM))));
    } else if (!required.isEmpty()) {
      out.put("required", required);
    }
    return out;
  }

  private static Map<String, Object> value(Keys.Key key) {
    Map<String, Object> out = new LinkedHashMap<>();
    out.put("description", key.about());
    Map<String, Object> scalar = Map.of("type", List.of("string", "number", "boolean"));
    switch (key.form().json) {
      case "string-or-list" -> {
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("type", "array");
        list.put("items", Map.of("type", "string"));
        out.put("anyOf", List.of(Map.of("type", "string"), list));
      }
      case "any" -> out.put("type", List.of("object", "array", "string", "number", "boolean"));
      case "scalar" -> out.put("type", List.of("string", "integer"));
      case "map of string" -> {
        out.put("type", "object");
        out.put("additionalProperties", scalar);
      }
      case "map of parameter" -> {
        out.put("type", "object");
        out.put(
            "additionalProperties", Map.of("anyOf", List.of(scalar, object(KeyTables.PARAMETER))));
      }
      case "map of integer" -> {
        out.put("type", "object");
        Map<String, Object> count = new LinkedHashMap<>(); // in an order that stays
        count.put("type", "integer");
        count.put("minimum", 1);
        out.put("additionalProperties", count);
      }
      case "object" -> out.putAll(object(key.below()));
      case "flag" -> out.put("enum", List.of(true, false, "yes", "no"));
      case "flag-or-object" ->
          out.put(
              "anyOf",
              List.of(Map.of("enum", List.of(true, false, "yes", "no")), object(key.below())));
      case "object-or-list" -> {
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("type", "array");
        list.put("items", object(key.below()));
        out.put("anyOf", List.of(object(key.below()), list));
      }
      case "map of object" -> {
        out.put("type", "object");
        out.put("additionalProperties", object(key.below()));
      }
      case "list of object" -> {
        out.put("type", "array");
        out.put("items", object(key.below()));
      }
      default -> {
        out.put("type", key.form().json);
        if (key.form().json.equals("string")) {
          out.put("maxLength", key.longest());
        }
      }
    }
    return out;
  }
}

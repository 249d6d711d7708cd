package dev.purser.client;

import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Records as rows of CSV, by the names and with the values of their JSON: what is inside another
 * stands under both names with a dot between, lists of plain values stand in one cell with spaces
 * between, lists of anything else as JSON.
 */
final class Cells {
  private static final JsonMapper JSON = new JsonMapper();

  private Cells() {}

  /** The names of the cells of a type, in the order of its fields. */
  static List<String> names(Class<?> type) {
    List<String> names = new ArrayList<>();
    names("", type, names);
    return names;
  }

  private static void names(String before, Class<?> type, List<String> names) {
    for (RecordComponent part : type.getRecordComponents()) {
      if (part.getType().isRecord()) {
        names(before + part.getName() + ".", part.getType(), names);
      } else {
        names.add(before + part.getName());
      }
    }
  }

  /** The cells of a thing under some names; what it does not have is empty. */
  static List<Object> of(Object thing, List<String> names) {
    JsonNode tree = JSON.valueToTree(thing);
    return names.stream().map(name -> cell(tree.at("/" + name.replace('.', '/')))).toList();
  }

  private static Object cell(JsonNode node) {
    if (node.isMissingNode() || node.isNull()) {
      return "";
    }
    if (node.isNumber()) {
      return node.numberValue();
    }
    if (node.isValueNode()) {
      return node.asString();
    }
    Collection<JsonNode> parts = node.values();
    return node.isArray() && parts.stream().allMatch(JsonNode::isValueNode)
        ? parts.stream().map(JsonNode::asString).collect(Collectors.joining(" "))
        : JSON.writeValueAsString(node);
  }
}

package dev.purser.core.reading;

import dev.purser.core.remote.Request;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/** The value that a piece of YAML stands for, in the types of JSON. */
final class JsonTree {
  private static final int DEEPEST = 50;

  private JsonTree() {}

  /**
   * Maps, lists, strings, numbers, truth values and null.
   *
   * @throws IllegalArgumentException where it is too deep, a key is no text or stands twice, or a
   *     number is none of JSON
   */
  static Object of(Node node) {
    return of(node, 0);
  }

  private static Object of(Node node, int depth) {
    if (depth > DEEPEST) {
      throw new IllegalArgumentException("the JSON is more than " + DEEPEST + " levels deep");
    }
    if (node instanceof MappingNode mapping) {
      return map(mapping, depth);
    }
    if (node instanceof SequenceNode list) {
      List<Object> out = new ArrayList<>();
      list.getValue().forEach(one -> out.add(of(one, depth + 1)));
      return out;
    }
    return scalar((ScalarNode) node);
  }

  private static Object map(MappingNode mapping, int depth) {
    Map<String, Object> out = new LinkedHashMap<>();
    for (NodeTuple tuple : mapping.getValue()) {
      if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
        throw new IllegalArgumentException("a key of JSON is a text");
      }
      if (out.containsKey(key.getValue())) {
        throw new IllegalArgumentException("the key \"" + key.getValue() + "\" stands twice");
      }
      out.put(key.getValue(), of(tuple.getValueNode(), depth + 1));
    }
    boolean typed = out.containsKey(Request.AS_NUMBER) || out.containsKey(Request.AS_FLAG);
    if (typed && (out.size() > 1 || !(out.values().iterator().next() instanceof String))) {
      throw new IllegalArgumentException(
          "\"as-number\" and \"as-flag\" stand alone, with one text: { as-number: \"${persons}\" }");
    }
    return out;
  }

  private static Object scalar(ScalarNode scalar) {
    String text = scalar.getValue();
    if (scalar.getTag().equals(Tag.NULL)) {
      return null;
    }
    if (scalar.getTag().equals(Tag.BOOL)) {
      return Boolean.valueOf(text);
    }
    try {
      if (scalar.getTag().equals(Tag.INT)) {
        return new BigInteger(text);
      }
      return scalar.getTag().equals(Tag.FLOAT) ? new BigDecimal(text) : text;
    } catch (NumberFormatException e) {
      throw new IllegalArgumentException("\"" + text + "\" is not a number of JSON", e);
    }
  }
}

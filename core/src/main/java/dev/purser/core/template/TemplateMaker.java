package dev.purser.core.template;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/**
 * Makes a template of streams that are alike, and the table that makes the same streams again. What
 * is the same in all stands in the template; texts that differ become parameters, as short as whole
 * words allow; what only some have becomes their deviations. Takes time in proportion to the size
 * of the streams.
 */
public final class TemplateMaker {
  private static final int LONGEST_VALUE = 40;

  private final List<MappingNode> streams;
  private final List<String> paths;

  /** Values of all streams, by the parameter that stands for them. */
  private final Map<List<String>, String> parameters = new LinkedHashMap<>();

  private final Set<String> names = new HashSet<>();
  private final List<List<NodeTuple>> deviations = new ArrayList<>();

  private TemplateMaker(List<MappingNode> streams) {
    this.streams = streams;
    this.paths =
        streams.stream()
            .map(one -> Trees.value(one, "stream").map(TemplateMaker::text).orElse(""))
            .toList();
    streams.forEach(one -> deviations.add(new ArrayList<>()));
  }

  /**
   * A template and a {@code for-each}, as YAML of two documents.
   *
   * @param name of both
   * @param streams texts of streams in force; for one alone, what a person would change is guessed
   * @throws IllegalArgumentException where there is none
   */
  public static String of(String name, List<String> streams) {
    if (streams.isEmpty()) {
      throw new IllegalArgumentException("name at least one stream");
    }
    return new TemplateMaker(streams.stream().map(Trees::parse).toList()).make(name);
  }

  private String make(String name) {
    if (streams.size() == 1) {
      guess();
    }
    MappingNode body = (MappingNode) general(streams, List.of(), "").orElseThrow();
    List<NodeTuple> template = new ArrayList<>();
    template.add(entry("template", text(name)));
    template.add(entry("parameters", declared()));
    template.add(entry("of-stream", body));
    List<NodeTuple> forEach = new ArrayList<>();
    forEach.add(entry("for-each", text(name)));
    forEach.add(entry("from-template", text(name)));
    forEach.add(entry("table", rows()));
    List<NodeTuple> other = new ArrayList<>();
    for (int i = 0; i < streams.size(); i++) {
      if (!deviations.get(i).isEmpty()) {
        other.add(entry(paths.get(i), tree(deviations.get(i))));
      }
    }
    if (!other.isEmpty()) {
      forEach.add(entry("deviations", mapping(other)));
    }
    return Trees.print(mapping(template)) + "---\n" + Trees.print(mapping(forEach));
  }

  /** Of one stream alone, the last part of its path is what another like it would have other. */
  private void guess() {
    String path = paths.get(0);
    String last = path.substring(path.lastIndexOf('/') + 1);
    parameters.put(List.of(last), unique("name"));
  }

  /** What is the same in all, with parameters where they differ; empty where it cannot be. */
  private Optional<Node> general(List<? extends Node> nodes, List<String> path, String key) {
    Node first = nodes.get(0);
    if (nodes.stream().allMatch(MappingNode.class::isInstance)) {
      return Optional.of(mapping(nodes, path));
    }
    if (nodes.stream().allMatch(ScalarNode.class::isInstance)) {
      return scalar(nodes.stream().map(ScalarNode.class::cast).toList(), key);
    }
    if (first instanceof SequenceNode list
        && nodes.stream()
            .allMatch(
                one ->
                    one instanceof SequenceNode other
                        && other.getValue().size() == list.getValue().size())) {
      List<Node> items = new ArrayList<>();
      for (int i = 0; i < list.getValue().size(); i++) {
        int at = i;
        Optional<Node> item =
            generalScalars(
                nodes.stream().map(one -> ((SequenceNode) one).getValue().get(at)).toList(), key);
        if (item.isEmpty()) {
          return Optional.empty();
        }
        items.add(item.get());
      }
      return Optional.of(new SequenceNode(list.getTag(), items, list.getFlowStyle()));
    }
    return Optional.empty();
  }

  /** An item of a list has no path by which a deviation could name it: it must be the same. */
  private Optional<Node> generalScalars(List<Node> nodes, String key) {
    if (nodes.stream().allMatch(ScalarNode.class::isInstance)) {
      return scalar(nodes.stream().map(ScalarNode.class::cast).toList(), key);
    }
    String print = Trees.print(nodes.get(0));
    return nodes.stream().allMatch(one -> Trees.print(one).equals(print))
        ? Optional.of(nodes.get(0))
        : Optional.empty();
  }

  private Node mapping(List<? extends Node> nodes, List<String> path) {
    Set<String> keys = new LinkedHashSet<>();
    nodes.forEach(one -> ((MappingNode) one).getValue().forEach(t -> keys.add(Trees.key(t))));
    List<NodeTuple> tuples = new ArrayList<>();
    for (String key : keys) {
      List<Optional<Node>> values = nodes.stream().map(one -> Trees.value(one, key)).toList();
      List<String> below = new ArrayList<>(path);
      below.add(key);
      Optional<Node> general =
          values.stream().allMatch(Optional::isPresent)
              ? general(values.stream().map(Optional::get).toList(), below, key)
              : Optional.empty();
      if (general.isPresent()) {
        tuples.add(entry(key, general.get()));
      } else {
        for (int i = 0; i < values.size(); i++) {
          int stream = i;
          values.get(i).ifPresent(value -> deviate(deviations.get(stream), below, value));
        }
      }
    }
    return mapping(tuples);
  }

  private Optional<Node> scalar(List<ScalarNode> nodes, String key) {
    List<String> values = nodes.stream().map(ScalarNode::getValue).toList();
    if (values.stream().distinct().count() == 1 && streams.size() > 1) {
      return Optional.of(nodes.get(0));
    }
    if (streams.size() == 1) {
      return Optional.of(guessed(nodes.get(0), key));
    }
    boolean words = values.stream().anyMatch(one -> one.contains(" ") || one.contains("/"));
    String head = words ? head(values) : "";
    String tail = words ? tail(values, head.length()) : "";
    List<String> middle =
        values.stream()
            .map(one -> one.substring(head.length(), one.length() - tail.length()))
            .toList();
    boolean fits = middle.stream().allMatch(one -> Trees.mayStandIn(key, one));
    if (!fits || middle.stream().anyMatch(one -> one.isEmpty() || one.length() > LONGEST_VALUE)) {
      return Optional.empty();
    }
    String name = parameters.computeIfAbsent(middle, more -> unique(key));
    ScalarStyle style =
        nodes.stream().allMatch(ScalarNode::isPlain)
            ? ScalarStyle.PLAIN
            : ScalarStyle.DOUBLE_QUOTED;
    return Optional.of(new ScalarNode(Tag.STR, head + "$<" + name + ">" + tail, style));
  }

  private Node guessed(ScalarNode node, String key) {
    Map.Entry<List<String>, String> guess = parameters.entrySet().iterator().next();
    String word = guess.getKey().get(0);
    String value = node.getValue();
    int at = value.indexOf(word);
    boolean whole =
        at >= 0
            && (at == 0 || isBetweenWords(value.charAt(at - 1)))
            && (at + word.length() == value.length()
                || isBetweenWords(value.charAt(at + word.length())));
    return whole && Trees.mayStandIn(key, word)
        ? text(
            value.substring(0, at)
                + "$<"
                + guess.getValue()
                + ">"
                + value.substring(at + word.length()))
        : node;
  }

  private String unique(String key) {
    String base = key.equals("stream") || key.isEmpty() ? "name" : key;
    base = base.matches("[A-Za-z][A-Za-z0-9_-]{0,80}") ? base : "value";
    String name = base;
    for (int n = 2; !names.add(name); n++) {
      name = base + "-" + n;
    }
    return name;
  }

  private static boolean isBetweenWords(char c) {
    return !Character.isLetterOrDigit(c);
  }

  /** What all begin with, up to the last place between two words. */
  private static String head(List<String> values) {
    String first = values.get(0);
    int length = 0;
    while (length < first.length() && isSame(values, length, first.charAt(length), true)) {
      length++;
    }
    while (length > 0 && !isBetweenWords(first.charAt(length - 1))) {
      length--;
    }
    return first.substring(0, length);
  }

  /** What all end with, from the first place between two words. */
  private static String tail(List<String> values, int head) {
    String first = values.get(0);
    int shortest = values.stream().mapToInt(String::length).min().orElse(0);
    int length = 0;
    while (length < shortest - head
        && isSame(values, length, first.charAt(first.length() - 1 - length), false)) {
      length++;
    }
    while (length > 0 && !isBetweenWords(first.charAt(first.length() - length))) {
      length--;
    }
    return first.substring(first.length() - length);
  }

  private static boolean isSame(List<String> values, int at, char c, boolean fromFront) {
    return values.stream()
        .allMatch(
            one -> at < one.length() && one.charAt(fromFront ? at : one.length() - 1 - at) == c);
  }

  private static void deviate(List<NodeTuple> into, List<String> path, Node value) {
    Node inner = value;
    for (int i = path.size() - 1; i > 0; i--) {
      inner = mapping(List.of(entry(path.get(i), inner)));
    }
    into.add(entry(path.get(0), inner));
  }

  /** One tree of entries that may begin with the same keys. */
  private static Node tree(List<NodeTuple> entries) {
    MappingNode all = mapping(List.of());
    for (NodeTuple entry : entries) {
      all = Trees.changed(all, mapping(List.of(entry)), new ArrayList<>());
    }
    return all;
  }

  private Node declared() {
    List<NodeTuple> declared = new ArrayList<>();
    parameters.forEach(
        (values, name) -> {
          List<NodeTuple> keys = new ArrayList<>();
          ParameterType type = type(values);
          if (type != ParameterType.TEXT) {
            keys.add(entry("type", text(type.word())));
          }
          declared.add(entry(name, new MappingNode(Tag.MAP, keys, FlowStyle.FLOW)));
        });
    return mapping(declared);
  }

  /** The narrowest type that all values have; names may stand in paths, so they come first. */
  private static ParameterType type(List<String> values) {
    for (ParameterType type :
        List.of(
            ParameterType.TIME,
            ParameterType.NUMBER,
            ParameterType.DURATION,
            ParameterType.DATE,
            ParameterType.NAME)) {
      if (values.stream().allMatch(type::fits)) {
        return type;
      }
    }
    return ParameterType.TEXT;
  }

  private Node rows() {
    List<Node> rows = new ArrayList<>();
    IntStream.range(0, streams.size())
        .forEach(
            i -> {
              List<NodeTuple> cells = new ArrayList<>();
              parameters.forEach((values, name) -> cells.add(entry(name, text(values.get(i)))));
              rows.add(new MappingNode(Tag.MAP, cells, FlowStyle.FLOW));
            });
    return new SequenceNode(Tag.SEQ, rows, FlowStyle.BLOCK);
  }

  private static NodeTuple entry(String key, Node value) {
    return new NodeTuple(text(key), value);
  }

  private static MappingNode mapping(List<NodeTuple> tuples) {
    return new MappingNode(Tag.MAP, new ArrayList<>(tuples), FlowStyle.BLOCK);
  }

  private static ScalarNode text(String text) {
    return new ScalarNode(Tag.STR, text, ScalarStyle.PLAIN);
  }

  private static String text(Node node) {
    return node instanceof ScalarNode scalar ? scalar.getValue() : "";
  }
}

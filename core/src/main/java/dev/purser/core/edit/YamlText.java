package dev.purser.core.edit;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/**
 * The text of one definition, which can be changed at a key. Lines that a change does not concern
 * stay byte for byte: comments, the order of keys, blank lines.
 *
 * @param text YAML of one document
 */
public record YamlText(String text) {

  /**
   * The text without a key and what is below it; a mapping that is empty then goes too.
   *
   * @param path keys from the root, such as jobs, load, host
   * @return the same text where there is no such key
   */
  public YamlText without(List<String> path) {
    List<NodeTuple> way = way(path);
    if (way.size() < path.size()) {
      return this;
    }
    int depth = way.size() - 1;
    while (depth > 0 && mappingAt(way, depth).getValue().size() == 1) {
      depth--;
    }
    MappingNode parent = mappingAt(way, depth);
    NodeTuple gone = way.get(depth);
    return parent.getFlowStyle() == FlowStyle.FLOW
        ? withoutInLine(parent, gone)
        : withoutLines(gone);
  }

  /**
   * The text with a copy of an entry, and what is below it, right after it.
   *
   * @param path of the entry
   * @param key of the copy
   * @return the same text where there is no such entry
   */
  public YamlText copied(List<String> path, String key) {
    List<NodeTuple> way = way(path);
    if (way.size() < path.size()) {
      return this;
    }
    NodeTuple entry = way.get(way.size() - 1);
    int from = begin(entry.getKeyNode());
    int keyEnd = end(entry.getKeyNode());
    int[] points = text.codePoints().toArray();
    if (mappingAt(way, way.size() - 1).getFlowStyle() == FlowStyle.FLOW) {
      int to = lastOf(entry.getValueNode());
      String copy = ", " + key + new String(points, keyEnd, to - keyEnd);
      return spliced(List.of(new Splice(to, to, copy)));
    }
    int lineStart = from;
    while (lineStart > 0 && points[lineStart - 1] != '\n') {
      lineStart--;
    }
    int to = endOfLines(entry, points);
    String indent = new String(points, lineStart, from - lineStart);
    String body = new String(points, keyEnd, to - keyEnd);
    String before = to > 0 && points[to - 1] == '\n' ? "" : "\n";
    return spliced(List.of(new Splice(to, to, before + indent + key + body)));
  }

  /**
   * The text with one more entry, before the first of a mapping that is there.
   *
   * @param path of the mapping, which must not be empty
   * @param entry the key and its value, as they are written on one line
   * @return the same text where there is no such mapping, or nothing in it
   */
  public YamlText withFirst(List<String> path, String entry) {
    List<NodeTuple> way = way(path);
    if (way.size() < path.size()
        || !(way.get(way.size() - 1).getValueNode() instanceof MappingNode mapping)
        || mapping.getValue().isEmpty()) {
      return this;
    }
    int from = begin(mapping.getValue().get(0).getKeyNode());
    int[] points = text.codePoints().toArray();
    int lineStart = from;
    while (lineStart > 0 && points[lineStart - 1] != '\n') {
      lineStart--;
    }
    String between =
        mapping.getFlowStyle() == FlowStyle.FLOW
            ? ", "
            : "\n" + new String(points, lineStart, from - lineStart);
    return spliced(List.of(new Splice(from, from, entry + between)));
  }

  /**
   * The text with another plain value of a key that is there.
   *
   * @return the same text where there is no such key
   * @throws IllegalArgumentException where its value is not a plain one
   */
  public YamlText with(List<String> path, String value) {
    List<NodeTuple> way = way(path);
    if (way.size() < path.size()) {
      return this;
    }
    Node old = way.get(way.size() - 1).getValueNode();
    if (!(old instanceof ScalarNode scalar)) {
      throw new IllegalArgumentException(String.join(".", path) + " is not a plain value");
    }
    return spliced(
        List.of(new Splice(begin(scalar), end(scalar), written(value, scalar.getScalarStyle()))));
  }

  /**
   * The keys of a path that is written with dots, though keys may have dots themselves.
   *
   * @return empty where there is no such key
   */
  public Optional<List<String>> pathOf(String dotted) {
    return pathOf(root(), dotted);
  }

  private static Optional<List<String>> pathOf(Node node, String dotted) {
    if (!(node instanceof MappingNode mapping)) {
      return Optional.empty();
    }
    for (NodeTuple tuple : mapping.getValue()) {
      String key = key(tuple);
      if (dotted.equals(key)) {
        return Optional.of(List.of(key));
      }
      Optional<List<String>> below =
          dotted.startsWith(key + ".")
              ? pathOf(tuple.getValueNode(), dotted.substring(key.length() + 1))
              : Optional.empty();
      if (below.isPresent()) {
        List<String> path = new ArrayList<>(List.of(key));
        path.addAll(below.get());
        return Optional.of(path);
      }
    }
    return Optional.empty();
  }

  /** The plain value of a key. */
  public Optional<String> value(List<String> path) {
    List<NodeTuple> way = way(path);
    return way.size() == path.size()
            && !way.isEmpty()
            && way.get(way.size() - 1).getValueNode() instanceof ScalarNode scalar
        ? Optional.of(scalar.getValue())
        : Optional.empty();
  }

  /**
   * The text with another word wherever one stands alone in a plain value, or is one of its words;
   * in a block of text, such as a table, wherever it is a whole cell. Keys stay.
   */
  public YamlText withWord(String word, String other) {
    List<Splice> splices = new ArrayList<>();
    int[] points = text.codePoints().toArray();
    words(root(), word, other, points, splices);
    return spliced(splices);
  }

  private static void words(
      Node node, String word, String other, int[] points, List<Splice> splices) {
    if (node instanceof MappingNode mapping) {
      mapping.getValue().forEach(one -> words(one.getValueNode(), word, other, points, splices));
    } else if (node instanceof SequenceNode list) {
      list.getValue().forEach(one -> words(one, word, other, points, splices));
    } else {
      boolean block =
          node instanceof ScalarNode scalar && scalar.getScalarStyle() == ScalarStyle.LITERAL;
      String bounds = block ? "[,\\n\"]" : "[ \"']";
      String written = new String(points, begin(node), end(node) - begin(node));
      Matcher found =
          Pattern.compile(
                  "(?<=^|" + bounds + "|, | {2})" + Pattern.quote(word) + "(?=" + bounds + "|$)")
              .matcher(written);
      while (found.find()) {
        int from = begin(node) + written.codePointCount(0, found.start());
        splices.add(new Splice(from, from + word.codePointCount(0, word.length()), other));
      }
    }
  }

  /**
   * A piece that is put in the place of another.
   *
   * @param from index of the first character that goes, in code points
   * @param to index after the last one
   */
  public record Splice(int from, int to, String text) {}

  /** The text with pieces put in the place of others; they must not overlap. */
  public YamlText spliced(List<Splice> splices) {
    int[] points = text.codePoints().toArray();
    StringBuilder out = new StringBuilder();
    int at = 0;
    for (Splice splice : splices.stream().sorted(Comparator.comparingInt(Splice::from)).toList()) {
      out.append(new String(points, at, splice.from() - at)).append(splice.text());
      at = splice.to();
    }
    return new YamlText(out.append(new String(points, at, points.length - at)).toString());
  }

  /** A plain value as it must be written to be read as that text. */
  public static String written(String value, ScalarStyle like) {
    boolean plain =
        like == ScalarStyle.PLAIN
            && value.matches("[\\p{L}\\p{N}./$_][\\p{L}\\p{N} ./$<>{}()_@%+=~-]*")
            && !value.endsWith(" ")
            && !value.matches("(?i)true|false|null|yes|no|on|off|~|[-+.0-9].*");
    if (plain) {
      return value;
    }
    if (like == ScalarStyle.SINGLE_QUOTED && value.matches("[ -~]*")) {
      return "'" + value.replace("'", "''") + "'";
    }
    StringBuilder out = new StringBuilder("\"");
    value
        .codePoints()
        .forEach(
            c -> {
              if (c == '"' || c == '\\') {
                out.append('\\').appendCodePoint(c);
              } else if (c == '\n') {
                out.append("\\n");
              } else if (c == '\t') {
                out.append("\\t");
              } else if (c < 0x20 || c == 0x7f || (c >= 0x80 && c < 0xa0) || c == 0xfeff) {
                out.append(String.format("\\x%02x", c & 0xff));
              } else {
                out.appendCodePoint(c);
              }
            });
    return out.append('"').toString();
  }

  private MappingNode root() {
    return new Compose(LoadSettings.builder().setUseMarks(true).build())
        .composeString(text)
        .filter(MappingNode.class::isInstance)
        .map(MappingNode.class::cast)
        .orElseThrow(() -> new IllegalArgumentException("this is not a definition"));
  }

  /** The entries that lead to a path, as far as they are there. */
  private List<NodeTuple> way(List<String> path) {
    List<NodeTuple> way = new ArrayList<>();
    Node at = root();
    for (String key : path) {
      Optional<NodeTuple> next =
          at instanceof MappingNode mapping
              ? mapping.getValue().stream().filter(one -> key.equals(key(one))).findFirst()
              : Optional.empty();
      if (next.isEmpty()) {
        return way;
      }
      way.add(next.get());
      at = next.get().getValueNode();
    }
    return way;
  }

  private MappingNode mappingAt(List<NodeTuple> way, int depth) {
    return depth == 0 ? root() : (MappingNode) way.get(depth - 1).getValueNode();
  }

  private static String key(NodeTuple tuple) {
    return tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
  }

  private YamlText withoutLines(NodeTuple gone) {
    int[] points = text.codePoints().toArray();
    int from = begin(gone.getKeyNode());
    while (from > 0 && points[from - 1] != '\n') {
      from--;
    }
    return spliced(List.of(new Splice(from, endOfLines(gone, points), "")));
  }

  /** Where the lines of an entry end, with what follows its value on the last of them. */
  private static int endOfLines(NodeTuple entry, int[] points) {
    int to = Math.max(lastOf(entry.getValueNode()), end(entry.getKeyNode()));
    if (to > 0 && points[to - 1] == '\n') {
      return to; // as literal blocks end
    }
    while (to < points.length && points[to] != '\n') {
      to++;
    }
    return Math.min(to + 1, points.length);
  }

  private YamlText withoutInLine(MappingNode parent, NodeTuple gone) {
    List<NodeTuple> all = parent.getValue();
    int at = 0;
    while (begin(all.get(at).getKeyNode()) != begin(gone.getKeyNode())) {
      at++;
    }
    int from = begin(gone.getKeyNode());
    int to = lastOf(gone.getValueNode());
    if (at + 1 < all.size()) {
      to = begin(all.get(at + 1).getKeyNode());
    } else if (at > 0) {
      from = lastOf(all.get(at - 1).getValueNode());
    }
    return spliced(List.of(new Splice(from, to, "")));
  }

  /** Where a value ends: of block collections the parser says where the next thing begins. */
  private static int lastOf(Node node) {
    if (node instanceof MappingNode mapping
        && mapping.getFlowStyle() == FlowStyle.BLOCK
        && !mapping.getValue().isEmpty()) {
      NodeTuple last = mapping.getValue().get(mapping.getValue().size() - 1);
      return Math.max(lastOf(last.getValueNode()), end(last.getKeyNode()));
    }
    if (node instanceof SequenceNode list
        && list.getFlowStyle() == FlowStyle.BLOCK
        && !list.getValue().isEmpty()) {
      return lastOf(list.getValue().get(list.getValue().size() - 1));
    }
    return end(node);
  }

  private static int begin(Node node) {
    return node.getStartMark().map(Mark::getIndex).orElse(0);
  }

  private static int end(Node node) {
    return node.getEndMark().map(Mark::getIndex).orElse(0);
  }
}

package dev.purser.core.template;

import dev.purser.core.problem.Nearest;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.api.lowlevel.Present;
import org.snakeyaml.engine.v2.api.lowlevel.Serialize;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/**
 * Pieces of YAML as trees: filled with values, changed by others, written out. A value is put into
 * a tree, never into a text that is read afterwards, so it can be nothing but a value. None of
 * these change a tree that they are given.
 */
public final class Trees {
  /** {@code $<name>}; whatever else begins with these two characters is text. */
  private static final Pattern OPEN = Pattern.compile("\\$<([A-Za-z][A-Za-z0-9_-]{0,99})>");

  /** Keys whose texts are read by a shell or a database: a value there is a piece of it. */
  private static final Set<String> READ_BY_OTHERS = Set.of("run", "sql");

  private static final Pattern READ_AS_IT_IS = Pattern.compile("[\\p{L}\\p{N}._/:@%+=,-]*");
  private static final int DEEPEST = 60;

  /** How YAML writes that there is no value. */
  private static final Set<String> NOTHING = Set.of("", "~", "null");

  private Trees() {}

  /**
   * The tree of a text of one definition that was read before.
   *
   * @throws IllegalArgumentException where it is not a mapping
   */
  public static MappingNode parse(String text) {
    return new Compose(LoadSettings.builder().setUseMarks(true).build())
        .composeString(text)
        .filter(MappingNode.class::isInstance)
        .map(MappingNode.class::cast)
        .orElseThrow(() -> new IllegalArgumentException("this is not a definition"));
  }

  /** The names that a tree asks for, in order. */
  public static Set<String> asked(Node node) {
    Set<String> names = new LinkedHashSet<>();
    asked(node, names, 0);
    return names;
  }

  private static void asked(Node node, Set<String> names, int depth) {
    if (depth > DEEPEST) {
      return;
    }
    if (node instanceof ScalarNode scalar) {
      Matcher open = OPEN.matcher(scalar.getValue());
      while (open.find()) {
        names.add(open.group(1));
      }
    } else if (node instanceof MappingNode mapping) {
      for (NodeTuple tuple : mapping.getValue()) {
        asked(tuple.getKeyNode(), names, depth + 1);
        asked(tuple.getValueNode(), names, depth + 1);
      }
    } else if (node instanceof SequenceNode list) {
      list.getValue().forEach(one -> asked(one, names, depth + 1));
    }
  }

  /**
   * A filling of one template for one place.
   *
   * @param what is filled, for messages: {@code template "deck-plan"}
   * @param values by parameter
   * @param at where it is filled: every node of the outcome stands there; empty for where it is
   * @param problems takes what cannot be filled in, at its place
   */
  public record Filling(
      String what,
      Map<String, String> values,
      Optional<Node> at,
      BiConsumer<Node, String> problems) {

    /** The tree with its values; an entry that is nothing but an empty value is left out. */
    public Node fill(Node node) {
      return fill(node, "", 0).orElseGet(() -> text("", node));
    }

    private Optional<Node> fill(Node node, String key, int depth) {
      if (depth > DEEPEST) {
        problems.accept(at.orElse(node), "the " + what + " is too deep");
        return Optional.empty();
      }
      if (node instanceof MappingNode mapping) {
        List<NodeTuple> tuples = new ArrayList<>();
        for (NodeTuple tuple : mapping.getValue()) {
          Node name = fill(tuple.getKeyNode(), "", depth + 1).orElseGet(() -> text("", node));
          String below = name instanceof ScalarNode scalar ? scalar.getValue() : "";
          fill(tuple.getValueNode(), below, depth + 1)
              .ifPresent(value -> tuples.add(new NodeTuple(name, value)));
        }
        return Optional.of(
            new MappingNode(
                node.getTag(), true, tuples, mapping.getFlowStyle(), begin(node), end(node)));
      }
      if (node instanceof SequenceNode list) {
        List<Node> all = new ArrayList<>();
        list.getValue().forEach(one -> fill(one, key, depth + 1).ifPresent(all::add));
        return Optional.of(
            new SequenceNode(
                node.getTag(), true, all, list.getFlowStyle(), begin(node), end(node)));
      }
      return scalar((ScalarNode) node, key);
    }

    private Optional<Node> scalar(ScalarNode scalar, String key) {
      Matcher open = OPEN.matcher(scalar.getValue());
      if (!scalar.getValue().contains("$<") || !open.find()) {
        return Optional.of(
            new ScalarNode(
                scalar.getTag(),
                true,
                scalar.getValue(),
                scalar.getScalarStyle(),
                begin(scalar),
                end(scalar)));
      }
      boolean whole = open.start() == 0 && open.end() == scalar.getValue().length();
      StringBuilder out = new StringBuilder();
      open.reset();
      while (open.find()) {
        open.appendReplacement(
            out, Matcher.quoteReplacement(valueOf(open.group(1), key, at.orElse(scalar))));
      }
      open.appendTail(out);
      if (whole && out.isEmpty()) {
        return Optional.empty();
      }
      // As YAML reads it: $<count> is a number where its value is one, "$<count>" is a text.
      Tag tag = whole && scalar.isPlain() ? tag(out.toString()) : Tag.STR;
      return Optional.of(
          new ScalarNode(tag, true, out.toString(), ScalarStyle.PLAIN, begin(scalar), end(scalar)));
    }

    private String valueOf(String name, String key, Node place) {
      String value = values.get(name);
      if (value == null) {
        problems.accept(
            place,
            "the "
                + what
                + " asks for $<"
                + name
                + ">, which is none of its parameters"
                + Nearest.hint(name, values.keySet()));
        return "";
      }
      if (!mayStandIn(key, value)) {
        problems.accept(
            place,
            "the value \""
                + value
                + "\" of "
                + name
                + " would become a piece of \""
                + key
                + "\" in "
                + what
                + ", where its characters may mean something else; hand it over in"
                + " \"parameters\" there, and write ${"
                + name
                + "} instead of $<"
                + name
                + ">");
      }
      return value;
    }

    private static Tag tag(String value) {
      if (value.matches("-?(0|[1-9]\\d*)")) {
        return Tag.INT;
      }
      return value.matches("true|false") ? Tag.BOOL : Tag.STR;
    }

    private Node text(String value, Node from) {
      return new ScalarNode(Tag.STR, true, value, ScalarStyle.PLAIN, begin(from), end(from));
    }

    /** Where it is filled, under the name of the place in the template. */
    private Optional<Mark> begin(Node from) {
      return at.isEmpty()
          ? from.getStartMark()
          : at.get()
              .getStartMark()
              .map(
                  mark ->
                      new Mark(
                          nameOf(from),
                          mark.getIndex(),
                          mark.getLine(),
                          mark.getColumn(),
                          mark.getBuffer(),
                          mark.getPointer()));
    }

    /** One line below, so that nobody counts columns in a text that is not there. */
    private Optional<Mark> end(Node from) {
      return at.isEmpty()
          ? from.getEndMark()
          : begin(from)
              .map(
                  mark ->
                      new Mark(
                          mark.getName(),
                          mark.getIndex(),
                          mark.getLine() + 1,
                          0,
                          mark.getBuffer(),
                          mark.getPointer()));
    }

    private String nameOf(Node from) {
      return FROM + what + ", line " + (from.getStartMark().map(Mark::getLine).orElse(0) + 1);
    }
  }

  private static final String FROM = "in ";

  /** The first plain value or key that has a text in it. */
  public static Optional<Node> first(Node node, String text) {
    if (node instanceof ScalarNode scalar) {
      return scalar.getValue().contains(text) ? Optional.of(node) : Optional.empty();
    }
    List<Node> below = new ArrayList<>();
    if (node instanceof MappingNode mapping) {
      for (NodeTuple tuple : mapping.getValue()) {
        below.add(tuple.getKeyNode());
        below.add(tuple.getValueNode());
      }
    } else if (node instanceof SequenceNode list) {
      below.addAll(list.getValue());
    }
    return below.stream().flatMap(one -> first(one, text).stream()).findFirst();
  }

  /** What a node was filled from, to end a message with; empty for one that was not filled. */
  public static String origin(Node node) {
    return node.getStartMark()
        .map(Mark::getName)
        .filter(name -> name.startsWith(FROM))
        .map(name -> " (" + name + ")")
        .orElse("");
  }

  /**
   * One tree changed by another: mappings key by key, all else as a whole; a key without a value
   * ({@code key: ~}) is taken away.
   *
   * @param deviations takes the path of each key that is other
   */
  public static MappingNode changed(MappingNode base, MappingNode by, List<String> deviations) {
    return changed(base, by, "", deviations, 0);
  }

  private static MappingNode changed(
      MappingNode base, MappingNode by, String path, List<String> deviations, int depth) {
    Map<String, NodeTuple> all = new LinkedHashMap<>();
    base.getValue().forEach(tuple -> all.putIfAbsent(key(tuple), tuple));
    for (NodeTuple tuple : by.getValue()) {
      String key = key(tuple);
      String at = path.isEmpty() ? key : path + "." + key;
      Node old = all.containsKey(key) ? all.get(key).getValueNode() : null;
      if (old instanceof MappingNode below
          && tuple.getValueNode() instanceof MappingNode more
          && depth < DEEPEST) {
        Node merged = changed(below, more, at, deviations, depth + 1);
        all.put(key, new NodeTuple(tuple.getKeyNode(), merged));
      } else {
        deviations.add(at);
        if (isNothing(tuple.getValueNode())) {
          all.remove(key);
        } else {
          all.put(key, tuple);
        }
      }
    }
    return new MappingNode(
        base.getTag(),
        true,
        new ArrayList<>(all.values()),
        base.getFlowStyle(),
        by.getStartMark(),
        by.getEndMark());
  }

  private static boolean isNothing(Node node) {
    return node instanceof ScalarNode scalar
        && scalar.isPlain()
        && NOTHING.contains(scalar.getValue());
  }

  /** The key of an entry; empty where it is not a plain one. */
  public static String key(NodeTuple tuple) {
    return tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
  }

  /** Whether a shell or a database that reads the text of a key takes a value as nothing else. */
  static boolean mayStandIn(String key, String value) {
    return !READ_BY_OTHERS.contains(key) || READ_AS_IT_IS.matcher(value).matches();
  }

  /** The value of a key. */
  public static Optional<Node> value(Node node, String key) {
    if (node instanceof MappingNode mapping) {
      for (NodeTuple tuple : mapping.getValue()) {
        if (key(tuple).equals(key)) {
          return Optional.of(tuple.getValueNode());
        }
      }
    }
    return Optional.empty();
  }

  /** A mapping without some of its keys. */
  public static MappingNode without(MappingNode mapping, Set<String> keys) {
    return with(
        mapping, mapping.getValue().stream().filter(tuple -> !keys.contains(key(tuple))).toList());
  }

  /** A mapping with other entries, at the same place. */
  public static MappingNode with(MappingNode mapping, List<NodeTuple> tuples) {
    return new MappingNode(
        mapping.getTag(),
        true,
        new ArrayList<>(tuples),
        mapping.getFlowStyle(),
        mapping.getStartMark(),
        mapping.getEndMark());
  }

  /** A tree as YAML, as a person would write it. */
  public static String print(Node node) {
    DumpSettings settings =
        DumpSettings.builder()
            .setDefaultFlowStyle(FlowStyle.BLOCK)
            .setWidth(110)
            .setSplitLines(false)
            .build();
    return new Present(settings)
        .emitToString(new Serialize(settings).serializeOne(node).iterator());
  }
}

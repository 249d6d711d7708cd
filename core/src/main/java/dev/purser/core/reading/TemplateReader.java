package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.problem.Nearest;
import dev.purser.core.template.ParameterType;
import dev.purser.core.template.Template;
import dev.purser.core.template.TemplateParameter;
import dev.purser.core.template.Trees;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.Tag;

/** Reads templates; what they make is read where they are filled. */
final class TemplateReader {
  /** Says where a job or stream comes from. */
  static final String FROM = "from-template";

  /** The values that its template is filled with. */
  static final String WITH = "with";

  /** Keys of a stream or job that comes from a template. */
  static final Keys USE =
      new Keys()
          .may(FROM, Keys.Form.NAME, "The template that it comes from; keys beside it win.")
          .may(WITH, Keys.Form.TEXTS, "The values that its template is filled with.");

  private static final Pattern NAME = Pattern.compile("[A-Za-z][A-Za-z0-9_-]{0,99}");

  private static final Keys PARAMETER =
      new Keys()
          .may(
              "type",
              Keys.Form.TEXT,
              "What its values must be: " + String.join(", ", ParameterType.words()) + "; text.")
          .may("default", Keys.Form.TEXT, "Its value where none is given.")
          .may("allowed", Keys.Form.NAMES, "The only values that it takes.")
          .may("help", Keys.Form.TEXT, "What it is for, in a line.");

  static final Keys KEYS =
      new Keys()
          .must("template", Keys.Form.NAME, "Its name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("about", Keys.Form.TEXT, "What it is for.")
          .may(
              "parameters",
              Keys.Form.ENTRIES,
              "What is filled in where $<name> stands, by name.",
              PARAMETER)
          .may("of-stream", Keys.Form.TREE, "The stream that it makes, with $<name> in it.")
          .may("of-job", Keys.Form.TREE, "The job that it makes, with $<name> in it.");

  private final Page page;
  private final Mentions mentions;

  TemplateReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  Template read(String name, Fields fields) {
    if (fields.has("of-stream") == fields.has("of-job")) {
      page.error(
          fields.at("template"),
          "a template needs either \"of-stream\" or \"of-job\": what it makes");
    }
    Template.Of of = fields.has("of-job") ? Template.Of.JOB : Template.Of.STREAM;
    String key = "of-" + of.word();
    MappingNode body = empty();
    if (fields.has(key)) {
      if (fields.at(key) instanceof MappingNode mapping) {
        body = mapping;
      } else {
        page.error(fields.at(key), "\"" + key + "\" needs the keys of a " + of.word());
      }
    }
    Map<String, TemplateParameter> parameters = parameters(fields);
    unknown(body, parameters.keySet());
    unused(fields, body, parameters.keySet());
    return new Template(
        name,
        fields.text("title", name),
        fields.text("about", ""),
        of,
        parameters,
        body,
        uses(body, name));
  }

  private static MappingNode empty() {
    return new MappingNode(Tag.MAP, List.of(), FlowStyle.BLOCK);
  }

  private Map<String, TemplateParameter> parameters(Fields fields) {
    Map<String, TemplateParameter> all = new LinkedHashMap<>();
    for (Fields.Entry entry : fields.entries("parameters")) {
      if (!NAME.matcher(entry.name()).matches()) {
        page.error(
            entry.key(),
            "\""
                + entry.name()
                + "\" is not a valid name for a parameter; expected letters, digits, dashes and"
                + " underscores, a letter first");
      }
      all.put(entry.name(), parameter(entry));
    }
    return all;
  }

  private TemplateParameter parameter(Fields.Entry entry) {
    Fields fields = new Fields(page, entry.value(), PARAMETER, "a parameter");
    String word = fields.text("type", "text");
    Optional<ParameterType> type = ParameterType.of(word);
    if (type.isEmpty()) {
      page.error(
          fields.at("type"),
          "unknown type \"" + word + "\"" + Nearest.hint(word, ParameterType.words()));
    }
    TemplateParameter parameter =
        new TemplateParameter(
            entry.name(),
            type.orElse(ParameterType.TEXT),
            Trees.value(entry.value(), "default").flatMap(Fields::scalar),
            fields.items("allowed").stream().map(Fields.Item::text).toList(),
            fields.text("help", ""));
    for (Fields.Item item : fields.items("allowed")) {
      if (!parameter.type().fits(item.text())) {
        page.error(item.node(), "\"" + item.text() + "\" is not " + parameter.type().expected());
      }
    }
    parameter
        .standard()
        .flatMap(parameter::refusal)
        .ifPresent(wrong -> page.error(fields.at("default"), wrong));
    return parameter;
  }

  private void unknown(Node body, Set<String> known) {
    for (String name : Trees.asked(body)) {
      if (!known.contains(name)) {
        page.error(
            Trees.first(body, "$<" + name + ">").orElse(body),
            "$<" + name + "> is none of its parameters" + Nearest.hint(name, known));
      }
    }
  }

  private void unused(Fields fields, Node body, Set<String> known) {
    Set<String> asked = Trees.asked(body);
    for (Fields.Entry entry : fields.entries("parameters")) {
      if (known.contains(entry.name()) && !asked.contains(entry.name())) {
        page.warning(entry.key(), "$<" + entry.name() + "> stands nowhere in the template");
      }
    }
  }

  /** The templates that a body, or one of its jobs, comes from. */
  private Set<String> uses(MappingNode body, String user) {
    Set<String> uses = new LinkedHashSet<>();
    for (Node from : fromNodes(body)) {
      Fields.scalar(from)
          .filter(name -> !name.contains("$<"))
          .ifPresent(
              name -> {
                uses.add(name);
                mentions.add(from, 1, Document.What.TEMPLATE, name, "", "template " + user);
              });
    }
    return uses;
  }

  /** Where a stream says which templates it, and its jobs, come from. */
  static List<Node> fromNodes(Node stream) {
    List<Node> all = new ArrayList<>();
    Trees.value(stream, FROM).ifPresent(all::add);
    if (Trees.value(stream, "jobs").orElse(null) instanceof MappingNode jobs) {
      for (NodeTuple tuple : jobs.getValue()) {
        Trees.value(tuple.getValueNode(), FROM).ifPresent(all::add);
      }
    }
    return all;
  }
}

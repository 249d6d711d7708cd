package dev.purser.core.reading;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.problem.Nearest;
import dev.purser.core.template.FilledText;
import dev.purser.core.template.Template;
import dev.purser.core.template.TemplateParameter;
import dev.purser.core.template.Trees;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;

/** One stream while it is made. */
final class Making {
  /** Keys that say how something is made, and are not in what is made. */
  static final Set<String> CONTROL = Set.of(TemplateReader.FROM, TemplateReader.WITH);

  private static final int MOST_NAMED = 6;
  private static final int DEEPEST = 10;

  /** How a value that does not fit is told. */
  interface Telling {
    String inWords(String name, String wrong);
  }

  private final Map<String, Template> templates;
  private final Set<String> broken;
  private final Page page;
  private final Set<String> used = new TreeSet<>();
  private final List<String> deviations = new ArrayList<>();
  private String template = "";
  private Map<String, String> values = Map.of();

  /**
   * A stream that is made.
   *
   * @param templates all there are, by name
   * @param broken those that have errors of their own, as kind and name
   * @param page where its errors are told
   * @param within the template that is looked at; empty for a stream of its own
   */
  Making(Map<String, Template> templates, Set<String> broken, Page page, String within) {
    this.templates = templates;
    this.broken = broken;
    this.page = page;
    if (!within.isEmpty()) {
      used.add(within);
    }
  }

  void from(String name, Map<String, String> filledWith) {
    template = name;
    values = filledWith;
    used.add(name);
  }

  Made made(Node stream, String by, int row) {
    return new Made(
        Set.copyOf(used),
        template,
        by,
        row,
        Map.copyOf(values),
        deviations.stream().sorted().distinct().toList(),
        new FilledText(stream));
  }

  /** A stream as its template and its own keys make it. */
  MappingNode stream(MappingNode written) {
    MappingNode stream = Trees.without(written, CONTROL);
    if (Trees.value(written, TemplateReader.FROM).isPresent()) {
      Optional<MappingNode> filled = filled(written, Template.Of.STREAM);
      if (filled.isEmpty()) {
        return stream;
      }
      stream = deviating(jobs(filled.get(), false), stream);
    } else if (Trees.value(written, TemplateReader.WITH).isPresent()) {
      page.error(
          Trees.value(written, TemplateReader.WITH).get(),
          "\"with\" needs \"from-template\" beside it");
    }
    return jobs(stream, true);
  }

  /**
   * What a template made, with what is other. Its jobs are made before, so that a key can be taken
   * away that comes from their own templates; one that comes from another template now begins anew.
   */
  MappingNode deviating(MappingNode base, MappingNode by) {
    Set<String> anew = new TreeSet<>();
    if (Trees.value(by, "jobs").orElse(null) instanceof MappingNode own) {
      own.getValue().stream()
          .filter(job -> Trees.value(job.getValueNode(), TemplateReader.FROM).isPresent())
          .map(Trees::key)
          .forEach(anew::add);
    }
    List<NodeTuple> kept = new ArrayList<>();
    for (NodeTuple tuple : base.getValue()) {
      kept.add(
          Trees.key(tuple).equals("jobs") && tuple.getValueNode() instanceof MappingNode jobs
              ? new NodeTuple(tuple.getKeyNode(), Trees.without(jobs, anew))
              : tuple);
    }
    List<String> other = new ArrayList<>();
    MappingNode changed = Trees.changed(Trees.with(base, kept), by, other);
    other.remove("stream");
    deviations.addAll(other);
    return changed;
  }

  /**
   * A stream whose jobs are as their templates make them.
   *
   * @param own whether the jobs are the stream's own: what is other in them is its deviation
   */
  MappingNode jobs(MappingNode stream, boolean own) {
    if (!(Trees.value(stream, "jobs").orElse(null) instanceof MappingNode jobs)) {
      return stream;
    }
    List<NodeTuple> all = new ArrayList<>();
    for (NodeTuple tuple : jobs.getValue()) {
      all.add(
          tuple.getValueNode() instanceof MappingNode job
              ? new NodeTuple(tuple.getKeyNode(), job(Trees.key(tuple), job, own ? 0 : 1))
              : tuple);
    }
    MappingNode made = Trees.with(jobs, all);
    return Trees.with(
        stream,
        stream.getValue().stream()
            .map(
                tuple ->
                    Trees.key(tuple).equals("jobs")
                        ? new NodeTuple(tuple.getKeyNode(), made)
                        : tuple)
            .toList());
  }

  private MappingNode job(String name, MappingNode written, int depth) {
    if (Trees.value(written, TemplateReader.FROM).isEmpty() || depth > DEEPEST) {
      return written;
    }
    Optional<MappingNode> filled = filled(written, Template.Of.JOB);
    MappingNode own = Trees.without(written, CONTROL);
    if (filled.isEmpty()) {
      return own;
    }
    List<String> other = new ArrayList<>();
    MappingNode job = Trees.changed(job(name, filled.get(), depth + 1), own, other);
    if (depth == 0) {
      other.forEach(one -> deviations.add("jobs." + name + "." + one));
    }
    return job;
  }

  private Optional<MappingNode> filled(MappingNode written, Template.Of of) {
    Node from = Trees.value(written, TemplateReader.FROM).orElseThrow();
    String name = Fields.scalar(from).orElse("");
    Template found = templates.get(name);
    if (found == null) {
      if (!broken.contains(Kind.TEMPLATE.word() + " " + name)) {
        page.error(from, "unknown template \"" + name + "\"" + Nearest.hint(name, namesOf(of)));
      } else {
        page.error(from, "the template \"" + name + "\" has errors of its own");
      }
      return Optional.empty();
    }
    if (found.of() != of) {
      page.error(
          from,
          "the template \"" + name + "\" makes a " + found.of().word() + ", not a " + of.word());
      return Optional.empty();
    }
    if (used.contains(name) && found.uses().contains(name)) {
      page.error(from, "the template \"" + name + "\" comes from itself");
      return Optional.empty();
    }
    used.add(name);
    Optional<Map<String, String>> all =
        values(found, texts(written), from, (parameter, wrong) -> parameter + ": " + wrong);
    if (all.isEmpty()) {
      return Optional.empty();
    }
    if (of == Template.Of.STREAM) {
      from(name, all.get());
    }
    return Optional.of(
        (MappingNode)
            new Trees.Filling(
                    FromTemplates.inWords(name), all.get(), Optional.of(from), page::error)
                .fill(found.body()));
  }

  private List<String> namesOf(Template.Of of) {
    return templates.values().stream().filter(one -> one.of() == of).map(Template::name).toList();
  }

  private Map<String, String> texts(MappingNode written) {
    Map<String, String> texts = new LinkedHashMap<>();
    Optional<Node> with = Trees.value(written, TemplateReader.WITH);
    if (with.isPresent() && !(with.get() instanceof MappingNode)) {
      page.error(with.get(), "expected a mapping of parameters to values for \"with\"");
    } else if (with.isPresent()) {
      for (NodeTuple tuple : ((MappingNode) with.get()).getValue()) {
        Optional<String> value = Fields.scalar(tuple.getValueNode());
        if (value.isEmpty()) {
          page.error(tuple.getValueNode(), "expected plain text for \"" + Trees.key(tuple) + "\"");
        }
        texts.put(Trees.key(tuple), value.orElse(""));
      }
    }
    return texts;
  }

  /** A value for each parameter of a template; empty where one is wrong, which is said. */
  Optional<Map<String, String>> values(
      Template template, Map<String, String> given, Node place, Telling telling) {
    long before = page.errors();
    Map<String, String> all = new LinkedHashMap<>();
    for (String name : given.keySet()) {
      if (!template.parameters().containsKey(name)) {
        page.error(
            place,
            "\""
                + name
                + "\" is not a parameter of template \""
                + template.name()
                + "\""
                + Nearest.hint(name, template.parameters().keySet()));
      }
    }
    List<String> missing = new ArrayList<>();
    for (TemplateParameter parameter : template.parameters().values()) {
      String value = given.get(parameter.name());
      if ((value == null || value.isEmpty()) && parameter.standard().isPresent()) {
        value = parameter.standard().get();
      }
      if (value == null) {
        missing.add(parameter.name());
      } else {
        parameter
            .refusal(value)
            .ifPresent(wrong -> page.error(place, telling.inWords(parameter.name(), wrong)));
        all.put(parameter.name(), value);
      }
    }
    if (!missing.isEmpty()) {
      page.error(
          place,
          "template \""
              + template.name()
              + "\" needs a value for "
              + missing.stream().limit(MOST_NAMED).collect(Collectors.joining(", "))
              + ", under \"with\"");
    }
    return page.errors() == before ? Optional.of(all) : Optional.empty();
  }
}

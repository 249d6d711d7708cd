package dev.purser.core.reading;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.template.ForEach;
import dev.purser.core.template.Table;
import dev.purser.core.template.Template;
import dev.purser.core.template.TemplateParameter;
import dev.purser.core.template.Trees;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/**
 * Makes streams from templates: those that say {@code from-template}, those that a {@code for-each}
 * makes of its rows, and all in force that hang on a template that was read anew. What comes out is
 * read like any other stream.
 */
public final class FromTemplates {
  private static final String SAMPLE = "sample";

  private final Definitions existing;
  private final DefinitionReader.Reading reading;
  private final Map<String, Template> templates = new TreeMap<>();
  private final List<Problem> problems;
  private final List<Document> documents = new ArrayList<>();
  private final Set<String> broken;
  private final Set<String> readNames = new HashSet<>();

  private FromTemplates(Definitions existing, DefinitionReader.Reading reading) {
    this.existing = existing;
    this.reading = reading;
    this.problems = new ArrayList<>(reading.problems());
    this.broken = new LinkedHashSet<>(reading.broken());
    for (Document document : existing.documents()) {
      if (document.value() instanceof Template template) {
        templates.put(template.name(), template);
      }
    }
    for (Document document : reading.documents()) {
      readNames.add(document.kind().word() + " " + document.name());
      if (document.value() instanceof Template template) {
        templates.put(template.name(), template);
      }
    }
    reading.unfilled().forEach(one -> readNames.add(Kind.STREAM.word() + " " + one.name()));
  }

  /**
   * The same reading with all streams that templates make. Does nothing a second time.
   *
   * @param existing what is defined already: its templates may be used, and what hangs on one that
   *     was read is made anew
   */
  public static DefinitionReader.Reading filled(
      DefinitionReader.Reading reading, Definitions existing) {
    boolean concerned =
        !reading.unfilled().isEmpty()
            || reading.documents().stream().anyMatch(one -> isConcerned(one, existing));
    return concerned && !reading.filled() ? new FromTemplates(existing, reading).make() : reading;
  }

  private static boolean isConcerned(Document document, Definitions existing) {
    return document.kind() == Kind.TEMPLATE
        || document.kind() == Kind.FOR_EACH
        || existing.document(document.kind(), document.name()).flatMap(Document::made).isPresent();
  }

  private DefinitionReader.Reading make() {
    documents.addAll(reading.documents());
    for (Document document : reading.documents()) {
      if (document.value() instanceof Template template) {
        look(document, template);
      }
    }
    reading.unfilled().forEach(this::make);
    Set<Document> gone = new LinkedHashSet<>();
    for (Document document : reading.documents()) {
      if (document.value() instanceof ForEach forEach) {
        make(document, forEach, gone);
      }
    }
    hangingOn(changedTemplates(), gone);
    takenByRows();
    return new DefinitionReader.Reading(
        List.copyOf(documents),
        List.copyOf(problems),
        Set.copyOf(broken),
        List.of(),
        List.copyOf(gone),
        true);
  }

  /** Names of the templates that were read, and of those that use one of them. */
  private Set<String> changedTemplates() {
    Set<String> changed = new HashSet<>();
    Deque<String> open = new ArrayDeque<>();
    reading.documents().stream()
        .filter(one -> one.kind() == Kind.TEMPLATE)
        .map(Document::name)
        .forEach(open::add);
    while (!open.isEmpty()) {
      String name = open.pop();
      if (changed.add(name)) {
        templates.values().stream()
            .filter(one -> one.uses().contains(name))
            .map(Template::name)
            .forEach(open::add);
      }
    }
    return changed;
  }

  /** What is in force, was not read itself, and comes from a template that changes. */
  private void hangingOn(Set<String> changed, Set<Document> gone) {
    if (changed.isEmpty()) {
      return;
    }
    for (Document document : existing.documents()) {
      if (readNames.contains(document.kind().word() + " " + document.name())) {
        continue;
      }
      int known = problems.size();
      if (document.value() instanceof ForEach forEach && hangs(forEach, changed)) {
        make(document, forEach, gone);
      } else if (document.made().filter(made -> !made.isRow()).isPresent()
          && document.made().get().templates().stream().anyMatch(changed::contains)) {
        DefinitionReader.read(List.of(new SourceFile(document.file(), document.text())))
            .unfilled()
            .forEach(this::make);
      }
      inForce(document, known);
    }
  }

  /** What was found in a text that is in force is told there, not in the file that it came from. */
  private void inForce(Document document, int from) {
    for (int i = from; i < problems.size(); i++) {
      Problem found = problems.get(i);
      String place = document.kind().word() + " " + document.name() + " (in force)";
      problems.set(
          i, new Problem(found.severity(), place, found.line(), found.column(), found.message()));
    }
  }

  /** By its template, or by one that jobs in its deviations come from. */
  private boolean hangs(ForEach forEach, Set<String> changed) {
    return changed.contains(forEach.template())
        || existing.documents().stream()
            .filter(one -> one.isMadeBy(forEach.name()))
            .anyMatch(one -> one.made().get().templates().stream().anyMatch(changed::contains));
  }

  /** A stream that a row makes cannot be written by itself as well. */
  private void takenByRows() {
    Map<String, Document> rows = new TreeMap<>();
    for (Document document : existing.documents()) {
      if (document.made().filter(Made::isRow).isPresent()
          && !readNames.contains(Kind.FOR_EACH.word() + " " + document.made().get().by())) {
        rows.put(document.name(), document);
      }
    }
    for (Document document : documents) {
      Document row = rows.get(document.name());
      if (document.kind() == Kind.STREAM
          && row != null
          && !document.made().map(Made::by).orElse("").equals(row.made().get().by())) {
        problems.add(
            document.error(
                "the stream \""
                    + document.name()
                    + "\" is "
                    + row.made().get().inWords()
                    + "; change that, or write what is other under its \"deviations\""));
      }
    }
  }

  /** Looks at a template by itself, filled with samples. */
  private void look(Document document, Template template) {
    Map<String, String> samples = new TreeMap<>();
    boolean guessed = false;
    for (TemplateParameter parameter : template.parameters().values()) {
      samples.put(parameter.name(), parameter.sample());
      guessed |= parameter.standard().isEmpty() && parameter.allowed().isEmpty();
    }
    List<Problem> found = new ArrayList<>();
    Page page = new Page(document.file(), found);
    Node body =
        new Trees.Filling(inWords(template.name()), samples, Optional.empty(), page::error)
            .fill(template.body());
    MappingNode stream =
        template.of() == Template.Of.JOB
            ? around(template, (MappingNode) body)
            : Trees.without((MappingNode) body, Making.CONTROL);
    if (circle(document, template)) {
      return;
    }
    Making making = new Making(templates, broken, page, template.name());
    DefinitionReader.stream(making.jobs(stream, true), document.file(), found);
    for (Problem problem : found) {
      if (template.of() == Template.Of.JOB && problem.message().startsWith("job \"" + SAMPLE)) {
        continue; // what a job needs as well may be said where the template is used
      }
      problems.add(
          guessed && problem.isError()
              ? Problem.warning(
                  problem.file(),
                  problem.line(),
                  problem.column(),
                  problem.message()
                      + " (looked at with samples; say the type of its parameters, or a default)")
              : problem);
    }
  }

  static String inWords(String template) {
    return "template \"" + template + "\"";
  }

  /** A stream of one job, to look at a template of a job. */
  private static MappingNode around(Template template, MappingNode job) {
    Node name = scalar(SAMPLE + "/" + template.name(), job);
    MappingNode jobs = mapping(List.of(new NodeTuple(scalar(SAMPLE, job), job)), job);
    return mapping(
        List.of(
            new NodeTuple(scalar("stream", job), name), new NodeTuple(scalar("jobs", job), jobs)),
        job);
  }

  private static ScalarNode scalar(String text, Node at) {
    return new ScalarNode(
        Tag.STR, true, text, ScalarStyle.PLAIN, at.getStartMark(), at.getEndMark());
  }

  private static MappingNode mapping(List<NodeTuple> tuples, Node at) {
    return new MappingNode(
        Tag.MAP,
        true,
        new ArrayList<>(tuples),
        FlowStyle.BLOCK,
        at.getStartMark(),
        at.getEndMark());
  }

  private boolean circle(Document document, Template template) {
    Deque<List<String>> open = new ArrayDeque<>();
    Set<String> seen = new HashSet<>();
    open.add(List.of(template.name()));
    while (!open.isEmpty()) {
      List<String> way = open.pop();
      for (String next : uses(way.get(way.size() - 1))) {
        List<String> on = new ArrayList<>(way);
        on.add(next);
        if (next.equals(template.name())) {
          problems.add(
              document.error(
                  "the template \""
                      + template.name()
                      + "\" comes from itself: "
                      + String.join(" from ", on)));
          return true;
        }
        if (seen.add(next)) {
          open.add(on);
        }
      }
    }
    return false;
  }

  private Set<String> uses(String template) {
    Template found = templates.get(template);
    return found == null ? Set.of() : found.uses();
  }

  private void make(DefinitionReader.Unfilled unfilled) {
    List<Problem> found = new ArrayList<>();
    Page page = new Page(unfilled.file(), found);
    Making making = new Making(templates, broken, page, "");
    MappingNode stream = making.stream(unfilled.node());
    if (page.errors() == 0) {
      DefinitionReader.stream(stream, unfilled.file(), found)
          .ifPresent(
              document ->
                  add(
                      document,
                      unfilled.text(),
                      unfilled.line(),
                      making.made(stream, "", 0),
                      found));
    }
    problems.addAll(found);
    if (page.errors() > 0) {
      broken.add(Kind.STREAM.word() + " " + unfilled.name());
    }
  }

  private void add(Document document, String text, int line, Made made, List<Problem> found) {
    if (found.stream().noneMatch(Problem::isError) && !isInForce(document, made, text)) {
      List<Document.Mention> mentions = new ArrayList<>(document.mentions());
      for (String template : made.templates()) {
        mentions.add(
            new Document.Mention(Document.What.TEMPLATE, template, "", document.name(), line, 1));
      }
      documents.add(
          new Document(
              document.kind(),
              document.name(),
              text,
              document.file(),
              line,
              document.value(),
              List.copyOf(mentions),
              document.jobs(),
              Optional.of(made)));
    }
  }

  /** Whether it has come out as it is in force, so that nothing of it is news. */
  private boolean isInForce(Document document, Made made, String text) {
    return existing
        .document(document.kind(), document.name())
        .filter(old -> old.made().equals(Optional.of(made)))
        .filter(old -> text.isEmpty() || old.text().equals(text))
        .isPresent();
  }

  /** Makes the streams of all rows, or none where a row is wrong. */
  private void make(Document document, ForEach forEach, Set<Document> gone) {
    Template template = templates.get(forEach.template());
    if (template == null) {
      return; // the check of names says it
    }
    if (template.of() == Template.Of.JOB) {
      problems.add(
          document.error(
              "the template \""
                  + template.name()
                  + "\" makes jobs; a for-each needs one of a stream (\"of-stream\")"));
      return;
    }
    if (!columnsFit(document, forEach, template)) {
      return;
    }
    int before = documents.size();
    Set<String> names = new TreeSet<>();
    boolean sound = true;
    for (Table.Row row : forEach.table().rows()) {
      sound &= row(forEach, template, row, names);
    }
    for (String path : forEach.deviations().keySet()) {
      if (sound && !names.contains(path)) {
        problems.add(
            document.error(
                "no row makes a stream \""
                    + path
                    + "\", which stands under \"deviations\""
                    + Nearest.hint(path, names)));
      }
    }
    if (!sound) {
      documents.subList(before, documents.size()).clear();
      broken.add(document.kind().word() + " " + document.name());
      names.forEach(name -> broken.add(Kind.STREAM.word() + " " + name));
      return;
    }
    for (Document old : existing.documents()) {
      if (old.made().filter(made -> made.by().equals(forEach.name())).isPresent()
          && !names.contains(old.name())
          && !readNames.contains(old.kind().word() + " " + old.name())) {
        gone.add(old);
      }
    }
  }

  private boolean columnsFit(Document document, ForEach forEach, Template template) {
    boolean fits = true;
    Set<String> known = template.parameters().keySet();
    for (String column : forEach.table().columns()) {
      if (!known.contains(column)) {
        fits = false;
        problems.add(
            Problem.error(
                forEach.table().file(),
                forEach.table().line(),
                1,
                "the column \""
                    + column
                    + "\" is not a parameter of template \""
                    + template.name()
                    + "\""
                    + Nearest.hint(column, known)));
      }
    }
    for (String name : forEach.with().keySet()) {
      if (!known.contains(name)) {
        fits = false;
        problems.add(
            document.error(
                "\""
                    + name
                    + "\" under \"with\" is not a parameter of template \""
                    + template.name()
                    + "\""
                    + Nearest.hint(name, known)));
      }
    }
    List<String> missing =
        template.required().stream()
            .filter(name -> !forEach.with().containsKey(name))
            .filter(name -> !forEach.table().columns().contains(name))
            .toList();
    if (!missing.isEmpty() && fits) {
      fits = false;
      problems.add(
          document.error(
              "template \""
                  + template.name()
                  + "\" needs a value for "
                  + String.join(", ", missing)
                  + ": a column of the table, or one under \"with\""));
    }
    return fits;
  }

  private boolean row(ForEach forEach, Template template, Table.Row row, Set<String> names) {
    List<Problem> found = new ArrayList<>();
    Page page = new Page(row.file(), found);
    Node place = place(row);
    Map<String, String> given = new LinkedHashMap<>(forEach.with());
    given.putAll(row.values());
    Making making = new Making(templates, broken, page, "");
    Optional<Map<String, String>> values =
        making.values(
            template,
            given,
            place,
            (name, wrong) -> row.inWords() + ", column \"" + name + "\": " + wrong);
    if (values.isPresent()) {
      MappingNode body =
          (MappingNode)
              new Trees.Filling(
                      inWords(template.name()), values.get(), Optional.of(place), page::error)
                  .fill(template.body());
      making.from(template.name(), values.get());
      String name = Trees.value(body, "stream").flatMap(Fields::scalar).orElse("");
      Node other = forEach.deviations().get(name);
      if (other instanceof MappingNode changes) {
        Node filled =
            new Trees.Filling(
                    "deviations of for-each \"" + forEach.name() + "\"",
                    values.get(),
                    Optional.of(place),
                    page::error)
                .fill(Trees.without(changes, Set.of("stream")));
        body = making.deviating(making.jobs(body, false), (MappingNode) filled);
      }
      MappingNode stream = making.jobs(Trees.without(body, Making.CONTROL), other != null);
      names.add(name);
      if (page.errors() == 0) {
        DefinitionReader.stream(stream, row.file(), found)
            .ifPresent(
                document ->
                    add(
                        document,
                        "",
                        row.line(),
                        making.made(stream, forEach.name(), row.number()),
                        found));
      }
    }
    problems.addAll(found);
    return found.stream().noneMatch(Problem::isError);
  }

  private static Node place(Table.Row row) {
    Mark mark = new Mark(row.file(), 0, row.line() - 1, row.column() - 1, new int[0], 0);
    return new ScalarNode(
        Tag.STR, true, "", ScalarStyle.PLAIN, Optional.of(mark), Optional.empty());
  }
}

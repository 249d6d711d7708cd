package dev.purser.core.reading;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.template.FilledText;
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
import java.util.stream.Collectors;
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
  private static final Set<String> CONTROL = Set.of(TemplateReader.FROM, TemplateReader.WITH);
  private static final int MOST_NAMED = 6;
  private static final int DEEPEST = 10;
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
            : Trees.without((MappingNode) body, CONTROL);
    if (circle(document, template)) {
      return;
    }
    Making making = new Making(page, template.name());
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

  private static String inWords(String template) {
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
    Making making = new Making(page, "");
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
                    + "\" is no parameter of template \""
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
                    + "\" under \"with\" is no parameter of template \""
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
    Making making = new Making(page, "");
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
      MappingNode stream = making.jobs(Trees.without(body, CONTROL), other != null);
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

  /** How a value that does not fit is told. */
  private interface Telling {
    String inWords(String name, String wrong);
  }

  /** One stream while it is made. */
  private final class Making {
    private final Page page;
    private final Set<String> used = new TreeSet<>();
    private final List<String> deviations = new ArrayList<>();
    private String template = "";
    private Map<String, String> values = Map.of();

    /**
     * A stream that is made.
     *
     * @param within the template that is looked at; empty for a stream of its own
     */
    Making(Page page, String within) {
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
     * What a template made, with what is other. Its jobs are made before, so that a key can be
     * taken away that comes from their own templates; one that comes from another template now
     * begins anew.
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
              new Trees.Filling(inWords(name), all.get(), Optional.of(from), page::error)
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
            page.error(
                tuple.getValueNode(), "expected plain text for \"" + Trees.key(tuple) + "\"");
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
                  + "\" is no parameter of template \""
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
}

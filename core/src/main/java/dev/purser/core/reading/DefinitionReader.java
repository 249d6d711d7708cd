package dev.purser.core.reading;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Level;
import dev.purser.core.definition.Spot;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.parameter.Given;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.template.ForEach;
import dev.purser.core.template.Trees;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.AnchorNode;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Reads definition files; reports every problem of every file, not only the first. */
public final class DefinitionReader {
  /** A longer file is refused before it is read. */
  public static final int MAX_FILE_CHARACTERS = 4_000_000;

  private static final LoadSettings SETTINGS =
      LoadSettings.builder()
          .setUseMarks(true)
          .setAllowDuplicateKeys(true)
          .setMaxAliasesForCollections(50)
          .setCodePointLimit(MAX_FILE_CHARACTERS)
          .build();
  private final List<Document> documents = new ArrayList<>();
  private final List<Problem> problems = new ArrayList<>();
  private final Set<String> broken = new LinkedHashSet<>();
  private final List<Unfilled> unfilled = new ArrayList<>();
  private TableFiles tables = new TableFiles(List.of());

  /** How many of the problems are errors, and up to which they have been counted. */
  private long errors;

  private int counted;
  private Page page;
  private SourceFile source;
  private int[] points = {};
  private Mentions mentions;
  private Map<String, Document.Place> jobs = Map.of();

  private DefinitionReader() {}

  /**
   * What was read, and what was wrong.
   *
   * @param documents those without errors
   * @param broken kind and name of those with errors: what mentions them is not wrong for it
   * @param unfilled streams that say from which template they, or jobs of them, come
   * @param gone what is in force and is not made any more
   * @param filled whether {@link FromTemplates} has seen to it
   */
  public record Reading(
      List<Document> documents,
      List<Problem> problems,
      Set<String> broken,
      List<Unfilled> unfilled,
      List<Document> gone,
      boolean filled) {

    /** Several, as if their files had been read at once. */
    public static Reading together(List<Reading> all) {
      return new Reading(
          all.stream().flatMap(one -> one.documents().stream()).toList(),
          all.stream().flatMap(one -> one.problems().stream()).toList(),
          all.stream().flatMap(one -> one.broken().stream()).collect(Collectors.toSet()),
          all.stream().flatMap(one -> one.unfilled().stream()).toList(),
          all.stream().flatMap(one -> one.gone().stream()).toList(),
          false);
    }

    /**
     * The same, and some of what is in force goes with it; what rows of a table made goes with the
     * table.
     */
    public Reading without(List<Document> withdrawn, Definitions inForce) {
      if (withdrawn.isEmpty()) {
        return this;
      }
      Set<Document> all = new LinkedHashSet<>(gone);
      all.addAll(withdrawn);
      for (Document document : inForce.documents()) {
        if (withdrawn.stream()
            .filter(one -> one.kind() == Kind.FOR_EACH)
            .anyMatch(one -> document.isMadeBy(one.name()))) {
          all.add(document);
        }
      }
      List<String> read = documents.stream().map(one -> one.kind() + " " + one.name()).toList();
      return new Reading(
          documents,
          problems,
          broken,
          unfilled,
          all.stream().filter(one -> !read.contains(one.kind() + " " + one.name())).toList(),
          filled);
    }

    /** The same with other documents. */
    Reading with(List<Document> others) {
      return new Reading(others, problems, broken, unfilled, gone, filled);
    }
  }

  /**
   * A stream as it is written, before templates are filled in.
   *
   * @param name its path, as far as it is said
   * @param text as it is written
   */
  public record Unfilled(String name, MappingNode node, String file, int line, String text) {}

  /** Reads files. Names are not looked up; {@code DefinitionCheck} does that. */
  public static Reading read(List<SourceFile> files) {
    DefinitionReader reader = new DefinitionReader();
    reader.tables = new TableFiles(files);
    files.stream().filter(file -> !TableFiles.isTable(file)).forEach(reader::readFile);
    return new Reading(
        List.copyOf(reader.documents),
        List.copyOf(reader.problems),
        Set.copyOf(reader.broken),
        List.copyOf(reader.unfilled),
        List.of(),
        false);
  }

  /**
   * Reads one stream that was made.
   *
   * @param problems takes what is wrong
   * @return empty where something is
   */
  static Optional<Document> stream(MappingNode node, String file, List<Problem> problems) {
    DefinitionReader reader = new DefinitionReader();
    reader.source = new SourceFile(file, "");
    reader.page = new Page(file, reader.problems);
    if (node.getValue().isEmpty()) {
      reader.page.error(node, "the template makes nothing");
    } else {
      reader.readSound(Kind.STREAM, node, "");
    }
    problems.addAll(reader.problems);
    return reader.documents.stream().findFirst();
  }

  private void readFile(SourceFile file) {
    source = file;
    page = new Page(file.name(), problems);
    if (file.text().length() > MAX_FILE_CHARACTERS) {
      problems.add(
          Problem.error(
              file.name(),
              0,
              0,
              "the file has "
                  + file.text().length()
                  + " characters; at most "
                  + MAX_FILE_CHARACTERS
                  + " are read"));
      return;
    }
    points = file.text().codePoints().toArray(); // marks count them
    try {
      for (Node node : new Compose(SETTINGS).composeAllFromString(file.text())) {
        if (!isEmpty(node)) {
          readDocument(node);
        }
      }
    } catch (YamlEngineException e) {
      problems.add(BrokenYaml.problem(file.name(), e));
    }
  }

  private static boolean isEmpty(Node node) {
    return node instanceof ScalarNode scalar && scalar.getValue().isEmpty();
  }

  private void readDocument(Node node) {
    if (!(node instanceof MappingNode mapping) || mapping.getValue().isEmpty()) {
      page.error(node, "expected a definition that begins with " + String.join(", ", Kind.words()));
      return;
    }
    Optional<Node> anchor = anchor(node);
    if (anchor.isPresent()) {
      page.error(
          anchor.get(),
          "a definition must not use YAML anchors and aliases (& and *); write it out");
      return;
    }
    List<String> keys = mapping.getValue().stream().map(DefinitionReader::keyText).toList();
    Optional<Kind> kind =
        keys.contains("file-watch")
            ? Optional.of(Kind.FILE_WATCH)
            : keys.stream().flatMap(key -> Kind.of(key).stream()).findFirst();
    if (kind.isEmpty()) {
      page.error(
          mapping.getValue().get(0).getKeyNode(),
          "unknown kind of definition \""
              + keys.get(0)
              + "\""
              + Nearest.hint(keys.get(0), Kind.words()));
      return;
    }
    if (kind.get() == Kind.STREAM && !TemplateReader.fromNodes(node).isEmpty()) {
      String name = Trees.value(node, Kind.STREAM.word()).flatMap(Fields::scalar).orElse("");
      unfilled.add(new Unfilled(name, mapping, source.name(), Page.line(node), textOf(node)));
    } else {
      readSound(kind.get(), node, textOf(node));
    }
  }

  /** Reads a definition of a known kind. */
  private void readSound(Kind kind, Node node, String text) {
    mentions = new Mentions();
    jobs = new HashMap<>();
    long before = errors();
    Fields fields = new Fields(page, node, KeyTables.of(kind), "a " + kind.title());
    String name =
        switch (kind) {
          case STREAM -> fields.path("stream");
          case PARAMETERS -> level(fields);
          case ALERTS -> alertLevel(fields);
          default -> fields.name(kind.word());
        };
    Object value = read(kind, name, fields);
    String whole = errors() == before && kind == Kind.FOR_EACH ? whole(text, node, value) : text;
    if (errors() == before) {
      documents.add(
          new Document(
              kind, name, whole, source.name(), Page.line(node), value, mentions.all(), jobs));
    } else {
      broken.add(kind.word() + " " + name);
    }
  }

  /** With the rows of its file; what is kept must be read again by itself. */
  private String whole(String text, Node node, Object forEach) {
    String whole = WholeTable.in(text, node, (ForEach) forEach);
    if (whole.length() > MAX_FILE_CHARACTERS) {
      page.error(
          node,
          "with the rows of its file it has "
              + whole.length()
              + " characters; at most "
              + MAX_FILE_CHARACTERS
              + " are kept; split the table");
    }
    return whole;
  }

  private long errors() {
    for (; counted < problems.size(); counted++) {
      errors += problems.get(counted).isError() ? 1 : 0;
    }
    return errors;
  }

  private static String keyText(NodeTuple tuple) {
    return tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
  }

  /** The first node below another that is given a name for aliases, or is the place of one. */
  private static Optional<Node> anchor(Node root) {
    Deque<Node> open = new ArrayDeque<>(List.of(root));
    while (!open.isEmpty()) {
      Node node = open.pop();
      if (node instanceof AnchorNode || node.getAnchor().isPresent()) {
        return Optional.of(node); // before what it holds: an alias in it would go in a circle
      }
      if (node instanceof MappingNode mapping) {
        for (NodeTuple tuple : mapping.getValue()) {
          open.push(tuple.getKeyNode());
          open.push(tuple.getValueNode());
        }
      } else if (node instanceof SequenceNode list) {
        list.getValue().forEach(open::push);
      }
    }
    return Optional.empty();
  }

  private String textOf(Node node) {
    int start = node.getStartMark().map(Mark::getIndex).orElse(0);
    int end = node.getEndMark().map(Mark::getIndex).orElse(points.length);
    return new String(points, start, Math.min(end, points.length) - start).strip() + "\n";
  }

  private Object read(Kind kind, String name, Fields fields) {
    return switch (kind) {
      case STREAM -> stream(name, fields);
      case HOLIDAY_CALENDAR -> new CalendarReader(page, mentions).holidays(name, fields);
      case BUSINESS_CALENDAR -> new CalendarReader(page, mentions).business(name, fields);
      case PERIOD -> new CalendarReader(page, mentions).period(name, fields);
      case CONNECTION -> new ConnectionReader(page, mentions).read(name, fields);
      case REMOTE_SERVICE -> new RemoteServiceReader(page, mentions).read(name, fields);
      case HOST ->
          new HostDefinition(
              name,
              fields.text("title", name),
              names(fields, "labels"),
              fields.number("at-most", 1, 100_000).orElse(0),
              fields.duration("lost-after").orElse(HostDefinition.USUAL_LOST_AFTER));
      case HOST_GROUP -> hostGroup(name, fields);
      case FILE_WATCH -> new FileWatchReader(page, mentions).read(name, fields);
      case CAPACITY -> capacity(name, fields);
      case COMMITMENT -> new CommitmentReader(page, mentions).read(name, fields);
      case PARAMETERS -> parameters(name, fields);
      case RECIPIENT -> new RecipientReader(page, mentions).read(name, fields);
      case DUTY -> new DutyReader(page, mentions).read(name, fields);
      case TEMPLATE -> new TemplateReader(page, mentions).read(name, fields);
      case FOR_EACH -> new ForEachReader(page, mentions, tables).read(name, fields);
      case ALERTS -> new AlertLevelReader(page, mentions).read(name, fields);
    };
  }

  private Stream stream(String path, Fields fields) {
    String calendar = fields.has("calendar") ? fields.name("calendar") : "";
    if (!calendar.isEmpty()) {
      mentions.add(fields, "calendar", Document.What.BUSINESS_CALENDAR, calendar, path, path);
    }
    for (Fields.Item item : fields.items("alerts-to")) {
      mentions.add(item.node(), 1, Document.What.RECIPIENT, item.text(), path, path);
    }
    Given parameters = Placeholders.given(page, mentions, fields, "parameters", path, path);
    List<Schedule> schedule = schedule(path, fields);
    JobReader reader = new JobReader(page, mentions, path, fields.number("priority", 0, 100));
    List<Job> all = new ArrayList<>();
    for (Fields.Entry entry : fields.entries("jobs")) {
      all.add(reader.read(entry));
      jobs.put(
          entry.name(), new Document.Place(Page.line(entry.key()), Page.columnIn(entry.key(), 1)));
    }
    if (fields.has("jobs") && all.isEmpty()) {
      page.error(fields.at("jobs"), "a stream needs at least one job");
    }
    List<String> asksFor = fields.items("asks-for").stream().map(Fields.Item::text).toList();
    return new Stream(
        path,
        fields.text("title", path),
        fields.text("about", ""),
        fields.text("department", ""),
        fields.text("owner", ""),
        fields.items("alerts-to").stream().map(Fields.Item::text).toList(),
        calendar,
        schedule,
        new FileWatchReader(page, mentions).startsOn(path, fields),
        fields.has("paused") ? Optional.of(fields.flag("paused")) : Optional.empty(),
        parameters,
        asksFor,
        succeedsIf(fields, all),
        new AlertRuleReader(page, mentions).read(fields, path, path),
        fields.text("when-it-fails", ""),
        JobReader.tags(page, fields),
        places(fields, all),
        all);
  }

  private Map<String, Spot> places(Fields fields, List<Job> jobs) {
    Set<String> known = jobs.stream().map(Job::name).collect(Collectors.toSet());
    Map<String, Spot> places = new LinkedHashMap<>();
    fields
        .texts("places")
        .forEach(
            (name, text) -> {
              Optional<Spot> spot = Spot.of(text);
              if (spot.isEmpty()) {
                page.error(
                    fields.at("places"),
                    "where " + name + " stands is two whole numbers, such as: 40 120");
              } else if (!known.contains(name)) {
                page.warning(
                    fields.at("places"),
                    "there is no job " + name + " to be placed" + Nearest.hint(name, known));
              } else {
                places.put(name, spot.get());
              }
            });
    return places;
  }

  private SuccessRule succeedsIf(Fields fields, List<Job> jobs) {
    List<String> known = jobs.stream().map(Job::name).toList();
    List<Fields.Item> items = fields.items("succeeds-if");
    if (items.isEmpty() || (items.size() == 1 && items.get(0).text().equals("all"))) {
      return SuccessRule.ALL;
    }
    if (items.size() == 1 && items.get(0).text().equals("any")) {
      return SuccessRule.ANY;
    }
    for (Fields.Item item : items) {
      if (!known.contains(item.text())) {
        page.error(
            item.node(),
            "unknown job \""
                + item.text()
                + "\" in \"succeeds-if\""
                + Nearest.hint(item.text(), known));
      }
    }
    return new SuccessRule(0, items.stream().map(Fields.Item::text).toList());
  }

  private String level(Fields fields) {
    String text = fields.text("parameters-of", "");
    boolean known =
        text.equals(Level.SITE)
            || text.matches("environment [a-z0-9][a-z0-9._-]*")
            || text.matches("department \\S.{0,99}");
    if (!text.isEmpty() && !known) {
      page.error(
          fields.at("parameters-of"),
          "cannot read \""
              + text
              + "\"; expected site, environment NAME or department NAME, as in"
              + " \"department Passenger services\"");
    }
    return text;
  }

  private String alertLevel(Fields fields) {
    String text = fields.text("alerts-of", "");
    boolean known = text.equals(Level.SITE) || text.matches("department \\S.{0,99}");
    if (!text.isEmpty() && !known) {
      page.error(
          fields.at("alerts-of"),
          "cannot read \""
              + text
              + "\"; expected site or department NAME, as in \"department Passenger services\"");
    }
    return text;
  }

  private Level parameters(String of, Fields fields) {
    Given values = fields.parameters("values");
    values.texts().values().forEach(value -> Placeholders.dates(page, fields.at("values"), value));
    return new Level(of, fields.text("title", of), values);
  }

  private Capacity capacity(String name, Fields fields) {
    List<Capacity.Span> spans = new ArrayList<>();
    for (Node node : fields.list("spans")) {
      Fields span = new Fields(page, node, KeyTables.SPAN, "a span");
      spans.add(
          new Capacity.Span(
              span.time("from").orElse(LocalTime.MIDNIGHT),
              span.endTime("to").orElse(LocalTime.MIDNIGHT),
              span.number("units", 0, 1_000_000).orElse(0)));
    }
    return new Capacity(
        name,
        fields.text("title", name),
        fields.number("units", 0, 1_000_000).orElse(0),
        fields.zone("zone").orElse(ZoneOffset.UTC),
        spans);
  }

  private List<Schedule> schedule(String path, Fields fields) {
    return fields.has("schedule")
        ? new ScheduleReader(page, mentions, path).read(fields.at("schedule"))
        : List.of();
  }

  private HostGroup hostGroup(String name, Fields fields) {
    if (fields.has("labels") == fields.has("hosts")) {
      page.error(fields.at("host-group"), "a host group needs either labels or hosts");
    }
    for (Fields.Item item : fields.items("hosts")) {
      mentions.add(item.node(), 1, Document.What.HOST, item.text(), "", name);
    }
    return new HostGroup(
        name,
        fields.text("title", name),
        names(fields, "labels"),
        names(fields, "hosts"),
        new AlertRuleReader(page, mentions)
            .only(EnumSet.of(AlertKind.HOST), "a host group")
            .read(fields, "host group " + name, ""));
  }

  private static Set<String> names(Fields fields, String key) {
    return fields.items(key).stream()
        .map(Fields.Item::text)
        .collect(Collectors.toCollection(LinkedHashSet::new));
  }
}

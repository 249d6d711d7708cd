package dev.purser.core.definition;

import dev.purser.core.board.AlertKind;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.parameter.Template;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.prerequisite.PrerequisiteParser;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Schedule;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.AnchorNode;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** Reads definition files; reports every problem of every file, not only the first. */
public final class DefinitionReader {
  /** A longer file is refused before it is read. */
  public static final int MAX_FILE_CHARACTERS = 4_000_000;

  private static final Set<String> GIVEN_PLACEHOLDERS =
      Set.of("run", "stream", "job", "attempt", "host");

  private final LoadSettings settings =
      LoadSettings.builder()
          .setUseMarks(true)
          .setAllowDuplicateKeys(true)
          .setMaxAliasesForCollections(50)
          .setCodePointLimit(MAX_FILE_CHARACTERS)
          .build();
  private final List<Document> documents = new ArrayList<>();
  private final List<Problem> problems = new ArrayList<>();
  private final Set<String> broken = new LinkedHashSet<>();

  private Page page;
  private SourceFile source;
  private Mentions mentions;

  private DefinitionReader() {}

  /**
   * What was read, and what was wrong.
   *
   * @param documents those without errors
   * @param broken kind and name of those with errors: what mentions them is not wrong for it
   */
  public record Reading(List<Document> documents, List<Problem> problems, Set<String> broken) {}

  /** Reads files. Names are not looked up; {@link DefinitionCheck} does that. */
  public static Reading read(List<SourceFile> files) {
    DefinitionReader reader = new DefinitionReader();
    files.forEach(reader::readFile);
    return new Reading(
        List.copyOf(reader.documents), List.copyOf(reader.problems), Set.copyOf(reader.broken));
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
    try {
      for (Node node : new Compose(settings).composeAllFromString(file.text())) {
        if (!isEmpty(node)) {
          readDocument(node);
        }
      }
    } catch (MarkedYamlEngineException e) {
      Mark mark = e.getProblemMark().orElse(null);
      int line = mark == null ? 0 : mark.getLine() + 1;
      int column = mark == null ? 0 : mark.getColumn() + 1;
      problems.add(Problem.error(file.name(), line, column, "this is no YAML: " + e.getProblem()));
    } catch (YamlEngineException e) {
      problems.add(Problem.error(file.name(), 0, 0, "cannot read this YAML: " + e.getMessage()));
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
    if (aliases(node)) {
      page.error(
          node, "a definition must not use YAML anchors and aliases (& and *); write it out");
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
    mentions = new Mentions();
    long before = errors();
    Fields fields = new Fields(page, node, Keys.of(kind.get()), "a " + kind.get().title());
    String name =
        kind.get() == Kind.STREAM ? fields.path("stream") : fields.name(kind.get().word());
    Object value = read(kind.get(), name, fields);
    if (errors() == before) {
      documents.add(
          new Document(
              kind.get(),
              name,
              textOf(node),
              source.name(),
              Page.line(node),
              value,
              mentions.all()));
    } else {
      broken.add(kind.get().word() + " " + name);
    }
  }

  private long errors() {
    return problems.stream().filter(Problem::isError).count();
  }

  private static String keyText(NodeTuple tuple) {
    return tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
  }

  /** Whether a node occurs twice below another: only an alias does that. */
  private static boolean aliases(Node root) {
    Set<Node> seen = java.util.Collections.newSetFromMap(new java.util.IdentityHashMap<>());
    List<Node> open = new ArrayList<>(List.of(root));
    while (!open.isEmpty()) {
      Node node = open.remove(open.size() - 1);
      if (node instanceof AnchorNode || !seen.add(node)) {
        return true;
      }
      if (node instanceof MappingNode mapping) {
        for (NodeTuple tuple : mapping.getValue()) {
          open.add(tuple.getKeyNode());
          open.add(tuple.getValueNode());
        }
      } else if (node instanceof org.snakeyaml.engine.v2.nodes.SequenceNode list) {
        open.addAll(list.getValue());
      }
    }
    return false;
  }

  private String textOf(Node node) {
    int start = node.getStartMark().map(Mark::getIndex).orElse(0);
    int end = node.getEndMark().map(Mark::getIndex).orElse(source.text().length());
    int[] points = source.text().codePoints().toArray();
    return new String(points, start, Math.min(end, points.length) - start).strip() + "\n";
  }

  private Object read(Kind kind, String name, Fields fields) {
    return switch (kind) {
      case STREAM -> stream(name, fields);
      case HOLIDAY_CALENDAR -> new CalendarReader(page, mentions).holidays(name, fields);
      case BUSINESS_CALENDAR -> new CalendarReader(page, mentions).business(name, fields);
      case PERIOD -> new CalendarReader(page, mentions).period(name, fields);
      case CONNECTION -> connection(name, fields);
      case HOST -> new HostDefinition(name, fields.text("title", name), names(fields, "labels"));
      case HOST_GROUP -> hostGroup(name, fields);
      case FILE_WATCH -> fileWatch(name, fields);
      case CAPACITY ->
          new Capacity(
              name, fields.text("title", name), fields.number("units", 0, 1_000_000).orElse(0));
      case RECIPIENT -> recipient(name, fields);
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
    Map<String, String> parameters = fields.texts("parameters");
    List<Schedule> schedule = schedule(path, fields);
    Set<String> placeholders = placeholders(parameters, schedule);
    List<Job> jobs = new ArrayList<>();
    for (Fields.Entry entry : fields.entries("jobs")) {
      if (!Fields.isName(entry.name())) {
        page.error(
            entry.key(),
            "\""
                + entry.name()
                + "\" is no name for a job; expected lower-case letters, digits and dashes");
      }
      jobs.add(job(path, entry, placeholders));
    }
    if (fields.has("jobs") && jobs.isEmpty()) {
      page.error(fields.at("jobs"), "a stream needs at least one job");
    }
    return new Stream(
        path,
        fields.text("title", path),
        fields.text("about", ""),
        fields.text("department", ""),
        fields.text("owner", ""),
        fields.items("alerts-to").stream().map(Fields.Item::text).toList(),
        calendar,
        schedule,
        fields.has("paused") ? Optional.of(fields.flag("paused")) : Optional.empty(),
        parameters,
        jobs);
  }

  private List<Schedule> schedule(String path, Fields fields) {
    return fields.has("schedule")
        ? new ScheduleReader(page, mentions, path).read(fields.at("schedule"))
        : List.of();
  }

  /** What every start of the stream gives a value to. */
  private static Set<String> placeholders(Map<String, String> parameters, List<Schedule> schedule) {
    Set<String> placeholders = new TreeSet<>();
    schedule.forEach(entry -> placeholders.addAll(entry.parameters().keySet()));
    schedule.forEach(entry -> placeholders.retainAll(entry.parameters().keySet()));
    placeholders.addAll(parameters.keySet());
    placeholders.addAll(GIVEN_PLACEHOLDERS);
    if (schedule.stream().anyMatch(Schedule::hasWindows)) {
      placeholders.addAll(List.of("window.start", "window.end"));
    }
    return placeholders;
  }

  private Optional<DayRule> rule(Fields fields, String key, String stream, String path) {
    Optional<DayRule> rule = fields.phrase(key, DayRuleParser::parse);
    rule.ifPresent(
        found -> mentions.add(found, fields.at(key), fields.text(key, ""), stream, path));
    return rule;
  }

  private Job job(String stream, Fields.Entry entry, Set<String> placeholders) {
    String path = stream + "/" + entry.name();
    Fields fields = new Fields(page, entry.value(), Keys.JOB, "job \"" + entry.name() + "\"");
    Work work = work(entry, fields, placeholders);
    Map<String, String> environment = fields.texts("environment");
    environment.values().forEach(v -> template(fields.at("environment"), v, placeholders));
    return new Job(
        entry.name(),
        fields.text("title", entry.name()),
        work,
        placement(path, work, entry, fields),
        waitsFor(stream, path, fields),
        rule(fields, "days", stream, path),
        rule(fields, "only-on", stream, path),
        fields.time("not-before"),
        fields.durations("usually"),
        fields.duration("stop-after"),
        fields.duration("grace").orElse(Duration.ofSeconds(10)),
        fields.has("retry") ? retry(fields.at("retry")) : Retry.NEVER,
        fields.time("start-by"),
        fields.time("finish-by"),
        takes(path, fields),
        fields.text("directory", ""),
        environment,
        fields.flag("may-repeat"));
  }

  private Work work(Fields.Entry entry, Fields fields, Set<String> placeholders) {
    if (fields.has("run") == fields.has("approve")) {
      page.error(
          entry.key(),
          "job \""
              + entry.name()
              + "\" needs exactly one of run (a command) and approve (a question)");
    }
    if (fields.has("approve")) {
      return new Work.Approval(fields.text("approve", ""));
    }
    String line = fields.text("run", "");
    template(fields.at("run"), line, placeholders);
    return new Work.Command(line);
  }

  private void template(Node node, String text, Set<String> placeholders) {
    try {
      Template.check(text, placeholders);
    } catch (Template.TemplateException e) {
      page.error(node, e.getMessage());
    }
  }

  private Placement placement(String path, Work work, Fields.Entry entry, Fields fields) {
    if (work instanceof Work.Approval) {
      if (fields.has("host")) {
        page.error(fields.at("host"), "an approval runs on no host; leave \"host\" out");
      }
      return new Placement.Nowhere();
    }
    if (!fields.has("host")) {
      page.error(entry.key(), "job \"" + entry.name() + "\" has no \"host\" to run on");
      return new Placement.Nowhere();
    }
    String text = fields.text("host", "");
    if (text.startsWith("any of ")) {
      String group = text.substring("any of ".length()).strip();
      mentions.add(fields, "host", Document.What.HOST_GROUP, group, "", path);
      return new Placement.AnyOf(group);
    }
    if (text.contains(" ")) {
      page.error(
          fields.at("host"),
          "cannot read the host \"" + text + "\"; expected a host's name or \"any of GROUP\"");
    } else {
      mentions.add(fields, "host", Document.What.HOST, text, "", path);
    }
    return new Placement.OnHost(text);
  }

  private Optional<Prerequisite> waitsFor(String stream, String path, Fields fields) {
    Optional<PrerequisiteParser.Parsed> parsed =
        fields.phrase("waits-for", PrerequisiteParser::parse);
    parsed.ifPresent(
        found -> {
          for (PrerequisiteParser.Mention mention : found.mentions()) {
            Document.What what =
                mention.isFile() ? Document.What.FILE_WATCH : Document.What.JOB_OR_STREAM;
            mentions.add(
                fields.at("waits-for"), mention.column(), what, mention.name(), stream, path);
          }
        });
    return parsed.map(PrerequisiteParser.Parsed::prerequisite);
  }

  private Retry retry(Node node) {
    Fields fields = new Fields(page, node, Keys.RETRY, "a retry");
    return new Retry(
        fields.number("times", 0, 99).orElse(0),
        fields.duration("wait").orElse(Duration.ofMinutes(1)),
        fields.flag("on-stop-after"));
  }

  private Map<String, Integer> takes(String path, Fields fields) {
    Map<String, Integer> takes = new LinkedHashMap<>();
    for (Fields.Entry entry : fields.entries("takes")) {
      mentions.add(entry.key(), 1, Document.What.CAPACITY, entry.name(), "", path);
      String text = entry.value() instanceof ScalarNode scalar ? scalar.getValue() : "";
      if (text.matches("[1-9]\\d{0,5}")) {
        takes.put(entry.name(), Integer.parseInt(text));
      } else {
        page.error(entry.value(), "expected a whole number of units of \"" + entry.name() + "\"");
      }
    }
    return takes;
  }

  private Connection connection(String name, Fields fields) {
    String address = fields.text("address", "");
    if (!address.isEmpty() && !address.matches("https?://[^\\s]+")) {
      page.error(fields.at("address"), "expected an http:// or https:// address");
    }
    return new Connection(name, fields.text("title", name), address);
  }

  private HostGroup hostGroup(String name, Fields fields) {
    if (fields.has("labels") == fields.has("hosts")) {
      page.error(fields.at("host-group"), "a host group needs either labels or hosts");
    }
    for (Fields.Item item : fields.items("hosts")) {
      mentions.add(item.node(), 1, Document.What.HOST, item.text(), "", name);
    }
    return new HostGroup(
        name, fields.text("title", name), names(fields, "labels"), names(fields, "hosts"));
  }

  private FileWatch fileWatch(String name, Fields fields) {
    String path = fields.text("path", "");
    if (!path.isEmpty() && !path.startsWith("/")) {
      page.error(fields.at("path"), "expected an absolute path, but \"" + path + "\" is not");
    }
    if (path.contains("*") && path.substring(0, path.lastIndexOf('/')).contains("*")) {
      page.error(fields.at("path"), "* may stand only in the last part of the path");
    }
    template(fields.at("path"), path, Set.of());
    mentions.add(fields, "host", Document.What.HOST, fields.text("host", ""), "", name);
    return new FileWatch(
        name,
        fields.text("title", name),
        fields.text("host", ""),
        path,
        fields.duration("still-for").orElse(Duration.ofSeconds(10)),
        fields.bytes("minimum-size").orElse(1L));
  }

  private Recipient recipient(String name, Fields fields) {
    Set<AlertKind> receives = EnumSet.noneOf(AlertKind.class);
    for (Fields.Item item : fields.items("receives")) {
      Optional<AlertKind> kind = AlertKind.of(item.text());
      kind.ifPresent(receives::add);
      if (kind.isEmpty()) {
        page.error(
            item.node(),
            "unknown kind of alert \""
                + item.text()
                + "\""
                + Nearest.hint(item.text(), AlertKind.words()));
      }
    }
    for (Fields.Item item : fields.items("mail")) {
      if (!item.text().matches("[^@\\s<>,]+@[^@\\s<>,]+")) {
        page.error(item.node(), "\"" + item.text() + "\" is no e-mail address");
      }
    }
    String webhook = fields.text("webhook", "");
    if (!webhook.isEmpty() && !webhook.matches("https?://\\S+")) {
      page.error(fields.at("webhook"), "expected an http:// or https:// address");
    }
    return new Recipient(
        name,
        fields.text("title", name),
        fields.items("mail").stream().map(Fields.Item::text).toList(),
        webhook,
        fields.has("receives") ? receives : EnumSet.allOf(AlertKind.class));
  }

  private static Set<String> names(Fields fields, String key) {
    return fields.items(key).stream()
        .map(Fields.Item::text)
        .collect(Collectors.toCollection(LinkedHashSet::new));
  }
}

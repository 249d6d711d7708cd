package dev.purser.core.definition;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.parameter.Template;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.prerequisite.PrerequisiteParser;
import dev.purser.core.problem.Nearest;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** Reads the jobs of one stream. */
final class JobReader {
  private static final String WITH_FILE = "with the file";
  private static final List<String> KINDS = List.of("run", "approve", "stream");
  private static final List<String> ONLY_ON_HOSTS =
      List.of(
          "host",
          "stop-after",
          "grace",
          "retry",
          "directory",
          "environment",
          "may-repeat",
          "user",
          "succeeds-if",
          "succeeds-with");

  private static final Pattern OF_GROUP =
      Pattern.compile("(any|each|[1-9]\\d{0,2}) of ([a-z0-9][a-z0-9._-]*)");
  private static final Pattern AT_LEAST = Pattern.compile("at least ([1-9]\\d{0,3})");

  private final Page page;
  private final Mentions mentions;
  private final String stream;
  private final int usualPriority;

  /**
   * Reads for one stream.
   *
   * @param priority of its jobs, where they say nothing and the stream does
   */
  JobReader(Page page, Mentions mentions, String stream, Optional<Integer> priority) {
    this.page = page;
    this.mentions = mentions;
    this.stream = stream;
    this.usualPriority = priority.orElse(Job.USUAL_PRIORITY);
  }

  Job read(Fields.Entry entry) {
    if (!Fields.isName(entry.name())) {
      page.error(
          entry.key(),
          "\""
              + entry.name()
              + "\" is no name for a job; expected lower-case letters, digits and dashes");
    }
    String path = stream + "/" + entry.name();
    Fields fields = new Fields(page, entry.value(), Keys.JOB, "job \"" + entry.name() + "\"");
    Work work = work(path, entry, fields);
    Placement placement = placement(path, work, entry, fields);
    work = inParts(work, placement, fields);
    Map<String, String> environment = fields.texts("environment");
    environment.values().forEach(v -> template(fields.at("environment"), v, path));
    return new Job(
        entry.name(),
        fields.text("title", entry.name()),
        work,
        placement,
        waitsFor(path, fields),
        rule(fields, "days", path),
        rule(fields, "only-on", path),
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
        repeat(fields),
        fields.text("user", ""),
        parameters(page, mentions, fields, "parameters", stream, path),
        onlyIf(path, work, fields),
        codes(fields, "succeeds-with").orElse(ExitCodes.ZERO),
        overlap(fields),
        fields.number("priority", 0, 100).orElse(usualPriority),
        tags(page, fields));
  }

  /** Tags are names, so that a filter can list them. */
  static List<String> tags(Page page, Fields fields) {
    List<String> tags = new ArrayList<>();
    for (Fields.Item item : fields.items("tags")) {
      if (!Fields.isName(item.text())) {
        page.error(
            item.node(),
            "\""
                + item.text()
                + "\" is no tag; expected lower-case letters, digits, dots and dashes");
      }
      tags.add(item.text());
    }
    return tags;
  }

  private Optional<DayRule> rule(Fields fields, String key, String path) {
    Optional<DayRule> rule = fields.phrase(key, DayRuleParser::parse);
    rule.ifPresent(
        found -> mentions.add(found, fields.at(key), fields.text(key, ""), stream, path));
    return rule;
  }

  private Work work(String path, Fields.Entry entry, Fields fields) {
    List<String> given = KINDS.stream().filter(fields::has).toList();
    if (given.size() != 1) {
      page.error(
          entry.key(),
          "job \""
              + entry.name()
              + "\" needs exactly one of run (a command), approve (a question) and stream (another"
              + " stream as a step)"
              + (given.isEmpty() ? "" : "; it has " + String.join(" and ", given)));
    }
    if (fields.has("answer") && !fields.has("approve")) {
      page.error(fields.at("answer"), "only an approval has an answer; leave \"answer\" out");
    }
    if (fields.has("approve")) {
      refuse(fields, ONLY_ON_HOSTS, "an approval runs on no host");
      String question = fields.text("approve", "");
      template(fields.at("approve"), question, path);
      return new Work.Approval(
          question, fields.has("answer") ? answering(fields.at("answer")) : Work.Answering.ANYBODY);
    }
    if (fields.has("stream")) {
      refuse(fields, ONLY_ON_HOSTS, "a step that is a stream runs on no host itself");
      String inner = fields.text("stream", "");
      mentions.add(fields, "stream", Document.What.STREAM, inner, "", path);
      return new Work.OfStream(inner);
    }
    String line = fields.text("run", "");
    template(fields.at("run"), line, path);
    return new Work.Command(line);
  }

  private void refuse(Fields fields, List<String> keys, String because) {
    for (String key : keys) {
      if (fields.has(key)) {
        page.error(fields.at(key), because + "; leave \"" + key + "\" out");
      }
    }
  }

  private Work.Answering answering(Node node) {
    Fields fields = new Fields(page, node, Keys.ANSWER, "an answer");
    String then = fields.text("then", Work.Lapse.FAIL.word());
    Optional<Work.Lapse> lapse = Work.Lapse.of(then);
    if (lapse.isEmpty()) {
      page.error(
          fields.at("then"), "unknown \"" + then + "\"" + Nearest.hint(then, Work.Lapse.words()));
    }
    if (fields.has("then") && !fields.has("lapses")) {
      page.error(fields.at("then"), "\"then\" says what lapsing means; it needs \"lapses\" too");
    }
    return new Work.Answering(
        fields.items("by").stream().map(Fields.Item::text).toList(),
        fields.duration("remind"),
        fields.duration("lapses"),
        lapse.orElse(Work.Lapse.FAIL));
  }

  /** Notes what a text asks for, and says what can never be filled in. */
  private void template(Node node, String text, String path) {
    template(page, mentions, node, text, stream, path);
  }

  private static void template(
      Page page, Mentions mentions, Node node, String text, String stream, String user) {
    try {
      Template.Asked asked = Template.asked(text);
      for (String name : asked.parameters()) {
        int column = Math.max(text.indexOf("${" + name) + 2, 0) + 1;
        mentions.add(node, column, Document.What.PARAMETER, name, user, user);
      }
      for (Template.ValueOf value : asked.handedBack()) {
        int column = Math.max(text.indexOf(value.job()), 0) + 1;
        mentions.add(node, column, Document.What.JOB_OR_STREAM, value.job(), stream, user);
      }
    } catch (Template.TemplateException e) {
      page.error(node, e.getMessage());
    }
  }

  /** Says which dates of a text can never be filled in. */
  static void dates(Page page, Node node, String text) {
    try {
      Template.asked(text);
    } catch (Template.TemplateException e) {
      page.error(node, e.getMessage());
    }
  }

  /** The parameters that a text asks for; none where it cannot be read. */
  static List<String> askedBy(String text) {
    try {
      return Template.asked(text).parameters();
    } catch (Template.TemplateException e) {
      return List.of();
    }
  }

  /** Values for placeholders; what they ask for themselves is noted. */
  static Map<String, String> parameters(
      Page page, Mentions mentions, Fields fields, String key, String stream, String user) {
    Map<String, String> values = fields.texts(key);
    values.values().forEach(v -> template(page, mentions, fields.at(key), v, stream, user));
    return values;
  }

  private Placement placement(String path, Work work, Fields.Entry entry, Fields fields) {
    if (!(work instanceof Work.Command)) {
      return new Placement.Nowhere();
    }
    if (!fields.has("host")) {
      page.error(entry.key(), "job \"" + entry.name() + "\" has no \"host\" to run on");
      return new Placement.Nowhere();
    }
    String text = fields.text("host", "");
    Matcher ofGroup = OF_GROUP.matcher(text);
    if (ofGroup.matches()) {
      String group = ofGroup.group(2);
      mentions.add(fields, "host", Document.What.HOST_GROUP, group, "", path);
      return switch (ofGroup.group(1)) {
        case "any", "1" -> new Placement.AnyOf(group);
        case "each" -> new Placement.EachOf(group);
        default -> new Placement.SomeOf(Integer.parseInt(ofGroup.group(1)), group);
      };
    }
    if (text.equals(WITH_FILE)) {
      mentions.add(fields, "host", Document.What.PARAMETER, StartsOn.HOST, path, path);
      return new Placement.WithFile();
    }
    if (text.contains(" ")) {
      page.error(
          fields.at("host"),
          "cannot read the host \""
              + text
              + "\"; expected a host's name, or any of, each of or a number of hosts of a group, as"
              + " in \"2 of quays\"; or with the file");
    } else {
      mentions.add(fields, "host", Document.What.HOST, text, "", path);
    }
    return new Placement.OnHost(text);
  }

  /** Work on several hosts runs in parts. */
  private Work inParts(Work work, Placement placement, Fields fields) {
    boolean several =
        placement instanceof Placement.EachOf || placement instanceof Placement.SomeOf;
    if (!several && fields.has("succeeds-if")) {
      page.error(
          fields.at("succeeds-if"),
          "\"succeeds-if\" of a job is about its parts; only one on each of or a number of hosts has"
              + " parts");
    }
    if (!several) {
      return work;
    }
    String text = fields.text("succeeds-if", "all");
    Matcher least = AT_LEAST.matcher(text);
    SuccessRule rule = SuccessRule.ALL;
    if (least.matches()) {
      rule = SuccessRule.atLeast(Integer.parseInt(least.group(1)));
      boolean tooMany = placement instanceof Placement.SomeOf some && rule.least() > some.count();
      if (tooMany) {
        page.error(fields.at("succeeds-if"), "there are fewer parts than " + rule.least());
      }
    } else if (text.equals("any")) {
      rule = SuccessRule.ANY;
    } else if (!text.equals("all")) {
      page.error(
          fields.at("succeeds-if"),
          "cannot use \"" + text + "\"; expected all, any, or at least N of the parts");
    }
    return new Work.Parts(((Work.Command) work).line(), rule);
  }

  private Repeat repeat(Fields fields) {
    if (!fields.has("may-repeat")) {
      return Repeat.NEVER;
    }
    if (fields.at("may-repeat") instanceof ScalarNode) {
      return fields.flag("may-repeat") ? Repeat.USUAL : Repeat.NEVER;
    }
    Fields limits = new Fields(page, fields.at("may-repeat"), Keys.REPEAT, "a limit of moves");
    return new Repeat(
        true,
        limits.number("of-run", 1, 1_000).orElse(Repeat.USUAL.ofRun()),
        limits.number("of-job", 1, 100_000).orElse(Repeat.USUAL.ofJob()));
  }

  private Optional<Prerequisite> waitsFor(String path, Fields fields) {
    return prerequisite(path, fields, "waits-for");
  }

  private Optional<Prerequisite> prerequisite(String path, Fields fields, String key) {
    Optional<PrerequisiteParser.Parsed> parsed = fields.phrase(key, PrerequisiteParser::parse);
    parsed.ifPresent(
        found -> {
          for (PrerequisiteParser.Mention mention : found.mentions()) {
            Document.What what =
                mention.isFile() ? Document.What.FILE_WATCH : Document.What.JOB_OR_STREAM;
            mentions.add(fields.at(key), mention.column(), what, mention.name(), stream, path);
          }
        });
    return parsed.map(PrerequisiteParser.Parsed::prerequisite);
  }

  /** Text that begins like a comparison is one; all else is a command. */
  private Optional<OnlyIf> onlyIf(String path, Work work, Fields fields) {
    if (!fields.has("only-if")) {
      return Optional.empty();
    }
    String text = fields.text("only-if", "");
    if (text.matches("(?s)\\(*\\s*(not\\s+)?\\(*\\s*value\\s.*")) {
      Optional<Prerequisite> values = prerequisite(path, fields, "only-if");
      boolean others =
          values.isPresent() && (!values.get().files().isEmpty() || !values.get().runs().isEmpty());
      if (others) {
        page.error(
            fields.at("only-if"),
            "\"only-if\" compares values only; what must have happened goes into \"waits-for\"");
      }
      return values.map(OnlyIf.Compare::new);
    }
    if (!(work instanceof Work.Command)) {
      page.error(
          fields.at("only-if"),
          "a check by command needs a host, and this job has none; compare values instead, as in"
              + " \"value rows of load-bookings > 0\"");
    }
    template(fields.at("only-if"), text, path);
    return Optional.of(new OnlyIf.Command(text));
  }

  private Optional<ExitCodes> codes(Fields fields, String key) {
    if (!fields.has(key)) {
      return Optional.empty();
    }
    String text = fields.text(key, "");
    Optional<ExitCodes> codes = ExitCodes.parse(text);
    if (codes.isEmpty()) {
      page.error(
          fields.at(key),
          "cannot use \"" + text + "\" for \"" + key + "\"; expected exit codes such as 0, 3 to 5");
    }
    return codes;
  }

  private Overlap overlap(Fields fields) {
    if (!fields.has("overlap")) {
      return Overlap.ANY;
    }
    String text = fields.text("overlap", "");
    Optional<Overlap> overlap = Overlap.parse(text);
    if (overlap.isEmpty()) {
      page.error(
          fields.at("overlap"),
          "cannot use \"" + text + "\" for \"overlap\"; expected " + Overlap.FORMS);
    }
    return overlap.orElse(Overlap.ANY);
  }

  private Retry retry(Node node) {
    Fields fields = new Fields(page, node, Keys.RETRY, "a retry");
    Duration pause = fields.duration("wait").orElse(Duration.ofMinutes(1));
    Optional<Duration> growing = fields.duration("growing-to");
    if (growing.filter(most -> most.compareTo(pause) < 0).isPresent()) {
      page.error(fields.at("growing-to"), "\"growing-to\" must be at least as long as \"wait\"");
    }
    return new Retry(
        fields.number("times", 0, 99).orElse(0),
        pause,
        growing,
        codes(fields, "on").orElse(ExitCodes.ANY),
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
}

package dev.purser.core.reading;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Document;
import dev.purser.core.job.Command;
import dev.purser.core.job.Job;
import dev.purser.core.job.JobSecrets;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.job.Overlap;
import dev.purser.core.job.Repeat;
import dev.purser.core.job.Retry;
import dev.purser.core.job.Work;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.prerequisite.PrerequisiteParser;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** Reads the jobs of one stream. */
final class JobReader {
  /** Of a stream and of a job; both together are kept with a run. */
  private static final int LONGEST_TAGS = 240;

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
              + "\" is not a valid name for a job; expected lower-case letters, digits and dashes");
    }
    String path = stream + "/" + entry.name();
    Fields fields = new Fields(page, entry.value(), KeyTables.JOB, "job \"" + entry.name() + "\"");
    JobFields job = new JobFields(page, mentions, fields, stream, entry.name());
    Optional<WorkKind> kind = kind(entry, fields);
    kind.ifPresent(found -> job.place(new PlacementReader(page).read(found, job, entry)));
    Work work = kind.map(found -> found.read(job)).orElse(new Command(""));
    Map<String, String> environment = fields.texts("environment");
    environment
        .values()
        .forEach(v -> Placeholders.note(page, mentions, fields.at("environment"), v, stream, path));
    return new Job(
        entry.name(),
        fields.text("title", entry.name()),
        work,
        job.placement(),
        waitsFor(path, fields),
        rule(fields, "days", path),
        rule(fields, "only-on", path),
        fields.time("not-before"),
        fields.durations("usually"),
        fields.span("stop-after"),
        fields.duration("grace").orElse(Duration.ofSeconds(10)),
        fields.has("retry") ? retry(fields.at("retry")) : Retry.NEVER,
        fields.endTime("start-by"),
        fields.endTime("finish-by"),
        takes(path, fields),
        fields.text("directory", ""),
        environment,
        secrets(fields),
        repeat(fields),
        fields.text("user", ""),
        Placeholders.given(page, mentions, fields, "parameters", stream, path),
        onlyIf(path, job, kind),
        codes(fields, "succeeds-with").orElse(ExitCodes.ZERO),
        overlap(fields),
        fields.number("priority", 0, 100).orElse(usualPriority),
        new AlertRuleReader(page, mentions).read(fields, path, stream),
        fields.text("when-it-fails", ""),
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
                + "\" is not a valid tag; expected lower-case letters, digits, dots and dashes");
      }
      tags.add(item.text());
    }
    if (String.join(",", tags).length() > LONGEST_TAGS) {
      page.error(
          fields.at("tags"), "the tags have more than " + LONGEST_TAGS + " characters together");
    }
    return tags;
  }

  private Optional<DayRule> rule(Fields fields, String key, String path) {
    Optional<DayRule> rule = fields.phrase(key, DayRuleParser::parse);
    rule.ifPresent(
        found -> mentions.add(found, fields.at(key), fields.text(key, ""), stream, path));
    return rule;
  }

  /** The one kind of work that it has; nothing where it has none, which is said. */
  private Optional<WorkKind> kind(Fields.Entry entry, Fields fields) {
    List<WorkKind> given = WorkKinds.all().stream().filter(kind -> fields.has(kind.key())).toList();
    if (given.isEmpty() && fields.has("sql-file")) {
      page.error(
          fields.at("sql-file"),
          "the statements of this file are not here: the command line puts them in its place (purser"
              + " check, purser publish); or write them under \"sql\"");
      return Optional.empty();
    }
    if (given.size() != 1) {
      String has =
          given.stream().map(WorkKind::key).collect(Collectors.joining(" and ", "; it has ", ""));
      page.error(
          entry.key(),
          "job \""
              + entry.name()
              + "\" needs exactly one of "
              + WorkKinds.inWords()
              + (given.isEmpty() ? "" : has));
      return given.stream().findFirst();
    }
    for (String key : fields.given()) {
      Optional<WorkKind> other = WorkKinds.owner(key).filter(kind -> kind != given.get(0));
      if (other.isPresent()) {
        page.error(
            fields.at(key),
            "\""
                + key
                + "\" belongs to \""
                + other.get().key()
                + "\", which this job does not have; leave it out");
      }
    }
    return given.stream().findFirst();
  }

  private JobSecrets secrets(Fields fields) {
    return new JobSecrets(secrets(fields, "secrets"), secrets(fields, "secret-files"));
  }

  private Map<String, String> secrets(Fields fields, String key) {
    Map<String, String> secrets = fields.texts(key);
    secrets.forEach(
        (variable, secret) -> {
          if (!variable.matches("[A-Za-z_][A-Za-z0-9_]{0,99}") || variable.startsWith("PURSER_")) {
            page.error(
                fields.at(key),
                "\""
                    + variable
                    + "\" is not a variable that may hold a secret; expected a name such"
                    + " as STORE_PASSWORD");
          }
          if (!Fields.isName(secret)) {
            page.error(
                fields.at(key),
                "expected the name of a secret for "
                    + variable
                    + ", as in purser secrets set NAME; the secret itself stands in no definition");
          }
          if (fields.texts("environment").containsKey(variable)
              || (key.equals("secret-files") && fields.texts("secrets").containsKey(variable))) {
            page.error(fields.at(key), "the variable " + variable + " is given twice");
          }
        });
    return secrets;
  }

  private Repeat repeat(Fields fields) {
    if (!fields.has("may-repeat")) {
      return Repeat.NEVER;
    }
    if (fields.at("may-repeat") instanceof ScalarNode) {
      return fields.flag("may-repeat") ? Repeat.USUAL : Repeat.NEVER;
    }
    Fields limits = new Fields(page, fields.at("may-repeat"), KeyTables.REPEAT, "a limit of moves");
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
                mention.isFile()
                    ? Document.What.FILE_WATCH
                    : key.equals("waits-for")
                        ? Document.What.JOB_OR_STREAM
                        : Document.What.VALUE_OF;
            mentions.add(fields.at(key), mention.column(), what, mention.name(), stream, path);
          }
        });
    return parsed.map(PrerequisiteParser.Parsed::prerequisite);
  }

  /** Text that begins like a comparison is one; all else is a command. */
  private Optional<OnlyIf> onlyIf(String path, JobFields job, Optional<WorkKind> kind) {
    Fields fields = job.fields();
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
    Optional<OnlyIf> ofKind = kind.flatMap(found -> found.onlyIf(job));
    if (ofKind.isPresent()) {
      return ofKind;
    }
    if (!job.placement().isOnHosts()) {
      page.error(
          fields.at("only-if"),
          "a check by command needs a host, and this job has none; compare values instead, as in"
              + " \"value rows of load-bookings > 0\"");
    }
    return Optional.of(new OnlyIf.Command(job.shellLine("only-if")));
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
    Fields fields = new Fields(page, node, KeyTables.RETRY, "a retry");
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

package dev.purser.core.reading;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.alert.AlertText;
import dev.purser.core.alert.Escalation;
import dev.purser.core.alert.Unusual;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Document;
import dev.purser.core.prerequisite.Comparison;
import dev.purser.core.problem.Nearest;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;

/** Reads rules of alerts. */
final class AlertRuleReader {
  private static final Pattern SHARE = Pattern.compile("(\\d{1,2}) ?%?");
  private static final Pattern TEST =
      Pattern.compile("value ([a-z0-9][a-z0-9._-]{0,99}) (>=|<=|!=|>|<|=) (\"[^\"]*\"|\\S+)");
  private static final int LONGEST_TEXT = 1_000;
  private static final Duration LEAST_REMINDER = Duration.ofMinutes(5);
  private static final Duration LONGEST_WAIT = Duration.ofDays(7);

  private static final Pattern PERCENT = Pattern.compile("(\\d{1,4}) ?%");
  private static final int MOST_BEYOND = 1_000;

  private final Page page;
  private final Mentions mentions;
  private Set<AlertKind> kinds = EnumSet.allOf(AlertKind.class);
  private String of = "";

  AlertRuleReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  /** Rules of some kinds only, and of what, for messages. */
  AlertRuleReader only(Set<AlertKind> some, String what) {
    kinds = some;
    of = what;
    return this;
  }

  /**
   * Reads the rules of a mapping.
   *
   * @param user who has them, for messages
   * @param within the path of the stream that they are in; empty elsewhere
   */
  List<AlertRule> read(Fields fields, String user, String within) {
    List<AlertRule> rules = new ArrayList<>();
    if (!fields.has("alerts")) {
      return rules;
    }
    for (Node node : fields.list("alerts")) {
      rule(new Fields(page, node, TellingKeys.ALERT_RULE, "a rule of alerts"), user, within)
          .ifPresent(
              rule -> {
                if (rule.kind() != AlertKind.VALUE && has(rules, rule.kind())) {
                  page.error(
                      node,
                      "there are two rules of kind " + rule.kind().word() + "; one says all of it");
                }
                rules.add(rule);
              });
    }
    return rules;
  }

  private static boolean has(List<AlertRule> rules, AlertKind kind) {
    return rules.stream().anyMatch(rule -> rule.kind() == kind);
  }

  private Optional<AlertRule> rule(Fields fields, String user, String within) {
    Optional<AlertKind> kind = kind(fields);
    if (kind.isEmpty()) {
      return Optional.empty();
    }
    for (Fields.Item item : fields.items("tell")) {
      mentions.add(item.node(), 1, Document.What.RECIPIENT, item.text(), within, user);
    }
    boolean none = fields.flag("none");
    for (String key :
        List.of(
            "urgency",
            "tell",
            "say",
            "below",
            "when",
            "unusual",
            "beyond",
            "escalation",
            "remind-every",
            "do",
            "longer-than",
            "longer-than-runs")) {
      if (none && fields.has(key)) {
        page.error(fields.at(key), "with none: yes there is nothing to say of \"" + key + "\"");
      }
    }
    return Optional.of(
        new AlertRule(
            kind.get(),
            none,
            urgency(fields),
            fields.items("tell").stream().map(Fields.Item::text).toList(),
            say(fields),
            below(fields, kind.get(), none),
            when(fields, kind.get(), none),
            unusual(fields, kind.get(), none),
            escalation(fields, user, within),
            remindEvery(fields),
            new AlertActReader(page, mentions).read(fields, kind.get(), user, within),
            longerThan(fields, kind.get(), none),
            longerThanRuns(fields, kind.get())));
  }

  private Optional<Duration> longerThan(Fields fields, AlertKind kind, boolean none) {
    if (kind != AlertKind.LONG_RUNNING && kind != AlertKind.WAITS_LONG) {
      if (fields.has("longer-than")) {
        page.error(
            fields.at("longer-than"),
            "\"longer-than\" goes with kind: long-running or waits-long only");
      }
      return Optional.empty();
    }
    if (kind == AlertKind.WAITS_LONG && !none && !fields.has("longer-than")) {
      page.error(
          fields.at("kind"),
          "an alert of kind waits-long says how long is long, as in longer-than: 20m");
    }
    return fields.span("longer-than");
  }

  private int longerThanRuns(Fields fields, AlertKind kind) {
    if (!fields.has("longer-than-runs")) {
      return 0;
    }
    Matcher share = SHARE.matcher(fields.text("longer-than-runs", ""));
    boolean good = share.matches() && Integer.parseInt(share.group(1)) > 0;
    if (kind != AlertKind.LONG_RUNNING || fields.has("longer-than")) {
      page.error(
          fields.at("longer-than-runs"),
          "\"longer-than-runs\" goes with kind: long-running, where there is no \"longer-than\"");
    } else if (!good) {
      page.error(
          fields.at("longer-than-runs"),
          "cannot read \""
              + fields.text("longer-than-runs", "")
              + "\"; expected a share of the last runs, 1 to 99 %");
    }
    return good ? Integer.parseInt(share.group(1)) : 0;
  }

  private List<Escalation> escalation(Fields fields, String user, String within) {
    List<Escalation> steps = new ArrayList<>();
    for (Node node : fields.list("escalation")) {
      Fields one = new Fields(page, node, TellingKeys.ESCALATION, "a step of an escalation");
      for (Fields.Item item : one.items("tell")) {
        mentions.add(item.node(), 1, Document.What.RECIPIENT, item.text(), within, user);
      }
      Duration after = one.duration("after").orElse(Duration.ZERO);
      boolean later = steps.isEmpty() || after.compareTo(steps.get(steps.size() - 1).after()) > 0;
      if (one.has("after") && (after.isZero() || !later || after.compareTo(LONGEST_WAIT) > 0)) {
        page.error(
            one.at("after"),
            "each step comes after the one before it, from 1s to "
                + LONGEST_WAIT.toDays()
                + "d after the alert was opened");
      }
      steps.add(new Escalation(after, one.items("tell").stream().map(Fields.Item::text).toList()));
    }
    if (steps.size() > Escalation.MOST) {
      page.error(
          fields.at("escalation"),
          "an escalation has " + Escalation.MOST + " steps at the most, not " + steps.size());
    }
    return steps;
  }

  private Duration remindEvery(Fields fields) {
    Duration every = fields.span("remind-every").orElse(Duration.ZERO);
    boolean wrong = every.compareTo(LEAST_REMINDER) < 0 || every.compareTo(LONGEST_WAIT) > 0;
    if (!every.isZero() && wrong) {
      page.error(
          fields.at("remind-every"),
          "people are reminded every 5m at the most often, and every "
              + LONGEST_WAIT.toDays()
              + "d at the least");
    }
    return every;
  }

  private Optional<AlertKind> kind(Fields fields) {
    String word = fields.text("kind", "");
    Optional<AlertKind> kind = AlertKind.of(word);
    if (kind.isEmpty() && !word.isEmpty()) {
      page.error(
          fields.at("kind"),
          "unknown kind of alert \"" + word + "\"" + Nearest.hint(word, AlertKind.words()));
    }
    if (kind.isPresent() && !kinds.contains(kind.get())) {
      page.error(
          fields.at("kind"),
          of
              + " has alerts of kind "
              + String.join(", ", kinds.stream().map(AlertKind::word).toList())
              + " only, not "
              + word);
    }
    return kind;
  }

  private Optional<Urgency> urgency(Fields fields) {
    String word = fields.text("urgency", "");
    Optional<Urgency> urgency = Urgency.of(word);
    if (urgency.isEmpty() && !word.isEmpty()) {
      page.error(
          fields.at("urgency"),
          "unknown urgency \"" + word + "\"; expected " + String.join(", ", Urgency.words()));
    }
    return urgency;
  }

  private String say(Fields fields) {
    String text = fields.text("say", "").strip();
    if (text.length() > LONGEST_TEXT) {
      page.error(fields.at("say"), "the text has more than " + LONGEST_TEXT + " characters");
    }
    AlertText.unknown(text)
        .ifPresent(
            placeholder ->
                page.error(
                    fields.at("say"),
                    "nobody fills "
                        + placeholder
                        + "; there is ${value NAME}, ${"
                        + String.join("}, ${", AlertText.NAMES)
                        + "}; $${ stands for itself"));
    return text;
  }

  private int below(Fields fields, AlertKind kind, boolean none) {
    String text = fields.text("below", "");
    if (kind != AlertKind.TOO_QUICK) {
      misplaced(fields, "below", AlertKind.TOO_QUICK);
      return 0;
    }
    Matcher share = SHARE.matcher(text);
    if (text.isEmpty() || none) {
      return AlertRule.USUALLY_BELOW;
    }
    if (!share.matches() || Integer.parseInt(share.group(1)) == 0) {
      page.error(
          fields.at("below"),
          "cannot read \"" + text + "\"; expected a part of the usual duration, 1 to 99 %");
      return AlertRule.USUALLY_BELOW;
    }
    return Integer.parseInt(share.group(1));
  }

  private Optional<AlertRule.ValueTest> when(Fields fields, AlertKind kind, boolean none) {
    String text = fields.text("when", "");
    if (kind != AlertKind.VALUE) {
      misplaced(fields, "when", AlertKind.VALUE);
      return Optional.empty();
    }
    if (none || fields.has("unusual")) {
      if (fields.has("when") && fields.has("unusual")) {
        page.error(fields.at("when"), "a rule has \"when\" or \"unusual\"; two rules say both");
      }
      return Optional.empty();
    }
    Matcher test = TEST.matcher(text);
    String operand = test.matches() ? test.group(3) : "";
    boolean quoted = operand.startsWith("\"");
    if (!test.matches() || (!quoted && Comparison.number(operand).isEmpty())) {
      page.error(
          fields.has("when") ? fields.at("when") : fields.at("kind"),
          "an alert of kind value needs a comparison of what the job hands back, as in when: value"
              + " rows < 1000, or value state = \"partial\"; or unusual: rows");
      return Optional.empty();
    }
    return Optional.of(
        new AlertRule.ValueTest(
            test.group(1),
            Comparison.of(test.group(2)).orElseThrow(),
            quoted ? operand.substring(1, operand.length() - 1) : operand));
  }

  private Optional<Unusual> unusual(Fields fields, AlertKind kind, boolean none) {
    if (kind != AlertKind.VALUE) {
      misplaced(fields, "unusual", AlertKind.VALUE);
      misplaced(fields, "beyond", AlertKind.VALUE);
      return Optional.empty();
    }
    if (fields.has("beyond") && !fields.has("unusual")) {
      page.error(fields.at("beyond"), "\"beyond\" goes with \"unusual\" only");
    }
    if (none || !fields.has("unusual")) {
      return Optional.empty();
    }
    Matcher percent = PERCENT.matcher(fields.text("beyond", "0 %"));
    int beyond = percent.matches() ? Integer.parseInt(percent.group(1)) : -1;
    if (beyond < 0 || beyond > MOST_BEYOND) {
      page.error(
          fields.at("beyond"),
          "cannot read \"" + fields.text("beyond", "") + "\"; expected 0 % to 1000 %");
      return Optional.empty();
    }
    return Optional.of(new Unusual(fields.name("unusual"), beyond));
  }

  private void misplaced(Fields fields, String key, AlertKind kind) {
    if (fields.has(key)) {
      page.error(fields.at(key), "\"" + key + "\" goes with kind: " + kind.word() + " only");
    }
  }
}

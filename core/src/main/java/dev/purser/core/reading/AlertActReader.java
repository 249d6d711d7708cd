package dev.purser.core.reading;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertText;
import dev.purser.core.definition.Document;
import java.time.Duration;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads what a rule of alerts does. */
final class AlertActReader {
  private static final int MOST_RERUNS = 20;
  private static final Duration LONGEST_WAIT = Duration.ofHours(24);
  private static final List<String> MARKS = List.of("succeeded", "failed");

  /** Kinds that are about no run. */
  private static final Set<AlertKind> OF_NO_RUN =
      EnumSet.of(
          AlertKind.STALLED,
          AlertKind.SERVICE,
          AlertKind.WILL_BE_LATE,
          AlertKind.HOST,
          AlertKind.FILE,
          AlertKind.CALENDAR,
          AlertKind.CHANGE);

  private final Page page;
  private final Mentions mentions;

  AlertActReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  /**
   * Reads it from a rule.
   *
   * @param user who has the rule, for mentions
   * @param within the path of the stream that it is in; empty elsewhere
   */
  Optional<AlertAct> read(Fields rule, AlertKind kind, String user, String within) {
    if (!rule.has("do")) {
      return Optional.empty();
    }
    Fields fields = new Fields(page, rule.at("do"), TellingKeys.ACT, "\"do\"");
    List<String> said = AlertAct.What.words().stream().filter(fields::has).toList();
    if (said.size() != 1) {
      page.error(
          rule.at("do"),
          "a rule does one thing: expected one of " + String.join(", ", AlertAct.What.words()));
      return Optional.empty();
    }
    AlertAct.What what = AlertAct.What.of(said.get(0)).orElseThrow();
    if (what != AlertAct.What.START && OF_NO_RUN.contains(kind)) {
      page.error(
          fields.at(what.word()),
          "an alert of kind "
              + kind.word()
              + " is about no run: of a run only it can be said; there is start");
    }
    if (kind == AlertKind.ACTED_ON) {
      page.error(
          rule.at("do"), "a rule of kind acted-on only tells: what it did would be told of again");
    }
    Duration after = fields.duration("after").orElse(Duration.ZERO);
    if (after.compareTo(LONGEST_WAIT) > 0) {
      page.error(
          fields.at("after"), "it is done within 24h, not after " + fields.text("after", ""));
    }
    int most =
        what == AlertAct.What.RERUN
            ? fields.number("rerun", 1, MOST_RERUNS).orElse(1)
            : fields.number("at-most", 1, MOST_RERUNS).orElse(1);
    if (what == AlertAct.What.RERUN && fields.has("at-most")) {
      page.error(fields.at("at-most"), "\"rerun\" says how often itself");
    }
    return Optional.of(
        new AlertAct(what, argument(fields, what, user, within), with(fields, what), after, most));
  }

  private String argument(Fields fields, AlertAct.What what, String user, String within) {
    switch (what) {
      case START -> {
        String path = fields.text("start", "");
        if (!path.isEmpty()) {
          mentions.add(fields, "start", Document.What.STREAM, path, within, user);
        }
        return path;
      }
      case MARK -> {
        String mark = fields.text("mark", "");
        if (!MARKS.contains(mark)) {
          page.error(
              fields.at("mark"), "cannot mark it \"" + mark + "\"; expected succeeded or failed");
        }
        return mark;
      }
      case RERUN -> {
        return "";
      }
      default -> {
        if (!fields.flag(what.word())) {
          page.error(
              fields.at(what.word()), "\"" + what.word() + ": no\" does nothing; leave \"do\" out");
        }
        return "";
      }
    }
  }

  private Map<String, String> with(Fields fields, AlertAct.What what) {
    if (fields.has("with") && what != AlertAct.What.START) {
      page.error(fields.at("with"), "\"with\" goes with \"start\" only");
    }
    Map<String, String> with = fields.texts("with");
    with.values()
        .forEach(
            text ->
                AlertText.unknown(text)
                    .ifPresent(
                        placeholder ->
                            page.error(
                                fields.at("with"),
                                "nobody fills "
                                    + placeholder
                                    + "; there is ${value NAME}, ${"
                                    + String.join("}, ${", AlertText.NAMES)
                                    + "}")));
    return with;
  }
}

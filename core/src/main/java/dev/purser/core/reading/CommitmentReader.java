package dev.purser.core.reading;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Document;
import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Reads commitments. */
final class CommitmentReader {
  private static final Pattern TIME =
      Pattern.compile("(\\d\\d:\\d\\d)(?: (next day|([2-9]|[12]\\d|3[01]) days later))?");
  private static final Pattern SHARE = Pattern.compile("(\\d{1,3}) ?%?");
  private static final List<String> PROMISES = List.of("done-by", "within", "as-usual");

  private final Page page;
  private final Mentions mentions;

  CommitmentReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  Commitment read(String name, Fields fields) {
    for (Fields.Item item : fields.items("alerts-to")) {
      mentions.add(item.node(), 1, Document.What.RECIPIENT, item.text(), "", name);
    }
    String calendar = fields.has("calendar") ? fields.name("calendar") : "";
    if (!calendar.isEmpty()) {
      mentions.add(fields, "calendar", Document.What.BUSINESS_CALENDAR, calendar, "", name);
    }
    Optional<DayRule> days = fields.phrase("days", DayRuleParser::parse);
    days.ifPresent(
        rule -> mentions.add(rule, fields.at("days"), fields.text("days", ""), "", name));
    String of = fields.text("of", "");
    if (!of.isEmpty()) {
      mentions.add(fields, "of", Document.What.JOB_OR_STREAM, of, "", name);
    }
    return new Commitment(
        name,
        fields.text("title", name),
        fields.text("about", ""),
        fields.text("department", ""),
        fields.text("owner", ""),
        fields.items("alerts-to").stream().map(Fields.Item::text).toList(),
        of,
        promise(fields),
        days,
        calendar,
        cuts("begins-after", name, fields),
        cuts("leave-out", name, fields),
        fields.date("history-from"),
        fields.flag("important"),
        warnAt(fields),
        new AlertRuleReader(page, mentions).read(fields, "commitment " + name, ""));
  }

  private List<String> cuts(String key, String name, Fields fields) {
    List<String> paths = new ArrayList<>();
    for (Fields.Item item : fields.items(key)) {
      mentions.add(item.node(), 1, Document.What.JOB_OR_STREAM, item.text(), "", name);
      paths.add(item.text());
    }
    return paths;
  }

  private Commitment.Promise promise(Fields fields) {
    List<String> said = PROMISES.stream().filter(fields::has).toList();
    if (said.size() != 1) {
      page.error(
          fields.at(said.size() > 1 ? said.get(1) : "commitment"),
          "a commitment promises one thing: done-by a time, within a duration, or as-usual: yes");
      return new Commitment.AsUsual();
    }
    if (fields.has("zone") && !fields.has("done-by")) {
      page.error(fields.at("zone"), "\"zone\" is the clock of \"done-by\"; there is none here");
    }
    return switch (said.get(0)) {
      case "done-by" -> doneBy(fields);
      case "within" -> within(fields);
      default -> asUsual(fields);
    };
  }

  private Commitment.Promise doneBy(Fields fields) {
    String text = fields.text("done-by", "");
    Matcher matcher = TIME.matcher(text);
    Optional<LocalTime> time =
        Stream.of(matcher)
            .filter(Matcher::matches)
            .flatMap(found -> Fields.parseTime(found.group(1)).stream())
            .findFirst();
    if (time.isEmpty()) {
      page.error(
          fields.at("done-by"),
          "cannot read \""
              + text
              + "\"; expected a time such as 22:00, \"06:00 next day\" or \"06:00 2 days later\"");
      return new Commitment.AsUsual();
    }
    int later = matcher.group(2) == null ? 0 : 1;
    if (matcher.group(3) != null) {
      later = Integer.parseInt(matcher.group(3));
    }
    if (!fields.has("zone")) {
      page.error(fields.at("done-by"), "\"done-by\" needs \"zone\": the clock that it is read on");
    }
    return new Commitment.DoneBy(time.get(), later, fields.zone("zone").orElse(ZoneOffset.UTC));
  }

  private Commitment.Promise within(Fields fields) {
    Duration duration = fields.duration("within").orElse(Duration.ofMinutes(1));
    if (duration.isZero()) {
      page.error(fields.at("within"), "nothing is done within no time; expected 1s or more");
    }
    return new Commitment.Within(duration);
  }

  private Commitment.Promise asUsual(Fields fields) {
    if (!fields.flag("as-usual")) {
      page.error(fields.at("as-usual"), "\"as-usual: no\" promises nothing; say done-by or within");
    }
    return new Commitment.AsUsual();
  }

  private double warnAt(Fields fields) {
    if (!fields.has("warn-at")) {
      return Commitment.USUAL_WARN_AT;
    }
    String text = fields.text("warn-at", "");
    Matcher matcher = SHARE.matcher(text);
    int share = matcher.matches() ? Integer.parseInt(matcher.group(1)) : 0;
    if (share < 1 || share > 100) {
      page.error(
          fields.at("warn-at"),
          "cannot read \"" + text + "\"; expected 1 % to 100 %, such as 40 %");
    }
    return share / 100.0;
  }
}

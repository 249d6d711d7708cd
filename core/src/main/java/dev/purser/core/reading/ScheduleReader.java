package dev.purser.core.reading;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.problem.Nearest;
import dev.purser.core.schedule.Cron;
import dev.purser.core.schedule.Durations;
import dev.purser.core.schedule.IfMissed;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.Times;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Reads the schedule of a stream: one entry, or a list of them. */
final class ScheduleReader {
  private static final Duration DAY = Duration.ofHours(24);
  private static final Duration LEAST = Duration.ofMinutes(1);
  private static final Pattern EVERY =
      Pattern.compile("(\\S+)(?:\\s+between\\s+(\\S+)\\s+and\\s+(\\S+))?");

  private final Page page;
  private final Mentions mentions;
  private final String stream;

  ScheduleReader(Page page, Mentions mentions, String stream) {
    this.page = page;
    this.mentions = mentions;
    this.stream = stream;
  }

  List<Schedule> read(Node node) {
    List<Schedule> entries = new ArrayList<>();
    if (!(node instanceof SequenceNode list)) {
      entry(node).ifPresent(entries::add);
      return entries;
    }
    for (Node one : list.getValue()) {
      entry(one).ifPresent(entries::add);
    }
    if (list.getValue().isEmpty()) {
      page.error(node, "a schedule needs at least one entry; leave it out where people start it");
    }
    if (entries.size() > 1 && entries.stream().anyMatch(Schedule::hasWindows)) {
      page.error(node, "a schedule with windows can have no other entry: windows leave no gap");
    }
    return entries;
  }

  private Optional<Schedule> entry(Node node) {
    Fields fields = new Fields(page, node, KeyTables.SCHEDULE, "a schedule");
    long given = List.of("at", "every", "cron", "windows").stream().filter(fields::has).count();
    if (given != 1) {
      page.error(
          node,
          "a schedule needs exactly one of at, every, cron and windows"
              + (given == 0 ? "" : "; it has " + given));
    }
    Optional<ZoneId> zone = fields.zone("zone");
    LocalTime dayBegins = fields.time("day-begins").orElse(LocalTime.MIDNIGHT);
    Optional<Cron> cron = fields.has("cron") ? cron(fields) : Optional.empty();
    Optional<DayRule> days = days(fields, cron);
    Optional<Times> times = times(fields, cron, dayBegins);
    Optional<LocalDate> from = fields.date("from");
    Optional<LocalDate> to = fields.date("to");
    if (from.isPresent() && to.isPresent() && to.get().isBefore(from.get())) {
      page.error(fields.at("to"), "the schedule ends (" + to.get() + ") before it begins");
    }
    IfMissed ifMissed = ifMissed(fields, times);
    Optional<LocalTime> startBy = fields.endTime("start-by");
    Map<String, String> parameters =
        Placeholders.values(page, mentions, fields, "parameters", stream, stream);
    if (days.isEmpty() || times.isEmpty() || zone.isEmpty()) {
      return Optional.empty();
    }
    return Optional.of(
        new Schedule(
            days.get(),
            times.get(),
            zone.get(),
            from,
            to,
            parameters,
            dayBegins,
            ifMissed,
            startBy));
  }

  private Optional<Cron> cron(Fields fields) {
    try {
      return Optional.of(Cron.parse(fields.text("cron", "")));
    } catch (IllegalArgumentException e) {
      page.error(fields.at("cron"), e.getMessage());
      return Optional.empty();
    }
  }

  private Optional<DayRule> days(Fields fields, Optional<Cron> cron) {
    boolean saysDays = !fields.has("cron") && !fields.has("windows");
    if (saysDays) {
      Optional<DayRule> rule = fields.phrase("days", DayRuleParser::parse);
      rule.ifPresent(
          found -> mentions.add(found, fields.at("days"), fields.text("days", ""), stream, stream));
      if (!fields.has("days")) {
        page.error(
            fields.at("days"), "a schedule has no \"days\"; it needs a day rule such as weekdays");
      }
      return rule;
    }
    if (fields.has("days")) {
      page.error(
          fields.at("days"),
          fields.has("cron")
              ? "cron says the days itself; leave \"days\" out, or use at"
              : "windows leave no gap, so they have no \"days\"; use only-on to leave jobs out");
    }
    if (fields.has("windows")) {
      return Optional.of(
          fields.text("windows", "").contains("business")
              ? new DayRule.OfCalendar(false, "")
              : new DayRule.EveryDay());
    }
    return cron.map(Cron::days);
  }

  private Optional<Times> times(Fields fields, Optional<Cron> cron, LocalTime dayBegins) {
    if (!fields.has("windows") && fields.has("at-a-time")) {
      page.error(fields.at("at-a-time"), "\"at-a-time\" belongs to windows");
    }
    if (fields.has("at")) {
      return Optional.of(new Times.At(fields.times("at")));
    }
    if (fields.has("every")) {
      return every(fields, dayBegins);
    }
    return fields.has("windows") ? windows(fields) : cron.map(found -> new Times.At(found.times()));
  }

  private Optional<Times> every(Fields fields, LocalTime dayBegins) {
    Matcher matcher = EVERY.matcher(fields.text("every", ""));
    Optional<Duration> step =
        matcher.matches() ? Durations.parse(matcher.group(1)) : Optional.empty();
    Optional<LocalTime> first = bound(matcher, step, 2, dayBegins);
    Optional<LocalTime> last = bound(matcher, step, 3, dayBegins);
    if (step.isEmpty() || first.isEmpty() || last.isEmpty()) {
      page.error(
          fields.at("every"),
          "cannot read \""
              + fields.text("every", "")
              + "\"; expected something like 15m between 06:00 and 20:00");
      return Optional.empty();
    }
    if (step.get().compareTo(LEAST) < 0 || step.get().compareTo(DAY) > 0) {
      page.error(
          fields.at("every"),
          "\"every\" must be from 1m to 24h, not " + Durations.print(step.get()));
      return Optional.empty();
    }
    return Optional.of(new Times.Every(step.get(), first.get(), last.get()));
  }

  private static Optional<LocalTime> bound(
      Matcher matcher, Optional<Duration> step, int group, LocalTime otherwise) {
    return step.isEmpty() || matcher.group(group) == null
        ? Optional.of(otherwise)
        : group == 3
            ? Fields.parseLast(matcher.group(group))
            : Fields.parseTime(matcher.group(group));
  }

  private Optional<Times> windows(Fields fields) {
    String text = fields.text("windows", "").toLowerCase(java.util.Locale.ROOT);
    int atATime = fields.number("at-a-time", 1, 1_000).orElse(1);
    if (text.matches("(1|one)\\s+business\\s+day")) {
      return Optional.of(new Times.Windows(DAY, true, atATime));
    }
    Optional<Duration> length = Durations.parse(text.replaceAll("^(1|one) day$", "1d"));
    boolean fits =
        length.isPresent()
            && length.get().toMinutes() > 0
            && length.get().compareTo(DAY) <= 0
            && DAY.toMillis() % length.get().toMillis() == 0;
    if (!fits) {
      page.error(
          fields.at("windows"),
          "cannot cut time into windows of \""
              + text
              + "\"; expected 1 business day, or a length that divides a day: 15m, 1h, 6h, 1d");
      return Optional.empty();
    }
    return Optional.of(new Times.Windows(length.get(), false, atATime));
  }

  private IfMissed ifMissed(Fields fields, Optional<Times> times) {
    IfMissed otherwise =
        times.filter(Times.Every.class::isInstance).isPresent() ? IfMissed.RUN_ONCE : IfMissed.RUN;
    if (!fields.has("if-missed")) {
      return otherwise;
    }
    String text = fields.text("if-missed", "");
    Optional<IfMissed> found = IfMissed.of(text);
    if (found.isEmpty()) {
      page.error(
          fields.at("if-missed"),
          "cannot use \"" + text + "\" for \"if-missed\"" + Nearest.hint(text, IfMissed.words()));
    }
    if (fields.has("windows") && found.filter(one -> one != IfMissed.RUN).isPresent()) {
      page.error(fields.at("if-missed"), "every window is run; leave \"if-missed\" out");
    }
    return found.orElse(otherwise);
  }
}

package dev.purser.core.reading;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.CalendarSource;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.calendar.Good;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import dev.purser.core.calendar.Observance;
import dev.purser.core.definition.Document;
import dev.purser.core.phrase.PhraseException;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Reads holiday calendars, business calendars and periods. */
final class CalendarReader {
  /** What a fetched calendar is known to before it was fetched for the first time. */
  private static final LocalDate NEVER_FETCHED = LocalDate.of(1970, 1, 1);

  private final Page page;
  private final Mentions mentions;

  CalendarReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  HolidayCalendar holidays(String name, Fields fields) {
    List<HolidayCalendar.Holiday> holidays = new ArrayList<>();
    for (Node node : fields.list("holidays")) {
      Fields holiday = new Fields(page, node, KeyTables.HOLIDAY, "a holiday");
      boolean observed = !holiday.has("observed") || holiday.flag("observed");
      rule(holiday, "day", name)
          .ifPresent(
              days ->
                  holidays.add(
                      new HolidayCalendar.Holiday(days, holiday.text("name", ""), observed)));
    }
    Optional<CalendarSource> source =
        fields.has("source") ? source(name, fields.at("source")) : Optional.empty();
    if (!fields.has("holidays") && !fields.has("with") && !fields.has("source")) {
      page.error(
          fields.at("holiday-calendar"),
          "a holiday calendar needs holidays, or other calendars (with), or a source");
    }
    Good good = good(fields);
    if (source.isPresent() && !fields.has("holidays")) {
      good = new Good(Optional.of(NEVER_FETCHED), good.warn());
    }
    return new HolidayCalendar(
        name,
        fields.text("title", name),
        holidays,
        names(fields, "with", Document.What.HOLIDAY_CALENDAR, name),
        observance(fields),
        good,
        source);
  }

  private Optional<CalendarSource> source(String name, Node node) {
    Fields fields = new Fields(page, node, KeyTables.SOURCE, "a source");
    String connection = fields.text("connection", "");
    mentions.add(fields, "connection", Document.What.CONNECTION, connection, "", name);
    Duration every = fields.duration("every").orElse(Duration.ofDays(1));
    if (every.compareTo(Duration.ofMinutes(1)) < 0) {
      page.error(fields.at("every"), "a calendar can be fetched once a minute at the most");
    }
    return Optional.of(new CalendarSource(connection, fields.text("path", ""), every));
  }

  private Observance observance(Fields fields) {
    Map<DayOfWeek, Observance.Move> moves = new EnumMap<>(DayOfWeek.class);
    for (Fields.Entry entry : fields.entries("observance")) {
      Optional<DayOfWeek> day = weekday(entry.name());
      String text = entry.value() instanceof ScalarNode scalar ? scalar.getValue() : "";
      Optional<Observance.Move> move = Observance.Move.parse(text);
      if (day.isEmpty() || move.isEmpty()) {
        page.error(
            day.isEmpty() ? entry.key() : entry.value(),
            "cannot read \""
                + entry.name()
                + ": "
                + text
                + "\"; expected something like saturday: friday before, sunday: monday after");
      } else {
        moves.put(day.get(), move.get());
      }
    }
    boolean allWeek = moves.size() == DayOfWeek.values().length;
    if (allWeek) {
      page.error(fields.at("observance"), "at least one weekday must stay as it is");
    }
    return new Observance(allWeek ? Map.of() : moves);
  }

  private static Optional<DayOfWeek> weekday(String word) {
    return Arrays.stream(DayOfWeek.values())
        .filter(day -> day.name().equals(word.toUpperCase(Locale.ROOT)))
        .findFirst();
  }

  BusinessCalendar business(String name, Fields fields) {
    DayRule working =
        rule(fields, "working", name).orElse(BusinessCalendar.MONDAY_TO_FRIDAY.working());
    List<String> without = names(fields, "without", Document.What.HOLIDAY_CALENDAR, name);
    List<DayRule> extra = new ArrayList<>();
    if (fields.at("extra") instanceof SequenceNode) {
      for (Fields.Item item : fields.items("extra")) {
        rule(item, name).ifPresent(extra::add);
      }
    } else {
      rule(fields, "extra", name).ifPresent(extra::add);
    }
    return new BusinessCalendar(
        name, fields.text("title", name), working, without, extra, good(fields));
  }

  NamedPeriod period(String name, Fields fields) {
    if (!name.isEmpty() && DayRuleParser.isTooLikeAWord(name)) {
      page.error(
          fields.at("period"),
          "\""
              + name
              + "\" is too like a word of the day rules; give the period another name, which begins"
              + " with a letter");
    }
    if (fields.has("starts") == fields.has("weeks")) {
      page.error(fields.at("period"), "a period needs either starts or weeks");
    }
    Good good = good(fields);
    if (fields.has("weeks")) {
      return weeks(name, fields, good);
    }
    DayRule starts = rule(fields, "starts", name).orElse(new DayRule.EveryDay());
    return new NamedPeriod(name, fields.text("title", name), starts, good);
  }

  /** Lengths in weeks, such as 4-4-5, over and over from the first day of each year. */
  private NamedPeriod weeks(String name, Fields fields, Good good) {
    List<LocalDate> years = new ArrayList<>();
    for (Fields.Item item : fields.items("years")) {
      date(item).ifPresent(years::add);
    }
    String text = fields.text("weeks", "");
    boolean fits = text.matches("\\d{1,2}(-\\d{1,2})*") && !text.matches(".*\\b0+\\b.*");
    if (!fits || years.isEmpty() || !years.equals(years.stream().sorted().distinct().toList())) {
      page.error(
          fields.at(fits ? "years" : "weeks"),
          "expected weeks: 4-4-5 and years: the dates, in order, on which the pattern begins anew");
      return new NamedPeriod(name, name, new DayRule.EveryDay(), good);
    }
    List<Integer> lengths = Arrays.stream(text.split("-")).map(Integer::valueOf).toList();
    List<LocalDate> starts = new ArrayList<>();
    LocalDate end = years.get(0);
    for (int i = 0; i < years.size(); i++) {
      LocalDate next = i + 1 < years.size() ? years.get(i + 1) : years.get(i).plusWeeks(52);
      end = year(years.get(i), next, lengths, starts);
    }
    LocalDate last = end.minusDays(1);
    return new NamedPeriod(
        name,
        fields.text("title", name),
        DayRule.Dates.of(starts),
        new Good(Optional.of(good.knownTo().orElse(last)), good.warn()));
  }

  /** A week too many at the end of a year makes its last period longer. */
  private static LocalDate year(
      LocalDate first, LocalDate next, List<Integer> lengths, List<LocalDate> starts) {
    int shortest = lengths.stream().min(Integer::compare).orElse(1);
    LocalDate start = first;
    for (int i = 0; !start.plusWeeks(shortest).isAfter(next); i++) {
      starts.add(start);
      start = start.plusWeeks(lengths.get(i % lengths.size()));
    }
    return next;
  }

  private Optional<DayRule> rule(Fields fields, String key, String user) {
    Optional<DayRule> rule = fields.phrase(key, DayRuleParser::parse);
    rule.ifPresent(found -> mentions.add(found, fields.at(key), fields.text(key, ""), "", user));
    return rule;
  }

  private Optional<DayRule> rule(Fields.Item item, String user) {
    try {
      DayRule rule = DayRuleParser.parse(item.text());
      mentions.add(rule, item.node(), item.text(), "", user);
      return Optional.of(rule);
    } catch (PhraseException e) {
      page.errorInPhrase(item.node(), e.column(), e.getMessage());
      return Optional.empty();
    }
  }

  private List<String> names(Fields fields, String key, Document.What what, String user) {
    List<String> names = new ArrayList<>();
    for (Fields.Item item : fields.items(key)) {
      mentions.add(item.node(), 1, what, item.text(), "", user);
      names.add(item.text());
    }
    return names;
  }

  private Good good(Fields fields) {
    return new Good(fields.date("known-to"), fields.duration("warn"));
  }

  private Optional<LocalDate> date(Fields.Item item) {
    try {
      return Optional.of(LocalDate.parse(item.text()));
    } catch (DateTimeException e) {
      page.error(
          item.node(), "\"" + item.text() + "\" is not a date; expected one such as 2027-12-24");
      return Optional.empty();
    }
  }
}

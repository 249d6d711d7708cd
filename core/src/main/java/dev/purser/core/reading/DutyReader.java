package dev.purser.core.reading;

import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Duty;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;

/** Reads duties. */
final class DutyReader {
  private static final Pattern TURNS =
      Pattern.compile(
          "([1-9]\\d?) (day|week)s?(?: on"
              + " (monday|tuesday|wednesday|thursday|friday|saturday|sunday))? from"
              + " (\\d{4}-\\d{2}-\\d{2})");

  private final Page page;
  private final Mentions mentions;

  DutyReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  Duty read(String name, Fields fields) {
    String calendar = fields.has("calendar") ? fields.name("calendar") : "";
    if (!calendar.isEmpty()) {
      mentions.add(fields, "calendar", Document.What.BUSINESS_CALENDAR, calendar, "", name);
    }
    List<Duty.Shift> shifts = new ArrayList<>();
    for (Node node : fields.list("shifts")) {
      shifts.add(shift(new Fields(page, node, TellingKeys.SHIFT, "a shift"), name));
    }
    if (fields.has("shifts") && shifts.isEmpty()) {
      page.error(fields.at("shifts"), "a duty needs at least one shift");
    }
    return new Duty(
        name,
        fields.text("title", name),
        calendar,
        fields.zone("zone").orElse(ZoneOffset.UTC),
        shifts,
        replacements(fields, name, shifts));
  }

  private Duty.Shift shift(Fields fields, String name) {
    Optional<DayRule> days = fields.phrase("days", DayRuleParser::parse);
    days.ifPresent(
        rule -> mentions.add(rule, fields.at("days"), fields.text("days", ""), "", name));
    List<String> who = RecipientReader.members(page, mentions, fields, "who", name);
    if (fields.has("who") && who.isEmpty()) {
      page.error(fields.at("who"), "a shift needs somebody who has it");
    }
    Optional<Duty.Turns> turns = turns(fields);
    if (turns.isPresent() && who.size() < 2) {
      page.error(fields.at("turns"), "turns need two or more of \"who\"");
    }
    return new Duty.Shift(
        days,
        fields.time("from").orElse(LocalTime.MIDNIGHT),
        fields.endTime("to").orElse(LocalTime.MIDNIGHT),
        who,
        turns);
  }

  private Optional<Duty.Turns> turns(Fields fields) {
    String text = fields.text("turns", "").toLowerCase(Locale.ROOT);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Matcher matcher = TURNS.matcher(text);
    Optional<LocalDate> from = matcher.matches() ? date(matcher.group(4)) : Optional.empty();
    if (from.isEmpty() || (matcher.group(2).equals("day") && matcher.group(3) != null)) {
      page.error(
          fields.at("turns"),
          "cannot read \""
              + text
              + "\"; expected how long a turn lasts and from when, as in \"1 week on monday from"
              + " 2027-01-04\" or \"2 days from 2027-01-04\"");
      return Optional.empty();
    }
    int many = Integer.parseInt(matcher.group(1));
    if (matcher.group(2).equals("day")) {
      return Optional.of(new Duty.Turns(many, from.get()));
    }
    DayOfWeek on =
        matcher.group(3) == null
            ? from.get().getDayOfWeek()
            : DayOfWeek.valueOf(matcher.group(3).toUpperCase(Locale.ROOT));
    return Optional.of(Duty.Turns.weeks(many, on, from.get()));
  }

  private static Optional<LocalDate> date(String text) {
    try {
      return Optional.of(LocalDate.parse(text)).filter(date -> date.getYear() >= 1970);
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  private List<Duty.Replacement> replacements(Fields fields, String name, List<Duty.Shift> shifts) {
    List<Duty.Replacement> all = new ArrayList<>();
    for (Node node : fields.list("replacements")) {
      Fields one = new Fields(page, node, TellingKeys.REPLACEMENT, "a replacement");
      LocalDate from = one.date("from").orElse(LocalDate.EPOCH);
      LocalDate to = one.date("to").orElse(from);
      if (to.isBefore(from)) {
        page.error(one.at("to"), "\"to\" is the last date, and lies before \"from\"");
      }
      String of = one.text("of", "");
      if (!of.isEmpty() && shifts.stream().noneMatch(shift -> shift.who().contains(of))) {
        page.error(one.at("of"), "\"" + of + "\" has no shift of this duty");
      }
      List<String> by = RecipientReader.members(page, mentions, one, "by", name);
      if (by.size() > 1) {
        page.error(one.at("by"), "one stands in for one; expected one name");
      }
      if (!by.isEmpty()) {
        all.add(new Duty.Replacement(from, to, of, by.get(0)));
      }
    }
    return all;
  }
}

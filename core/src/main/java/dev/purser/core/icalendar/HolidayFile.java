package dev.purser.core.icalendar;

import biweekly.Biweekly;
import biweekly.ICalVersion;
import biweekly.ICalendar;
import biweekly.component.VEvent;
import biweekly.io.ParseWarning;
import biweekly.io.TimezoneInfo;
import biweekly.io.WriteContext;
import biweekly.io.scribe.property.RecurrenceRuleScribe;
import biweekly.property.DateEnd;
import biweekly.property.DateStart;
import biweekly.property.ExceptionDates;
import biweekly.property.RawProperty;
import biweekly.property.RecurrenceDates;
import biweekly.property.RecurrenceRule;
import biweekly.util.ICalDate;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.Recurrence;
import dev.purser.core.calendar.Shifted;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Problem;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Reads holidays from iCalendar (RFC 5545): whole-day events, RRULE, RDATE and EXDATE. */
public final class HolidayFile {
  /** Our own property: the day rule that an event came from, so that it comes back as it was. */
  static final String DAYS = "X-PURSER-DAYS";

  private static final int MOST_CHARACTERS = 4_000_000;
  private static final int LONGEST_DAYS = 60;

  private final String name;
  private final List<Integer> eventLines = new ArrayList<>();
  private final List<Problem> problems = new ArrayList<>();
  private final List<HolidayCalendar.Holiday> holidays = new ArrayList<>();
  private final List<Optional<LocalDate>> ends = new ArrayList<>();

  private HolidayFile(String name) {
    this.name = name;
  }

  /**
   * What was read.
   *
   * @param holidays each event's days as a day rule, and its summary
   * @param last the last day of all; empty where an event goes on for ever, or there is none
   * @param problems with an error among them nothing may be taken over
   */
  public record Imported(
      List<HolidayCalendar.Holiday> holidays, Optional<LocalDate> last, List<Problem> problems) {
    /** Whether the file may be taken over. */
    public boolean isSound() {
      return problems.stream().noneMatch(Problem::isError);
    }

    /**
     * The definition of a calendar with these days, as YAML; good up to the end of the last one's
     * year.
     *
     * @param title empty for none
     */
    public String definition(String name, String title) {
      String head =
          (title.isBlank() ? "" : "title: " + quoted(title) + "\n")
              + last.map(day -> "known-to: " + day.withDayOfYear(day.lengthOfYear()) + "\n")
                  .orElse("");
      return HolidayFile.definition(name, head, holidays);
    }
  }

  /**
   * Reads a file.
   *
   * @param name of the file, for messages
   * @param today a calendar that picks nothing from then on is a warning
   */
  public static Imported read(String name, String text, LocalDate today) {
    HolidayFile file = new HolidayFile(name);
    file.read(text);
    Optional<LocalDate> last = file.last();
    last.filter(day -> day.isBefore(today))
        .ifPresent(
            day ->
                file.problems.add(
                    Problem.warning(
                        name, 1, 1, "its last day is " + day + ": it has nothing from today on")));
    return new Imported(
        List.copyOf(file.holidays),
        last,
        file.problems.stream().sorted(Problem.IN_READING_ORDER).toList());
  }

  private Optional<LocalDate> last() {
    return ends.isEmpty() || ends.contains(Optional.<LocalDate>empty())
        ? Optional.empty()
        : ends.stream().map(Optional::get).max(LocalDate::compareTo);
  }

  private void read(String text) {
    if (text.length() > MOST_CHARACTERS) {
      error(1, "the file has more than " + MOST_CHARACTERS + " characters");
      return;
    }
    if (!structure(text)) {
      return;
    }
    List<List<ParseWarning>> warnings = new ArrayList<>();
    List<ICalendar> calendars = Biweekly.parse(text).warnings(warnings).all();
    for (List<ParseWarning> some : warnings) {
      for (ParseWarning warning : some) {
        int line = warning.getLineNumber() == null ? 1 : warning.getLineNumber();
        error(line, warning.getPropertyName() + ": " + warning.getMessage());
      }
    }
    int number = 0;
    for (ICalendar calendar : calendars) {
      for (VEvent event : calendar.getEvents()) {
        int line = number < eventLines.size() ? eventLines.get(number) : 1;
        number++;
        event(event, line);
      }
    }
    if (number == 0 && problems.isEmpty()) {
      error(1, "there is no event (VEVENT) in it");
    }
  }

  /** Whether every BEGIN has its END; the library forgives what we must not. */
  private boolean structure(String text) {
    List<String> open = new ArrayList<>();
    List<Integer> openedAt = new ArrayList<>();
    String[] lines = text.split("\r?\n", -1);
    for (int i = 0; i < lines.length; i++) {
      String line = lines[i].strip().toUpperCase(java.util.Locale.ROOT);
      if (line.startsWith("BEGIN:")) {
        open.add(line.substring(6));
        openedAt.add(i + 1);
        if (line.equals("BEGIN:VEVENT")) {
          eventLines.add(i + 1);
        }
      } else if (line.startsWith("END:")) {
        if (open.isEmpty() || !open.get(open.size() - 1).equals(line.substring(4))) {
          error(i + 1, "\"" + lines[i].strip() + "\" ends what has not begun");
          return false;
        }
        open.remove(open.size() - 1);
        openedAt.remove(openedAt.size() - 1);
      } else if (i == 0 && !line.isEmpty()) {
        error(1, "this is not an iCalendar file: it does not begin with BEGIN:VCALENDAR");
        return false;
      }
    }
    if (!open.isEmpty()) {
      error(
          openedAt.get(openedAt.size() - 1),
          "BEGIN:" + open.get(open.size() - 1) + " has no END; the file is cut off");
      return false;
    }
    if (eventLines.isEmpty() && !text.toUpperCase(java.util.Locale.ROOT).contains("VCALENDAR")) {
      error(1, "this is not an iCalendar file: it does not begin with BEGIN:VCALENDAR");
      return false;
    }
    return true;
  }

  private void error(int line, String message) {
    problems.add(Problem.error(name, line, 1, message));
  }

  private void event(VEvent event, int line) {
    String summary = event.getSummary() == null ? "" : event.getSummary().getValue();
    String what = summary.isEmpty() ? "an event" : "\"" + summary + "\"";
    DateStart start = event.getDateStart();
    if (start == null || start.getValue() == null) {
      if (problems.isEmpty()) {
        error(line, what + " has no DTSTART");
      }
      return;
    }
    if (start.getValue().hasTime()) {
      error(
          line,
          what
              + " has a time of day; a calendar is made of whole days"
              + " (DTSTART;VALUE=DATE:20271224)");
      return;
    }
    try {
      holidays.add(new HolidayCalendar.Holiday(days(event, line, what), summary, true));
    } catch (IllegalArgumentException e) {
      error(line, what + ": " + e.getMessage());
    }
  }

  private DayRule days(VEvent event, int line, String what) {
    LocalDate first = date(event.getDateStart().getValue());
    Optional<DayRule> own = ownRule(event);
    long length = length(event, first, line, what);
    DayRule starts = starts(event, first);
    ends.add(end(event, first).map(last -> last.plusDays(length - 1)));
    if (own.isPresent()) {
      return own.get();
    }
    boolean plain =
        event.getRecurrenceRule() == null
            && event.getRecurrenceDates().isEmpty()
            && event.getExceptionDates().isEmpty();
    if (plain) {
      return new DayRule.Dates(List.of(new DayRule.Span(first, first.plusDays(length - 1))));
    }
    DayRule all = starts;
    for (int i = 1; i < length; i++) {
      all = new DayRule.Joined(all, DayRule.Joint.OR, new Shifted(i, false, "", false, starts));
    }
    return all;
  }

  private static Optional<DayRule> ownRule(VEvent event) {
    RawProperty own = event.getExperimentalProperty(DAYS);
    if (own == null) {
      return Optional.empty();
    }
    try {
      return Optional.of(DayRuleParser.parse(own.getValue()));
    } catch (PhraseException e) {
      return Optional.empty(); // the standard properties say the same days
    }
  }

  private long length(VEvent event, LocalDate first, int line, String what) {
    DateEnd end = event.getDateEnd();
    long length = 1;
    if (end != null && end.getValue() != null) {
      length = date(end.getValue()).toEpochDay() - first.toEpochDay();
    } else if (event.getDuration() != null && event.getDuration().getValue() != null) {
      length = event.getDuration().getValue().toMillis() / 86_400_000;
    }
    if (length == 0 || (end != null && length < 0)) {
      length = length == 0 ? 1 : length;
    }
    if (length < 1) {
      error(line, what + " ends before it begins");
      return 1;
    }
    if (event.getRecurrenceRule() != null && length > LONGEST_DAYS) {
      error(line, what + " comes again and again, and lasts more than " + LONGEST_DAYS + " days");
      return 1;
    }
    return length;
  }

  private static DayRule starts(VEvent event, LocalDate first) {
    DayRule starts = DayRule.Dates.of(first);
    RecurrenceRule rule = event.getRecurrenceRule();
    if (rule != null) {
      DayRule again = new Recurrence(text(rule), Optional.of(first));
      boolean picksFirst = again.pick(first, first, Calendars.NONE).contains(first);
      starts = picksFirst ? again : new DayRule.Joined(again, DayRule.Joint.OR, starts);
    }
    List<LocalDate> more = new ArrayList<>();
    for (RecurrenceDates dates : event.getRecurrenceDates()) {
      dates.getDates().forEach(date -> more.add(date(date)));
    }
    if (!more.isEmpty()) {
      starts = new DayRule.Joined(starts, DayRule.Joint.OR, DayRule.Dates.of(more));
    }
    List<LocalDate> not = new ArrayList<>();
    for (ExceptionDates dates : event.getExceptionDates()) {
      dates.getValues().forEach(date -> not.add(date(date)));
    }
    return not.isEmpty()
        ? starts
        : new DayRule.Joined(starts, DayRule.Joint.EXCEPT, DayRule.Dates.of(not));
  }

  /** The last day on which it begins; empty where it goes on for ever. */
  private static Optional<LocalDate> end(VEvent event, LocalDate first) {
    LocalDate last = first;
    if (event.getRecurrenceRule() != null) {
      Optional<LocalDate> end =
          new Recurrence(text(event.getRecurrenceRule()), Optional.of(first)).last();
      if (end.isEmpty()) {
        return Optional.empty();
      }
      last = end.get();
    }
    for (RecurrenceDates dates : event.getRecurrenceDates()) {
      for (ICalDate date : dates.getDates()) {
        last = date(date).isAfter(last) ? date(date) : last;
      }
    }
    return Optional.of(last);
  }

  private static String text(RecurrenceRule rule) {
    WriteContext context = new WriteContext(ICalVersion.V2_0, new TimezoneInfo(), null);
    return new RecurrenceRuleScribe().writeText(rule, context);
  }

  private static LocalDate date(ICalDate date) {
    var parts = date.getRawComponents();
    return LocalDate.of(parts.getYear(), parts.getMonth(), parts.getDate());
  }

  /**
   * The definition of a holiday calendar with the holidays, as YAML.
   *
   * @param head lines after its name, such as its title; each ends with a line break
   */
  public static String definition(
      String name, String head, List<HolidayCalendar.Holiday> holidays) {
    StringBuilder out = new StringBuilder("holiday-calendar: ").append(name).append('\n');
    out.append(head);
    out.append(holidays.isEmpty() ? "holidays: []\n" : "holidays:\n");
    for (HolidayCalendar.Holiday holiday : holidays) {
      out.append("  - day: ").append(quoted(holiday.days().toString())).append('\n');
      if (!holiday.name().isEmpty()) {
        out.append("    name: ").append(quoted(holiday.name())).append('\n');
      }
    }
    return out.toString();
  }

  /** A text as a YAML scalar in double quotes. */
  public static String quoted(String text) {
    StringBuilder out = new StringBuilder("\"");
    text.codePoints()
        .forEach(
            c -> {
              switch (c) {
                case '"' -> out.append("\\\"");
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\t' -> out.append("\\t");
                default -> {
                  if (c < 0x20 || c == 0x7f) {
                    out.append(String.format("\\x%02x", c));
                  } else {
                    out.appendCodePoint(c);
                  }
                }
              }
            });
    return out.append('"').toString();
  }
}

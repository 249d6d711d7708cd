package dev.purser.client;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.icalendar.HolidayFile;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.wire.api.ScheduleViews;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.time.Year;
import java.time.format.TextStyle;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about days and calendars. */
final class CalendarCommands {
  private static final int MOST_YEARS = 200;

  private CalendarCommands() {}

  /** {@code purser days}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "days",
      mixinStandardHelpOptions = true,
      description = "The days that a day rule picks; or why it picks one or not.",
      footer = {
        "",
        "Example: purser days \"2nd last business day of month\" --from 2027-01-01 --to 2027-06-30 \\",
        "         --calendars demo/world/calendars.yaml --calendar brannoch-office",
        "Example: purser days \"business days of brannoch-office\" --explain 2027-03-29 \\",
        "         --calendars demo/world/calendars.yaml"
      })
  static final class Days implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "RULE", description = "The day rule, in quotes.")
    private String rule;

    @CommandLine.Option(names = "--from", description = "The first date; today by default.")
    private LocalDate from;

    @CommandLine.Option(names = "--to", description = "The last date; a year later by default.")
    private LocalDate to;

    @CommandLine.Option(
        names = "--calendars",
        arity = "1..*",
        description = "Definition files with calendars.")
    private List<Path> files = List.of();

    @CommandLine.Option(
        names = "--calendar",
        description = "The calendar that the rule means where it names none.")
    private String calendar;

    @CommandLine.Option(
        names = "--explain",
        paramLabel = "DATE",
        description = "Why this date is picked or not, as a tree.")
    private LocalDate explain;

    /** One day, for JSON and tables. */
    record Day(LocalDate date, String weekday, String holiday, boolean guess) {}

    @Override
    public Integer call() {
      LocalDate first = from == null ? LocalDate.now(Here.zone()) : from;
      LocalDate last = to == null ? first.plusYears(1).minusDays(1) : to;
      if (last.isBefore(first) || first.plusYears(MOST_YEARS).isBefore(last)) {
        throw new Service.Refusal(
            2,
            last.isBefore(first)
                ? "--to " + last + " is before --from " + first
                : "from " + first + " to " + last + " is more than " + MOST_YEARS + " years");
      }
      Calendars calendars =
          files.isEmpty() ? Calendars.NONE : FileCommands.sound(files, output).calendars();
      if (calendar != null && !calendars.businessNames().contains(calendar)) {
        throw new Service.Refusal(
            2,
            "unknown calendar \""
                + calendar
                + "\""
                + Nearest.hint(calendar, calendars.businessNames()));
      }
      DayRule parsed = parse(rule, calendars);
      Calendars meant = calendar == null ? calendars : calendars.meaning(calendar);
      return explain == null ? list(parsed, meant, first, last) : explain(parsed, meant);
    }

    private int list(DayRule parsed, Calendars meant, LocalDate first, LocalDate last) {
      Optional<LocalDate> known = meant.knownTo(parsed);
      List<Day> days =
          parsed.pick(first, last, meant).days().stream()
              .map(
                  day ->
                      new Day(
                          day,
                          weekday(day),
                          holiday(day, meant),
                          known.filter(day::isAfter).isPresent()))
              .toList();
      output.list(
          Day.class,
          days,
          List.of(
              new Output.Column<>("date", Day::date),
              new Output.Column<>("weekday", Day::weekday),
              new Output.Column<>("holiday", Day::holiday),
              new Output.Column<>("sure", day -> day.guess() ? "a guess" : "")),
          "\"" + parsed + "\" picks no day from " + first + " to " + last);
      boolean guessed = days.stream().anyMatch(Day::guess);
      if (guessed && output.isText()) {
        output.warn(
            "what lies after " + known.orElseThrow() + " is a guess: the calendars go no further");
      }
      return days.isEmpty() ? 1 : 0;
    }

    private int explain(DayRule parsed, Calendars meant) {
      DayExplainer.Reason reason = DayExplainer.explain(parsed, explain, meant);
      output.one(
          reason,
          () -> {
            output.line(
                explain
                    + " ("
                    + weekday(explain)
                    + ") is "
                    + (reason.picked() ? "picked" : "not picked")
                    + " by \""
                    + parsed
                    + "\": "
                    + DayExplainer.inOneLine(reason));
            tree(reason, "");
            meant
                .knownTo(parsed)
                .filter(explain::isAfter)
                .ifPresent(
                    known ->
                        output.line("this is a guess: the calendars are known only to " + known));
          });
      return reason.picked() ? 0 : 1;
    }

    private void tree(DayExplainer.Reason reason, String indent) {
      output.line(
          indent + (reason.picked() ? "✓ " : "✗ ") + reason.rule() + "  (" + reason.text() + ")");
      reason.below().forEach(below -> tree(below, indent + "  "));
    }

    private static DayRule parse(String rule, Calendars calendars) {
      try {
        DayRule parsed = DayRuleParser.parse(rule);
        refuseUnknown(parsed.calendars(), calendars.names(), "calendar");
        refuseUnknown(parsed.periods(), calendars.periodNames(), "period");
        return parsed;
      } catch (PhraseException e) {
        String pointer = " ".repeat(e.column() - 1) + "^";
        throw new Service.Refusal(
            2, rule + "\n" + pointer + "\ncolumn " + e.column() + ": " + e.getMessage());
      }
    }

    private static void refuseUnknown(Set<String> named, Set<String> known, String what) {
      for (String name : named) {
        if (!known.contains(name)) {
          throw new Service.Refusal(
              2,
              "unknown "
                  + what
                  + " \""
                  + name
                  + "\""
                  + Nearest.hint(name, known)
                  + " (give its file with --calendars)");
        }
      }
    }

    private static String weekday(LocalDate day) {
      return day.getDayOfWeek().getDisplayName(TextStyle.FULL, Locale.ENGLISH);
    }

    private static String holiday(LocalDate day, Calendars calendars) {
      for (String name : new TreeSet<>(calendars.holidayNames())) {
        if (calendars.isHoliday(name, day)) {
          return calendars.holidayName(name, day).orElse("") + " (" + name + ")";
        }
      }
      return "";
    }
  }

  /** {@code purser calendars}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "calendars",
      mixinStandardHelpOptions = true,
      description = "Calendars, or the named days of one in a year.",
      subcommands = {ExportCalendar.class, ImportCalendar.class},
      footer = {
        "",
        "Example: purser calendars brannoch-office --year 2027",
        "Example: purser calendars export brannoch > brannoch.ics",
        "Example: purser calendars import holidays.ics --name skerry > skerry.yaml"
      })
  static final class CalendarsCommand implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "CALENDAR", arity = "0..1", description = "Its name.")
    private String name;

    @CommandLine.Option(names = "--year", description = "The year; this year by default.")
    private Integer year;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      if (name == null) {
        output.list(
            ScheduleViews.CalendarView.class,
            service.list(ScheduleViews.CalendarView.class, "/calendars", Map.of()),
            List.of(
                new Output.Column<>("calendar", ScheduleViews.CalendarView::name),
                new Output.Column<>("kind", ScheduleViews.CalendarView::kind),
                new Output.Column<>("title", ScheduleViews.CalendarView::title),
                new Output.Column<>("built on", c -> String.join(" ", c.builtOn())),
                new Output.Column<>("known to", ScheduleViews.CalendarView::knownTo),
                new Output.Column<>("streams", c -> c.usedBy().size()),
                new Output.Column<>("fetched", CalendarsCommand::fetched)),
            "there are no calendars");
        return 0;
      }
      int wanted = year == null ? Year.now(Here.zone()).getValue() : year;
      ScheduleViews.YearView view =
          service.get(
              ScheduleViews.YearView.class,
              "/calendars/" + Service.encode(name) + "/years/" + wanted,
              Map.of());
      output.list(
          ScheduleViews.DayView.class,
          view.days().stream().filter(day -> !day.name().isEmpty()).toList(),
          List.of(
              new Output.Column<>("date", ScheduleViews.DayView::date),
              new Output.Column<>("weekday", day -> Days.weekday(day.date())),
              new Output.Column<>("open", day -> day.open() ? "open" : "closed"),
              new Output.Column<>("holiday", ScheduleViews.DayView::name),
              new Output.Column<>("sure", day -> day.guess() ? "a guess" : "")),
          name + " has no named holiday in " + wanted);
      return 0;
    }

    private static String fetched(ScheduleViews.CalendarView calendar) {
      if (calendar.source().isEmpty()) {
        return "";
      }
      String when = calendar.fetched() == null ? "never" : Output.time(calendar.fetched());
      return when + (calendar.fetchError().isEmpty() ? "" : "; now: " + calendar.fetchError());
    }
  }

  /** {@code purser calendars export}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "export",
      mixinStandardHelpOptions = true,
      description = "The closed days of a calendar as iCalendar, on standard output.",
      footer = {
        "",
        "Example: purser calendars export brannoch > brannoch.ics",
        "Example, without a service: purser calendars export brannoch --files demo/world"
      })
  static final class ExportCalendar implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "CALENDAR", description = "Its name.")
    private String name;

    @CommandLine.Option(
        names = "--from",
        description = "The first date; the 1st of January by default.")
    private LocalDate from;

    @CommandLine.Option(
        names = "--to",
        description = "The last date; by default the last that it is known to, or 3 years later.")
    private LocalDate to;

    @CommandLine.Option(
        names = "--files",
        arity = "1..*",
        description = "Definition files; without them the service is asked.")
    private List<Path> files = List.of();

    @Override
    public Integer call() {
      output.line(files.isEmpty() ? asked() : written());
      return 0;
    }

    private String asked() {
      Map<String, Object> query = new HashMap<>();
      query.put("from", from);
      query.put("to", to);
      return Service.loggedIn()
          .text("/calendars/" + Service.encode(name) + "/export", query)
          .stripTrailing();
    }

    private String written() {
      Calendars calendars = FileCommands.sound(files, output).calendars();
      if (!calendars.names().contains(name)) {
        throw new Service.Refusal(
            1, "there is no calendar \"" + name + "\"" + Nearest.hint(name, calendars.names()));
      }
      LocalDate first = from == null ? LocalDate.now(Here.zone()).withDayOfYear(1) : from;
      LocalDate last =
          to == null ? calendars.knownTo(name).orElse(first.plusYears(3).minusDays(1)) : to;
      return CalendarWriter.closedDays(name, calendars, first, last, Clock.systemUTC().instant())
          .stripTrailing();
    }
  }

  /** {@code purser calendars import}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "import",
      mixinStandardHelpOptions = true,
      description =
          "The definition of a holiday calendar from an iCalendar file, on standard output.",
      footer = {
        "",
        "Needs no service, and publishes nothing.",
        "Example: purser calendars import demo/skerry.ics --name skerry > skerry.yaml"
      })
  static final class ImportCalendar implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "FILE", description = "The iCalendar file.")
    private Path file;

    @CommandLine.Option(names = "--name", required = true, description = "The calendar's name.")
    private String name;

    @CommandLine.Option(names = "--title", defaultValue = "", description = "A title for people.")
    private String title;

    @Override
    public Integer call() throws IOException {
      if (!Files.isRegularFile(file)) {
        throw new Service.Refusal(2, "there is no file " + file);
      }
      HolidayFile.Imported imported =
          HolidayFile.read(file.toString(), Files.readString(file), LocalDate.now(Here.zone()));
      imported.problems().forEach(problem -> output.warn(problem.toString()));
      if (!imported.isSound()) {
        long errors = imported.problems().stream().filter(Problem::isError).count();
        throw new Service.Refusal(1, errors + " errors; nothing was imported");
      }
      output.line(imported.definition(name, title).stripTrailing());
      return 0;
    }
  }
}

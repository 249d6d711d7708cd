package dev.purser.client;

import dev.purser.wire.api.ScheduleViews;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine;

/** Commands about streams and their schedules. */
final class ScheduleCommands {
  private ScheduleCommands() {}

  private static String paused(ScheduleViews.PauseView pause) {
    return pause == null
        ? ""
        : "paused"
            + (pause.until() == null ? "" : " until " + pause.until())
            + " by "
            + pause.who()
            + (pause.reason().isEmpty() ? "" : ": " + pause.reason());
  }

  /** {@code purser streams}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "streams",
      mixinStandardHelpOptions = true,
      description = "Streams: their schedules, when each starts next, and which are paused.",
      footer = {"", "Example: purser streams passenger"})
  static final class Streams implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "TEXT",
        arity = "0..1",
        defaultValue = "",
        description = "Only those with this in their name, title or department.")
    private String text;

    @Override
    public Integer call() {
      List<ScheduleViews.StreamView> streams =
          Service.loggedIn().list(ScheduleViews.StreamView.class, "/streams", Map.of("text", text));
      output.byTheClockOf(
          streams.stream()
              .map(ScheduleViews.StreamView::zone)
              .filter(zone -> !zone.isEmpty())
              .toList());
      output.list(
          ScheduleViews.StreamView.class,
          streams,
          List.of(
              new Output.Column<>("stream", ScheduleViews.StreamView::stream),
              new Output.Column<>("next", Streams::next),
              new Output.Column<>("schedule", Streams::schedule),
              new Output.Column<>("paused", s -> paused(s.pause()))),
          "there is no such stream");
      return 0;
    }

    private static Object next(ScheduleViews.StreamView stream) {
      return stream.pause() != null && stream.next() != null ? "paused" : stream.next();
    }

    private static String schedule(ScheduleViews.StreamView stream) {
      List<String> ways = new ArrayList<>(stream.schedule());
      if (!stream.startsOn().isEmpty()) {
        ways.add("started by files of " + stream.startsOn());
      }
      return ways.isEmpty() ? "started by people" : String.join("; ", ways);
    }
  }

  /** {@code purser next}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "next",
      mixinStandardHelpOptions = true,
      description = "The next starts of a stream, with the reason for each date.",
      footer = {"", "Example: purser next accounts/month-end --count 6"})
  static final class Next implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full name.")
    private String stream;

    @CommandLine.Option(
        names = "--count",
        defaultValue = "10",
        description = "How many starts; 10 by default.")
    private int count;

    @Override
    public Integer call() {
      List<ScheduleViews.StartView> starts =
          Service.loggedIn()
              .list(
                  ScheduleViews.StartView.class,
                  "/streams/next",
                  Map.of("stream", stream, "count", count));
      output.byTheClockOf(starts.stream().map(ScheduleViews.StartView::zone).toList());
      output.list(
          ScheduleViews.StartView.class,
          starts,
          List.of(
              new Output.Column<>("business date", ScheduleViews.StartView::date),
              new Output.Column<>("start", s -> s.date() + "#" + s.number()),
              new Output.Column<>("at", ScheduleViews.StartView::at),
              new Output.Column<>("runs", ScheduleViews.StartView::runs),
              new Output.Column<>("clock change", ScheduleViews.StartView::shift),
              new Output.Column<>(
                  "sure", s -> s.paused() ? "no, it is paused" : s.guess() ? "a guess" : "yes"),
              new Output.Column<>("because", this::because)),
          "stream " + stream + " has no coming start");
      return 0;
    }

    private String because(ScheduleViews.StartView start) {
      return start.windowStart() == null
          ? start.reason()
          : "window from " + output.at(start.windowStart()) + " to " + output.at(start.windowEnd());
    }
  }

  /** {@code purser month}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "month",
      mixinStandardHelpOptions = true,
      description = "Streams down, days across: how often each starts on each day.",
      footer = {"", "Example: purser month --from 2027-03-01"})
  static final class Month implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--from",
        description = "The first date; the 1st of this month by default.")
    private LocalDate from;

    @CommandLine.Option(
        names = "--days",
        defaultValue = "31",
        description = "How many days; 31 by default.")
    private int days;

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      query.put("days", days);
      if (from != null) {
        query.put("from", from);
      }
      ScheduleViews.MonthView month =
          Service.loggedIn().get(ScheduleViews.MonthView.class, "/streams/month", query);
      if (output.isText()) {
        print(month);
      } else {
        output.list(
            Cell.class,
            month.streams().stream()
                .flatMap(row -> row.cells().stream().map(cell -> new Cell(row.stream(), cell)))
                .toList(),
            List.of(),
            "");
      }
      return 0;
    }

    /** One stream on one day. */
    record Cell(String stream, ScheduleViews.MonthCell day) {}

    private void print(ScheduleViews.MonthView month) {
      int width =
          month.streams().stream().mapToInt(row -> row.stream().length()).max().orElse(6) + 2;
      StringBuilder numbers = new StringBuilder(" ".repeat(width));
      StringBuilder weekdays =
          new StringBuilder(month.from().getMonth() + " " + month.from().getYear());
      weekdays.append(" ".repeat(Math.max(0, width - weekdays.length())));
      for (int i = 0; i < month.days(); i++) {
        LocalDate date = month.from().plusDays(i);
        numbers.append(String.format("%2d ", date.getDayOfMonth()));
        weekdays.append(date.getDayOfWeek().name(), 0, 2).append(' ');
      }
      output.line(numbers.toString());
      output.line(weekdays.toString());
      Map<LocalDate, String> holidays = new LinkedHashMap<>();
      for (ScheduleViews.MonthRow row : month.streams()) {
        StringBuilder line = new StringBuilder(row.stream());
        line.append(" ".repeat(width - row.stream().length()));
        for (ScheduleViews.MonthCell cell : row.cells()) {
          line.append(mark(cell)).append(' ');
          if (!cell.holiday().isEmpty()) {
            holidays.merge(cell.date(), cell.holiday(), (a, b) -> a.contains(b) ? a : a + ", " + b);
          }
        }
        output.line(line.toString().stripTrailing());
      }
      output.line("");
      holidays.forEach((date, name) -> output.line("  " + date + "  " + name));
      output.line("  a number: so many starts · ? a guess · - paused · h closed by a holiday");
    }

    private static String mark(ScheduleViews.MonthCell cell) {
      if (cell.starts() == 0) {
        return cell.holiday().isEmpty() ? " ." : " h";
      }
      String count =
          cell.paused() ? "-" : cell.starts() > 99 ? "##" : String.valueOf(cell.starts());
      String marked = cell.guess() && count.length() < 2 ? count + "?" : count;
      return String.format("%2s", marked);
    }
  }

  /** {@code purser pause}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "pause",
      mixinStandardHelpOptions = true,
      description = "Pauses a stream: its schedule starts nothing until it is resumed.",
      footer = {
        "",
        "Example: purser pause fuel/stock-count --until 2027-05-01 --reason \"tank 2 is being cleaned\""
      })
  static final class Pause implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full name.")
    private String stream;

    @CommandLine.Option(
        names = "--until",
        description = "The date on which it goes on by itself; else when somebody resumes it.")
    private LocalDate until;

    @CommandLine.Option(
        names = "--reason",
        defaultValue = "",
        description = "The reason; everybody sees it.")
    private String reason;

    @Override
    public Integer call() {
      ScheduleViews.PauseResult result =
          Service.loggedIn()
              .post(
                  ScheduleViews.PauseResult.class,
                  "/streams/pause",
                  new ScheduleViews.PauseRequest(stream, until, reason));
      output.one(result, () -> output.line(stream + " is " + paused(result.stream().pause())));
      return 0;
    }
  }

  /** {@code purser resume}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "resume",
      mixinStandardHelpOptions = true,
      description = "Lets a paused stream go on; what it missed is judged by its if-missed.",
      footer = {"", "Example: purser resume fuel/stock-count --reason \"tank 2 is clean\""})
  static final class Resume implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full name.")
    private String stream;

    @CommandLine.Mixin private ReasonOption reason;

    @Override
    public Integer call() {
      ScheduleViews.PauseResult result =
          Service.loggedIn()
              .post(
                  ScheduleViews.PauseResult.class,
                  "/streams/resume",
                  new ScheduleViews.ResumeRequest(stream, reason.text()));
      Instant next = result.stream().next();
      output.one(
          result,
          () ->
              output.line(
                  stream
                      + " goes on: "
                      + result.planned()
                      + " runs planned"
                      + (next == null ? "" : ", next start " + Output.time(next))));
      return 0;
    }
  }

  /** {@code purser windows}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "windows",
      mixinStandardHelpOptions = true,
      description = "The windows of a stream and how each stands; fills in earlier ones.",
      footer = {
        "",
        "Example: purser windows tide/levels",
        "Example: purser windows tide/levels --fill-from 2027-03-01 --reason \"new gauge\""
      })
  static final class Windows implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full name.")
    private String stream;

    @CommandLine.Option(
        names = "--fill-from",
        description = "Also plan the windows from this date on that are not on record.")
    private LocalDate fillFrom;

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "40",
        description = "How many windows; 40 by default.")
    private int limit;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      if (fillFrom != null) {
        ScheduleViews.Filled filled =
            service.post(
                ScheduleViews.Filled.class,
                "/streams/windows/fill",
                new ScheduleViews.FillRequest(stream, fillFrom, reason.text()));
        output.one(
            filled,
            () -> output.line(filled.windows() + " windows of " + stream + " were filled in"));
        return 0;
      }
      List<ScheduleViews.WindowView> windows =
          new ArrayList<>(
              service.list(
                  ScheduleViews.WindowView.class,
                  "/streams/windows",
                  Map.of("stream", stream, "limit", limit)));
      output.list(
          ScheduleViews.WindowView.class,
          windows,
          List.of(
              new Output.Column<>("window", w -> w.date() + "#" + w.number()),
              new Output.Column<>("from", ScheduleViews.WindowView::start),
              new Output.Column<>("to", ScheduleViews.WindowView::end),
              new Output.Column<>("state", ScheduleViews.WindowView::state),
              new Output.Column<>("runs", Windows::runs)),
          "stream " + stream + " has no window on record");
      return 0;
    }

    private static String runs(ScheduleViews.WindowView window) {
      return window.runs().stream()
          .collect(
              Collectors.groupingBy(
                  ScheduleViews.WindowRun::state, LinkedHashMap::new, Collectors.counting()))
          .entrySet()
          .stream()
          .map(one -> one.getValue() + " " + one.getKey())
          .collect(Collectors.joining(", "));
    }
  }
}

package dev.purser.client;

import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import picocli.AutoComplete;
import picocli.CommandLine;

/** The client's program. */
@CommandLine.Command(
    name = "purser",
    mixinStandardHelpOptions = true,
    version = "Purser 0.1.0",
    description = "Keeps batch work on time, and says why when it is not.",
    synopsisSubcommandLabel = "COMMAND",
    subcommands = {
      CalendarCommands.Days.class,
      FileCommands.Check.class,
      OutlookCommand.class,
      RehearseCommand.class,
      FileCommands.Schema.class,
      SiteCommands.Login.class,
      ChangeCommands.Import.class,
      ChangeCommands.PreviewCommand.class,
      SiteCommands.Publish.class,
      SiteCommands.Withdraw.class,
      ScheduleCommands.Streams.class,
      ScheduleCommands.Next.class,
      ScheduleCommands.Month.class,
      ScheduleCommands.Pause.class,
      ScheduleCommands.Resume.class,
      ScheduleCommands.Windows.class,
      RunCommands.Plan.class,
      RunCommands.Start.class,
      RunCommands.Runs.class,
      RunCommands.Show.class,
      RunCommands.Log.class,
      RunCommands.WhyCommand.class,
      RunCommands.Values.class,
      RunCommands.Graph.class,
      RunCommands.Find.class,
      ActionCommands.Hold.class,
      ActionCommands.Release.class,
      ActionCommands.Holds.class,
      ActionCommands.StartNow.class,
      ActionCommands.StartAt.class,
      ActionCommands.Priority.class,
      ActionCommands.Mark.class,
      ActionCommands.Skip.class,
      ActionCommands.Cancel.class,
      ActionCommands.Rerun.class,
      ActionCommands.Approve.class,
      ActionCommands.Refuse.class,
      SiteCommands.Hosts.class,
      FileWatchCommands.Watches.class,
      FileWatchCommands.Arrivals.class,
      CalendarCommands.CalendarsCommand.class,
      ActionCommands.Capacity.class,
      SiteCommands.Alerts.class,
      SiteCommands.Audit.class,
      SiteCommands.People.class,
      CareCommands.Doctor.class,
      CareCommands.Forget.class,
      AutoComplete.GenerateCompletion.class
    },
    footer = {
      "",
      "Exit codes: 0 done, 1 the answer is no, 2 wrong use, 3 the service cannot be reached.",
      "Shell completion: source <(purser generate-completion)"
    })
public final class Purser {

  /** Runs one command. */
  public static void main(String[] args) {
    System.exit(
        run(
            new PrintWriter(System.out, true, StandardCharsets.UTF_8),
            new PrintWriter(System.err, true, StandardCharsets.UTF_8),
            args));
  }

  /** Runs one command with the given writers; returns its exit code. */
  public static int run(PrintWriter out, PrintWriter err, String... args) {
    CommandLine line = new CommandLine(new Purser());
    line.setOut(out);
    line.setErr(err);
    line.setUsageHelpAutoWidth(true);
    line.setCaseInsensitiveEnumValuesAllowed(true);
    line.setExecutionExceptionHandler(Purser::explain);
    line.registerConverter(LocalDate.class, Purser::date);
    if (args.length == 0) {
      line.usage(out);
      return 2;
    }
    int code = line.execute(args);
    out.flush();
    err.flush();
    return code;
  }

  private static LocalDate date(String text) {
    try {
      return LocalDate.parse(text);
    } catch (DateTimeParseException e) {
      throw new CommandLine.TypeConversionException(
          "\"" + text + "\" is no date; expected one such as 2027-03-04");
    }
  }

  private static int explain(Exception e, CommandLine line, CommandLine.ParseResult parsed) {
    if (e instanceof Service.Refusal refusal) {
      line.getErr().println(refusal.getMessage());
      return refusal.code();
    }
    line.getErr().println("this went wrong inside purser itself: " + e);
    return 1;
  }
}

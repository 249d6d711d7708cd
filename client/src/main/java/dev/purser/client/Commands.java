package dev.purser.client;

import dev.purser.core.problem.Nearest;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import picocli.AutoComplete;
import picocli.CommandLine;

/**
 * The one table of commands, in the order in which help lists them. A command is made only when it
 * is asked for, since making one costs more time than most of them take. Commands that are the same
 * but for a word and what is said of them are rows and no classes.
 */
final class Commands {
  private static final List<Entry> ALL =
      List.of(
          one("days", CalendarCommands.Days::new),
          one("check", FileCommands.Check::new),
          one("outlook", OutlookCommand::new),
          one("rehearse", RehearseCommand::new),
          one("schema", FileCommands.Schema::new),
          one("login", PeopleCommands.Login::new),
          one("logout", PeopleCommands.Logout::new),
          one("import", ChangeCommands.Import::new),
          one("preview", ChangeCommands.PreviewCommand::new),
          one("publish", SiteCommands.Publish::new),
          one("withdraw", SiteCommands.Withdraw::new),
          one("uses", FindingCommands.UsesCommand::new),
          one("search", FindingCommands.Search::new),
          one("left-over", FindingCommands.LeftOver::new),
          one("copy", FindingCommands.Copy::new),
          one("logins", ParcelCommands.Logins::new),
          one("parcel", ParcelCommands.Pack::new),
          one("promote", ParcelCommands.Promote::new),
          one("differences", DifferencesCommand::new),
          one("neighbours", NeighbourCommands.Neighbours::new),
          one("bring", NeighbourCommands.Bring::new),
          one("drafts", DraftCommands.Drafts::new),
          one("draft", DraftCommands.Draft::new),
          one("save-draft", DraftCommands.Save::new),
          one("agreement", DraftCommands.AgreementCommand::new),
          one("source", SourceCommand::new),
          one("templates", TemplateCommands.Templates::new),
          one("versions", VersionCommands.Versions::new),
          one("publications", VersionCommands.Publications::new),
          one("revert", VersionCommands.Revert::new),
          one("rename", RenameCommand::new),
          one("streams", ScheduleCommands.Streams::new),
          one("next", ScheduleCommands.Next::new),
          one("month", ScheduleCommands.Month::new),
          one("pause", ScheduleCommands.Pause::new),
          one("resume", ScheduleCommands.Resume::new),
          one("windows", ScheduleCommands.Windows::new),
          one("needs", NeedsCommand::new),
          one("commitments", CommitmentCommands.Commitments::new),
          one("plan", RunCommands.Plan::new),
          one("start", StartCommand::new),
          one("runs", RunCommands.Runs::new),
          one("show", ShowCommand::new),
          one("log", LogCommand::new),
          one("why", WhyCommand::new),
          one("values", RunCommands.Values::new),
          one("graph", GraphCommand::new),
          one("find", RunCommands.Find::new),
          row(
              "hold",
              () -> new HoldCommand("hold"),
              "Keeps a run from starting until it is released; or a whole stream.",
              "purser hold month-end/close-books@2027-03-31 --reason \"late invoices\"",
              "purser hold --whole-stream catering/loads --what-if"),
          row(
              "release",
              () -> new HoldCommand("release"),
              "Lets what is held start as soon as it is due and nothing is missing.",
              "purser release month-end/close-books@2027-03-31"),
          one("holds", HoldCommand.Holds::new),
          row(
              "start-now",
              () -> new ActionCommands.OneWord("start"),
              "Starts a run at once, whatever it waits for.",
              "purser start-now night-manifest/file-manifest@2027-03-04 --what-if"),
          one("start-at", ActionCommands.StartAt::new),
          one("priority", ActionCommands.Priority::new),
          one("mark", ActionCommands.Mark::new),
          row(
              "skip",
              () -> new ActionCommands.OneWord("skip"),
              "Leaves a run out; what waits for its success goes on.",
              "purser skip catering/loads/print-labels@2027-03-04 --reason \"printer\""),
          row(
              "cancel",
              () -> new ActionCommands.OneWord("cancel"),
              "Ends a run and all below it: a process is asked to stop, and forced after its grace"
                  + " time.",
              "purser cancel fuel/stock-count/count-tanks@2027-03-04"),
          one("rerun", ActionCommands.Rerun::new),
          row(
              "approve",
              () -> new ActionCommands.OneWord("approve"),
              "Says yes to a run that waits for an answer.",
              "purser approve month-end/approve-close@2027-03-31"),
          row(
              "refuse",
              () -> new ActionCommands.OneWord("refuse"),
              "Says no to a run that waits for an answer.",
              "purser refuse month-end/approve-close@2027-03-31 --reason \"totals\""),
          one("hosts", SiteCommands.Hosts::new),
          one("watches", FileWatchCommands.Watches::new),
          new Entry("arrivals", Commands::arrivals),
          one("calendars", CalendarCommands.CalendarsCommand::new),
          one("capacity", CapacityCommand::new),
          one("alerts", AlertCommands::new),
          one("audit", SiteCommands.Audit::new),
          one("people", PeopleCommands.People::new),
          one("duties", DutyCommand::new),
          one("handover", HandoverCommand::new),
          one("maintenance", MaintenanceCommand::new),
          one("events", EventsCommand::new),
          one("subscriptions", SubscriptionsCommand::new),
          one("tokens", PeopleCommands.Tokens::new),
          one("secrets", SecretCommands::new),
          one("connections", ConnectionsCommand::new),
          one("remote", RemoteCommand::new),
          one("results", ResultsCommand::new),
          one("doctor", CareCommands.Doctor::new),
          one("forget", CareCommands.Forget::new),
          one("history", HistoryCommands::new),
          one("generate-completion", AutoComplete.GenerateCompletion::new));

  private Commands() {}

  /** A command by its name, not made yet. */
  private record Entry(String name, Function<List<String>, CommandLine> maker) {}

  /** A command whose class says what it is. */
  private static Entry one(String name, Supplier<Object> maker) {
    return new Entry(name, words -> FurtherWords.of(maker.get(), words));
  }

  /** A command that is the same as others but for what is said here. */
  private static Entry row(String name, Supplier<Object> maker, String about, String... examples) {
    return new Entry(
        name,
        words -> {
          CommandLine made = FurtherWords.of(maker.get(), words);
          String[] footer = new String[examples.length + 1];
          footer[0] = "";
          for (int i = 0; i < examples.length; i++) {
            footer[i + 1] = "Example: " + examples[i];
          }
          made.getCommandSpec().name(name).usageMessage().description(about).footer(footer);
          return made;
        });
  }

  private static CommandLine arrivals(List<String> words) {
    CommandLine arrivals = FurtherWords.of(new FileWatchCommands.Arrivals(), words);
    add(
        arrivals,
        List.of(
            row(
                "retry",
                () -> new FileWatchCommands.Decision("retry"),
                "Uses files after all: the run that failed is tried again; a file that no run has is"
                    + " free for the next one.",
                "purser arrivals retry 41 42 --reason \"the table was locked\""),
            row(
                "put-aside",
                () -> new FileWatchCommands.Decision("put-aside"),
                "Leaves files alone: no run gets them.",
                "purser arrivals put-aside 41 --reason \"sent by mistake\""),
            row(
                "done",
                () -> new FileWatchCommands.Decision("done"),
                "Marks files as dealt with in another way; the reason is needed.",
                "purser arrivals done 41 --reason \"typed in by hand\"")),
        words);
    return arrivals;
  }

  private static void add(CommandLine line, List<Entry> entries, List<String> words) {
    for (Entry entry : entries) {
      CommandLine made = entry.maker().apply(words);
      made.getSubcommands().values().forEach(below -> sayHowToPrint(made, below));
      line.addSubcommand(entry.name(), made);
    }
  }

  /** What a command does by a further word prints in the same forms as the command itself. */
  private static void sayHowToPrint(CommandLine command, CommandLine below) {
    CommandLine.Model.OptionSpec form = command.getCommandSpec().findOption(Output.OPTION);
    boolean lacks = below.getCommandSpec().findOption(Output.OPTION) == null;
    if (form != null && lacks) {
      below.getCommandSpec().addOption(CommandLine.Model.OptionSpec.builder(form).build());
    }
  }

  /**
   * Gives a command line what its first word asks for: one command, or all of them where it asks
   * for help or completion.
   *
   * @return what is wrong with the word; empty where nothing is
   */
  static Optional<String> addWanted(CommandLine line, List<String> words) {
    String first = words.isEmpty() ? "--help" : words.get(0);
    boolean everything = List.of("-h", "--help", "generate-completion").contains(first);
    List<Entry> wanted =
        ALL.stream().filter(entry -> everything || entry.name().equals(first)).toList();
    if (wanted.isEmpty() && !first.startsWith("-")) {
      List<String> names = ALL.stream().map(Entry::name).toList();
      String near =
          Nearest.to(first, names)
              .map(name -> "; did you mean \"" + name + "\"?")
              .orElse("; purser --help lists them");
      return Optional.of("there is no command \"" + first + "\"" + near);
    }
    add(
        line,
        wanted,
        everything ? List.of("--help") : words.subList(Math.min(1, words.size()), words.size()));
    return Optional.empty();
  }
}

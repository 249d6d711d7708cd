package dev.purser.client;

import java.time.Instant;
import picocli.CommandLine;

/** Actions on runs: those that are one word, and those with an option of their own. */
final class ActionCommands {
  private ActionCommands() {}

  /** An action that is one word of the API. */
  static final class OneWord extends ActionCommand {
    private final String action;

    OneWord(String action) {
      this.action = action;
    }

    @Override
    String action() {
      return action;
    }
  }

  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "rerun",
      mixinStandardHelpOptions = true,
      description = "Runs a run again, as a further attempt.",
      footer = {"", "Example: purser rerun night-manifest/build-manifest@2027-03-04"})
  static final class Rerun extends ActionCommand {
    @CommandLine.Option(
        names = "--and-following",
        description = "Also rerun everything that follows it and has ended.")
    private boolean following;

    @Override
    String action() {
      return following ? "rerun-from" : "rerun";
    }
  }

  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "mark",
      mixinStandardHelpOptions = true,
      description = "Marks a run as succeeded or failed.",
      footer = {
        "",
        "Example: purser mark --as succeeded tide/import/load-tides@2027-03-04 --reason \"by hand\""
      })
  static final class Mark extends ActionCommand {
    /** The outcomes. */
    enum Outcome {
      succeeded,
      failed
    }

    @CommandLine.Option(names = "--as", required = true, description = "${COMPLETION-CANDIDATES}.")
    private Outcome outcome;

    @Override
    String action() {
      return outcome == Outcome.succeeded ? "succeed" : "fail";
    }
  }

  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "priority",
      mixinStandardHelpOptions = true,
      description = "Changes who comes first where capacity is short.",
      footer = {"", "Example: purser priority --to 80 month-end/load-ledger@2027-03-31"})
  static final class Priority extends ActionCommand {
    @CommandLine.Option(
        names = "--to",
        required = true,
        description = "0 to 100; a point is worth a minute of waiting.")
    private int priority;

    @Override
    String action() {
      return "priority";
    }

    @Override
    Integer priority() {
      return priority;
    }
  }

  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "start-at",
      mixinStandardHelpOptions = true,
      description = "Moves the time before which a run does not start.",
      footer = {
        "",
        "Example: purser start-at --time 22:15 night-manifest/file-manifest@2027-03-04"
      })
  static final class StartAt extends ActionCommand {
    @CommandLine.Option(
        names = "--time",
        required = true,
        description = "21:30 (the next one), or 2027-03-04T21:30.")
    private String time;

    @Override
    String action() {
      return "start-at";
    }

    @Override
    Instant startAt() {
      return ActionCommand.time(time);
    }
  }
}

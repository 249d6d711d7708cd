package dev.purser.client;

import picocli.CommandLine;

/** Why something is done: shared by the commands that the audit trail hears of. */
final class ReasonOption {
  @CommandLine.Option(
      names = "--reason",
      defaultValue = "",
      description = "The reason, for the audit trail.")
  private String reason;

  /** As it was given; empty for none. */
  String text() {
    return reason;
  }
}

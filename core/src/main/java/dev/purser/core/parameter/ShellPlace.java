package dev.purser.core.parameter;

import java.util.Optional;

/**
 * Where in a command line a placeholder stands, as the shell sees it (POSIX.1-2017, Shell Command
 * Language, sections 2.2 to 2.7).
 */
public enum ShellPlace {
  /** Outside all quotes. */
  BARE("", " \t\n\"'`$\\;&|<>()*?[#~"),
  /** In double quotes. */
  DOUBLE("", "\"`$\\"),
  /** In single quotes. */
  SINGLE("", "'"),
  /** In the text after {@code <<}. */
  HERE_DOCUMENT(
      "in a here-document; put it into a variable before, as in v=${%s}, and write $v there", ""),
  /** In a command in backticks. */
  BACKTICKS("in backticks; write $(…) instead of them", ""),
  /** Where the shell calculates: it would read a value as an expression. */
  ARITHMETIC("where the shell calculates; use expr, as in $(expr ${%s} + 1)", ""),
  /** In {@code [[ ]]}, which some shells have and where they calculate. */
  DOUBLE_BRACKETS("in [[ … ]]; write [ … ] instead", ""),
  /** In {@code $'…'}, which not every shell has. */
  DOLLAR_QUOTES("in $'…'; write '…' instead", "");

  private final String refusal;
  private final String read;

  ShellPlace(String refusal, String read) {
    this.refusal = refusal;
    this.read = read;
  }

  /**
   * Why a value cannot stand here, and what can be written instead; empty where it can.
   *
   * @param inside the text between the braces
   */
  public Optional<String> refusal(String inside) {
    return refusal.isEmpty()
        ? Optional.empty()
        : Optional.of("${" + inside + "} cannot stand " + refusal.replace("%s", inside));
  }

  /** Whether the shell would read any character of a text, were it a piece of the line here. */
  public boolean reads(String text) {
    return text.chars().anyMatch(c -> read.indexOf(c) >= 0);
  }
}

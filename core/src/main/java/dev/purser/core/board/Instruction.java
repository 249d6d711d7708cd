package dev.purser.core.board;

/** What the outside must do. */
public sealed interface Instruction {

  /** Send an attempt to a host. */
  record StartAttempt(long run, int attempt, String host) implements Instruction {}

  /** Ask an attempt to stop, and force it after the grace time. */
  record StopAttempt(long run, int attempt, String host, long graceMillis) implements Instruction {}

  /**
   * An attempt counts no more, and nobody knows what became of it: its host is away. What the host
   * tells of it later is the truth.
   *
   * @param note for people
   */
  record GiveUpAttempt(long run, int attempt, String note) implements Instruction {}

  /** Look for a file on a host for a run. */
  record WatchFile(long run, String watch) implements Instruction {}

  /** Look for it no more. */
  record UnwatchFile(long run, String watch) implements Instruction {}

  /** Say that time was reached, at this time at the latest; replaces what was said before. */
  record WakeAt(long at) implements Instruction {}

  /** A run has changed: its status must be recorded. */
  record RunChanged(long run, RunState state, String note) implements Instruction {}

  /** Tell people. */
  record OpenAlert(AlertKind kind, long run, String text) implements Instruction {}

  /** The reason for an alert is gone. */
  record CloseAlert(AlertKind kind, long run, String text) implements Instruction {}

  /** Nothing but a person's answer is missing. */
  record AskPerson(long run, String question) implements Instruction {}

  /** A person's action was not taken; nothing has changed. */
  record Refused(long run, Action action, String reason) implements Instruction {}
}

package dev.purser.core.definition;

/** What a job does. Each kind is one key of a job in a definition file. */
public sealed interface Work {
  /** A command on a host, read by its {@code /bin/sh}; it may hold placeholders. */
  record Command(String line) implements Work {}

  /** A question to a person: the run succeeds with a yes and fails with a no. */
  record Approval(String question) implements Work {}
}

package dev.purser.core.job;

import dev.purser.core.prerequisite.Prerequisite;

/** What decides, just before a run starts, whether there is anything to do. */
public sealed interface OnlyIf {
  /**
   * A command on the run's host: with exit code 0 there is something to do, with 1 there is not,
   * with any other the check itself has failed, and so has the attempt.
   */
  record Command(String line) implements OnlyIf {
    @Override
    public String toString() {
      return line;
    }
  }

  /**
   * A query in the database of the job's statements: where its first row begins with anything but
   * null, 0, false or nothing, there is something to do.
   *
   * @param text one statement that only reads, with placeholders
   */
  record Query(String text) implements OnlyIf {
    @Override
    public String toString() {
      return text;
    }
  }

  /** A comparison of values that other jobs handed back. */
  record Compare(Prerequisite values) implements OnlyIf {
    @Override
    public String toString() {
      return values.toString();
    }
  }
}

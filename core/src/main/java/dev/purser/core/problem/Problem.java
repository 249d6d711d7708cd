package dev.purser.core.problem;

import java.util.Comparator;

/**
 * One thing that is wrong with an input.
 *
 * @param severity whether the input must be refused
 * @param file the name of the input as its author knows it; empty where there is none
 * @param line from 1; 0 where the whole file is meant
 * @param column from 1; 0 where the whole line is meant
 * @param message what is wrong and what would be right, one sentence without a full stop
 */
public record Problem(Severity severity, String file, int line, int column, String message) {

  /** Reading order: by file, then line, then column. */
  public static final Comparator<Problem> IN_READING_ORDER =
      Comparator.comparing(Problem::file)
          .thenComparingInt(Problem::line)
          .thenComparingInt(Problem::column);

  /** How bad it is. */
  public enum Severity {
    /** The input is refused. */
    ERROR,
    /** The input is taken, but its author should know. */
    WARNING
  }

  /** Returns an error at a place. */
  public static Problem error(String file, int line, int column, String message) {
    return new Problem(Severity.ERROR, file, line, column, message);
  }

  /** Returns a warning at a place. */
  public static Problem warning(String file, int line, int column, String message) {
    return new Problem(Severity.WARNING, file, line, column, message);
  }

  /** Whether the input must be refused for it. */
  public boolean isError() {
    return severity == Severity.ERROR;
  }

  /** Prints {@code file:line:column: error: message}, the form that editors jump to. */
  @Override
  public String toString() {
    StringBuilder out = new StringBuilder(file);
    if (line > 0) {
      out.append(':').append(line);
    }
    if (column > 0) {
      out.append(':').append(column);
    }
    if (out.length() > 0) {
      out.append(": ");
    }
    return out.append(isError() ? "error: " : "warning: ").append(message).toString();
  }
}

package dev.purser.core.prerequisite;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * What must be true before a run may start. {@link #toString()} prints the canonical form, which
 * parses back to an equal value. Source: {@code docs/prerequisites.md}.
 */
public sealed interface Prerequisite {

  /** Hands every leaf to the visitor, from left to right. */
  void leaves(Consumer<Prerequisite> visitor);

  /** All leaves that ask for the end of a run. */
  default List<RunEnded> runs() {
    List<RunEnded> found = new ArrayList<>();
    leaves(
        leaf -> {
          if (leaf instanceof RunEnded run) {
            found.add(run);
          }
        });
    return found;
  }

  /** All leaves that ask for a file. */
  default List<FileArrived> files() {
    List<FileArrived> found = new ArrayList<>();
    leaves(
        leaf -> {
          if (leaf instanceof FileArrived file) {
            found.add(file);
          }
        });
    return found;
  }

  /** How a run must have ended. */
  enum Outcome {
    /** Succeeded, or skipped by a person so that what follows goes on. */
    SUCCEEDED,
    /** Failed, with no retry left. */
    FAILED,
    /** In whatever way. */
    ENDED,
    /** Not done. */
    SKIPPED;

    /** The word of the language. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * A run of the same business date has ended.
   *
   * @param job a job of the same stream by its name, or any job or stream by its full path
   */
  record RunEnded(String job, Outcome outcome) implements Prerequisite {
    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      visitor.accept(this);
    }

    @Override
    public String toString() {
      return job + " " + outcome.word();
    }
  }

  /** A file of a file watch has arrived, whole and not empty. */
  record FileArrived(String watch) implements Prerequisite {
    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      visitor.accept(this);
    }

    @Override
    public String toString() {
      return "file " + watch + " arrived";
    }
  }

  /** All of several. */
  record All(List<Prerequisite> parts) implements Prerequisite {
    /** Copies the list. */
    public All {
      parts = List.copyOf(parts);
    }

    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      parts.forEach(part -> part.leaves(visitor));
    }

    @Override
    public String toString() {
      return parts.stream()
          .map(part -> part instanceof Any || part instanceof All ? "(" + part + ")" : "" + part)
          .collect(Collectors.joining(" and "));
    }
  }

  /** At least one of several. */
  record Any(List<Prerequisite> parts) implements Prerequisite {
    /** Copies the list. */
    public Any {
      parts = List.copyOf(parts);
    }

    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      parts.forEach(part -> part.leaves(visitor));
    }

    @Override
    public String toString() {
      return parts.stream()
          .map(part -> part instanceof Any ? "(" + part + ")" : "" + part)
          .collect(Collectors.joining(" or "));
    }
  }

  /** The opposite of one. */
  record Not(Prerequisite part) implements Prerequisite {
    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      part.leaves(visitor);
    }

    @Override
    public String toString() {
      return part instanceof All || part instanceof Any ? "not (" + part + ")" : "not " + part;
    }
  }
}

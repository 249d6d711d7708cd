package dev.purser.core.prerequisite;

import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * What must be true before a run may start. {@link #toString()} prints the canonical form, which
 * parses back to an equal value. Source: {@code docs/prerequisites.md}.
 */
public sealed interface Prerequisite {

  /** Calls the method of the visitor that is for its kind. */
  <R> R accept(Visitor<R> visitor);

  /** Hands every leaf to the visitor, from left to right. */
  void leaves(Consumer<Prerequisite> visitor);

  /** All leaves that ask how a run stands. */
  default List<OfRun> runs() {
    return leaves(OfRun.class);
  }

  /** All leaves that look at the run of a job or stream: how it stands, or a value of it. */
  default List<Target> targets() {
    List<Target> found = new ArrayList<>();
    leaves(
        leaf -> {
          if (leaf instanceof OfRun run) {
            found.add(run.target());
          } else if (leaf instanceof ValueIs value) {
            found.add(value.target());
          }
        });
    return found;
  }

  /** All leaves that ask for a file. */
  default List<FileArrived> files() {
    return leaves(FileArrived.class);
  }

  /**
   * The placeholders that the files give which it asks for: {@code file.WATCH.path}, {@code
   * file.WATCH.name} and {@code file.WATCH.paths} of each, and the same without the watch where it
   * asks for one.
   */
  default Set<String> fileParameters() {
    Set<String> names = new TreeSet<>();
    List<String> watches = files().stream().map(FileArrived::watch).distinct().toList();
    for (String watch : watches) {
      names.add("file." + watch + ".path");
      names.add("file." + watch + ".name");
      names.add("file." + watch + ".paths");
    }
    if (watches.size() == 1) {
      names.add("file.path");
      names.add("file.name");
      names.add("file.paths");
    }
    return names;
  }

  private <T> List<T> leaves(Class<T> type) {
    List<T> found = new ArrayList<>();
    leaves(
        leaf -> {
          if (type.isInstance(leaf)) {
            found.add(type.cast(leaf));
          }
        });
    return found;
  }

  /** How a run must stand. */
  enum Outcome {
    /** Succeeded, or skipped by a person so that what follows goes on. */
    SUCCEEDED,
    /** Failed, with no retry left. */
    FAILED,
    /** In whatever way; or with one of some exit codes. */
    ENDED,
    /** Not done. */
    SKIPPED,
    /** At work just now. */
    RUNNING;

    /** The word of the language. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * Which run of a job is meant.
   *
   * @param name a job of the same stream by its name, or any job or stream by its full path
   * @param previous whether that of the previous business date is meant, not of the same
   * @param within instead of any date: no longer before this run is due than that
   * @param ifPlanned whether nothing is asked where no such run is planned
   */
  record Target(String name, boolean previous, Optional<Duration> within, boolean ifPlanned) {
    /** The run of the same business date. */
    public static Target of(String name) {
      return new Target(name, false, Optional.empty(), false);
    }

    /** Whether the run of the same business date is meant. */
    public boolean isSameDate() {
      return !previous && within.isEmpty();
    }

    String suffix() {
      return (previous ? " on the previous business date" : "")
          + within.map(span -> " within " + Durations.print(span)).orElse("")
          + (ifPlanned ? " if planned" : "");
    }
  }

  /**
   * A run stands in some way.
   *
   * @param codes with {@link Outcome#ENDED}: the exit codes asked for; empty for any end
   */
  record OfRun(Target target, Outcome outcome, Optional<ExitCodes> codes) implements Prerequisite {
    /** The run of the same business date must end in a way. */
    public OfRun(String job, Outcome outcome) {
      this(Target.of(job), outcome, Optional.empty());
    }

    /** The job or stream, as it is written. */
    public String job() {
      return target.name();
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      visitor.accept(this);
    }

    @Override
    public String toString() {
      return target.name()
          + " "
          + outcome.word()
          + codes.map(some -> " with code " + some).orElse("")
          + target.suffix();
    }
  }

  /**
   * A value that a run handed back compares in a way.
   *
   * @param operand a number, or text
   */
  record ValueIs(String name, Target target, Comparison comparison, String operand)
      implements Prerequisite {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      visitor.accept(this);
    }

    @Override
    public String toString() {
      boolean plain = Comparison.number(operand).isPresent();
      return "value "
          + name
          + " of "
          + target.name()
          + " "
          + comparison.sign()
          + " "
          + (plain ? operand : "\"" + operand + "\"")
          + target.suffix();
    }
  }

  /** A file of a file watch has arrived, whole and not empty. */
  record FileArrived(String watch) implements Prerequisite {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

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
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
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
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
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
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public void leaves(Consumer<Prerequisite> visitor) {
      part.leaves(visitor);
    }

    @Override
    public String toString() {
      return part instanceof All || part instanceof Any ? "not (" + part + ")" : "not " + part;
    }
  }

  /** One method a kind: what handles prerequisites cannot forget one. */
  interface Visitor<R> {
    /** Handles one. */
    R visit(OfRun run);

    /** Handles one. */
    R visit(ValueIs value);

    /** Handles one. */
    R visit(FileArrived file);

    /** Handles one. */
    R visit(All all);

    /** Handles one. */
    R visit(Any any);

    /** Handles one. */
    R visit(Not not);
  }
}

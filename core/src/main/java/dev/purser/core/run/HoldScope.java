package dev.purser.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What is held until it is released, runs to come among it.
 *
 * @param name a job's or stream's full path, or a department
 */
public record HoldScope(Kind kind, String name) implements Comparable<HoldScope> {
  /** The kinds. */
  public enum Kind {
    /** All runs of a job. */
    JOB,
    /** All runs of a stream, and so of the streams that its steps run. */
    STREAM,
    /** All runs of a department's streams. */
    DEPARTMENT;

    /** The word for people and the API. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** The kind of a word. */
    public static Optional<Kind> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }

    /** All words. */
    public static List<String> words() {
      return Arrays.stream(values()).map(Kind::word).toList();
    }
  }

  /** Whether a run is among it by itself; what is below a step is held with the step. */
  public boolean holds(RunSpec spec) {
    var run = spec.run();
    return switch (kind) {
      case JOB -> run.reference().path().equals(name);
      case STREAM -> run.reference().stream().equals(name);
      case DEPARTMENT -> run.ties().department().equals(name);
    };
  }

  @Override
  public int compareTo(HoldScope other) {
    return toString().compareTo(other.toString());
  }

  @Override
  public String toString() {
    return kind.word() + " " + name;
  }
}

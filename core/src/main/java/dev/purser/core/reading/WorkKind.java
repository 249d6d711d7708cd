package dev.purser.core.reading;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.job.Work;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/**
 * A kind of work: how it is written, read and checked, and where it happens. Kinds are found as
 * services of Java ({@code META-INF/services}), so one is added by a file of its own; the keys
 * table, the JSON Schema, the reader and the checks go through all of them.
 */
public interface WorkKind {
  /** Where work of a kind happens. */
  enum Happens {
    /** On a host, as an attempt that its agent carries out. */
    ON_HOSTS("on a host"),
    /** In the service, as an attempt that a worker there carries out. */
    IN_SERVICE("in the service, on no host"),
    /** Nowhere: it is other runs, or a question to a person, and has no attempts. */
    NOWHERE("on no host");

    private final String words;

    Happens(String words) {
      this.words = words;
    }

    /** As the end of "it runs ...". */
    public String inWords() {
      return words;
    }
  }

  /** The key of a job that chooses this kind, such as {@code run}. */
  String key();

  /** What the key's value is, for messages: "a command". */
  String inWords();

  /** The words of the kinds of {@link Work} that it reads: see {@link Work#kind()}. */
  Set<String> reads();

  /** Where it happens. */
  Happens happens();

  /** Keys of work on hosts that this kind takes too, although it runs on none. */
  default Set<String> alsoTakes() {
    return Set.of();
  }

  /**
   * The keys that a job may have only with this kind; {@link #key()} is one of them. No two kinds
   * have a key in common.
   */
  Keys keys();

  /** Reads the work. What is wrong goes to the job's fields, and anything may be returned then. */
  Work read(JobFields job);

  /**
   * Reads a check before work that only this kind has; what compares values is read before.
   *
   * @return empty where this kind has none of its own
   */
  default Optional<OnlyIf> onlyIf(JobFields job) {
    return Optional.empty();
  }

  /**
   * Looks for what is wrong with a job of this kind once all names that it mentions are known.
   *
   * @param stream in which it is
   * @param all definitions, this one's among them
   * @param errors takes what is wrong, each as a whole sentence
   */
  default void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {}
}

package dev.purser.core.history;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * A run of the past.
 *
 * @param stream the stream's path
 * @param job the job's name
 * @param date the business date
 * @param number which of the date's runs of this job, from 1; 0 where nobody says
 * @param due when it was to start, epoch milliseconds, like all times here; 0 where nobody says
 * @param start when it began; 0 for one that never did
 * @param end when it ended; 0 while it runs
 * @param outcome how it ended; for one that runs it says nothing
 * @param exitCode of its last attempt; -1 where nobody says
 * @param host where it ran; empty where nobody says
 * @param attempts how many it took; 0 where nobody says
 */
public record PastRun(
    String stream,
    String job,
    LocalDate date,
    int number,
    long due,
    long start,
    long end,
    Outcome outcome,
    int exitCode,
    String host,
    int attempts) {

  /** How a run ended. */
  public enum Outcome {
    /** Well. */
    SUCCEEDED,
    /** Badly, with no attempt left. */
    FAILED,
    /** Left out. */
    SKIPPED,
    /** Stopped by a person. */
    CANCELLED;

    /** The word in files. */
    public String word() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }

    /** The outcome of a word. */
    public static Optional<Outcome> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }

    /** All words. */
    public static List<String> words() {
      return Arrays.stream(values()).map(Outcome::word).toList();
    }
  }

  /** The full path of the job. */
  public String path() {
    return stream + "/" + job;
  }

  /** Whether it ran to an end of its own, so that its duration says something. */
  public boolean isEnded() {
    return start > 0
        && end >= start
        && end > 0
        && (outcome == Outcome.SUCCEEDED || outcome == Outcome.FAILED);
  }

  /** How long it took, in milliseconds, with its attempts and the waits between them. */
  public long millis() {
    return end - start;
  }
}

package dev.purser.core.job;

import java.util.Locale;

/** What a run is made of; all kinds of work but the board's own are made of attempts. */
public enum Shape {
  /** Attempts, on a host or in the service, which may write output and hand back values. */
  ATTEMPTS,
  /** Other runs, which are below it. */
  RUNS,
  /** A question to a person. */
  QUESTION;

  /** The shape of a kind of work, by its word: see {@link Work#kind()}. */
  public static Shape of(String kind) {
    return switch (kind) {
      case OfStream.KIND, Parts.KIND -> RUNS;
      case Approval.KIND -> QUESTION;
      default -> ATTEMPTS;
    };
  }

  /** The word in the API. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}

package dev.purser.service.action;

import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;

/**
 * To start a stream, or a part of it, by hand.
 *
 * @param job only this job; empty for all
 * @param andFollowing with it all that follow it
 */
public record Start(
    String stream,
    Optional<String> job,
    boolean andFollowing,
    LocalDate date,
    Map<String, String> parameters) {
  /** A start with nothing special. */
  public static Start of(String stream, Optional<String> job, LocalDate date) {
    return new Start(stream, job, false, date, Map.of());
  }

  /** What is started, as the audit trail says it. */
  String about() {
    return stream
        + job.map(name -> "/" + name).orElse("")
        + "@"
        + date
        + (andFollowing ? " and what follows" : "")
        + (parameters.isEmpty() ? "" : " with " + parameters);
  }
}

package dev.purser.service.action;

import dev.purser.core.plan.StartCondition;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * To start a stream, or a part of it, by hand.
 *
 * @param job only this job; empty for all
 * @param andFollowing with it all that follow it
 * @param ignoring what of the jobs' own conditions does not count
 */
public record Start(
    String stream,
    Optional<String> job,
    boolean andFollowing,
    LocalDate date,
    Map<String, String> parameters,
    Set<StartCondition> ignoring) {
  /** A start that keeps the jobs' own conditions. */
  public Start(
      String stream,
      Optional<String> job,
      boolean andFollowing,
      LocalDate date,
      Map<String, String> parameters) {
    this(stream, job, andFollowing, date, parameters, Set.of());
  }

  /** A start with nothing special. */
  public static Start of(String stream, Optional<String> job, LocalDate date) {
    return new Start(stream, job, false, date, Map.of(), Set.of());
  }

  /** What is started, as the audit trail says it. */
  String about() {
    return stream
        + job.map(name -> "/" + name).orElse("")
        + "@"
        + date
        + (andFollowing ? " and what follows" : "")
        + (parameters.isEmpty() ? "" : " with " + parameters)
        + (ignoring.isEmpty() ? "" : " ignoring " + ignoredWords());
  }

  private String ignoredWords() {
    return ignoring.stream().map(StartCondition::word).sorted().collect(Collectors.joining(", "));
  }
}

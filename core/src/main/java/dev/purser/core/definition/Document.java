package dev.purser.core.definition;

import dev.purser.core.job.Job;
import dev.purser.core.problem.Problem;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * One definition as it stood in a file.
 *
 * @param kind what it defines
 * @param name its name
 * @param text its YAML, without what stood around it
 * @param file where it stood
 * @param line from 1
 * @param value the definition itself, of the type that belongs to the kind
 * @param mentions names in it that must exist
 * @param jobs where each job of a stream stands, by its name; empty for all else
 * @param made where it comes from, where a template has made it, in whole or in part
 */
public record Document(
    Kind kind,
    String name,
    String text,
    String file,
    int line,
    Object value,
    List<Mention> mentions,
    Map<String, Place> jobs,
    Optional<Made> made) {

  /** One that no template has made. */
  public Document(
      Kind kind,
      String name,
      String text,
      String file,
      int line,
      Object value,
      List<Mention> mentions,
      Map<String, Place> jobs) {
    this(kind, name, text, file, line, value, mentions, jobs, Optional.empty());
  }

  /** Its whole YAML, with all that templates put into it. */
  public String whole() {
    return made.map(one -> one.filled().text()).orElse(text);
  }

  /** As it is kept: as its author wrote it, or as the row of a table made it. */
  @Override
  public String text() {
    return made.filter(Made::isRow).map(one -> one.filled().text()).orElse(text);
  }

  /** Whether a row of a for-each made it. */
  public boolean isMadeBy(String forEach) {
    return made.filter(one -> one.by().equals(forEach)).isPresent();
  }

  /** Whether another says the same, and comes to the same. */
  public boolean isSame(Document other) {
    return text().equals(other.text())
        && whole().equals(other.whole())
        && made.map(Made::by).equals(other.made().map(Made::by));
  }

  /**
   * A place in its file.
   *
   * @param line from 1
   * @param column from 1
   */
  public record Place(int line, int column) {}

  /**
   * A name that must exist.
   *
   * @param what kinds of things it may name, for the message
   * @param name as written
   * @param within the path of the stream it is in; empty elsewhere
   * @param user who mentions it, for the message
   */
  public record Mention(What what, String name, String within, String user, int line, int column) {}

  /** What a mention may name. */
  public enum What {
    /** A job, or all jobs of a stream. */
    JOB_OR_STREAM,
    /** A file watch. */
    FILE_WATCH,
    /** A business calendar. */
    BUSINESS_CALENDAR,
    /** A holiday calendar. */
    HOLIDAY_CALENDAR,
    /** A calendar of either kind. */
    CALENDAR,
    /** A named period. */
    PERIOD,
    /** A connection. */
    CONNECTION,
    /** A remote service. */
    REMOTE_SERVICE,
    /** A host. */
    HOST,
    /** A host group. */
    HOST_GROUP,
    /** A capacity. */
    CAPACITY,
    /** A recipient. */
    RECIPIENT,
    /** A stream. */
    STREAM,
    /** A template. */
    TEMPLATE,
    /** A job that is asked for a value when its asker starts. */
    VALUE_OF,
    /** A parameter that the job of this full path gives a value to. */
    PARAMETER
  }

  /** An error at the place of a mention. */
  public Problem error(Mention at, String message) {
    return Problem.error(file, at.line(), at.column(), message);
  }

  /** An error about the whole of it. */
  public Problem error(String message) {
    return Problem.error(file, line, 1, message);
  }

  /** An error about one of its jobs, at that job. */
  public Problem error(Job job, String message) {
    Place place = placeOf(job.name());
    return Problem.error(file, place.line(), place.column(), message);
  }

  /** A warning about one of its jobs, at that job. */
  public Problem warning(Job job, String message) {
    Place place = placeOf(job.name());
    return Problem.warning(file, place.line(), place.column(), message);
  }

  private Place placeOf(String job) {
    return jobs.getOrDefault(job, new Place(line, 1));
  }

  /** A warning about the whole of it. */
  public Problem warning(String message) {
    return Problem.warning(file, line, 1, message);
  }
}

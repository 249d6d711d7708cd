package dev.purser.core.plan;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a person types to mean one run: {@code passenger/night-manifest/file-manifest@2027-03-04#1}.
 *
 * @param stream the stream's path
 * @param job the job's name
 * @param date the business date
 * @param number which of the date's runs of this job, from 1
 */
public record RunReference(String stream, String job, LocalDate date, int number) {
  private static final Pattern FORM =
      Pattern.compile("(.+)/([^/@]+)@(\\d{4}-\\d{2}-\\d{2})(?:#(\\d{1,6}))?");

  /** Reads a reference; without {@code #n} the first run is meant. */
  public static Optional<RunReference> parse(String text) {
    Matcher matcher = FORM.matcher(text.strip());
    if (!matcher.matches()) {
      return Optional.empty();
    }
    try {
      LocalDate date = LocalDate.parse(matcher.group(3));
      int number = matcher.group(4) == null ? 1 : Integer.parseInt(matcher.group(4));
      return Optional.of(new RunReference(matcher.group(1), matcher.group(2), date, number));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  /** The full path of the job. */
  public String path() {
    return stream + "/" + job;
  }

  /**
   * Whether it is of a stream, or of what is in it.
   *
   * @param wanted the stream's path, or the last parts of it; empty for any
   */
  public boolean isOf(String wanted) {
    String all = "/" + stream + "/";
    return wanted.isEmpty() || all.contains("/" + wanted + "/");
  }

  @Override
  public String toString() {
    return path() + "@" + date + "#" + number;
  }
}

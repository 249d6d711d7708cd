package dev.purser.core.commitment;

import dev.purser.core.problem.NotUnderstood;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What people type to mean a promise: the name of a commitment, alone or as {@link
 * Promised#reference} says it.
 *
 * @param date the business date; empty where none is said
 * @param number which of the date's starts, 1 to 999,999; empty where none is said
 */
public record PromiseReference(String name, Optional<LocalDate> date, Optional<Integer> number) {
  private static final Pattern SHAPE =
      Pattern.compile("([^@#]+)(?:@(\\d{4}-\\d{2}-\\d{2})(?:#([1-9]\\d{0,5}))?)?");

  /**
   * Reads {@code night-manifest}, {@code night-manifest@2027-03-04} or {@code
   * night-manifest@2027-03-04#2}. Whether there is such a commitment is not looked at.
   *
   * @throws NotUnderstood where it is none of these
   */
  public static PromiseReference of(String text) {
    Matcher found = SHAPE.matcher(text);
    if (!found.matches()) {
      throw notUnderstood(text);
    }
    try {
      return new PromiseReference(
          found.group(1),
          Optional.ofNullable(found.group(2)).map(LocalDate::parse),
          Optional.ofNullable(found.group(3)).map(Integer::valueOf));
    } catch (DateTimeException e) {
      throw notUnderstood(text);
    }
  }

  private static NotUnderstood notUnderstood(String text) {
    return new NotUnderstood(
        "\""
            + text
            + "\" is not a commitment's name or a promise of it; right would be night-manifest,"
            + " night-manifest@2027-03-04, or night-manifest@2027-03-04#2 for the second start of a"
            + " date");
  }

  /**
   * The date that is meant where one may be said beside the reference as well.
   *
   * @param beside null where none is said beside it
   * @param otherwise where none is said at all
   * @throws NotUnderstood where the two differ
   */
  public LocalDate date(LocalDate beside, LocalDate otherwise) {
    if (beside != null && date.filter(own -> !own.equals(beside)).isPresent()) {
      throw new NotUnderstood(
          name + " is given two dates, " + date.get() + " and " + beside + "; give one");
    }
    return beside != null ? beside : date.orElse(otherwise);
  }

  /**
   * The number that is meant where one may be said beside the reference as well; 1 where none is
   * said at all.
   *
   * @param beside null where none is said beside it
   * @throws NotUnderstood where the two differ
   */
  public int number(Integer beside) {
    if (beside != null && number.filter(own -> !own.equals(beside)).isPresent()) {
      throw new NotUnderstood(
          name + " is given two numbers, " + number.get() + " and " + beside + "; give one");
    }
    return beside != null ? beside : number.orElse(1);
  }
}

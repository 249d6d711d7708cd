package dev.purser.core.plan;

import dev.purser.core.problem.NotUnderstood;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.Optional;

/**
 * From when a changed definition holds for the runs of a stream. What is not on the plan yet always
 * takes the definition that is in force then.
 *
 * @param what takes it besides
 * @param date the first business date that takes it; empty for all
 */
public record HoldsFrom(What what, Optional<LocalDate> date) {
  /** What is planned and not begun takes it; what has begun goes on as it was. */
  public static final HoldsFrom PLANNED = new HoldsFrom(What.PLANNED, Optional.empty());

  /** All that an author may write. */
  public static final String FORMS =
      "planned (what has begun goes on as it was), next-date, a date such as 2027-03-04, now (also"
          + " what waits and what has failed) or running (also what runs, by a new attempt)";

  /** Which runs that are there take a definition. */
  public enum What {
    /** Those that are planned and have not begun. */
    PLANNED,
    /** Those too that wait, and those that may be run again. */
    OPEN,
    /** Those too that run: their attempts are stopped, and they are tried again. */
    RUNNING
  }

  /**
   * What a text means.
   *
   * @param today the date where the service is
   * @throws NotUnderstood where it is none of the {@link #FORMS}, or the date is past
   */
  public static HoldsFrom parse(String text, LocalDate today) {
    return switch (text.strip()) {
      case "", "planned" -> PLANNED;
      case "next-date" -> new HoldsFrom(What.PLANNED, Optional.of(today.plusDays(1)));
      case "now" -> new HoldsFrom(What.OPEN, Optional.empty());
      case "running" -> new HoldsFrom(What.RUNNING, Optional.empty());
      default -> ofDate(text.strip(), today);
    };
  }

  private static HoldsFrom ofDate(String text, LocalDate today) {
    LocalDate date;
    if (!text.matches("\\d{4}-\\d{2}-\\d{2}")) {
      throw notAForm(text);
    }
    try {
      date = LocalDate.parse(text);
    } catch (DateTimeParseException e) {
      throw notAForm(text);
    }
    if (date.isBefore(today)) {
      throw new NotUnderstood(
          "a change cannot hold from "
              + date
              + ", which is past; give "
              + today
              + " or later, or one of: "
              + FORMS);
    }
    return new HoldsFrom(What.PLANNED, Optional.of(date));
  }

  private static NotUnderstood notAForm(String text) {
    return new NotUnderstood(
        "a change cannot hold from \"" + text + "\"; it holds from one of: " + FORMS);
  }

  /** Whether runs of a business date may take it. */
  public boolean holdsOn(LocalDate one) {
    return date.filter(one::isBefore).isEmpty();
  }

  /** As the end of a sentence that begins "the change holds". */
  public String inWords() {
    return date.map(one -> "from business date " + one)
        .orElse(
            switch (what) {
              case PLANNED -> "for all that has not begun";
              case OPEN -> "for all that has not started, also what waits or has failed";
              case RUNNING -> "for all that is open; what runs is stopped and tried again";
            });
  }
}

package dev.purser.core.arrival;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.FileWatch;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Says of the files of a business date which have come, which are still to come, and which are
 * late.
 */
public final class Checklist {
  /** So many dates must be known before "usually" is said. */
  private static final int ENOUGH = 5;

  private static final double MIDDLE = 0.5;
  private static final double NEARLY_ALL = 0.9;

  private Checklist() {}

  /** How a watch stands on a business date. */
  public enum Standing {
    /** It may still come in time. */
    EXPECTED,
    /** It has not come, though it nearly always has by now; there still is time. */
    OVERDUE,
    /** It was there by its time. */
    IN_TIME,
    /** It was there, after its time. */
    LATE,
    /** Its time has passed, and it has not come. */
    MISSING,
    /** It came, and nobody says by when it should. */
    CAME,
    /** Nobody says when it should come, and it has not. */
    ANY_TIME,
    /** Nothing is expected on the date. */
    NOT_EXPECTED;

    /** The word in the API and on screens. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    /** The standing of a word. */
    public static Optional<Standing> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }
  }

  /**
   * One watch on one business date.
   *
   * @param by when it should be there; empty where nobody says
   * @param usually when it usually comes; empty where too little is known
   * @param usuallyBy when it nearly always has come, likewise
   * @param came when the file, or the last of the set, was whole; empty where it has not come
   * @param count how many files have come
   */
  public record Entry(
      FileWatch watch,
      LocalDate date,
      Standing standing,
      Optional<Instant> by,
      Optional<Instant> usually,
      Optional<Instant> usuallyBy,
      Optional<Instant> came,
      int count) {}

  /**
   * How a watch stands.
   *
   * @param calendars where the calendars of its day rule are found
   * @param times when its files came before; null where nothing is known
   * @param came when each file of the date was whole, in any order
   */
  public static Entry of(
      FileWatch watch,
      LocalDate date,
      Calendars calendars,
      FileTimes times,
      List<Instant> came,
      Instant now) {
    int least = watch.whole().setOf();
    Optional<Instant> complete = came.stream().sorted().skip(least - 1L).findFirst();
    Optional<Instant> usually = usual(times, date, MIDDLE);
    Optional<Instant> usuallyBy = usual(times, date, NEARLY_ALL);
    boolean wanted = isExpected(watch, date, calendars);
    Optional<Instant> by = watch.expected().filter(any -> wanted).map(one -> one.ends(date));
    return new Entry(
        watch,
        date,
        standing(watch, wanted, by, usuallyBy, complete, now),
        by,
        usually,
        usuallyBy,
        complete,
        came.size());
  }

  /**
   * Whether a file should come on a date.
   *
   * @return false for a watch that says nothing of when files should come
   * @throws IllegalArgumentException where its day rule names a calendar that is not there
   */
  public static boolean isExpected(FileWatch watch, LocalDate date, Calendars calendars) {
    return watch
        .expected()
        .map(
            one -> {
              boolean known = calendars.businessNames().contains(one.calendar());
              Calendars meant = known ? calendars.meaning(one.calendar()) : calendars;
              return one.days().pick(date, date, meant).contains(date);
            })
        .orElse(false);
  }

  private static Optional<Instant> usual(FileTimes times, LocalDate date, double part) {
    return times == null || times.afterMidnight().length < ENOUGH
        ? Optional.empty()
        : Optional.of(times.at(date, part));
  }

  private static Standing standing(
      FileWatch watch,
      boolean wanted,
      Optional<Instant> by,
      Optional<Instant> usuallyBy,
      Optional<Instant> came,
      Instant now) {
    if (came.isPresent()) {
      return by.map(limit -> came.get().isAfter(limit) ? Standing.LATE : Standing.IN_TIME)
          .orElse(Standing.CAME);
    }
    if (!wanted) {
      return watch.expected().isPresent() ? Standing.NOT_EXPECTED : Standing.ANY_TIME;
    }
    if (by.filter(now::isAfter).isPresent()) {
      return Standing.MISSING;
    }
    return usuallyBy.filter(now::isAfter).isPresent() ? Standing.OVERDUE : Standing.EXPECTED;
  }
}

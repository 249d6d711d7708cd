package dev.purser.core.schedule;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A window of time that one run is about.
 *
 * @param start included
 * @param end not included; the start of the next window
 * @param after the window that must be done before; empty for none
 * @param previous the window that must have begun before; empty for none
 */
public record Window(Instant start, Instant end, Optional<Place> after, Optional<Place> previous) {

  /**
   * Which window of a stream: the business date on which it begins, and which of that date's.
   *
   * @param number from 1
   */
  public record Place(LocalDate date, int number) {
    private static final Pattern FORM = Pattern.compile("(\\d{4}-\\d{2}-\\d{2})#(\\d{1,6})");

    /** Reads what {@link #toString()} prints. */
    public static Optional<Place> parse(String text) {
      Matcher matcher = FORM.matcher(text);
      return matcher.matches()
          ? Optional.of(
              new Place(LocalDate.parse(matcher.group(1)), Integer.parseInt(matcher.group(2))))
          : Optional.empty();
    }

    @Override
    public String toString() {
      return date + "#" + number;
    }
  }
}

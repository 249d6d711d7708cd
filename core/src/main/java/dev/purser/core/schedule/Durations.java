package dev.purser.core.schedule;

import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Durations as people write them: {@code 90s}, {@code 4m}, {@code 1h30m}, {@code 2d}. */
public final class Durations {
  private static final Pattern FORM =
      Pattern.compile("(?:(\\d{1,4})d)?(?:(\\d{1,5})h)?(?:(\\d{1,6})m)?(?:(\\d{1,8})s)?");
  private static final Pattern RANGE = Pattern.compile("(\\S+)\\s+to\\s+(\\S+)");

  private Durations() {}

  /**
   * From the shortest to the longest usual duration.
   *
   * @param low at most {@code high}
   */
  public record Range(Duration low, Duration high) {
    @Override
    public String toString() {
      return low.equals(high) ? print(low) : print(low) + " to " + print(high);
    }
  }

  /** Reads a duration; empty where the text is none. */
  public static Optional<Duration> parse(String text) {
    Matcher matcher = FORM.matcher(text.trim());
    if (text.isBlank() || !matcher.matches()) {
      return Optional.empty();
    }
    long seconds =
        part(matcher, 1) * 86_400
            + part(matcher, 2) * 3_600
            + part(matcher, 3) * 60
            + part(matcher, 4);
    return Optional.of(Duration.ofSeconds(seconds));
  }

  /** Reads {@code 4m to 9m}, or one duration as a range of itself. */
  public static Optional<Range> parseRange(String text) {
    Matcher matcher = RANGE.matcher(text.trim());
    if (!matcher.matches()) {
      return parse(text).map(one -> new Range(one, one));
    }
    Optional<Duration> low = parse(matcher.group(1));
    Optional<Duration> high = parse(matcher.group(2));
    boolean ordered = low.isPresent() && high.isPresent() && low.get().compareTo(high.get()) <= 0;
    return ordered ? Optional.of(new Range(low.get(), high.get())) : Optional.empty();
  }

  /** Prints a duration to the second in the form that {@link #parse} reads. */
  public static String print(Duration duration) {
    long seconds = duration.toSeconds();
    if (seconds == 0) {
      return "0s";
    }
    StringBuilder out = new StringBuilder();
    append(out, seconds / 86_400, 'd');
    append(out, seconds / 3_600 % 24, 'h');
    append(out, seconds / 60 % 60, 'm');
    append(out, seconds % 60, 's');
    return out.toString();
  }

  private static long part(Matcher matcher, int group) {
    return matcher.group(group) == null ? 0 : Long.parseLong(matcher.group(group));
  }

  private static void append(StringBuilder out, long value, char unit) {
    if (value != 0) {
      out.append(value).append(unit);
    }
  }
}

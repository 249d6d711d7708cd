package dev.purser.core.job;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What becomes of a run while earlier runs of the same job are at work.
 *
 * @param most how many may be at work at once; 0 for any number
 */
public record Overlap(Manner manner, int most) {
  /** Any number may be at work at once. */
  public static final Overlap ANY = new Overlap(Manner.WAIT, 0);

  /** The forms, for messages. */
  public static final String FORMS = "wait, skip, replace or allow 3";

  private static final Pattern ALLOW = Pattern.compile("allow\\s+([1-9]\\d{0,4})");

  /** The manners. */
  public enum Manner {
    /** It waits until one of them has ended. */
    WAIT,
    /** It is skipped. */
    SKIP,
    /** They are cancelled, and it starts when they have ended. */
    REPLACE
  }

  /** Reads a word of a file; empty where it is none. */
  public static Optional<Overlap> parse(String text) {
    Matcher allow = ALLOW.matcher(text);
    if (allow.matches()) {
      return Optional.of(new Overlap(Manner.WAIT, Integer.parseInt(allow.group(1))));
    }
    return switch (text) {
      case "wait" -> Optional.of(new Overlap(Manner.WAIT, 1));
      case "skip" -> Optional.of(new Overlap(Manner.SKIP, 1));
      case "replace" -> Optional.of(new Overlap(Manner.REPLACE, 1));
      default -> Optional.empty();
    };
  }

  /** Whether there is a limit at all. */
  public boolean isLimited() {
    return most > 0;
  }
}

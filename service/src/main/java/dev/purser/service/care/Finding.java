package dev.purser.service.care;

/**
 * What was found of one thing.
 *
 * @param about what was looked at
 * @param level how it is
 * @param text what was found, for people
 * @param remedy what to do about it; empty where nothing is to be done
 */
public record Finding(String about, Level level, String text, String remedy) {
  /** How a thing is. */
  public enum Level {
    /** As it should be. */
    GOOD,
    /** It works, and will not for ever. */
    LOOK,
    /** It does not work. */
    BAD;

    /** The word for it. */
    public String word() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  static Finding good(String about, String text) {
    return new Finding(about, Level.GOOD, text, "");
  }

  static Finding look(String about, String text, String remedy) {
    return new Finding(about, Level.LOOK, text, remedy);
  }

  static Finding bad(String about, String text, String remedy) {
    return new Finding(about, Level.BAD, text, remedy);
  }
}
